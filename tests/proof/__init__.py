"""Evidence bundles."""

"""Evidence bundles: what they hold, how they are packed and signed, and how a stranger checks them. No database, no server, no
network."""

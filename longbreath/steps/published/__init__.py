"""Published: what anybody may read without a log-in: sheets, bundles, badges, the index and its feeds, the check of a bundle."""

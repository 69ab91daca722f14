"""Build sheets: the whole configuration at a moment, two compared, and the headroom of sensors and actuators."""

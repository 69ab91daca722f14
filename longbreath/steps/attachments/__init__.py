"""Photos and documents that hang on any record of an application."""

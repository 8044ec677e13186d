"""The quick line at the top of every page."""

"""Rows read and turned into core values; what is asked of the records stands here."""

"""What a brewer does with a brew: planned, pitched, read, tasted, looked at, poured about, put right, harvested from elsewhere, discarded."""

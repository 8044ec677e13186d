"""What a brewer does, one verb a function. Nothing else writes."""

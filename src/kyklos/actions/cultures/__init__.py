"""What a brewer does with what lives on: discs, starter and hotel, gifts, conversions, and what a spoiled thing touched."""

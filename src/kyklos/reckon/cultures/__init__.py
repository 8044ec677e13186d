"""What the records tell of lines: their links, strength and backups, the hotel, conversions, what spoilage touched."""

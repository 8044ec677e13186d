"""What is foretold from the records: warmth, forecasts, tasters' points, and what ended brews taught."""

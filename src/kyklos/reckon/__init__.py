"""What the house knows by putting its records and the core together. It writes nothing and knows no web."""

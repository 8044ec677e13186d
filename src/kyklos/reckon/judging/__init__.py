"""What the records say about a brew's health: its verdict, what it wants, and what speaks for a cause."""

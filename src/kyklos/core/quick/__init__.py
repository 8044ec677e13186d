"""The quick line: shorthand typed in any order, understood, and asked about where it may mean two things."""

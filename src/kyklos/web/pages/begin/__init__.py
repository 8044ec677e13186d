"""The first minutes: how the household measures, and where its first culture comes from."""

"""The household's file: the one door to it, sessions, backups, checks, the journal of changes, photos."""

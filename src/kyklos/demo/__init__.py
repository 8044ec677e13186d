"""The sample household: made up, filled through the actions, on a fixed day."""

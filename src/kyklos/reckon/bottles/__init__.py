"""What the records tell of bottles: how they press, what a filling would do, what is drunk and liked, what jars hold."""

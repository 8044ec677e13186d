"""What a brewer does with bottles: filled, moved, chilled, opened, scored; flavours kept, jars infused, the park of bottles looked after."""

"""The bench: a blend’s sheet, its versions, what was made of it, what is printed from it."""

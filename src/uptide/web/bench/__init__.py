"""The bench: a blend's sheet, its versions, what befell its bottles, what is printed from it."""

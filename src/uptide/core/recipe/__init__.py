"""A recipe from a person's words to weighed rows, and changed in the same words."""

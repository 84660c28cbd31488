"""Keeping: the board of all that stands somewhere, each bottle with its life, and where everything went."""

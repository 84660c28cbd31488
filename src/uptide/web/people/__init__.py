"""People: their cards, what a card means, and patch tests."""

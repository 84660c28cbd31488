"""Cautions: who must not have it, what must not be done with it."""

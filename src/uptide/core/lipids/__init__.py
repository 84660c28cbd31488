"""Fatty acids, profiles, iodine and saponification value."""

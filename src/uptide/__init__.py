"""Up Tide: a work bench for people who blend oils for skin."""

__version__ = "0.1.0"

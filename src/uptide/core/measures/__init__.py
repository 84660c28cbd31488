"""Quantities as people say them, into grams and back."""

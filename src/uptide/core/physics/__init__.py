"""Density and what follows from geometry: how high a pour stands in a bottle."""

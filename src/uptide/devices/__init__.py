"""Instruments on a line: a thermometer in a jar, and the simulated one that ships."""

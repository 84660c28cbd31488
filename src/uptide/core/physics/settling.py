"""How fast grains sink in oil: Stokes' law, slowed where they are many.

Sources: Stokes 1851 for one grain, Richardson and Zaki 1954 for many (both from memory). Valid for round grains so
small or oil so thick that the flow around them is smooth; kitchen powders are not round, so take it for a guide.
"""

from __future__ import annotations

from math import inf

from uptide.core.tolerance import reaches

GRAVITY = 9.81  # m/s²
HINDERED = 4.65  # exponent of the room between the grains
PACKED = 0.50  # mL of grains in a mL of the whole: from here on they lie on one another, and it is a paste
COLUMN_MM = 50.0  # of a bottle: how far they fall until it is clear above; assumption


def fall_seconds(micrometres: float, grain_density: float, oil_density: float, viscosity: float, share: float) -> float:
    """Seconds until grains have fallen COLUMN_MM.

    Args:
        micrometres: diameter of the grains.
        grain_density: g/mL.
        oil_density: g/mL.
        viscosity: of the oil [mPa s].
        share: mL of grains in a mL of the whole.

    A grain of 3 µm of clay (2.6) in oil of 0.92 and 50 mPa s falls 0.165 µm a second, so 5 cm in 3.5 days:

    >>> round(fall_seconds(3, 2.6, 0.92, 50, 0.0) / 86_400, 1)
    3.5
    """
    excess = 1000 * (grain_density - oil_density)  # kg/m³
    if excess <= 0 or reaches(share, PACKED):
        return inf
    radius = micrometres / 2 * 1e-6  # m
    speed = 2 / 9 * excess * GRAVITY * radius**2 / (viscosity / 1000) * (1 - share) ** HINDERED  # m/s
    return float(COLUMN_MM / 1000 / speed)

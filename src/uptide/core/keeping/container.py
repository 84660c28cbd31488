"""What the container does to a blend: the oxygen that it holds and lets through, and how long what is in it lasts."""

from __future__ import annotations

from math import pi

from uptide.core.keeping.mixing import Read
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation.surroundings import MOLAR_VOLUME, Storage, oxygen_through, peroxide_ceiling

WALL_MM = 0.7  # mm of plastic; common practice


def permeation_rise(read: Read, storage: Storage) -> float | None:
    """Rise of the peroxide value [meq/kg] that a year's oxygen through wall and closure could make.

    For a cylinder twice as high as wide with a wall of WALL_MM; printed beside the verdict, never in it.
    """
    grams = sum(row.grams or 0.0 for row, _ in read)
    millilitres = sum(row.millilitres or 0.0 for row, _ in read)
    if not grams:
        return None
    radius = (millilitres / (4 * pi)) ** (1 / 3)  # cm
    area = 2 * pi * radius**2 + 2 * pi * radius * 4 * radius
    oxygen = oxygen_through(storage.material, area, WALL_MM) * 365 / MOLAR_VOLUME  # mmol a year
    return 2 * oxygen / (grams / 1000)


def closed_ceiling(read: Read, storage: Storage) -> float | None:
    """How far the peroxide value can rise in a tight glass bottle before its oxygen is used up [meq/kg]."""
    grams = sum(row.grams or 0.0 for row, _ in read)
    millilitres = sum(row.millilitres or 0.0 for row, _ in read)
    return peroxide_ceiling(millilitres * storage.headspace, millilitres, grams) if grams else None


def used_up_months(read: Read, storage: Storage) -> float | None:
    """Months that what is in it lasts, used as is said; None where nobody said how much is."""
    volume = sum(row.millilitres or 0.0 for row, _ in read)
    weekly = storage.ml_a_use * storage.uses_a_week
    return volume / weekly / (HOURS_A_MONTH / 168) if weekly > 0 else None

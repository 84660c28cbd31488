"""Comparing a figure with a threshold: what is within rounding of it stands exactly at it.

Sums of the same rows differ in their last digits by how the rows were typed: 3 tsp in one row or in three. No verdict
may hang on that.
"""

from __future__ import annotations

TOLERANCE = 1e-9  # of shares, percents, classes and months alike: far above rounding, far below anything that is felt


def exceeds(value: float, limit: float) -> bool:
    """Whether a value is above a limit; exactly at it is not above.

    >>> exceeds(3.0000000000000004, 3.0), exceeds(3.001, 3.0)
    (False, True)
    """
    return value > limit + TOLERANCE


def reaches(value: float, limit: float) -> bool:
    """Whether a value is at a limit or above.

    >>> reaches(2.9999999999999996, 3.0), reaches(2.999, 3.0)
    (True, False)
    """
    return value >= limit - TOLERANCE

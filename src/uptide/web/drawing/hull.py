"""The convex polygon around points."""

from __future__ import annotations

from collections.abc import Iterable, Sequence


def hull(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """The convex polygon around points (Andrew's monotone chain)."""
    ordered = sorted(set(points))
    if len(ordered) < 3:
        return ordered

    def half(way: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
        chain: list[tuple[float, float]] = []
        for x, y in way:
            while len(chain) >= 2 and _left_turn(chain[-2], chain[-1], (x, y)) <= 0:
                chain.pop()
            chain.append((x, y))
        return chain[:-1]

    return half(ordered) + half(reversed(ordered))


def _left_turn(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

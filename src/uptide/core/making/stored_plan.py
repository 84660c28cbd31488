"""A frozen plan as it was stored, and what stands in for one that can be read no more: what happened still opens."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from math import isfinite
from typing import Any

from uptide.core.errors import QuantityError
from uptide.core.making.sizes import Containers

LOST = "What was planned can be read no more; what happened is all here."
MOST_MG = 10**9
DENSITIES, STEPS, DROPS = (0.3, 3.0), (0.001, 100.0), (1.0, 200.0)  # g/mL, g, and drops to the mL
USUAL_DROPS = 20.0
NUMBERS = ("position", "target_mg", "drops")
OF_POT = ("pot", "scent", "scents")  # the batch of its base, its scent, and how all its scents were said
WORDS = ("typed", "key", "name", "how", "said")


def plan_as_read(stored: object, poured: Iterable[tuple[int, str, int]]) -> Mapping[str, Any]:
    """A plan as today's rules let it be; else one of what was poured, each (position, ingredient, mg), that says so."""
    try:
        return _read(stored)
    except (KeyError, TypeError, ValueError, OverflowError, QuantityError):
        return _instead(poured)


def _read(stored: object) -> Mapping[str, Any]:
    if not isinstance(stored, Mapping):
        raise TypeError("a plan is no list")
    lines = [_line(position, each) for position, each in enumerate(stored["lines"])]
    containers = [Containers(int(count), float(size)) for count, size in stored["containers"]]
    price = stored.get("container_price")
    return {
        "lines": lines,
        "containers": [[each.count, each.size_ml] for each in containers],
        "density": _within(stored["density"], DENSITIES),
        "step_g": _within(stored["step_g"], STEPS),
        "drops_per_ml": _within(stored.get("drops_per_ml", USUAL_DROPS), DROPS),
        "loss": str(stored.get("loss", "")),
        "order": str(stored.get("order", "")),
        "mixing": str(stored.get("mixing", "")),
        "container_price": None if price is None else _within(price, (0.0, 1e6)),
        "unmeasured": [str(each) for each in stored.get("unmeasured", ())],
        "present": [str(each) for each in stored.get("present", ())],
        **{name: str(stored.get(name, "")) for name in OF_POT},
        "parts": [str(each) for each in stored.get("parts", ())],
    }


def _line(position: int, stored: Mapping[str, Any]) -> dict[str, Any]:
    picks = [(str(code), _milligrams(mg)) for code, mg in stored["picks"]]
    if stored["position"] != position:
        raise ValueError("the lines of a plan do not stand in their order")
    return {
        **{name: _milligrams(stored[name]) for name in NUMBERS},
        **{name: str(stored[name]) for name in WORDS},
        "restricted": bool(stored["restricted"]),
        "picks": picks,
    }


def _milligrams(value: object) -> int:
    if not isinstance(value, int) or not 0 <= value <= MOST_MG:
        raise ValueError(f"{value} is no amount of a plan")
    return value


def _within(value: object, span: tuple[float, float]) -> float:
    if not isinstance(value, int | float) or not isfinite(value) or not span[0] <= value <= span[1]:
        raise ValueError(f"{value} is no number of a plan")
    return float(value)


def _instead(poured: Iterable[tuple[int, str, int]]) -> Mapping[str, Any]:
    found: dict[int, tuple[str, int]] = {}
    for position, key, mg in poured:
        known = found.get(position, (key, 0))
        found[position] = (known[0] or key, known[1] + mg)
    last: Sequence[int] = range(max(found, default=-1) + 1)
    names = {position: found.get(position, ("something", 0)) for position in last}
    return {
        "lines": [
            {
                "position": position,
                "typed": key,
                "key": key,
                "name": key,
                "restricted": False,
                "target_mg": mg,
                "how": "weighed",
                "drops": 0,
                "said": "",
                "picks": [],
            }
            for position, (key, mg) in names.items()
        ],
        "containers": [[1, 100.0]],
        "density": 0.9,
        "step_g": 0.1,
        "drops_per_ml": USUAL_DROPS,
        "loss": "",
        "order": "",
        "mixing": LOST,
        "container_price": None,
        "unmeasured": [],
        "present": [],
        **dict.fromkeys(OF_POT, ""),
        "parts": [],
    }

"""Antioxidants: what they lengthen, where they saturate, and where they harm.

All amounts in mg of active substance per kg of blend. The sizes are fitted to ranges recalled from Huang, Frankel and
German 1994 and Jung and Min 1990 (the harm of much α-tocopherol) and from Frankel 1996 and Zhang 2010 (rosemary).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

MOST = 3.0  # no protection lengthens a life by more than this; policy
LN_SD = 0.30  # sd of ln PF, as a part of ln PF
# γ-equivalents of each tocopherol, and how mixed tocopherols are made up of them.
ACTIVITY = {"alpha": 0.5, "beta": 0.7, "gamma": 1.0, "delta": 1.1}
MIXED = {"alpha": 0.12, "beta": 0.02, "gamma": 0.60, "delta": 0.26}
HARM_FROM, HARM_TO = 700.0, 5700.0  # mg/kg of α-tocopherol: from where on more harms, and as far as was measured
# The resistance that tocopherols give grows by so many times at most, and by two thirds of that at so many mg/kg.
RESISTANCE, SATURATES = 4.0, 300.0
# What a gram of α-tocopherol too much in the kg takes off in an oil of this Cox value, and at most so many times that.
HARM_OF_A_GRAM, HARM_COX, HARM_MOST = 0.15, 7.0, 1.5
# Carnosic acid lengthens by so many times more at most, and by two thirds of that at so many mg/kg.
ROSEMARY, ROSEMARY_SATURATES = 1.0, 120.0
# Ascorbyl palmitate by so many times, beside tocopherols (which it regenerates) and without, and where it saturates.
PALMITATE, PALMITATE_ALONE, PALMITATE_SATURATES = 0.6, 0.3, 200.0
REGENERATED_FROM = 50.0  # mg/kg of tocopherols in γ-equivalents
VITAMIN_E = frozenset({"mixed_tocopherols", "alpha_tocopherol", "tocopheryl_acetate"})
TOO_LATE = 10.0  # meq/kg: from here an antioxidant does nothing any more


@dataclass(frozen=True, slots=True)
class Antioxidants:
    """Active substance added [mg/kg of blend]; the acetate is listed to say that it does nothing in the bottle."""

    mixed_tocopherols: float = 0.0
    alpha_tocopherol: float = 0.0
    tocopheryl_acetate: float = 0.0
    carnosic_acid: float = 0.0
    ascorbyl_palmitate: float = 0.0

    @property
    def gamma(self) -> float:
        """Added tocopherols in γ-equivalents [mg/kg]."""
        mixed = sum(MIXED[kind] * ACTIVITY[kind] for kind in MIXED)
        return self.mixed_tocopherols * mixed + self.alpha_tocopherol * ACTIVITY["alpha"]

    @property
    def alpha(self) -> float:
        """Added α-tocopherol [mg/kg]."""
        return self.mixed_tocopherols * MIXED["alpha"] + self.alpha_tocopherol

    @property
    def is_empty(self) -> bool:
        """Whether nothing that protects was added."""
        return self.gamma + self.carnosic_acid + self.ascorbyl_palmitate == 0


def _resistance(gamma: float) -> float:
    return 1 + RESISTANCE * (1 - exp(-gamma / SATURATES))


def _harm(alpha: float, cox: float) -> float:
    """Above HARM_FROM of α-tocopherol, more of it speeds oxidation up, and the more so the more unsaturated the oil.

    Nobody measured more than half a percent: from there on it is taken to harm as much (assumption). It is no oil, and
    turns by itself into what is sticky and brown, not rancid.
    """
    grams = (min(max(alpha, HARM_FROM), HARM_TO) - HARM_FROM) / 1000  # in a kg
    return 1 / (1 + HARM_OF_A_GRAM * grams * min(cox / HARM_COX, HARM_MOST))


def protection_factor(
    added: Antioxidants, native_gamma: float, native_alpha: float, cox: float, pv_when_added: float = 0.0
) -> float:
    """By how much antioxidants lengthen the induction time; 1 is nothing, below 1 is harm.

    What the oil brings of its own counts: the same dose helps a poor oil more. Added to an oil that has begun to turn
    it helps less, and from a peroxide value of 10 not at all: nothing repairs.

    >>> round(protection_factor(Antioxidants(mixed_tocopherols=500), 330, 600, 6.691), 2)
    1.29
    >>> protection_factor(Antioxidants(tocopheryl_acetate=5000), 330, 600, 6.691)
    1.0
    """
    tocopherols = _resistance(native_gamma + added.gamma) / _resistance(native_gamma)
    tocopherols *= _harm(native_alpha + added.alpha, cox) / _harm(native_alpha, cox)
    rosemary = 1 + ROSEMARY * (1 - exp(-added.carnosic_acid / ROSEMARY_SATURATES))
    most = PALMITATE if native_gamma + added.gamma > REGENERATED_FROM else PALMITATE_ALONE
    palmitate = 1 + most * (1 - exp(-added.ascorbyl_palmitate / PALMITATE_SATURATES))
    factor = min(tocopherols * rosemary * palmitate, MOST)
    if factor <= 1:
        return factor
    return 1 + (factor - 1) * max(0.0, 1 - pv_when_added / TOO_LATE)

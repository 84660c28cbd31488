"""What could stand in for an oil: the nearest by its fatty acids, the nearest in use, and what would change."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import hypot, log, sqrt

from uptide.core.figures.oil_profile import FEELS, OilProfile
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.nearest import displaced
from uptide.core.safety.tables import SafetyTables, ScentFacts
from uptide.core.tolerance import reaches

# What makes two oils one step apart in use, of each figure: policy, so that no figure outweighs the others.
STEP_THICKNESS, STEP_KEEPS, STEP_FEEL, STEP_COMEDOGENICITY, STEP_TINT = log(1.5), log(1.6), 1.0, 1.5, 2.0
SAID_POINTS, SAID_MONTHS, SAID_THICKNESS, SAID_COMEDOGENICITY, SAID_TINT = 5.0, 2.0, 0.15, 1.0, 2
COUNT = 5
LIKE_ENOUGH = 0.3  # cosine of the constituents from which a scent may stand in for another; policy
ACIDS_STEPS = 2.0  # steps in use that a wholly other fatty acid profile counts; policy


@dataclass(frozen=True, slots=True)
class Substitute:
    """An oil that could stand in: how far it is (0 the same), and what changes, in words."""

    oil_profile: OilProfile
    distance: float
    changes: tuple[str, ...]


def substitutes(
    own: OilProfile, others: Iterable[OilProfile], count: int = COUNT
) -> tuple[tuple[Substitute, ...], ...]:
    """The nearest by fatty acids (distance: part of the acids that would change), and the nearest in use (in steps)."""
    rivals = [p for p in others if p.item.base_key != own.item.base_key and p.item.is_fatty and not p.item.lot]
    by_acids = (
        sorted(((displaced(own.shares, p.shares), p) for p in rivals if p.acids), key=lambda pair: pair[0])
        if own.acids
        else []
    )
    # What is solid in the room stands in for nothing that is poured, nor the other way round.
    alike = [p for p in rivals if p.item.is_solid is own.item.is_solid]
    by_use = sorted(((d, p) for p in alike if (d := in_use(own, p)) is not None), key=lambda pair: pair[0])
    return tuple(
        tuple(Substitute(p, distance, changes(own, p)) for distance, p in ranked[:count])
        for ranked in (by_acids, by_use)
    )


def in_use(first: OilProfile, second: OilProfile) -> float | None:
    """How far two oils are apart in use: root mean square of steps in thickness, feel, life, clog rating and colour.

    None when fewer than three of the five are known of both.
    """
    steps = []
    if first.thickness and second.thickness:
        steps.append(log(second.thickness / first.thickness) / STEP_THICKNESS)
    if first.keeps and second.keeps:
        steps.append(log(second.keeps / first.keeps) / STEP_KEEPS)
    for one, other, step in (
        (first.feel, second.feel, STEP_FEEL),
        (first.comedogenicity, second.comedogenicity, STEP_COMEDOGENICITY),
        (first.tint, second.tint, STEP_TINT),
    ):
        if one is not None and other is not None:
            steps.append((other - one) / step)
    return sqrt(sum(step**2 for step in steps) / len(steps)) if len(steps) >= 3 else None


def changes(before: OilProfile, after: OilProfile) -> tuple[str, ...]:
    """What would change, the plainest first; small changes are left out."""
    said = []
    for name, one, other in (
        ("linoleic", before.linoleic, after.linoleic),
        ("oleic", before.oleic, after.oleic),
        ("saturated", before.saturated, after.saturated),
        ("omega-3", before.omega_3, after.omega_3),
    ):
        if one is not None and other is not None and reaches(abs(other - one), SAID_POINTS):
            said.append(f"{name} {other - one:+.0f} points")
    if before.feel and after.feel and before.feel != after.feel:
        said.append(f"{'richer' if after.feel > before.feel else 'lighter'}: {FEELS[after.feel]}")
    if before.thickness and after.thickness and reaches(abs(log(after.thickness / before.thickness)), SAID_THICKNESS):
        word = "thicker" if after.thickness > before.thickness else "thinner"
        said.append(f"{word}: {after.thickness:.0f} mPa·s against {before.thickness:.0f}")
    if before.keeps and after.keeps and reaches(abs(after.keeps - before.keeps), SAID_MONTHS):
        word = "longer" if after.keeps > before.keeps else "shorter"
        said.append(f"keeps {abs(after.keeps - before.keeps):.0f} months {word}")
    if (
        before.comedogenicity is not None
        and after.comedogenicity is not None
        and reaches(abs(after.comedogenicity - before.comedogenicity), SAID_COMEDOGENICITY)
    ):
        said.append(f"clog rating {after.comedogenicity:g} against {before.comedogenicity:g}")
    if before.tint and after.tint and abs(after.tint - before.tint) >= SAID_TINT:
        said.append("deeper in colour" if after.tint > before.tint else "paler")
    gained = (after.allergens or frozenset()) - (before.allergens or frozenset())
    lost = (before.allergens or frozenset()) - (after.allergens or frozenset())
    said += [f"brings the {family.replace('_', ' ')} family" for family in sorted(gained)]
    said += [f"no {family.replace('_', ' ')}" for family in sorted(lost)]
    return tuple(said)


def how_far(own: OilProfile, other: OilProfile) -> float | None:
    """How far apart two oils are, in use and in their acids together; None where their use is not known."""
    use = in_use(own, other)
    if use is None:
        return None
    acids = (
        displaced(own.shares, other.shares) if own.acids and other.acids else 0.0 if own.acids == other.acids else 1.0
    )
    return hypot(use, ACIDS_STEPS * acids)


def scent_likeness(tables: SafetyTables, first: Ingredient, second: Ingredient) -> float:
    """How alike two scents are by what they hold: cosine of their typical constituents, 0 to 1.

    Smell is more than that; it is the part of likeness that a table knows.
    """
    one, other = tables.scents.get(first.base_key), tables.scents.get(second.base_key)
    if one is None or other is None:
        return 0.0
    lengths = _length(one) * _length(other)
    both = one.constituents.keys() & other.constituents.keys()
    return sum(one.constituents[n].typical * other.constituents[n].typical for n in both) / lengths if lengths else 0.0


def _length(scent: ScentFacts) -> float:
    return sqrt(sum(part.typical**2 for part in scent.constituents.values()))

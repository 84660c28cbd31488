"""Check a case against everything that is known of safety: all rules are evaluated, and all that fire are shown."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import lru_cache

from uptide.core.figures.citing import listed
from uptide.core.ingredients.infusion import each_plant
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.plant_names import named_plants
from uptide.core.measures.say import say_number
from uptide.core.safety.bath import Bath, bath_of
from uptide.core.safety.case import Case, Purpose
from uptide.core.safety.caution import RANK, Caution, Grade
from uptide.core.safety.claims import Claim, read_claims
from uptide.core.safety.dose import NEAR, Dose, OilDose, dose_of
from uptide.core.safety.firing import NotFor, fire
from uptide.core.safety.limits import Allergens, OverLimit, allergens_of, over_limits
from uptide.core.safety.person import alone, of_person
from uptide.core.safety.phototoxicity import Phototoxicity, phototoxicity_of
from uptide.core.safety.tables import SafetyTables
from uptide.core.safety.who import age_below, limit_words
from uptide.core.skin.wearer import ANYONE
from uptide.core.tolerance import exceeds


@dataclass(frozen=True, slots=True)
class Safety:
    """Everything that the check found; `open_stops` keep a blend a draft."""

    cautions: tuple[Caution, ...] = ()
    not_for: tuple[NotFor, ...] = ()
    dose: Dose | None = None
    phototoxicity: Phototoxicity | None = None
    allergens: Allergens | None = None
    over: tuple[OverLimit, ...] = ()
    claims: tuple[Claim, ...] = ()
    bath: Bath | None = None
    unsettled: tuple[str, ...] = ()  # rows as typed that nobody understands yet: nothing here speaks for them
    waiting: tuple[str, ...] = ()  # rows as typed that may weigh and are open: until then no share is known
    assumed: tuple[str, ...] = ()  # words whose reading changes what is poured or labelled, and is only assumed

    @property
    def draft(self) -> str:
        """Why it is a draft still, in words; nothing when no stop is open and every row is settled for good."""
        count = len(self.open_stops)
        said = [f"{count} {'stop is' if count == 1 else 'stops are'} open"] if count else []
        said += [f"“{typed}” is not settled" for typed in dict.fromkeys((*self.unsettled, *self.waiting))]
        if self.assumed:
            words = listed([f"“{each}”" for each in self.assumed])
            said.append(f"{words} {'is' if len(self.assumed) == 1 else 'are'} only assumed")
        return f"A draft: {'; '.join(said)}." if said else ""

    @property
    def is_draft(self) -> bool:
        """Whether it can be finished not yet: a stop is open, or a row is not settled for good."""
        return bool(self.open_stops or self.unsettled or self.waiting or self.assumed)

    @property
    def open_stops(self) -> tuple[Caution, ...]:
        """Stops without a written reason, or that no reason can lift."""
        return tuple(c for c in self.cautions if c.grade is Grade.STOP and not c.is_answered)


@dataclass(frozen=True, slots=True)
class Said:
    """Words that claims are read from, by where they stand, and the written reasons by rule."""

    texts: Mapping[str, str] = field(default_factory=dict)
    reasons: Mapping[str, str] = field(default_factory=dict)


def check(case: Case, said: Said | None = None) -> Safety:
    """Check a case; cautions with the gravest on top, those of one grade in the order of the tables."""
    said = said or Said()
    if not case.is_weighed:
        return Safety(unsettled=case.unsettled, waiting=case.waiting)
    personal, general = of_person(case), fire(case.tables.general_rules, case)
    found = [*personal.cautions, *general.cautions, *_of_unmeasured(case), *_of_waiting(case)]
    not_for = [*personal.not_for, *general.not_for]
    dose = dose_of(case)
    if case.waiting:
        found += [c for c in _of_dose(case, dose) if c.rule == "scent-unknown"]
    else:
        found += _of_dose(case, dose)
        found += _of_limits(case)
    claims = read_claims(dict(said.texts), case.tables)
    found += _of_claims(claims)
    found += _of_notes(case)
    found += _of_unknown_plants(case)
    found += _of_held_lots(case)
    not_for += [
        NotFor(
            limit_words(limit),
            f"{limit.most:g} % of scent at most",
            grade=Grade.WARN,
            rule="dose",
            message=limit.words,
            age_below=age_below(limit.whom),
        )
        for limit in dose.unknown_limits
        if exceeds(dose.total, limit.most) and not case.waiting
    ]
    found.append(USUAL_CARE)
    found = [_with_better_words(c, case) if c.rule in CLAIM_RULES else c for c in found]
    answered = [c.answered(said.reasons.get(c.rule, "")) for c in found]
    ordered = sorted(answered, key=lambda c: (RANK[c.grade], c.is_unknown))
    if case.waiting:
        return Safety(tuple(ordered), tuple(not_for), claims=claims, unsettled=case.unsettled, waiting=case.waiting)
    return Safety(
        tuple(ordered),
        tuple(not_for),
        dose=dose,
        phototoxicity=phototoxicity_of(case),
        allergens=allergens_of(case),
        over=over_limits(case),
        claims=claims,
        bath=bath_of(case),
        unsettled=case.unsettled,
    )


CLAIM_RULES = frozenset({"medicine-claim", "sun-claim"})
USUAL_CARE = Caution(
    "usual-care",
    Grade.NOTE,
    (),
    "For the skin only. Patch test the finished product twice for 24 hours. This is no medical or legal advice; local "
    "law and licensed practice come first.",
    source="common-practice",
)


@lru_cache(maxsize=4096)
def is_stopped_in(item: Ingredient, percent: float, purpose: Purpose, tables: SafetyTables, today: date) -> bool:
    """Whether so little of an oil [% of the whole] is already stopped in a kind of product, whoever it is for."""
    case = replace(alone(item, ANYONE, tables.with_stops_alone, today, percent), purpose=purpose)
    return bool(check(case).open_stops)


def _of_unmeasured(case: Case) -> Iterator[Caution]:
    for grade in (Grade.WARN, Grade.NOTE):
        names = [p.item.name for p in case.parts if not p.measured and p.item.is_fatty is (grade is Grade.NOTE)]
        if names:
            yield Caution(
                "not-measured",
                grade,
                tuple(dict.fromkeys(names)),
                "In it, and nobody knows how much: what depends on the amount is unknown.",
                source="common-practice",
                remedy="Weigh it, and write the grams.",
                is_unknown=True,
            )


def _of_waiting(case: Case) -> Iterator[Caution]:
    """One caution for all that is a share of the whole, while a row is open that may be a large part of it."""
    if case.waiting:
        yield Caution(
            "not-settled",
            Grade.WARN,
            tuple(f"“{typed}”" for typed in dict.fromkeys(case.waiting)),
            "Not settled, and it may be a large part of the whole: how much scent, the limits, the sun and all shares "
            "are unknown until it is.",
            source="common-practice",
            remedy="Answer what is asked beside it, or write its amount.",
            is_unknown=True,
        )


def _of_dose(case: Case, dose: Dose) -> Iterator[Caution]:
    if not case.scents:
        return
    names = tuple(dict.fromkeys(part.item.name for part in case.scents))
    if dose.is_over:
        why = "; ".join(f"{limit_words(limit)}: {limit.most:g} %" for limit in dose.limits)
        yield Caution(
            "scent-over",
            Grade.STOP,
            names,
            f"Too much scent: {say_number(dose.total, 3)} % at most, and {dose.most:g} % is the most here.",
            why=why,
            who=case.wearer.name,
            source="tisserand-young-2014",
            remedy="Use less of it.",
        )
    elif dose.is_above_suggested:
        yield Caution(
            "scent-above-suggested",
            Grade.NOTE,
            names,
            f"More scent than is suggested: {say_number(dose.total, 3)} %; {dose.suggested:g} % is, {dose.most:g} % is "
            "the most.",
            source="tisserand-young-2014",
            remedy="Use less of it.",
        )
    for oil in dose.oils:
        name = oil.part.item.name
        if oil.unknown:
            yield Caution(
                "scent-unknown",
                Grade.WARN,
                (name,),
                "Nothing is known here of this scent’s limits: look it up before use.",
                source="common-practice",
                remedy="Swap it for one that is known.",
                confidence="low",
                is_unknown=True,
            )
        elif oil.ratio is not None and oil.limit is not None:
            yield from _of_oil(case, oil)


def _of_oil(case: Case, oil: OilDose) -> Iterator[Caution]:
    name, ratio = oil.part.item.name, oil.ratio or 0.0
    contact = "rinsed off" if case.purpose.rinsed and oil.is_ceiling else "left on skin"
    words = f"{say_number(oil.part.high, 3)} % of it; {oil.limit or 0.0:g} % is the most {contact}"
    why = f"Because of {oil.driver}." if oil.driver else ""
    if exceeds(ratio, 1):
        more = "" if oil.is_ceiling else " Rinsed off, more may be allowed: see its certificate."
        yield Caution(
            "oil-over",
            Grade.STOP if oil.is_ceiling else Grade.WARN,
            (name,),
            f"Over its own limit: {words}.{more}",
            why=why,
            source=oil.source,
            remedy="Use less of it.",
        )
    elif exceeds(ratio, NEAR) and oil.is_ceiling:
        yield Caution(
            "oil-near",
            Grade.WARN,
            (name,),
            f"Near its own limit: {words}.",
            why=why,
            source=oil.source,
            remedy="Use less of it.",
        )


def _of_limits(case: Case) -> Iterator[Caution]:
    """Constituents over their limits; those that law limits surely have rules of their own in the table."""
    for over in over_limits(case):
        if over.limit.law and over.surely:
            continue
        amount, limit = over.amount, over.limit
        name = amount.name.lower()
        names = tuple(dict.fromkeys(part.item.name for part in amount.bringers))
        law = "EU law" if limit.law else "its limit on skin"
        if over.surely:
            message = f"{name.capitalize()}: {say_number(amount.typical, 3)} % typically; {limit.most:g} % is {law}."
        else:
            message = (
                f"{name.capitalize()} may be over {law} of {limit.most:g} %: {say_number(amount.high, 3)} % at most."
            )
        yield Caution(
            "constituent-over" if over.surely else "constituent-may-be-over",
            Grade.STOP if over.surely else Grade.WARN,
            names,
            message,
            why="A certificate of the lot would say more.",
            source=limit.source,
            remedy="Use less, or a lot with a certificate.",
        )
    allergens = allergens_of(case)
    if allergens.problem:
        yield Caution("allergen-list", Grade.STOP, ("label",), allergens.problem, source="eu-2023-1545")


def _of_claims(claims: Sequence[Claim]) -> Iterator[Caution]:
    """Milder claims on their own; those that stop are one stop, from the table."""
    for claim in claims:
        if claim.pattern.grade != "stop":
            yield Caution(
                f"claim-{claim.pattern.key}",
                Grade(claim.pattern.grade),
                (f"“{claim.found}”",),
                f"In the {claim.where}: {claim.pattern.why}.",
                source=claim.pattern.source,
                remedy=f"Say rather: {'; '.join(claim.pattern.instead)}.",
            )


def _with_better_words(caution: Caution, case: Case) -> Caution:
    """A stop for what was claimed, with what may be said instead of each of the words."""
    claims = [c for c in read_claims({"words": case.words}, case.tables) if c.pattern.grade == "stop"]
    offered = [f"for “{claim.found}”: {'; or '.join(claim.pattern.instead)}" for claim in claims]
    return replace(caution, remedy=f"Say rather, {'. '.join(offered)}.") if offered else caution


def _of_held_lots(case: Case) -> Iterator[Caution]:
    for name, why in dict.fromkeys(case.held):
        yield Caution(
            "held-lot",
            Grade.STOP,
            (name,),
            f"This lot is {why}. It is poured into nothing.",
            source="person",
            remedy="Take another lot, or release this one on its page.",
        )


def _of_notes(case: Case) -> Iterator[Caution]:
    for name, note in dict.fromkeys((p.item.name, p.item.allergen_note) for p in case.parts if p.item.allergen_note):
        yield Caution("allergen-note", Grade.NOTE, (name,), f"{note[:1].upper()}{note[1:]}.", source="common-practice")


def _of_unknown_plants(case: Case) -> Iterator[Caution]:
    """What an oil was steeped in that no table here knows: nothing of it is known, and that is never nothing."""
    steeped = [(words, part.item.name) for part in case.parts for words in each_plant(part.row.plant)]
    unknown = [(words, name) for words, name in steeped if not named_plants(words, case.tables.plants).names]
    for words in dict.fromkeys(words for words, _ in unknown) if case.tables.plants else ():
        yield Caution(
            "plant-unknown",
            Grade.WARN,
            tuple(dict.fromkeys(name for said, name in unknown if said == words)),
            f"Unknown: whom “{words}” is not for. No plant of that name is known here.",
            source="common-practice",
            remedy="Find out whether it is poisonous and who must not have it; then enter it as a plant of your own.",
            is_unknown=True,
        )

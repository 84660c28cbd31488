"""Jars of a workshop as they stand today: what was asked of them as plain JSON, and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from math import fsum
from typing import TypedDict, cast

from pydantic import BaseModel, Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import UptideError
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.jar_lot import infusion_of, keeps_months
from uptide.core.infusion.parts import of_part
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.schedule import due_of
from uptide.core.infusion.straining import Straining
from uptide.core.ingredients.ingredient import Ingredient, Price
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import known_oil
from uptide.core.ledger.movement import milligrams
from uptide.core.months import months_later
from uptide.core.safety.caution import Grade
from uptide.store.jars import Jar, add_note, begin_jar, change_asked, list_jars, load_jar
from uptide.store.ledger import take
from uptide.store.readings import take_thermometer_out
from uptide.store.shelf import all_lots, save_lot, shelf_changed
from uptide.workshop.clock import today

OWN = "own infusion"
AMOUNTS = ("jar_ml", "grams", "fill", "oil_grams", "water", "width_cm")  # the fields of Amounts


def ask_to_json(ask: JarAsk) -> dict[str, object]:
    """What is asked of a jar, as plain JSON: plant and oil by their keys."""
    return {
        "plant": ask.plant.key,
        "part": ask.plant.as_part,
        "state": ask.state.value,
        "oil": ask.oil.key,
        "method": ask.method,
        "pressed": ask.pressed,
        "to_the_rim": ask.to_the_rim,
        "straining": ask.straining.value,
        **{name: getattr(ask, name) for name in AMOUNTS},
        "also": [
            {
                "plant": each.plant.key,
                "part": each.plant.as_part,
                "state": each.state.value,
                "grams": each.grams,
                "water": each.water,
            }
            for each in ask.also
        ],
    }


def ask_from_json(stored: Mapping[str, object], facts: Catalogue) -> JarAsk:
    """What was asked of a stored jar.

    Raises:
        UptideError: a plant or an oil that is known no more, or an amount that is none.
    """
    try:
        return JarAsk(
            plant=_plant(stored, facts),
            state=State(str(stored.get("state"))),
            oil=_oil(str(stored.get("oil")), facts),
            method=str(stored.get("method")),
            pressed=bool(stored.get("pressed")),
            to_the_rim=bool(stored.get("to_the_rim")),
            straining=Straining(str(stored.get("straining"))),
            also=tuple(_charge(each, facts) for each in _records(stored.get("also"))),
            **_amounts(stored),
        )
    except ValueError as error:  # every error of the trade is one, and so is a word that is none of its kind
        raise UptideError(f"What was asked of this jar can be read no more: {error}") from error


def _plant(stored: Mapping[str, object], facts: Catalogue) -> PlantFacts:
    found = facts.plants.get(str(stored.get("plant")))
    if found is None:
        raise UptideError(f"Nobody knows a plant “{stored.get('plant')}” any more.")
    return of_part(found, str(stored.get("part") or ""), facts.plants)


def _oil(key: str, facts: Catalogue) -> Ingredient:
    found = known_oil(key, facts.ingredients)
    if found is None:
        raise UptideError(f"Nobody knows an oil “{key}” any more.")
    return found


def price_of(oil: Ingredient, facts: Catalogue) -> Price | None:
    """What a gram of an oil costs; of oils poured together where each has a price in the same money."""
    known = facts.prices.get(oil.key)
    if known is not None or not oil.parts or oil.lot:
        return known
    prices = [(facts.prices.get(part.key), share) for part, share in oil.parts]
    currencies = {price.currency if price else "" for price, _ in prices}
    if len(currencies) != 1 or "" in currencies:
        return None
    return Price(fsum(price.per_gram * share for price, share in prices if price), currencies.pop(), oil.name)


def _records(stored: object) -> list[Mapping[str, object]]:
    return [each for each in stored if isinstance(each, Mapping)] if isinstance(stored, list) else []


def _charge(stored: Mapping[str, object], facts: Catalogue) -> Charge:
    water = None if stored.get("water") is None else float(str(stored["water"]))
    return Charge(_plant(stored, facts), State(str(stored.get("state"))), float(str(stored.get("grams"))), water)


def _amounts(stored: Mapping[str, object]) -> Amounts:
    given = {name: float(str(stored[name])) for name in AMOUNTS if stored.get(name) is not None}
    return cast("Amounts", given)


class Amounts(TypedDict, total=False):
    """The amounts of a jar by their names [mL, g, parts of one]."""

    jar_ml: float
    grams: float
    fill: float
    oil_grams: float
    water: float
    width_cm: float


def lots_poured_on(ask: JarAsk) -> tuple[tuple[str, float], ...]:
    """The lots that a jar takes, each with what part of its oil that is."""
    oil = ask.oil
    parts = ((oil, 1.0),) if oil.lot else oil.parts
    return tuple((item.lot, share) for item, share in parts if item.lot)


def pour_on(store: Session, jar_id: int, name: str, ask: JarAsk) -> None:
    """Take the oil of a jar that was begun out of the lots that were poured on; oil that is no lot is nobody’s."""
    poured = JarPlan(ask).oil_grams
    lots = lots_poured_on(ask)
    for code, share in lots:
        take(store, code, milligrams(share * poured), f"into the jar {name}", token=f"jar-{jar_id}-{code}")
    if lots:
        shelf_changed(store)


def jar_today(jar: Jar, facts: Catalogue, day: date) -> JarUnderWay | None:
    """A stored jar as it stands on a day; None where what was asked of it can be read no more."""
    try:
        return JarUnderWay(
            JarPlan(ask_from_json(jar.asked, facts)), jar.begun_on, notes=jar.notes, today=day, readings=jar.readings
        )
    except UptideError:
        return None


@dataclass(frozen=True, slots=True)
class Weighed:
    """A jar as it was strained: the day, the way, and what was weighed [g]; None for what was not."""

    on: date
    how: Straining
    out: float
    marc: float | None = None
    dregs: float | None = None


def lot_of_jar(lots: Sequence[Lot], jar_id: int) -> Lot | None:
    """The lot that came of a jar; None before it was strained."""
    return next((lot for lot in lots if lot.infusion is not None and lot.infusion.jar == jar_id), None)


def strain_jar(store: Session, jar: Jar, under_way: JarUnderWay, weighed: Weighed, plain: Lot) -> None:
    """Note what was weighed of a jar, and put its oil on the shelf; a jar that was noted as strained stays so.

    Args:
        store: of the workshop.
        jar: the jar.
        under_way: the same as it stands.
        weighed: what came of it.
        plain: the lot's code, place, price and the like; what it is comes from the jar.

    Raises:
        UptideError: its oil is on the shelf already, or a code or an amount cannot be.
    """
    if lot_of_jar(all_lots(store), jar.id) is not None:
        raise UptideError("This jar is a lot on the shelf already.")
    if under_way.must_be_binned:
        raise UptideError(f"{under_way.must_be_binned} Taken by mistake, its note can be taken out on the jar’s page.")
    if under_way.ended is not None and under_way.ended.kind is not NoteKind.STRAINED:
        raise UptideError(f"{under_way.outcome} Nothing of it comes on the shelf.")
    change_asked(store, jar.id, ask_to_json(replace(under_way.plan.ask, straining=weighed.how)))
    notes = [] if under_way.ended else [JarNote(weighed.on, NoteKind.STRAINED, weighed.out)]
    notes += [JarNote(weighed.on, NoteKind.MARC, weighed.marc)] if weighed.marc else []
    notes += [JarNote(weighed.on, NoteKind.DREGS, weighed.dregs)] if weighed.dregs else []
    for note in notes:
        add_note(store, jar.id, note)
    take_thermometer_out(store, jar.id)
    strained = replace(under_way, notes=(*under_way.notes, *notes), today=weighed.on)
    oil = strained.plan.ask.oil
    save_lot(
        store,
        replace(
            plain,
            ingredient="" if oil.lot and oil.parts else oil.base_key,
            supplier=plain.supplier or OWN,
            received_on=weighed.on,
            best_before=months_later(weighed.on, int(keeps_months(strained))),
            bought_g=weighed.out,
            left_g=weighed.out,
            infusion=infusion_of(strained, jar.id),
        ),
    )


@dataclass(frozen=True, slots=True)
class WantsDoing:
    """A jar under way that wants something today: what cannot wait first, else what is due."""

    jar: Jar
    day: int
    words: str


def jars_that_want(store: Session, facts: Catalogue, day: date) -> list[WantsDoing]:
    """The jars under way of which something is due on a day."""
    found = []
    for jar in list_jars(store):
        under_way = jar_today(jar, facts, day)
        if under_way is None or under_way.ended:
            continue
        stops = [said.message for said in under_way.says if said.grade is Grade.STOP]
        wanted = stops[:1] or [task.words for task in due_of(under_way)]
        if wanted:
            found.append(WantsDoing(jar, under_way.day, "; ".join(wanted)))
    return found


class NoteIn(BaseModel):
    """A note of a jar in a file."""

    on: date
    kind: NoteKind
    grams: float | None = None
    words: str = ""


class LotIn(BaseModel):
    """The lot that came of a jar in a file that notes its straining."""

    code: str
    place: str = ""
    price: float | None = None
    currency: str = ""
    marc: float | None = None


class JarIn(BaseModel):
    """A jar in a file: its name, the day it was begun, what was asked of it, and its notes."""

    name: str
    begun_on: date
    asked: dict[str, object]
    notes: list[NoteIn] = Field(default_factory=list)
    lot: LotIn | None = None


def bring_jars(name: str, text: str, facts: Catalogue, store: Session) -> str:
    """Bring jars in from JSON; say how many. A jar of the same name and day is there already, and is left as it is.

    Raises:
        UptideError: a file that is none, or a jar that cannot be; nothing is brought in then.
    """
    try:
        jars = TypeAdapter(list[JarIn]).validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise UptideError(f"{name} is no list of jars: {where}: {first['msg']}.") from error
    known = {(jar.name, jar.begun_on) for jar in list_jars(store)}
    new = [jar for jar in jars if (jar.name, jar.begun_on) not in known]
    for jar in new:
        number = begin_jar(store, jar.name, jar.begun_on, ask_to_json(ask_from_json(jar.asked, facts)))
        for note in jar.notes:
            add_note(store, number, JarNote(note.on, note.kind, note.grams, note.words))
        if jar.lot is not None:
            _bring_lot(store, load_jar(store, number), jar.lot, facts)
    return f"{len(new)} jar{'' if len(new) == 1 else 's'} added."


def _bring_lot(store: Session, jar: Jar, lot: LotIn, facts: Catalogue) -> None:
    under_way = jar_today(jar, facts, today())
    end = under_way.ended if under_way is not None else None
    if under_way is None or end is None or end.kind is not NoteKind.STRAINED or end.grams is None:
        raise UptideError(f"“{jar.name}” was not noted as strained, and has no lot.")
    weighed = Weighed(end.on, under_way.plan.ask.straining, end.grams, lot.marc)
    plain = Lot(lot.code, "", place=lot.place, price=lot.price, currency=lot.currency, note=jar.name)
    strain_jar(store, jar, under_way, weighed, plain)

"""A lot on the shelf: one container of one thing, with its own certificate, age and price.

As an ingredient it is the oil of the catalogue with everything that is known better of this lot put in its place.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from types import MappingProxyType

from uptide.core.errors import ProfileError
from uptide.core.ingredients.certificate import Certificate, certified_lipid, certified_profile
from uptide.core.ingredients.grade import graded
from uptide.core.ingredients.infusion import Infusion, Steeped, each_plant
from uptide.core.ingredients.ingredient import Appearance, Ingredient, LotPast, Measured, Price
from uptide.core.ingredients.mixture import density_added_up, mixture
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.core.lipids.lipid import Lipid
from uptide.core.months import months_between
from uptide.core.oxidation.history import HeatStep, ageing_spent, standing
from uptide.core.oxidation.oil import COX_PER_OSI, ESTIMATE_SD, LAB_SD, OilOxidation, cox_of, estimate, unsaturation_of
from uptide.core.oxidation.surroundings import Storage, usual_place
from uptide.core.physics.colour import steps_of_tint
from uptide.core.physics.density import blend_density

KEY = "lot:"
HELD, BLOCKED = "held", "blocked"
STATUSES = (HELD, BLOCKED)  # of a lot that nobody pours: until it is looked into, and for good
DEEPEST = 10  # of the steps of tint


@dataclass(frozen=True, slots=True)
class Lot:
    """One container on the shelf; masses in g, price for the whole container.

    It is a lot of `ingredient`, or of version `made_from` = (blend, version) of a blend. `code` is one's own name for
    it, `supplier_lot` what the supplier printed on it, `infusion` what was steeped in it. Certificates stand in the
    order in which they count: the last one that says something wins.
    """

    code: str
    ingredient: str
    supplier: str = ""
    received_on: date | None = None
    opened_on: date | None = None
    best_before: date | None = None
    bought_g: float = 0.0
    left_g: float = 0.0
    price: float | None = None
    currency: str = ""
    place: str = ""
    supplier_lot: str = ""
    container: str = ""
    note: str = ""
    grade: str = ""  # refined, unrefined or by CO2; nothing where nobody said
    made_from: tuple[int, int] | None = None
    infusion: Infusion | None = None
    certificates: tuple[Certificate, ...] = ()
    status: str = ""  # held or blocked: then it is poured into nothing
    status_why: str = ""
    unread: Mapping[str, str] = field(default_factory=dict)  # what was stored of it and cannot be read, by field

    @property
    def key(self) -> str:
        """The key of this lot as an ingredient."""
        return KEY + self.code

    @property
    def storage(self) -> Storage:
        """How it stands: in its place, opened or closed."""
        return usual_place(self.place, opened=self.opened_on is not None)

    @property
    def price_per_100g(self) -> float | None:
        """Price of 100 g, in its currency; None when the price is not known."""
        return None if self.price is None else 100 * self.price / self.bought_g

    @property
    def unit_price(self) -> Price | None:
        """What a gram of it costs, and that this lot says so."""
        return None if self.price is None else Price(self.price / self.bought_g, self.currency, f"lot {self.code}")

    @property
    def certificate(self) -> Certificate:
        """All certificates in one: of each figure the last one given; dated as the last one with a peroxide value."""
        merged = Certificate()
        for one in self.certificates:
            dated = one.dated_on if "peroxide_value" in one.figures or merged.dated_on is None else merged.dated_on
            merged = Certificate(
                dated,
                dict(one.acids) or dict(merged.acids),
                {**merged.figures, **one.figures},
                {**merged.constituents, **one.constituents},
            )
        return merged


def lot_ingredient(lot: Lot, base: Ingredient, acids: Mapping[str, FattyAcid], today: date) -> Ingredient:
    """The ingredient that stands in a row when this lot is used."""
    base = graded(base, lot.grade)
    certificate = lot.certificate
    on = f"certificate of {certificate.dated_on:%Y-%m-%d}" if certificate.dated_on else "certificate"
    lipid = base.lipid
    if certificate.acids:
        usual = base.lipid.acids if base.lipid else None
        lipid = certified_lipid(base, certified_profile(certificate.acids, acids, usual, f"lot {lot.code}, {on}"))
    figures = {
        key: Measured(
            value,
            None,
            high=None,
            unit=_unit_of(base, key),
            source="person",
            locator=f"lot {lot.code}, {on}",
            confidence="high",
            temperature=20.0,
        )
        for key, value in certificate.figures.items()
    }
    density = certificate.figures.get("density")
    properties = {**base.properties, **{key: (value,) for key, value in figures.items() if key != "density"}}
    if certificate.acids and all(point.is_of_class for point in base.properties.get("viscosity", ())):
        properties.pop("viscosity", None)  # it was worked out from the usual acids; now from these
    return replace(
        base,
        key=lot.key,
        name=f"{base.name}, lot {lot.code}",
        lot=lot.code,
        base=base.base_key,
        lipid=lipid,
        density=density or base.density,
        density_basis=figures["density"] if density else base.density_basis,
        confidence="high" if certificate.acids else base.confidence,
        properties=properties,
        oxidation=_oxidation(lot, base, lipid),
        past=_past(lot, today),
        opened_months=months_between(lot.opened_on, today) if lot.opened_on else None,
        constituents={name.upper(): value for name, value in certificate.constituents.items()},
    )


def infused_ingredient(
    lot: Lot,
    base: Ingredient,
    acids: Mapping[str, FattyAcid],
    today: date,
    oils: Mapping[str, Ingredient] = MappingProxyType({}),
) -> Ingredient:
    """The ingredient of a lot that plants were steeped in.

    Args:
        lot: with its infusion.
        base: what it was steeped in, with what that had behind it when the jar was begun.
        acids: by code.
        today: the day to which it has aged since it was strained.
        oils: where the oil of a plant that dissolves is looked up.
    """
    infusion = lot.infusion
    if infusion is None:
        return lot_ingredient(lot, base, acids, today)
    oil = base.name.removesuffix(f", lot {base.lot}")
    title = f"{infusion.plant_names} in {oil[:1].lower()}{oil[1:]}"
    if base.parts:
        plain = mixture_ingredient(lot, title, base.parts, today, base.said)
    else:
        plain = lot_ingredient(lot, base, acids, today)
        plain = replace(plain, past=_joined(base.past, plain.past))
    dissolving = [plant for plant in infusion.plants if plant.dissolved > 0]
    if not dissolving:
        parts = tuple((_steeped(part, infusion), share) for part, share in plain.parts)
        return replace(_steeped(plain, infusion), name=f"{title}, lot {lot.code}", parts=parts)
    rest = 1 - infusion.dissolved
    held = [(_steeped(part, infusion), rest * share) for part, share in (plain.parts or ((plain, 1.0),))]
    held += [(_dissolved(plant, plain, oils), plant.dissolved) for plant in dissolving]
    density = blend_density((share, item.density) for item, share in held)
    return replace(
        plain,
        name=f"{title}, lot {lot.code}",
        kind="mixture",
        inci="",
        density=density,
        density_basis=density_added_up(density, title, confidence="low"),
        lipid=None,
        oxidation=None,
        colour=infusion.colour(plain.colour),
        parts=tuple(held),
        said="\n".join(filter(None, (plain.said, infusion.said))),
    )


def _deeper(looks: Appearance, steps: float) -> Appearance:
    return replace(looks, tint=min(DEEPEST, round(looks.tint + max(0.0, steps))))


def _steeped(item: Ingredient, infusion: Infusion) -> Ingredient:
    """With the plants that leave an extract in it; what of a plant dissolves whole is a part of its own."""
    extracted = (plant.name for plant in infusion.plants if not plant.dissolved)
    plants = " and ".join(dict.fromkeys((*each_plant(item.infused_with), *extracted)))  # an oil can be infused twice
    scents = tuple((plant.scent, plant.scent_percent) for plant in infusion.plants if plant.scent)
    colour = infusion.colour(item.colour)
    looks = item.appearance and _deeper(item.appearance, steps_of_tint(item.colour, colour))
    item = replace(item, scented_by=(*item.scented_by, *scents), colour=colour, appearance=looks)
    return replace(item, infused_with=plants, said="\n".join(filter(None, (item.said, infusion.said))))


def _dissolved(plant: Steeped, oil: Ingredient, oils: Mapping[str, Ingredient]) -> Ingredient:
    """What of a plant is in the oil: its own oil, where it is one, else something that is no fat."""
    known = oils.get(plant.dissolved_as)
    if known is not None:
        return replace(known, name=f"{plant.name}, dissolved", inci=plant.inci or known.inci, infused_with=plant.name)
    return Ingredient(
        key=f"dissolved:{plant.name}",
        name=f"{plant.name}, dissolved",
        kind="active",
        inci=plant.inci,
        density=oil.density,
        density_basis=oil.density_basis,
        botanical_name=plant.botanical_name,
        confidence="low",
        infused_with=plant.name,
    )


def mixture_ingredient(
    lot: Lot, title: str, parts: Sequence[tuple[Ingredient, float]], today: date, said: str = ""
) -> Ingredient:
    """The ingredient of a lot whose composition is a blend's: `parts` are (ingredient, g), already unfolded.

    `said` is what was written in that blend, which goes on to be read for cautions.

    Raises:
        ProfileError: nothing is in it.
    """
    past = _past(lot, today)
    held = [(replace(item, past=_joined(item.past, past)), grams) for item, grams in parts]
    try:
        whole = mixture(lot.key, title, held)
    except ProfileError as error:
        raise ProfileError(f"Nothing is in “{title}” that could stand on the shelf as lot {lot.code}.") from error
    return replace(whole, name=f"{title}, lot {lot.code}", lot=lot.code, past=past, said=said)


def _joined(before: LotPast | None, since: LotPast | None) -> LotPast | None:
    """What an oil went through before it came into a mixture or a jar, and what it went through in it."""
    if before is None or since is None:
        return before or since
    fresh = before.fresh_plant or since.fresh_plant
    ageing = before.ageing + since.ageing
    if since.peroxide_value is not None:  # it tells of all that came before it, but of ageing
        return replace(since, fresh_plant=fresh, ageing=ageing + ageing_spent(before.steps))
    return LotPast(
        months_old=before.months_old,
        peroxide_value=before.peroxide_value,
        steps=(*before.steps, *since.steps),
        fresh_plant=fresh,
        aged=(*before.aged, *since.aged),
        ageing=ageing,
    )


def _unit_of(base: Ingredient, key: str) -> str:
    known = base.properties.get(key, ())
    return known[0].unit if known else ""


def _oxidation(lot: Lot, base: Ingredient, lipid: Lipid | None) -> OilOxidation | None:
    """How the lot oxidises: as measured, else as the book says of its oil, carried over to its own acids."""
    book, certificate = base.oxidation, lot.certificate
    if book is None:
        if lipid is None:
            return None
        book = estimate(base.base_key, lipid, certificate.figures.get("tocopherols", 0.0))
    elif certificate.acids and lipid is not None and base.lipid is not None and not book.is_inert:
        unsaturation = unsaturation_of(lipid)
        ratio = cox_of(unsaturation) / cox_of(unsaturation_of(base.lipid))
        hours = (book.osi_hours or 0.0) * ratio**COX_PER_OSI
        book = replace(
            book, unsaturation=unsaturation, osi_hours=hours, osi_sd=ESTIMATE_SD, source="oxidation-estimate"
        )
    hours_found = certificate.figures.get("induction_time_110c")
    if hours_found is not None and not book.is_inert:
        book = replace(book, osi_hours=hours_found, osi_sd=LAB_SD, source="person", confidence="high")
    tocopherols = certificate.figures.get("tocopherols")
    if tocopherols is not None:
        held = book.tocopherols_gamma + book.tocopherols_alpha
        scale = tocopherols / held if held else 0.0
        gamma = book.tocopherols_gamma * scale if held else tocopherols
        book = replace(book, tocopherols_gamma=gamma, tocopherols_alpha=book.tocopherols_alpha * scale)
    return replace(book, key=lot.key)


def _past(lot: Lot, today: date) -> LotPast | None:
    """What it has behind it: peroxides since they were measured or since it came, and all ageing since it came."""
    measured = next(
        (
            (c.dated_on, c.figures["peroxide_value"])
            for c in reversed(lot.certificates)
            if "peroxide_value" in c.figures
        ),
        None,
    )
    came = lot.received_on or lot.opened_on
    since = (measured[0] if measured else None) or came
    aged = _stood(lot, since, today)
    infusion = lot.infusion
    # A reading after straining tells what the jar did to it; how it aged there no reading tells.
    steps = infusion.steps if infusion is not None and measured is None else ()
    before = ageing_spent(infusion.steps) if infusion is not None and measured is not None else 0.0
    fresh = infusion is not None and infusion.fresh_plant
    # A peroxide value says nothing of odours and hydrolysis: it has aged since it came.
    whole = _stood(lot, min(filter(None, (came, since)), default=None), today)
    if measured is None and not aged and infusion is None:
        return None
    return LotPast(
        peroxide_value=measured[1] if measured else None,
        steps=steps,
        fresh_plant=fresh,
        aged=aged,
        ageing=ageing_spent(whole) + before,
    )


def _stood(lot: Lot, since: date | None, today: date) -> tuple[HeatStep, ...]:
    """How a lot stood from a day on: closed until it was opened, in its place."""
    if since is None or since >= today:
        return ()
    opened = min(max(lot.opened_on or today, since), today)
    return (
        *standing(months_between(since, opened), usual_place(lot.place, opened=False)),
        *standing(months_between(opened, today), usual_place(lot.place, opened=True)),
    )

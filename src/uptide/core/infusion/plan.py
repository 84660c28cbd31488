"""A jar planned before anything is cut: amounts, water, what comes out, what it costs, and what speaks against it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import fsum, pi

from uptide.core.errors import QuantityError
from uptide.core.infusion.charge import MOST_GRAMS, Charge, RestrictedBound
from uptide.core.infusion.extraction import bound, done_after, second_infusion, speed
from uptide.core.infusion.methods import METHODS, Method
from uptide.core.infusion.packing import LEAST_HEAD_ROOM, LEAST_IN_BATH, OIL_DENSITY, Cover, by_eye, cover, packed
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import FILM_COLD, FILM_WARM, Strained, Straining, strained
from uptide.core.infusion.water import (
    STIRRED,
    JarWater,
    Plant,
    clouds_below,
    dried,
    evaporation,
    must_leave,
    water_of_jar,
)
from uptide.core.ingredients.infusion import tinted
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import HeatStep, life_spent
from uptide.core.oxidation.oil import OilOxidation

SLENDERNESS = 1.2  # height of a preserving jar in widths; common practice
ABOVE_CM = 1.5  # oil over the plant
CLOTH = 4.6  # g of oil in four layers of cloth; assumption
WORTH = 0.02  # of the life: what a gentler way must save to be named
WARM_FROM = 35.0  # °C: what is kept warmer is a bath
POT_CM, POT_CELSIUS = 20.0, 60.0  # a wide open pot
ROOM_KELVIN = 293.15
WIDTHS = (2, 60)  # cm
MOST_ALSO = 5  # plants beside the first


@dataclass(frozen=True, slots=True)
class JarAsk:
    """What is asked: a plant as it goes in, so much of it by weight or by how full the jar is, an oil, a method.

    Args:
        plant: what is steeped.
        state: as picked, wilted or dried.
        oil: in what.
        method: a key of METHODS.
        jar_ml: what the jar holds to the brim [mL].
        grams: plant by weight [g]; None where `fill` says it.
        fill: part of the jar that is full of plant.
        pressed: whether the plant is pressed down by hand.
        oil_grams: oil [g]; None for as much as covers it, or as the parts of oil that are usual by weight.
        to_the_rim: whether a jar by eye is filled up with oil, to where it needs head room, and not just covered.
        straining: how it is strained.
        water: water of the plant [g/g] where it was measured.
        also: what else goes in, by weight.
        width_cm: inner width of the jar [cm] where it was measured.

    Raises:
        QuantityError: a jar, an amount or a method that cannot be.
    """

    plant: PlantFacts
    state: State
    oil: Ingredient
    method: str = "dark-shelf"
    jar_ml: float = 500.0
    grams: float | None = None
    fill: float = 0.75
    pressed: bool = False
    oil_grams: float | None = None
    to_the_rim: bool = False
    straining: Straining = Straining.HAND
    water: float | None = None
    also: tuple[Charge, ...] = ()
    width_cm: float | None = None

    def __post_init__(self) -> None:
        if self.method not in METHODS:
            raise QuantityError(f"There is no way to steep called “{self.method}”; known are {', '.join(METHODS)}.")
        if not 20 <= self.jar_ml <= 50_000:
            raise QuantityError(f"A jar of {self.jar_ml:g} mL cannot be planned; 20 to 50,000 mL can.")
        if not 0 < self.fill <= 1:
            raise QuantityError(f"A jar {100 * self.fill:g} % full cannot be; up to 100 can.")
        if self.oil_grams is not None and not 0 < self.oil_grams <= MOST_GRAMS:
            raise QuantityError(f"{self.oil_grams:g} g of oil cannot be planned; up to {MOST_GRAMS:,} can.")
        if self.grams is not None or self.water is not None:
            Charge(self.plant, self.state, 1.0 if self.grams is None else self.grams, self.water)
        if self.width_cm is not None and not WIDTHS[0] <= self.width_cm <= WIDTHS[1]:
            raise QuantityError(
                f"A jar {self.width_cm:g} cm wide cannot be planned; {WIDTHS[0]} to {WIDTHS[1]} cm can."
            )
        if len(self.also) > MOST_ALSO:
            raise QuantityError(f"{len(self.also) + 1} plants in one jar cannot be planned; {MOST_ALSO + 1} can.")


@dataclass(frozen=True)
class JarPlan:
    """A jar with everything that follows from what was asked; amounts in g and mL."""

    ask: JarAsk

    @cached_property
    def method(self) -> Method:
        """How it is steeped."""
        return METHODS[self.ask.method]

    @cached_property
    def bulk(self) -> float:
        """Density of the plant as it lies in the jar [g/mL]; fresh and wilted plant is taken as dense as dried."""
        first = Charge(self.ask.plant, self.ask.state, 1.0)
        return packed(first.bulk, first.form) if self.ask.pressed else first.bulk

    @cached_property
    def width_cm(self) -> float:
        """Inner width of the jar [cm]: as measured, else that of a preserving jar."""
        if self.ask.width_cm is not None:
            return self.ask.width_cm
        return float((4 * self.ask.jar_ml / (pi * SLENDERNESS)) ** (1 / 3))

    @cached_property
    def charges(self) -> tuple[Charge, ...]:
        """Every plant that goes in; the one that was asked for first stands first."""
        ask = self.ask
        grams = ask.fill * ask.jar_ml * self.bulk if ask.grams is None else ask.grams
        return (Charge(ask.plant, ask.state, grams, ask.water), *ask.also)

    @cached_property
    def plant_grams(self) -> float:
        """Plant as it goes in, all together [g]."""
        return fsum(charge.grams for charge in self.charges)

    @cached_property
    def water(self) -> float:
        """Water of the plant as it goes in [g/g]."""
        return 1 - self.dry_grams / self.plant_grams

    @cached_property
    def dry_grams(self) -> float:
        """Dry matter [g]."""
        return fsum(charge.dry for charge in self.charges)

    @cached_property
    def bulks(self) -> tuple[float, ...]:
        """Density of each plant as it lies in the jar [g/mL]; a hand presses the first down."""
        return (self.bulk, *(each.bulk for each in self.ask.also))

    @cached_property
    def covers(self) -> Cover:
        """What covers it, at once and after a day; every plant lies in a layer of its own."""
        return self._covered(self.bulks)

    def covered_at(self, end: int) -> Cover:
        """The same, were every plant as loose (0) or as dense (2) as such plant gets before a hand presses it."""
        first, *also = (min(each.bulk_at(end), each.form.with_air) for each in self.charges)
        return self._covered((packed(first, self.charges[0].form) if self.ask.pressed else first, *also))

    def _covered(self, bulks: Sequence[float]) -> Cover:
        layers = [
            cover(each.grams, bulk, each.form, width_cm=self.width_cm, above_cm=ABOVE_CM)
            for each, bulk in zip(self.charges, bulks, strict=True)
        ]
        return Cover(
            bed_ml=fsum(layer.bed_ml for layer in layers),
            at_once=fsum(layer.at_once for layer in layers),
            after_a_day=fsum(layer.after_a_day for layer in layers),
            above=layers[0].above,
        )

    @cached_property
    def oil_grams(self) -> float:
        """Oil in all [g]: as was said; of a jar by eye what covers it; by weight the usual parts, if they cover it."""
        if self.ask.oil_grams is not None:
            return self.ask.oil_grams
        if self.ask.grams is None and self.ask.to_the_rim:
            head_room = LEAST_IN_BATH if self.method.hottest > WARM_FROM else LEAST_HEAD_ROOM
            jar = by_eye(self.ask.jar_ml, self.ask.fill, self.bulk, self.charges[0].form, head_room=head_room)
            return jar.oil - OIL_DENSITY * fsum(each.grams / each.form.solid for each in self.ask.also)
        covers = self.covers.total + (self.method.charges - 1) * self.kept  # what the first keeps the next one lacks
        if self.ask.grams is None:
            return covers
        return max(fsum(each.plant.parts_of_oil * each.grams for each in self.charges), covers)

    @cached_property
    def kept(self) -> float:
        """Oil that the plants of one charge keep, by the way of straining that is planned [g]."""
        return self.keeps(self.ask.straining) * self.plant_grams

    @cached_property
    def oils(self) -> tuple[float, ...]:
        """Oil that each charge of plant stands in [g]; fewer than the way has where a charge keeps all of it."""
        stood = [self.oil_grams - number * self.kept for number in range(self.method.charges)]
        return tuple(oil for oil in stood if oil > 0)

    @cached_property
    def ratio(self) -> float:
        """Parts of oil to one of plant, by weight."""
        return self.oil_grams / self.plant_grams

    @cached_property
    def filled_ml(self) -> float:
        """How far plant and oil fill the jar once the air is out [mL]."""
        return fsum(each.grams / each.form.solid for each in self.charges) + self.oil_grams / OIL_DENSITY

    @cached_property
    def head_room(self) -> float:
        """Air above it, of the jar; below nothing where it does not fit."""
        return 1 - self.filled_ml / self.ask.jar_ml

    @cached_property
    def charge(self) -> tuple[Plant, ...]:
        """The plants, as far as their water goes."""
        return tuple(Plant(each.grams, each.moisture, each.plant.sorption) for each in self.charges)

    @cached_property
    def jar_water(self) -> JarWater:
        """Where the water is once it has spread."""
        return water_of_jar(self.charge, self.oil_grams)

    @cached_property
    def must_leave(self) -> float:
        """Water that has to leave until nothing can grow [g]."""
        return must_leave(self.charge, self.oil_grams)

    @cached_property
    def dry_to(self) -> float:
        """What the plant weighs once it is dried to where nothing can grow [g]."""
        return fsum(
            dried(each.grams, each.moisture, min(each.moisture, each.plant.water_in(State.DRIED)))
            for each in self.charges
        )

    @cached_property
    def clouds_below(self) -> float:
        """Below which temperature the strained oil turns hazy [°C]."""
        return clouds_below(self.method.strained_at, max(self.jar_water.activity, 0.05))

    @cached_property
    def done_after_hours(self) -> float:
        """About when most of what dissolves has, by this method [h]; × or ÷ 4."""
        fastest = self.method.steep[0]
        return self._slowest / (speed(fastest.celsius) * fastest.mixing)

    @cached_property
    def _slowest(self) -> float:
        """When most of what dissolves has, at 20 °C and shaken daily [h], of the plant that takes longest."""
        return max(done_after(each.extraction) for each in self.charges)

    @cached_property
    def out(self) -> dict[Straining, float | None]:
        """Oil that comes out by each way of straining [g]; None where the plant keeps all of it."""
        found: dict[Straining, float | None] = {}
        for how in Straining:
            try:
                found[how] = self.comes_out(how).out
            except QuantityError:
                found[how] = None
        return found

    def comes_out(self, how: Straining) -> Strained:
        """What comes out and what stays behind, by a way of straining; raise QuantityError where nothing does.

        Of several charges each keeps what it keeps; dregs are left and films stay behind the last.
        """
        dissolves = fsum(each.plant.dissolves * each.grams for each in self.charges) / self.plant_grams
        films = CLOTH + (FILM_WARM if self.method.strained_at > WARM_FROM else FILM_COLD)
        keeps, charges = self.keeps(how), self.method.charges
        return strained(self.oil_grams, charges * self.plant_grams, keeps, dissolves=dissolves, films=films)

    @cached_property
    def expected(self) -> Strained | None:
        """What comes out by the way that is planned; None where the plant keeps all of it."""
        return None if self.out[self.ask.straining] is None else self.comes_out(self.ask.straining)

    @cached_property
    def oil_ml(self) -> float:
        """The same oil by volume, at 20 °C [mL]."""
        return self.oil_grams / self.ask.oil.density

    @cached_property
    def life_by_method(self) -> Mapping[Method, float]:
        """Part of the oil’s oxidation life that each way takes; empty where nothing is known of how it turns."""
        return {method: self.spends(method.steps) for method in METHODS.values()} if self._oils else {}

    @cached_property
    def _oils(self) -> tuple[tuple[OilOxidation, float], ...]:
        """What can turn of the oil that is poured on, with its share; nothing where nobody knows how it turns."""
        held = [(item.oxidation, share) for item, share in self.ask.oil.parts or ((self.ask.oil, 1.0),)]
        known = tuple((oil, share) for oil, share in held if oil is not None)
        return known if len(known) == len(held) else ()

    def spends(self, steps: Sequence[HeatStep]) -> float:
        """Part of the oil’s oxidation life that a history takes; of several oils by their shares."""
        return fsum(share * life_spent(oil, steps) for oil, share in self._oils)

    @cached_property
    def oxidation_months(self) -> float | None:
        """How long the fresh oil takes to turn by oxidation alone, dark, at 20 °C [months]; None where it never does.

        Of several oils by their shares.
        """
        turning = [(oil, share) for oil, share in self._oils if oil.osi_hours is not None]
        if not turning:
            return None
        lives = (
            share
            * rate.months_to_limit(oil.osi_hours or 0.0, oil.fresh_pv, oil.limit_pv, ROOM_KELVIN, ageing_factor=0.0)
            for oil, share in turning
        )
        return fsum(lives) / fsum(share for _, share in turning)

    @property
    def life_spent(self) -> float | None:
        """Part of the oil’s oxidation life that the method takes; None where nothing is known of how it turns."""
        return self.life_by_method.get(self.method)

    @cached_property
    def gentlest(self) -> tuple[Method, float] | None:
        """The way that would cost the oil least, and what it would; None where this one is as gentle."""
        costs = self.life_by_method
        if not costs:
            return None
        best = min(costs, key=lambda method: costs[method])
        return (best, costs[best]) if costs[best] < costs[self.method] - WORTH else None

    def cost_per_gram(self, price_per_gram: float) -> float | None:
        """What a gram of the strained oil costs, by the price of a gram of the oil alone; None where none comes out."""
        out = self.out[self.ask.straining]
        return price_per_gram * self.oil_grams / out if out else None

    @cached_property
    def dries_in_hours(self) -> float | None:
        """How long an open pot, stirred at 60 °C, takes to lose the water that must leave [h]; None where none must."""
        if not self.must_leave:
            return None
        return self.must_leave / evaporation(POT_CM, POT_CELSIUS, STIRRED)

    @cached_property
    def extract_in_oil(self) -> float:
        """About how much of the oil is extract [%], of all plants; after two charges as much stronger."""
        times = (self.twice or 1.0) if self.method.charges > 1 else 1.0
        return times * fsum(each.plant.extract_in_oil for each in self.charges)

    @cached_property
    def twice(self) -> float | None:
        """How many times stronger a second charge of the same plant makes it; None where no oil is left for one."""
        keeps = self.keeps(self.ask.straining)
        if keeps * self.plant_grams >= self.oil_grams:
            return None
        return second_infusion(self.plant_grams, self.plant_grams, self.oil_grams, keeps)

    def keeps(self, how: Straining) -> float:
        """Oil that the plants keep [g/g], by a way of straining."""
        return fsum(each.keeps(how) for each in self.charges) / self.plant_grams

    @cached_property
    def scent_bound(self) -> float:
        """The most scent that can be in the oil [%]: all of it passed over, with what an earlier infusion brought."""
        return fsum(self.scent_of(each) for each in self.charges) + fsum(self._brought.values())

    @cached_property
    def _brought(self) -> dict[str, float]:
        """The most scent that is in the oil already, by its key [%]."""
        found: dict[str, float] = {}
        for item, share in self.ask.oil.parts or ((self.ask.oil, 1.0),):
            for key, percent in item.scented_by:
                found[key] = found.get(key, 0.0) + share * percent
        return found

    def scent_of(self, charge: Charge) -> float:
        """The most scent of one plant that can be in the oil [%]."""
        return 100 * bound(charge.plant.essential_oil[1] / 100, [(charge.dry, oil) for oil in self.oils])

    @cached_property
    def restricted(self) -> tuple[RestrictedBound, ...]:
        """What limited substances may be in the oil, each at most; what several plants bring is added up.

        After two infusions of one plant that is m1/O + m2/O1: what the first brought is in the oil already.
        """
        found: dict[str, RestrictedBound] = {}
        brought = dict(self._brought)
        for each in self.charges:
            limited = each.plant.restricted
            if limited is not None:
                before = found[limited.name].at_most if limited.name in found else 0.0
                most = before + (self.scent_of(each) + brought.pop(each.plant.scent, 0.0)) * limited.high
                parts = self.ratio * most / limited.limit
                found[limited.name] = RestrictedBound(limited.name, most, limited.limit, parts)
        return tuple(found.values())

    @cached_property
    def colour(self) -> str:
        """What the oil will look like in 1 cm once all has passed over; as before, where no colour is known."""
        return tinted(self.ask.oil.colour, ((self.strength_of(each), each.plant.colour) for each in self.charges))

    def strength_of(self, charge: Charge) -> float:
        """Dry herb of one plant that stood in the oil, per gram of it [g/g]; of several charges in what was left."""
        return fsum(charge.dry / oil for oil in self.oils)

    @cached_property
    def months(self) -> float:
        """How long the strained oil keeps at most, by its plant [months]; the oil’s own end may come first."""
        state = State.DRIED if self.jar_water.free == 0 else State.FRESH
        return min(each.plant.life(state) for each in self.charges)

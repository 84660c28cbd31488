"""A jar planned before anything is cut: amounts, water, what comes out, what it costs, and what speaks against it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import pi

from uptide.core.errors import QuantityError
from uptide.core.infusion.extraction import bound, done_after, equivalent_hours, second_infusion, speed
from uptide.core.infusion.methods import METHODS, Method
from uptide.core.infusion.packing import LEAST_HEAD_ROOM, LEAST_IN_BATH, OIL_DENSITY, Cover, by_eye, cover, packed
from uptide.core.infusion.plants import PlantFacts, State
from uptide.core.infusion.straining import FILM_COLD, FILM_WARM, Straining, strained
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
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.oxidation.history import life_spent

SLENDERNESS = 1.2  # height of a preserving jar in widths; common practice
ABOVE_CM = 1.5  # oil over the plant
CLOTH = 4.6  # g of oil in four layers of cloth; assumption
WORTH = 0.02  # of the life: what a gentler way must save to be named
WARM_FROM = 35.0  # °C: what is kept warmer is a bath
POT_CM, POT_CELSIUS = 20.0, 60.0  # a wide open pot
WET = 0.20  # g/g of water from which the plant keeps oil as fresh plant does


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

    def __post_init__(self) -> None:
        if self.method not in METHODS:
            raise QuantityError(f"There is no way to steep called “{self.method}”; known are {', '.join(METHODS)}.")
        if not 20 <= self.jar_ml <= 50_000:
            raise QuantityError(f"A jar of {self.jar_ml:g} mL cannot be planned; 20 to 50,000 mL can.")
        if self.grams is not None and not 0 < self.grams <= 50_000:
            raise QuantityError(f"{self.grams:g} g of plant cannot be planned; up to 50,000 can.")
        if not 0 < self.fill <= 1:
            raise QuantityError(f"A jar {100 * self.fill:g} % full cannot be; up to 100 can.")
        if self.oil_grams is not None and not 0 < self.oil_grams <= 50_000:
            raise QuantityError(f"{self.oil_grams:g} g of oil cannot be planned; up to 50,000 can.")
        if self.water is not None and not 0 <= self.water < 1:
            raise QuantityError(f"Plant with {100 * self.water:g} % water cannot be; 0 to 99 can.")


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
        plant = self.ask.plant
        return packed(plant.bulk[1], plant.form) if self.ask.pressed else plant.bulk[1]

    @cached_property
    def width_cm(self) -> float:
        """Inner width of the jar [cm]."""
        return float((4 * self.ask.jar_ml / (pi * SLENDERNESS)) ** (1 / 3))

    @cached_property
    def plant_grams(self) -> float:
        """Plant as it goes in [g]."""
        return self.ask.fill * self.ask.jar_ml * self.bulk if self.ask.grams is None else self.ask.grams

    @cached_property
    def water(self) -> float:
        """Water of the plant as it goes in [g/g]."""
        return self.ask.plant.water_in(self.ask.state) if self.ask.water is None else self.ask.water

    @cached_property
    def dry_grams(self) -> float:
        """Dry matter [g]."""
        return self.plant_grams * (1 - self.water)

    @cached_property
    def covers(self) -> Cover:
        """What covers it, at once and after a day."""
        return cover(self.plant_grams, self.bulk, self.ask.plant.form, width_cm=self.width_cm, above_cm=ABOVE_CM)

    @cached_property
    def oil_grams(self) -> float:
        """Oil in all [g]: as was said; of a jar by eye what covers it; by weight the usual parts, if they cover it."""
        if self.ask.oil_grams is not None:
            return self.ask.oil_grams
        if self.ask.grams is None and self.ask.to_the_rim:
            head_room = LEAST_IN_BATH if self.method.hottest > WARM_FROM else LEAST_HEAD_ROOM
            return by_eye(self.ask.jar_ml, self.ask.fill, self.bulk, self.ask.plant.form, head_room=head_room).oil
        if self.ask.grams is None:
            return self.covers.total
        return max(self.ask.plant.parts_of_oil * self.plant_grams, self.covers.total)

    @cached_property
    def ratio(self) -> float:
        """Parts of oil to one of plant, by weight."""
        return self.oil_grams / self.plant_grams

    @cached_property
    def filled_ml(self) -> float:
        """How far plant and oil fill the jar once the air is out [mL]."""
        return self.plant_grams / self.ask.plant.form.solid + self.oil_grams / OIL_DENSITY

    @cached_property
    def head_room(self) -> float:
        """Air above it, of the jar; below nothing where it does not fit."""
        return 1 - self.filled_ml / self.ask.jar_ml

    @cached_property
    def charge(self) -> tuple[Plant, ...]:
        """The plant, as far as its water goes."""
        return (Plant(self.plant_grams, self.water, self.ask.plant.sorption),)

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
        return dried(self.plant_grams, self.water, min(self.water, self.ask.plant.water_in(State.DRIED)))

    @cached_property
    def clouds_below(self) -> float:
        """Below which temperature the strained oil turns hazy [°C]."""
        return clouds_below(self.method.strained_at, max(self.jar_water.activity, 0.05))

    @cached_property
    def done_after_hours(self) -> float:
        """About when most of what dissolves has, by this method [h]; × or ÷ 4."""
        fastest = self.method.steep[0]
        return done_after(self.ask.plant.extraction) / (speed(fastest.celsius) * fastest.mixing)

    @cached_property
    def comes_short(self) -> bool:
        """Whether the method ends before that."""
        return equivalent_hours(self.method.steep) < done_after(self.ask.plant.extraction)

    @cached_property
    def out(self) -> dict[Straining, float | None]:
        """Oil that comes out by each way of straining [g]; None where the plant keeps all of it."""
        found: dict[Straining, float | None] = {}
        for how in Straining:
            keeps = self.keeps(how)
            films = CLOTH + (FILM_WARM if self.method.strained_at > WARM_FROM else FILM_COLD)
            try:
                found[how] = strained(
                    self.oil_grams, self.plant_grams, keeps, dissolves=self.ask.plant.dissolves, films=films
                ).out
            except QuantityError:
                found[how] = None
        return found

    @cached_property
    def oil_ml(self) -> float:
        """The same oil by volume, at 20 °C [mL]."""
        return self.oil_grams / self.ask.oil.density

    @cached_property
    def life_by_method(self) -> Mapping[Method, float]:
        """Part of the oil’s oxidation life that each way takes; empty where nothing is known of how it turns."""
        oil = self.ask.oil.oxidation
        return {} if oil is None else {method: life_spent(oil, method.steps) for method in METHODS.values()}

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
    def twice(self) -> float | None:
        """How many times stronger a second charge of the same plant makes it; None where no oil is left for one."""
        keeps = self.keeps(self.ask.straining)
        if keeps * self.plant_grams >= self.oil_grams:
            return None
        return second_infusion(self.plant_grams, self.plant_grams, self.oil_grams, keeps)

    def keeps(self, how: Straining) -> float:
        """Oil that the plant keeps [g/g], by a way of straining; of fresh plant once its water has left."""
        uptake = self.ask.plant.uptake
        return (uptake.of_fresh(self.water) if self.water > WET else uptake).by(how)

    @cached_property
    def scent_bound(self) -> float:
        """The most scent that can be in the oil [%]: all of it passed over."""
        return 100 * bound(self.ask.plant.essential_oil[1] / 100, [(self.dry_grams, self.oil_grams)])

    @cached_property
    def restricted_bound(self) -> float | None:
        """The most of its restricted substance that can be in the oil [%]; None where it has none."""
        limited = self.ask.plant.restricted
        return None if limited is None else self.scent_bound * limited.high

    @cached_property
    def parts_within(self) -> float | None:
        """Parts of oil to one of plant from which the restricted substance is surely within its limit."""
        limited = self.ask.plant.restricted
        if limited is None:
            return None
        return self.ask.plant.essential_oil[1] * limited.high * (1 - self.water) / limited.limit

    @cached_property
    def months(self) -> float:
        """How long the strained oil keeps at most, by its plant [months]; the oil’s own end may come first."""
        return self.ask.plant.life(State.DRIED if self.jar_water.free == 0 else State.FRESH)

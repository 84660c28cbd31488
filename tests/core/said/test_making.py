"""What is said of a batch: as it is planned from lots, on its sheet and label, and as it went."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from tests.core.said.conftest import Approve
from tests.core.said.saying import or_why
from tests.core.said.test_blends import FACTS, blend

from uptide.catalogue.plants import plant_named
from uptide.catalogue.shipped import shipped_plants
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.making.batch import as_written, plan_batch, shortages
from uptide.core.making.batch_record import BatchEntry, BatchRecord, EntryKind
from uptide.core.making.batch_sheet import batch_sheet, cleaner_words
from uptide.core.making.clean_batch import cleaner
from uptide.core.making.ingredient_list import in_any_order, listed_ingredients
from uptide.core.making.label import make_label, stated_contents, symbol_of
from uptide.core.making.making_plan import LotOnHand, MakingAsk, MakingPlan, made_of, poured_of
from uptide.core.making.one_pot import POT_KEY, base_of, part_of_pot, read_scents
from uptide.core.making.overpour import Way, over, remedy, still_to_pour, thinned
from uptide.core.making.picking import OnHand
from uptide.core.making.rounding import How
from uptide.core.making.sheets import SHEETS, in_fluid_ounces, letters_of_contents
from uptide.core.making.sizes import Amount, Containers, fits_words, read_containers
from uptide.core.making.stored_plan import plan_as_read
from uptide.core.making.weighing import band_of
from uptide.core.measures.names import NameIndex
from uptide.core.recipe.order import PourOrder

DAY = date(2026, 11, 27)
ROWS = ("60 ml olive", "30 ml jojoba", "10 g shea butter", "22 drops lavender", "1% vitamin E", "a dash of lemon")
FOUND = blend(*ROWS, product="body-oil", ml=100)


def lot(code: str, left: float, days: int | None, price: float | None = None, **more: Any) -> LotOnHand:
    ends = None if days is None else DAY + timedelta(days=days)
    return LotOnHand(OnHand(code, round(1000 * left), round(1200 * left), ends, **more), price, "EUR" if price else "")


LOTS = {
    "olive": (lot("O-1", 150.0, 40, 0.012, opened_on=date(2026, 9, 1)), lot("O-2", 900.0, 300, 0.01)),
    "jojoba": (lot("J-1", 90.0, None), lot("J-2", 5.0, 200, 0.05)),
    "lavender": (lot("L-1", 9.0, -3, 0.4),),
}
ASKS = {
    "six-bottles": MakingAsk(Amount((Containers(6, 100.0),), 0.915), PourOrder.CARRIERS_FIRST, DAY),
    "on-a-fine-scale": MakingAsk(
        Amount((Containers(2, 30.0), Containers(1, 15.0)), 0.915, loss_percent=5.0, leftover_ml=20.0),
        PourOrder.SCENT_FIRST,
        DAY,
        step_g=0.01,
        small=How.WEIGHED,
        chosen={0: "O-2"},
        container_price=0.8,
    ),
}


@pytest.mark.parametrize("name", ASKS)
def test_what_is_said_of_a_batch_that_is_planned(name: str, approve: Approve) -> None:
    plan = MakingPlan(ASKS[name], FOUND, LOTS)
    poured = poured_of(plan.lines)
    said = {"plan": parts_of(plan), "poured": poured, "made of": made_of(plan.recipe, poured, plan.present)}
    bands = {
        line.name: band_of(line.target.mg / 1000, plan.ask.step_g, restricted=line.restricted) for line in plan.lines
    }
    approve(f"making-{name}", said | {"bands": bands, "amount": plan.ask.amount})


def parts_of(plan: MakingPlan) -> dict[str, object]:
    names = ("lines", "total_mg", "recipe", "unmeasured", "present", "mixing", "order_words", "cost")
    return {name: getattr(plan, name) for name in names}


def test_what_stands_on_its_sheet_and_label(approve: Approve) -> None:
    said: dict[str, object] = {}
    spoons = blend("3 tbsp olive", "1½ tbsp jojoba", "½ tsp argan", "20 drops lavender", product="facial-oil")
    for found in (FOUND, spoons):
        for batch in (as_written(found, PourOrder.AS_TYPED), plan_batch(found, 7, 33.0, 4.0, PourOrder.CARRIERS_FIRST)):
            heading = f"{found.rows[0].typed}, {batch.bottles} bottles"
            said[f"batch of {heading}"] = batch
            said[f"sheet of {heading}"] = batch_sheet(batch, 3, DAY, "Wren")
            said[f"short of {heading}"] = shortages(batch, {"olive": (("O-1", 20.0), ("O-2", 9.0)), "argan": ()})
            if (clean := cleaner(found, batch)) is not None:
                said[f"cleaner than {heading}"] = cleaner_words(batch, clean)
    steeped = blend(
        "50 ml olive infused with calendula", "5 ml hazelnut", "40 drops lemongrass", for_sale=True, region="US"
    )
    for found, region, bottles in ((FOUND, "EU", 4), (steeped, "US", 1)):
        said[f"label in {region}"] = make_label(
            "Dune oil",
            "Body oil",
            left_on=bottles > 1,
            assessment=found,
            size_ml=100.0,
            batch_code="20261127-1",
            made_on=DAY,
            bottles=bottles,
            is_made=bottles == 1,
            plant_of=lambda words: plant_named(words, shipped_plants()),
        )
        listed = listed_ingredients(found)
        said |= {f"listed in {region}": listed, f"in any order in {region}": in_any_order(listed, region)}
        said[f"contents in {region}"] = [stated_contents(size, region) for size in (5.0, 30.0, 100.0, 1000.0)]
        said[f"symbols in {region}"] = [symbol_of(months, region) for months in (None, 3, 12, 30, 40)]
        said[f"letters in {region}"] = [
            letters_of_contents(size, region, 2400.0) for size in (30.0, 100.0, 500.0, 2000.0)
        ]
    said |= {"sheets": SHEETS, "ounces": [in_fluid_ounces(size) for size in (10.0, 29.5735, 100.0)]}
    approve("making-sheet-and-label", said)


def line(position: int, key: str, target: int, picks: list[list[Any]], **more: Any) -> dict[str, Any]:
    plain = {"typed": f"some {key}", "key": key, "name": key.title(), "restricted": False, "said": "", "how": "weighed"}
    return plain | {"position": position, "target_mg": target, "drops": 0, "picks": picks} | more


PLAN: dict[str, Any] = {
    "lines": [
        line(0, "olive", 331_000, [["B", 205_800], ["C", 125_200]]),
        line(1, "jojoba", 60_000, []),
        line(2, "lavender", 1_000, [["L", 1_000]], how="drops", drops=22, restricted=True, said="22 drops"),
    ],
    "containers": [[4, 100.0]],
    "density": 0.9,
    "step_g": 0.1,
    "container_price": 0.5,
    "unmeasured": ["a dash of lemon"],
    "present": ["lemon"],
}
DONE: list[tuple[EntryKind, dict[str, Any]]] = [
    (EntryKind.BEGUN, {"detail": {"scale": "typed"}}),
    (EntryKind.POUR, {"position": 0, "mg": 205_750, "code": "B", "detail": {"how": "typed"}}),
    (EntryKind.POUR, {"position": 0, "mg": 126_000, "code": "C", "detail": {"how": "scale"}}),
    (EntryKind.POUR, {"position": 1, "mg": 66_000, "code": "", "detail": {"how": "typed"}}),
    (EntryKind.RETARGET, {"detail": {"targets": [364_100, 66_000, 1_100], "way": "make more of it"}}),
    (EntryKind.POUR, {"position": 0, "mg": 32_350, "code": "C", "detail": {"how": "typed"}}),
    (EntryKind.POUR, {"position": 2, "mg": 1_100, "code": "L", "detail": {"how": "drops"}}),
]


def test_what_is_said_of_a_batch_as_it_goes(approve: Approve) -> None:
    said: dict[str, object] = {"a plan as it is read": plan_as_read(PLAN, ())}
    at = datetime(2026, 11, 27, 10, tzinfo=UTC)
    entries = [
        BatchEntry(
            seq, kind, at + timedelta(minutes=seq), "Bo", key=PLAN["lines"][more.get("position", 0)]["key"], **more
        )
        for seq, (kind, more) in enumerate(DONE, 1)
    ]
    for done in (0, 2, 4, 7):
        record = BatchRecord(
            "20261127-1",
            1,
            version=2,
            made_on=DAY,
            made_by="Bo",
            planned_at=at,
            plan=PLAN,
            entries=tuple(entries[:done]),
        )
        said[f"after {done}"] = record
    for changed in ({"lines": 5}, {"density": "x"}, {"step_g": 0.0}, {"lines": [line(3, "olive", 5, [])]}, {"loss": 5}):
        said[f"where {changed} was stored"] = plan_as_read(
            PLAN | changed, [(0, "olive", 205_750), (1, "jojoba", 66_000)]
        )
    said["where a list was stored"] = plan_as_read([], [(0, "olive", 5_000)])
    approve("making-as-it-goes", said)


def test_what_is_said_where_too_much_was_poured(approve: Approve) -> None:
    wanted, poured = (331_000, 60_000, 1_000), (331_000, 66_000, 0)
    said: dict[str, object] = {"over": over(wanted, poured)}
    for way in Way:
        found = thinned(wanted, poured, 1, 0.12, (0,)) if way is Way.THIN else remedy(way, wanted, poured, 0.4)
        said[way.value] = found
        said[f"still to pour: {way.value}"] = still_to_pour(found, poured)
    approve("making-too-much", said)


def test_what_is_read_of_bottles_and_of_scents_from_one_pot(approve: Approve) -> None:
    said: dict[str, object] = {}
    for text in (
        "6 x 100 ml",
        "3 bottles of 30, 2 jars of 15,5 ml and 250",
        "0 x 30 ml",
        "30 l",
        "x",
        "9999 x 5 ml + 9999 x 5 ml",
    ):
        said[text] = or_why(read_containers, text)
    said["warm"] = [fits_words(read_containers("4 x 100 ml"), celsius) for celsius in (20.0, 45.0, 70.0)]
    pot = "Morning: 3 x 30 ml; 1% sweet orange, 2 drops lavender\nPlain: 2 x 50 ml"
    for text in (
        pot,
        "no bottles",
        "A: ; 1 drop rose",
        f"{pot}\nplain: 1 x 5 ml",
        "\n".join(f"N{i}: 5 ml" for i in range(40)),
    ):
        said[text] = or_why(read_scents, text)
    base = base_of(FOUND.recipe, FOUND.resolution)
    ingredients: dict[str, Ingredient] = {
        **FACTS.ingredients,
        POT_KEY: replace(FACTS.ingredients["olive"], key=POT_KEY),
    }
    names = NameIndex(
        [(key, item.name) for key, item in ingredients.items()], {k: i.kind for k, i in ingredients.items()}
    )
    said["the base"] = base
    for rows in (
        ("1% sweet orange oil", "2 drops lavender (true) essential oil"),
        ("90 g jojoba",),
        ("some zorgblat",),
        (),
    ):
        scent = replace(read_scents(pot)[0], rows=rows)
        said[f"a part with {rows}"] = or_why(part_of_pot, base, scent, 82.0, ingredients, names)
        said[f"its words with {rows}"] = scent.words
    approve("making-words", said)

"""The table of plants: all of it can be read, and a bad row is named by its line."""

from __future__ import annotations

from pathlib import Path

import pytest

from uptide.catalogue.plants import load_plants
from uptide.catalogue.shipped import DATA, shipped_catalogue, shipped_plants
from uptide.catalogue.tables import TableError

TABLE = (DATA / "plants.csv").read_text(encoding="utf-8")


def test_the_shipped_plants_are_whole() -> None:
    plants = shipped_plants()

    assert len(plants) == 45
    assert all(plant.source in shipped_catalogue().sources for plant in plants.values())
    assert all(plant.uptake.pressed <= plant.uptake.drained for plant in plants.values())
    # By two weighings in the trade's own tables: the thirstiest flowers keep three times their weight.
    assert max(plant.uptake.drained for plant in plants.values()) == 3.0
    assert {plant.key for plant in plants.values() if plant.restricted} == {"clove", "cinnamon", "sage", "thyme"}


@pytest.mark.parametrize(
    ("old", "new", "why"),
    [
        ("0.05,0.08,0.12", "0.09,0.08,0.12", "outside its own range"),
        (",daisy,", ",dasy,", "dasy is no flag"),
        ("eugenol,0.8,0.85,0.5", "eugenol,,0.85,0.5", "a name, two shares and a limit"),
        ("flower,heads", "bloom,heads", "form"),
        ("chamomile,German", "calendula,German", "stands twice"),
    ],
)
def test_a_bad_row_is_named(tmp_path: Path, old: str, new: str, why: str) -> None:
    assert old in TABLE
    (tmp_path / "plants.csv").write_text(TABLE.replace(old, new, 1), encoding="utf-8")

    with pytest.raises(TableError, match=why):
        load_plants(tmp_path / "plants.csv")

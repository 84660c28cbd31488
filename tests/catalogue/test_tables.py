"""Tables are read whole or refused whole, each bad row named by file and line."""

from __future__ import annotations

import csv
import shutil
from collections.abc import Callable
from importlib.resources import as_file
from pathlib import Path

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.load import load_catalogue
from uptide.catalogue.shipped import DATA
from uptide.catalogue.tables import TableError


@pytest.fixture
def tables(tmp_path: Path) -> Path:
    with as_file(DATA) as folder:
        shutil.copytree(folder, tmp_path / "data")
    return tmp_path / "data"


def spoil(tables: Path, file: str, line: int, change: Callable[[list[str]], list[str]]) -> None:
    rows = list(csv.reader((tables / file).read_text(encoding="utf-8").splitlines()))
    rows[line - 1] = change(rows[line - 1])
    with (tables / file).open("w", encoding="utf-8", newline="") as handle:
        csv.writer(handle).writerows(rows)


def cell(column: int, value: str) -> Callable[[list[str]], list[str]]:
    return lambda row: [*row[:column], value, *row[column + 1 :]]


@pytest.mark.parametrize(
    ("file", "line", "change", "message"),
    [
        ("profiles.csv", 3, cell(3, "99"), "profiles.csv, line 3: row: Value error, typical 99 is outside"),
        ("profiles.csv", 3, cell(2, "x"), "profiles.csv, line 3: low_percent"),
        ("profiles.csv", 3, cell(1, "99:9"), "profiles.csv, line 3: there is no fatty acid “99:9”"),
        ("profiles.csv", 3, cell(0, "unobtainium"), "profiles.csv, line 3: there is no ingredient “unobtainium”"),
        ("profiles.csv", 3, cell(6, "hearsay"), "profiles.csv, line 3: source “hearsay” is not in sources.csv"),
        ("profiles.csv", 3, cell(1, "16:0"), "profiles.csv, line 3: acid “almond-sweet 16:0” stands already"),
        ("ingredients.csv", 2, cell(9, "red"), "ingredients.csv, line 2: colour_hex"),
        ("ingredients.csv", 2, cell(2, "potion"), "ingredients.csv, line 2: kind"),
        ("ingredients.csv", 3, cell(0, "almond-sweet"), "ingredients.csv, line 3: key “almond-sweet” stands already"),
        ("properties.csv", 5, lambda row: [*row, "extra"], "properties.csv, line 5: 12 cells for 11 columns"),
        ("products.csv", 2, cell(5, "bucket"), "products.csv, line 2: there is no container “bucket”"),
        ("fatty_acids.csv", 1, cell(0, "kode"), "fatty_acids.csv, line 1: the columns are kode"),
    ],
)
def test_a_bad_row_is_refused_by_file_and_line(
    tables: Path, file: str, line: int, change: Callable[[list[str]], list[str]], message: str
) -> None:
    spoil(tables, file, line, change)

    with pytest.raises(TableError) as refused:
        load_catalogue(tables)
    assert any(message in problem for problem in refused.value.problems), refused.value.problems


def test_all_bad_rows_are_named_and_not_only_the_first(tables: Path) -> None:
    for line in (3, 9, 20):
        spoil(tables, "profiles.csv", line, cell(3, "-1"))

    with pytest.raises(TableError) as refused:
        load_catalogue(tables)
    assert [p.split(":")[0] for p in refused.value.problems] == [f"profiles.csv, line {line}" for line in (3, 9, 20)]


def test_an_impossible_profile_is_refused(tables: Path) -> None:
    rows = list(csv.reader((tables / "profiles.csv").read_text(encoding="utf-8").splitlines()))
    kept = [row for row in rows if row[:2] != ["olive", "18:1n9"]]
    with (tables / "profiles.csv").open("w", encoding="utf-8", newline="") as handle:
        csv.writer(handle).writerows(kept)

    with pytest.raises(TableError, match=r"olive: Fatty acid shares sum to 0\.2"):
        load_catalogue(tables)


def test_the_shipped_tables_are_whole(catalogue: Catalogue) -> None:
    fatty = [item for item in catalogue.ingredients.values() if item.is_fatty]
    with_acids = [item for item in fatty if item.lipid is not None]

    assert len(with_acids) >= 88
    assert all(0.3 < item.spoon_density < 1.5 for item in catalogue.ingredients.values())
    assert sum(1 for item in catalogue.ingredients.values() if item.kind == "essential_oil") >= 100
    assert all(
        item.inci for item in catalogue.ingredients.values() if item.kind in ("carrier", "butter") and item.lipid
    )


def test_molar_masses_follow_from_the_formulas(catalogue: Catalogue) -> None:
    # IUPAC abridged standard atomic weights: C 12.011, H 1.008, O 15.999. A ring takes two hydrogens, as a double bond.
    for acid in catalogue.acids.values():
        rings = 1 if acid.code == "CPFA" else 0
        hydrogens = 2 * acid.carbons - 2 * acid.double_bonds - 2 * rings + (2 if acid.is_alcohol else 0)
        oxygens = (1 if acid.is_alcohol else 2) + acid.hydroxyl_groups
        mass = acid.carbons * 12.011 + hydrogens * 1.008 + oxygens * 15.999
        assert acid.molar_mass == pytest.approx(mass, abs=0.002), acid.code


def test_every_name_in_the_tables_finds_its_ingredient(catalogue: Catalogue) -> None:
    for key, item in catalogue.ingredients.items():
        assert key in catalogue.names.match(item.name).keys
        if item.inci:
            assert key in catalogue.names.match(item.inci).keys


def test_sources_are_all_documented(catalogue: Catalogue) -> None:
    page = (Path(__file__).parents[2] / "docs" / "sources.md").read_text(encoding="utf-8")

    assert [key for key in catalogue.sources if f"`{key}`" not in page] == []

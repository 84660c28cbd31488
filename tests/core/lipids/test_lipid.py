"""Iodine and saponification value against worked examples, and what must hold for every fat."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import ProfileError
from uptide.core.lipids.fatty_acids import FattyAcid, FattyAcidProfile, Saturation, Share
from uptide.core.lipids.lipid import (
    Lipid,
    LipidClass,
    fatty_acid_yield,
    iodine_value,
    saponification_value,
)

ACIDS = shipped_catalogue().acids


def fat(lipid_class: LipidClass = LipidClass.TRIGLYCERIDE, alcohol: str = "", **parts: float) -> Lipid:
    """A fat of exact acids: fat(o=1.0) is triolein; letters stand for the acids of ACID."""
    names = {
        "l": "12:0",
        "p": "16:0",
        "m": "14:0",
        "o": "18:1n9",
        "i": "18:2n6",
        "n": "18:3n3",
        "r": "18:1-OH",
        "g": "20:1n9",
    }
    profile = FattyAcidProfile.of({ACIDS[names[letter]]: part for letter, part in parts.items()})
    alcohols = FattyAcidProfile.of({ACIDS[alcohol]: 1.0}) if alcohol else None
    return Lipid(lipid_class, profile, alcohols)


# Worked by hand from the molar masses: M = 3 M(acid) + 92.0940 - 3 x 18.0150; atomic weights C 12.011, H 1.008,
# O 15.999; I2 253.80894; KOH 56.1056. Printed to four decimals.
@pytest.mark.parametrize(
    ("name", "lipid", "iodine", "saponification"),
    [
        ("triolein", fat(o=1), 85.9929, 190.0912),
        ("trilinolein", fat(i=1), 173.1686, 191.3985),
        ("trilinolenin", fat(n=1), 261.5517, 192.7239),
        ("trilaurin", fat(l=1), 0.0, 263.4004),
        ("triricinolein", fat(r=1), 81.5712, 180.3169),
        ("16:0 10, 18:1 60, 18:2 30", fat(p=0.1, o=0.6, i=0.3), 103.5076, 192.3296),
        ("half lauric, half oleic by mass", fat(l=0.5, o=0.5), None, 227.0659),
        ("gondoyl gondoate", fat(LipidClass.WAX_ESTER, "20:1-OL", g=1), 86.1763, 95.2482),
        ("isopropyl myristate", fat(LipidClass.SYNTHETIC_ESTER, "IPA", m=1), 0.0, 207.4474),
    ],
)
def test_worked_examples(name: str, lipid: Lipid, iodine: float | None, saponification: float) -> None:
    if iodine is not None:
        assert iodine_value(lipid) == pytest.approx(iodine, abs=5e-4), name
    assert saponification_value(lipid) == pytest.approx(saponification, abs=5e-4), name


def test_jojoba_comes_out_as_the_wax_it_is(catalogue: Catalogue) -> None:
    # From its acids (mean 310.181 g/mol) and alcohols: mean ester 605.059 g/mol. A glyceride would read 77 and 174.
    lipid = catalogue.ingredients["jojoba"].lipid
    assert lipid is not None

    assert iodine_value(lipid) == pytest.approx(83.12, abs=0.01)
    assert saponification_value(lipid) == pytest.approx(92.73, abs=0.01)
    assert fatty_acid_yield(lipid) == pytest.approx(0.5127, abs=1e-4)


def test_squalane_has_neither_value_nor_fatty_acids(catalogue: Catalogue) -> None:
    lipid = catalogue.ingredients["squalane"].lipid
    assert lipid is not None

    assert (iodine_value(lipid), saponification_value(lipid), fatty_acid_yield(lipid)) == (0, 0, 0)


def test_castor_counts_its_hydroxyl_in_mass_and_not_in_iodine(catalogue: Catalogue) -> None:
    # Ph. Eur. style limits of castor oil, from memory: iodine value 82-90, saponification value 176-187.
    lipid = catalogue.ingredients["castor"].lipid
    assert lipid is not None

    assert 82 <= iodine_value(lipid) <= 90
    assert 176 <= saponification_value(lipid) <= 187


# AOCS Cd 1c-85, iodine value per 1 % of acid in a triglyceride oil, printed to 3 decimals; from memory.
AOCS_CD_1C_85 = {"16:1n7": 0.950, "18:1n9": 0.860, "18:2n6": 1.732, "18:3n3": 2.616, "20:1n9": 0.785, "22:1n9": 0.723}


@pytest.mark.parametrize(("code", "factor"), AOCS_CD_1C_85.items())
def test_iodine_value_agrees_with_the_aocs_factors(code: str, factor: float) -> None:
    lipid = Lipid(LipidClass.TRIGLYCERIDE, FattyAcidProfile.of({ACIDS[code]: 1.0}))

    assert iodine_value(lipid) == pytest.approx(
        100 * factor, abs=0.06
    )  # half a unit of the last printed digit, and a little


def test_the_unsaponifiable_part_takes_no_lye() -> None:
    plain, rich = fat(o=1), Lipid(LipidClass.TRIGLYCERIDE, fat(o=1).acids, None, 0.07)

    assert saponification_value(rich) == pytest.approx(0.93 * saponification_value(plain))


@pytest.mark.parametrize(
    ("lipid_class", "acids", "alcohols"),
    [
        (LipidClass.WAX_ESTER, True, False),
        (LipidClass.TRIGLYCERIDE, True, True),
        (LipidClass.HYDROCARBON, True, False),
        (LipidClass.TRIGLYCERIDE, False, False),
    ],
)
def test_parts_that_do_not_fit_the_class_are_refused(lipid_class: LipidClass, acids: bool, alcohols: bool) -> None:
    profile = FattyAcidProfile.of({ACIDS["18:1n9"]: 1.0})

    with pytest.raises(ProfileError):
        Lipid(lipid_class, profile if acids else None, profile if alcohols else None)


@pytest.mark.parametrize("total", [0.9, 1.1])
def test_a_profile_that_does_not_sum_to_one_is_refused_with_its_sum(total: float) -> None:
    with pytest.raises(ProfileError, match=f"{total:.3f}"):
        FattyAcidProfile.of({ACIDS["18:1n9"]: total})


def test_a_low_above_its_high_is_refused() -> None:
    with pytest.raises(ProfileError, match="18:1n9"):
        FattyAcidProfile((Share(ACIDS["18:1n9"], 0.9, 1.0, 0.8),))


def test_saturation_counts_double_bonds() -> None:
    assert [ACIDS[code].saturation for code in ("18:0", "CPFA", "18:3-PUN")] == list(Saturation)


@given(st.floats(0.01, 0.99))
def test_more_linoleic_means_more_iodine(part: float) -> None:
    assert iodine_value(fat(o=1 - part, i=part)) > iodine_value(fat(o=1))


def test_names_are_those_of_the_acids() -> None:
    assert isinstance(ACIDS["18:1n9"], FattyAcid)
    assert ACIDS["18:1n9"].common_name == "oleic"


def test_what_cannot_be_a_fat_says_what_it_lacks() -> None:
    acids, alcohols = FattyAcidProfile.of({ACIDS["18:1n9"]: 1.0}), FattyAcidProfile.of({ACIDS["20:1-OL"]: 1.0})

    for lipid_class, held, said in (
        (LipidClass.WAX_ESTER, None, "A wax ester needs alcohols of its own."),
        (LipidClass.TRIGLYCERIDE, alcohols, "A triglyceride has no alcohols of its own."),
    ):
        with pytest.raises(ProfileError, match=said):
            Lipid(lipid_class, acids, held)
    with pytest.raises(ProfileError, match="Fatty acids do not fit a triglyceride: a hydrocarbon has none"):
        Lipid(LipidClass.TRIGLYCERIDE, None)
    with pytest.raises(ProfileError, match=r"Unsaponifiable matter is 1 g/g; allowed are 0 up to 1\."):
        Lipid(LipidClass.TRIGLYCERIDE, acids, unsaponifiable=1.0)
    assert Lipid(LipidClass.TRIGLYCERIDE, acids, unsaponifiable=0.0).unsaponifiable == 0


def test_shares_that_do_not_sum_to_one_are_closed_and_far_off_refused() -> None:
    two = FattyAcidProfile((Share(ACIDS["18:1n9"], 0.594, 0.594, 0.594), Share(ACIDS["18:2n6"], 0.396, 0.396, 0.396)))

    assert two.fractions == pytest.approx({ACIDS["18:1n9"]: 0.6, ACIDS["18:2n6"]: 0.4})


def test_printed_tables_round_and_leave_out_traces_but_no_more_than_two_percent() -> None:
    def profile(total: float) -> FattyAcidProfile:
        return FattyAcidProfile.of({ACIDS["18:1n9"]: total - 0.2, ACIDS["18:2n6"]: 0.2})

    for total in (0.981, 1.019):
        assert sum(profile(total).fractions.values()) == pytest.approx(1.0)
    for total in (0.979, 1.021):
        with pytest.raises(ProfileError, match="sum to"):
            profile(total)

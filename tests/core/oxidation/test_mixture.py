"""What a blend has of its oils, by hand, and where things can stand at all."""

from __future__ import annotations

from math import exp, inf, log

import pytest

from uptide.core.errors import UptideError
from uptide.core.oxidation.mixture import MixturePart, mix_oils
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.surroundings import PLACES, Storage, oxygen_through

# Cox values by hand: 0.02 · 10 + 1 · 20 + 10.3 · 70 = 741.2 and 0.02 · 20 + 80 = 80.4, in hundredths.
READY = OilOxidation("ready", 4.0, "refined", (10, 20, 70, 0, 0), 300, 60, chlorophyll=0.2, osi_sd=0.3)
STEADY = OilOxidation("steady", 30.0, "virgin", (20, 80, 0, 0, 0), 100, 10, chlorophyll=1.0, osi_sd=0.1)
INERT = OilOxidation("inert", None, "refined", (100, 0, 0, 0, 0), chlorophyll=0.5)


def test_a_blend_mixes_each_by_its_own_rule() -> None:
    """Shares 0.5, 0.3 and 0.2."""
    hours = 4.0
    parts = [
        MixturePart(READY, 5.0, ageing=0.2),
        MixturePart(STEADY, 3.0, ageing=0.1),
        MixturePart(INERT, 2.0, ageing=0.4),
    ]
    found = mix_oils(parts)
    ready, steady = 0.5 * 7.412, 0.3 * 0.804

    assert [part.share for part in found.parts] == pytest.approx([0.5, 0.3, 0.2])
    assert found.induction_hours == pytest.approx((ready * hours + steady * 30) / (ready + steady))
    assert found.harmonic == pytest.approx(0.8 / (0.5 / hours + 0.3 / 30))
    assert found.log_linear == pytest.approx(exp((0.5 * log(hours) + 0.3 * log(30)) / 0.8))
    assert found.weakest_part == found.parts[0]
    assert found.weakest == pytest.approx(hours)
    assert found.careful_hours == found.induction_hours
    assert found.cox == pytest.approx(ready + steady)
    assert found.light == pytest.approx(0.5 * (0.74 * 20 + 1.3 * 70) / 100 + 0.3 * 0.74 * 80 / 100)
    assert found.fresh_pv == pytest.approx((0.5 * 1.0 + 0.3 * 2.5) / 0.8)
    assert found.limit_pv == pytest.approx(0.5 * 10 + 0.3 * 15 + 0.2 * 10)
    assert found.oxidisable == pytest.approx(0.8)
    assert [found.gamma, found.alpha] == pytest.approx([180, 33])
    assert found.chlorophyll == pytest.approx(0.5 * 0.2 + 0.3 + 0.2 * 0.5)
    assert found.osi_sd == pytest.approx((ready * 0.3 + steady * 0.1) / (ready + steady))
    assert found.ageing_spent == pytest.approx(0.5 * 0.2 + 0.3 * 0.1 + 0.2 * 0.4)


def test_of_what_cannot_oxidise_nothing_is_known_that_only_oxidation_has() -> None:
    found = mix_oils([MixturePart(INERT, 3.0, ageing=0.4), MixturePart(READY, 0.0)])

    assert (found.induction_hours, found.harmonic, found.weakest_part, found.careful_hours) == (None,) * 4
    assert (found.cox, found.light, found.gamma, found.alpha, found.osi_sd, found.oxidisable) == (0.0,) * 6
    assert (found.fresh_pv, found.limit_pv, found.chlorophyll) == (1.0, 10.0, 0.5)
    assert found.ageing_spent == pytest.approx(0.4)
    assert [part.share for part in found.parts] == [1.0, 0.0]


@pytest.mark.parametrize(("share", "weakest"), [(1.9, "steady"), (2.0, "ready"), (2.1, "ready")])
def test_a_trace_is_not_called_the_weakest(share: float, weakest: str) -> None:
    found = mix_oils([MixturePart(READY, share), MixturePart(STEADY, 100 - share)])

    assert found.weakest_part is not None
    assert found.weakest_part.oil.key == weakest


@pytest.mark.parametrize(
    "said",
    [
        {"celsius": (-30.0,) * 12},
        {"celsius": (60.0,) * 12},
        {"uses_a_week": 0.0, "ml_a_use": 0.0},
        {"uses_a_week": 0.5},
        {"headspace": 0.0},
        {"headspace": 5.0},
    ],
)
def test_a_place_at_the_end_of_what_can_be_is_one(said: dict[str, float]) -> None:
    place = Storage(**said)  # type: ignore[arg-type] # each case names what it says
    assert {name: getattr(place, name) for name in said} == said


@pytest.mark.parametrize(
    ("said", "trouble"),
    [
        ({"celsius": (-30.5,) * 12}, "-30.5, -30.5, .*; wanted are twelve, each from -30 to 60 °C"),
        ({"celsius": (60.5,) * 12}, "wanted are twelve"),
        ({"celsius": (20.0,) * 11}, "wanted are twelve"),
        ({"uses_a_week": -0.1}, "-0.1 uses a week of 0 mL cannot be; 0 or more can"),
        ({"uses_a_week": inf}, "inf uses a week"),
        ({"ml_a_use": inf}, "7 uses a week of inf mL"),
        ({"ml_a_use": -1.0}, "7 uses a week of -1 mL"),
        ({"headspace": 5.1}, "Head room of 510 % cannot be; 0 to 500 % can"),
        ({"headspace": -0.1}, "Head room of -10 % cannot be"),
        ({"material": "paper"}, "There is no container of “paper”; known are glass, "),
    ],
)
def test_a_place_that_cannot_be_says_what_can(said: dict[str, float], trouble: str) -> None:
    with pytest.raises(UptideError, match=trouble):
        Storage(**said)  # type: ignore[arg-type] # each case names what it says


def test_each_usual_place_has_twelve_months() -> None:
    assert {len(celsius) for celsius, _, _ in PLACES.values()} == {12}
    assert {name: celsius[0] for name, (celsius, _, _) in PLACES.items()} == {
        "cool cupboard": 17.0,
        "bathroom": 23.0,
        "fridge": 4.0,
        "hot car": 16.0,
        "sunny shelf": 24.0,
    }


def test_oxygen_comes_through_the_wall_by_its_area_and_its_thickness() -> None:
    leak = oxygen_through("glass", 1000, 1.0)
    thin, thick = (oxygen_through("PET", 100, millimetres) - leak for millimetres in (0.5, 1.0))

    assert thin == pytest.approx(2 * thick)
    assert oxygen_through("PET", 200, 0.5) - leak == pytest.approx(2 * thin)
    # As worked for 55 cm² of 0.7 mm in its docstring, without the closure.
    assert thin == pytest.approx((0.005292 - leak) * 100 / 55 * 0.7 / 0.5, rel=1e-3)

"""Bath and cleansing oils in water, and the words that make a medicine of them.

HLB: Griffin 1954, by hand. Films, drops and what does not disperse: arithmetic and common practice, from memory.
"""

from __future__ import annotations

import pytest
from tests.core.safety.conftest import FACTS, Checked, case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.physics.hlb import Emulsified, HlbError, share_of_three, share_of_two
from uptide.core.safety.bath import (
    DOES_NOT_DISPERSE,
    NEAR_HLB,
    SOAP_RATIO,
    InWater,
    Rinse,
    _verdict,
    bath_of,
    drops_for,
    film_micrometres,
    milligrams_per_litre,
)
from uptide.core.safety.check import check
from uptide.core.safety.claims import read_claims

TABLES = FACTS.safety


def hlb_of(oils: list[tuple[str, float]], emulsifiers: list[tuple[str, float]]) -> Emulsified:
    return Emulsified.of(oils, emulsifiers, required=TABLES.required_hlb, known_emulsifiers=TABLES.emulsifiers)


def test_only_what_meets_water_is_looked_at_in_water() -> None:
    assert bath_of(case_of({}, "body-oil")) is None
    assert bath_of(case_of({}, "bath-oil-floating")) is not None
    assert bath_of(case_of({}, "cleansing-oil")) is not None


def test_plain_oil_floats_and_its_film_is_its_volume_over_the_area() -> None:
    bath = bath_of(case_of({"lavender": 1.0}, "bath-oil-floating"))
    assert bath is not None

    assert bath.verdict is InWater.FLOATS
    # 15 mL over 0.9 m² of water are 16.7 µm, over 1.7 m² of skin 8.8 µm.
    assert (round(bath.film_tub, 1), round(bath.film_skin, 1)) == (16.7, 8.8)
    assert bath.natural is None


@pytest.mark.parametrize(
    ("shares", "verdict"),
    [
        ({"polyglyceryl-10-dioleate": 10.0, "polyglyceryl-4-oleate": 5.0}, InWater.DISPERSES),
        ({"polyglyceryl-10-dioleate": 4.0}, InWater.UNSURE),  # too little
        ({"sorbitan-oleate": 15.0}, InWater.UNSURE),  # an HLB of 4.3 parts at once
        ({"polysorbate-20": 15.0}, InWater.UNSURE),  # an HLB of 16.7 foams
        ({"liquid-soap": 97.0}, InWater.SOAP_CARRIED),
    ],
)
def test_what_an_emulsifier_does(shares: dict[str, float], verdict: InWater) -> None:
    bath = bath_of(case_of(shares, "bath-oil-dispersing"))
    assert bath is not None

    assert bath.verdict is verdict
    assert bath.reason


def test_soap_carries_oil_from_twenty_parts_to_one() -> None:
    most = 100 / (SOAP_RATIO + 1)
    at = bath_of(case_of({"liquid-soap": 100 - most}, "bath-oil-dispersing"))
    less = bath_of(case_of({"liquid-soap": 100 - most - 0.1}, "bath-oil-dispersing"))

    assert at is not None
    assert less is not None
    assert at.verdict is InWater.SOAP_CARRIED
    assert less.verdict is not InWater.SOAP_CARRIED


def test_what_is_offered_makes_what_the_oils_want_alone_or_in_pairs() -> None:
    bath = bath_of(case_of({"lavender": 1.0}, "bath-oil-dispersing"))
    assert bath is not None
    assert bath.emulsified.required is not None

    assert {len(offer.shares) for offer in bath.offers} == {1, 2}
    assert any(offer.natural for offer in bath.offers)
    for offer in bath.offers:
        total = sum(percent for _, percent in offer.shares)
        made = sum(percent * TABLES.emulsifiers[key].hlb for key, percent in offer.shares) / total
        off = NEAR_HLB if len(offer.shares) == 1 else 1e-9
        assert made == pytest.approx(bath.emulsified.required, abs=off)
        assert 10 <= total <= 30
        after = bath_of(case_of(dict(offer.shares), "bath-oil-dispersing"))
        assert after is not None
        assert after.verdict is InWater.DISPERSES


def test_two_and_three_emulsifiers_by_hand() -> None:
    # Sunflower 50 (7), coconut 30 (8), light mineral oil 20 (10.5): 8.0. Griffin’s rule, by hand.
    mixed = hlb_of([("sunflower", 50), ("coconut", 30), ("mineral-oil", 20)], [])
    assert mixed.required is not None

    assert mixed.required == pytest.approx(8.0, abs=0.6)
    assert share_of_two(8.0, 15.0, 4.3) == pytest.approx(0.3458, abs=1e-4)
    assert share_of_two(8.0, 4.3, 15.0) == share_of_two(8.0, 15.0, 4.3)
    share = share_of_three(8.0, 15.0, 4.3, 9.0, 0.2)
    assert share * 15.0 + 0.2 * 9.0 + (0.8 - share) * 4.3 == pytest.approx(8.0)
    with pytest.raises(HlbError, match="one below and one above"):
        share_of_two(3.0, 15.0, 4.3)
    with pytest.raises(HlbError, match="cannot be made"):
        share_of_three(14.0, 15.0, 4.3, 9.0, 0.8)


def test_an_oil_without_a_required_hlb_makes_the_whole_unknown_when_it_is_much() -> None:
    strange = hlb_of([("sunflower", 70), ("nothing-known", 30)], [("polysorbate-80", 10)])

    assert strange.required is None
    assert strange.fits is None
    assert strange.unknown == ("nothing-known",)
    assert strange.present == pytest.approx(15.0)


@pytest.mark.parametrize(("litres", "drops"), [(150, 6), (149, 5), (20, 0), (8, 0), (300, 12)])
def test_drops_scale_with_the_tub_and_are_rounded_down(litres: float, drops: int) -> None:
    assert drops_for(litres) == drops


def test_the_published_arithmetic_of_a_tub() -> None:
    # Lavender, 0.0276 g a drop: 4 drops in 150 L are 0.74 mg/L.
    assert milligrams_per_litre(0.1105, 150) == pytest.approx(0.74, abs=0.005)
    assert film_micrometres(15, 0.9) == pytest.approx(16.7, abs=0.05)


def test_what_does_not_disperse_is_named_with_its_reason(checked: Checked) -> None:
    safety = checked("30 g milk", "6 drops lavender", "10 g jojoba", product="bath-oil-dispersing").safety
    assert safety is not None
    assert safety.bath is not None

    assert [name for name, _ in safety.bath.idle] == ["Milk"]
    assert DOES_NOT_DISPERSE.keys() <= FACTS.ingredients.keys()
    assert "bath-not-dispersed" in {c.rule for c in safety.cautions}


def test_three_schools_of_rinsing_leave_different_amounts_on_a_face() -> None:
    plain = bath_of(case_of({}, "cleansing-oil"))
    rinsing = bath_of(case_of({"polyglyceryl-10-dioleate": 10.0, "polyglyceryl-4-oleate": 5.0}, "cleansing-oil"))
    assert plain is not None
    assert rinsing is not None

    assert [school for school, _ in plain.residue] == list(Rinse)
    assert dict(rinsing.residue)[Rinse.EMULSIFIER] < dict(plain.residue)[Rinse.EMULSIFIER]
    assert dict(plain.residue)[Rinse.CLOTH] > dict(plain.residue)[Rinse.SECOND]
    assert bath_of(case_of({}, "bath-oil-floating")).residue == ()  # type: ignore[union-attr]


def test_thin_oils_that_loosen_make_up_are_counted_among_a_cleansing_oil() -> None:
    bath = bath_of(case_of({"mct": 25.0, "isopropyl-myristate": 10.0, "squalane": 5.0, "castor": 5.0}, "cleansing-oil"))
    assert bath is not None

    assert bath.solvent_percent == pytest.approx(40.0)


@pytest.mark.parametrize("pattern", TABLES.claims, ids=lambda claim: claim.key)
def test_every_claim_offers_something_to_say_instead_and_names_its_source(pattern: object) -> None:
    claim = next(c for c in TABLES.claims if c is pattern)

    assert claim.instead
    assert claim.why
    assert claim.source in FACTS.sources


@pytest.mark.parametrize(
    ("text", "rule"),
    [
        ("Heals eczema fast", "medicine-claim"),
        ("A natural SPF 20", "sun-claim"),
        ("hypoallergenic", "claim-hypoallergenic"),
        ("pH balanced oil", "claim-ph"),
        ("milk disperses it", "claim-salt-disperses"),
        ("never goes rancid", "claim-never-expires"),
    ],
)
def test_names_and_notes_are_read_for_claims(checked: Checked, text: str, rule: str) -> None:
    found = {c.rule: c for c in checked("2 tbsp jojoba", wearer=ADULT, texts={"name": text}).cautions}

    assert rule in found
    assert "Say rather" in found[rule].remedy


@pytest.mark.parametrize("text", ["Wind-and-salt face oil", "For dry, chapped-feeling spots", "leaves skin soft"])
def test_honest_words_raise_nothing(text: str) -> None:
    assert read_claims({"name": text}, TABLES) == ()


def test_a_claim_in_two_places_is_named_in_both() -> None:
    assert [c.where for c in read_claims({"name": "heals", "note": "healing"}, TABLES)] == ["name", "note"]


def test_words_are_read_in_the_whole_check() -> None:
    spoken = check(case_of({}, wearer=ADULT, words="we simmer it in a double boiler"))

    assert "hot-oil" in {c.rule for c in spoken.cautions}


@pytest.mark.parametrize(
    ("hlb", "verdict", "says"),
    [
        (7.9, InWater.UNSURE, "low: it will part at once"),
        (8.1, InWater.DISPERSES, "HLB of 8.1"),
        (10.9, InWater.DISPERSES, "HLB of 10.9"),
        (11.1, InWater.UNSURE, "high: it will foam"),
    ],
)
def test_eight_to_eleven_disperses_by_itself(hlb: float, verdict: InWater, says: str) -> None:  # common practice
    unlike = Emulsified(4.0, 3.0, 5.0, hlb, ())  # what its oils want lies elsewhere
    found, why = _verdict(unlike, 15.0, (10.0, 20.0), 80.0, soap=0.0, place="bath")

    assert found is verdict
    assert says in why

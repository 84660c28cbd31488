"""The arithmetic of the bench: worked examples of sizes, rounding, lots, overpours, doubt and lead, and what must hold.

The examples are worked from first principles; heels, films, crumbs and the doubt of a drop are assumptions.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from uptide.core.errors import QuantityError
from uptide.core.making.overpour import (
    Way,
    is_worth_saying,
    over,
    remedy,
    still_to_pour,
    thinned,
)
from uptide.core.making.picking import OnHand, first_to_end, pick
from uptide.core.making.rounding import (
    WHOLE_DROP,
    How,
    Target,
    by_drops,
    by_scale,
    least_weighed,
    of_one_pour,
    round_to_scale,
)
from uptide.core.making.sizes import Amount, Containers, fits_words, read_containers, stands_at
from uptide.core.making.weighing import band_of, is_settled, lead, slope

TODAY = date(2026, 11, 27)
WANTED = [120_000, 60_000, 18_000, 1_000, 1_000]


@pytest.mark.parametrize(
    ("count", "size", "net", "by_percent", "by_film"), [(6, 100, 549.1, 576.6, 555.5), (24, 10, 219.6, 230.6, 233.2)]
)
def test_size(count: int, size: float, net: float, by_percent: float, by_film: float) -> None:
    amount = Amount((Containers(count, size),), 0.9152)
    assert amount.net_g == pytest.approx(net, abs=0.06)
    assert replace(amount, loss_percent=5.0).total_g == pytest.approx(by_percent, abs=0.06)
    assert amount.total_g == pytest.approx(by_film, abs=0.06)
    assert replace(amount, leftover_ml=10.0).total_g == pytest.approx(amount.total_g + 9.152)


def test_contents_are_stated_at_20_degrees_whatever_the_bench() -> None:
    assert Amount((Containers(1, 30),), 0.9152).net_g == pytest.approx(27.46, abs=0.005)
    assert stands_at(30, 24) == pytest.approx(30.09, abs=0.01)
    assert stands_at(100, 60) == pytest.approx(102.9, abs=0.05)
    assert fits_words((Containers(6, 100),), 40) == ""
    assert "At 70 °C 100 mL stand at 103." in fits_words((Containers(6, 100),), 70)


@pytest.mark.parametrize("text", ["", "six of them", "0 x 30", "2000 x 30", "6 x 90000", "600 x 30, 600 x 10"])
def test_what_are_no_bottles_says_so(text: str) -> None:
    with pytest.raises(QuantityError, match=r"[Bb]ottles"):
        read_containers(text)


def targets(*exact: float, restricted: int = 2) -> list[Target]:
    return [Target(mg, place >= len(exact) - restricted) for place, mg in enumerate(exact)]


def test_rounding_to_a_tenth_of_a_gram_goes_down_where_it_is_restricted() -> None:
    found = round_to_scale(targets(30_000, 15_000, 4_500, 250, 250), 0.1, [0] * 5)
    assert [each.mg for each in found] == [30_100, 15_000, 4_500, 200, 200]
    assert sum(each.mg for each in found) == 50_000
    assert "would know 0.25 g to 56 % only" in found[3].said


def test_what_a_scale_of_a_gram_loses_comes_by_drops() -> None:
    alone = round_to_scale(targets(30_000, 15_000, 4_500, 250, 250), 1.0, [0] * 5)
    assert [each.mg for each in alone] == [31_000, 15_000, 4_000, 0, 0]
    assert "it is left out" in alone[3].said
    # Lavender of 0.884 g/mL at 20 drops to the mL: 0.25 g are 5.656 drops, 5 of them 0.221 g, 0.442 % of 50 g.
    drops = round_to_scale(targets(30_000, 15_000, 4_500, 250, 250), 1.0, [0, 0, 0, 44.2, 44.2])
    assert [(each.drops, each.mg) for each in drops[3:]] == [(5, 221), (5, 221)]
    assert drops[3].how is How.DROPS


def test_a_drop_that_rounding_of_grams_just_missed_is_a_drop() -> None:
    # Twelve drops are twelve drops, also where their weight was rounded to a hundredth of a milligram.
    whole, short = round_to_scale(targets(50_000, 12 * 44.2 - 0.01, 12 * 44.2 - 1), 0.1, [0, 44.2, 44.2])[1:]
    assert (whole.drops, short.drops) == (12, 11)


def test_a_dilution_takes_its_carrier_from_the_carrier() -> None:
    found = round_to_scale(targets(30_000, 15_000, 4_500, 250, 250), 0.1, [44.2] * 5, How.DILUTED)
    assert [(each.mg, each.holds_mg) for each in found[3:]] == [(2_500, 250), (2_500, 250)]
    assert sum(each.mg for each in found) == 50_000
    assert "known to 6 %" in found[3].said
    with pytest.raises(QuantityError, match="count drops instead"):
        round_to_scale(targets(300, 250, restricted=1), 0.1, [0, 44.2], How.DILUTED)


@given(
    st.lists(st.floats(500, 500_000), min_size=2, max_size=8),
    st.sampled_from([0.01, 0.1, 1.0]),
    st.sampled_from([How.DROPS, How.DILUTED]),
)
def test_rounding_never_takes_more_of_what_is_restricted_and_sums_up(
    exact: list[float], step: float, small: How
) -> None:
    wanted = [Target(mg, place > 0 and place % 2 == 0) for place, mg in enumerate(exact)]
    try:
        found = round_to_scale(wanted, step, [45.0 if each.restricted else 0.0 for each in wanted], small)
    except QuantityError:
        assume(False)
    rounding = 0.5 + WHOLE_DROP * 45.0
    for each in found:
        assert each.holds_mg <= each.exact_mg + rounding or not each.restricted
        assert each.mg or each.said
    if any(not each.restricted for each in found):
        assert abs(sum(each.mg for each in found) - sum(exact)) <= 1000 * step * 1.01


def test_first_to_end_is_first_out_leaving_heels_and_crumbs() -> None:
    lots = [
        OnHand("C", 920_000, 920_000, date(2027, 11, 30)),
        OnHand("A", 4_100, 200_000, date(2027, 1, 15)),
        OnHand("B", 210_000, 420_000, date(2027, 3, 31)),
    ]
    assert [lot.heel_mg for lot in first_to_end(lots, TODAY)] == [2_000, 4_200, 9_200]
    found = pick(331_000, lots, TODAY)
    assert [(each.code, each.mg) for each in found.picks] == [("B", 205_800), ("C", 125_200)]
    assert [each.code for each in pick(331_000, lots, TODAY, "C").picks] == ["C"]
    assert [each.code for each in pick(331_000, lots, TODAY, "A").picks] == ["A", "B", "C"]
    assert pick(331_000, lots, date(2027, 4, 1)).picks[0].code == "C"
    assert pick(2_000_000, lots, TODAY).missing_mg == 2_000_000 - 205_800 - 910_800
    assert [(each.code, each.mg) for each in pick(1_000, lots, TODAY).picks] == [("A", 1_000)]
    crumb = [OnHand("A", 2_000 + 690, 1), OnHand("B", 90_000, 1)]  # 0.69 g are no reason to open a container
    assert [each.code for each in pick(9_000, crumb, TODAY).picks] == ["B"]
    assert [each.code for each in pick(9_000, [replace(crumb[0], left_mg=2_710), crumb[1]], TODAY).picks] == ["A", "B"]


def test_of_two_that_end_alike_the_open_one_goes_first() -> None:
    end = date(2027, 3, 1)
    lots = [OnHand("new", 9, 9, end), OnHand("open", 9, 9, end, opened_on=TODAY)]
    assert [lot.code for lot in first_to_end(lots, TODAY)] == ["open", "new"]


@given(st.lists(st.tuples(st.integers(0, 10**6), st.integers(1, 10**6)), max_size=6), st.integers(1, 10**6))
def test_picks_and_what_is_missing_are_what_was_wanted_and_no_heel_is_touched(
    held: list[tuple[int, int]], wanted: int
) -> None:
    lots = [OnHand(str(place), min(left, came), came) for place, (left, came) in enumerate(held)]
    found = pick(wanted, lots, TODAY)
    by_code = {lot.code: lot for lot in lots}
    assert sum(each.mg for each in found.picks) + found.missing_mg == wanted
    for each in found.picks:
        assert 0 < each.mg <= by_code[each.code].left_mg - by_code[each.code].heel_mg


def test_an_overpour_of_a_carrier() -> None:
    poured = [120_200, 66_000, 0, 0, 0]
    assert over(WANTED, poured) == pytest.approx(1.1)
    more = remedy(Way.SCALE, WANTED, poured)
    assert more.total_mg == 220_000
    assert still_to_pour(more, poured) == (11_800, 0, 19_800, 1_100, 1_100)
    as_is = remedy(Way.ACCEPT, WANTED, poured)
    shares = [100 * mg / as_is.total_mg for mg in as_is.targets]
    assert shares == pytest.approx([58.29, 32.01, 8.729, 0.485, 0.485], abs=0.005)
    out = remedy(Way.TAKE_OUT, WANTED, poured)
    assert out.removed_mg / 1000 == pytest.approx(16.93, abs=0.005)
    assert still_to_pour(out, poured)[0] / 1000 == pytest.approx(10.73, abs=0.005)
    half = remedy(Way.BETWEEN, WANTED, poured, 0.05)
    assert half.removed_mg / 1000 == pytest.approx(9.31, abs=0.005)
    assert half.total_mg / 1000 == pytest.approx(209.0, abs=0.05)
    assert remedy(Way.BETWEEN, WANTED, poured).removed_mg == pytest.approx(out.removed_mg / 2, abs=1)


def test_an_overpour_of_scent_when_all_is_in() -> None:
    poured = [120_000, 60_000, 18_000, 1_600, 1_000]
    more = remedy(Way.SCALE, WANTED, poured)
    assert [mg / 1000 for mg in still_to_pour(more, poured)] == pytest.approx([72, 36, 10.8, 0, 0.6])
    assert remedy(Way.TAKE_OUT, WANTED, poured).removed_mg / 1000 == pytest.approx(75.22, abs=0.006)
    assert 100 * 1_600 / remedy(Way.ACCEPT, WANTED, poured).total_mg == pytest.approx(0.7976, abs=5e-5)
    thin = thinned(WANTED, poured, 3, 0.006, [0, 1, 2])
    assert (thin.total_mg - sum(poured)) / 1000 == pytest.approx(66.07, abs=0.005)
    with pytest.raises(QuantityError, match="no thinner"):
        thinned(WANTED, poured, 3, 0.5, [0, 1, 2])


@given(
    st.lists(st.integers(5_000, 500_000), min_size=2, max_size=6),
    st.integers(1, 5),
    st.floats(1.02, 2.0),
    st.sampled_from([Way.SCALE, Way.TAKE_OUT, Way.BETWEEN]),
)
def test_each_way_brings_every_share_back_to_the_milligram(
    wanted: list[int], upto: int, times: float, way: Way
) -> None:
    last = min(upto, len(wanted)) - 1
    poured = [mg if place < last else round(times * mg) if place == last else 0 for place, mg in enumerate(wanted)]
    found = remedy(way, wanted, poured)
    left = 1 - found.removed_mg / sum(poured)
    then = [left * have + more for have, more in zip(poured, still_to_pour(found, poured), strict=True)]
    for mg, target, want in zip(then, found.targets, wanted, strict=True):
        assert mg == pytest.approx(target, abs=2)
        assert target == pytest.approx(found.scale * want, abs=1)
    if way is Way.TAKE_OUT:
        assert found.total_mg == pytest.approx(sum(wanted), abs=len(wanted))


def test_what_a_scale_cannot_see_is_no_overpour() -> None:
    assert not is_worth_saying(120_000, 122_400, 100)
    assert is_worth_saying(120_000, 122_500, 100)
    assert not is_worth_saying(1_000, 1_140, 100)
    assert is_worth_saying(1_000, 1_141, 100)
    with pytest.raises(QuantityError, match="cannot be taken out"):
        remedy(Way.BETWEEN, WANTED, WANTED, 1.5)


def test_what_can_be_weighed() -> None:
    assert of_one_pour(0.01) == pytest.approx(0.01396, abs=1e-5)  # u = 0.698 of a step, twice
    assert [round(100 * by_scale(0.3315, step), 1) for step in (0.01, 0.1)] == [4.2, 42.1]
    assert round(100 * by_drops(12), 1) == 9.9
    assert [round(least_weighed(step), 2) for step in (0.01, 0.1, 1.0)] == [0.28, 2.79, 27.9]
    with pytest.raises(QuantityError, match="is not known"):
        round_to_scale(targets(1, 2), 0.5, [0, 0])


def test_lead_and_slope() -> None:
    assert [lead(5), lead(1), lead(20)] == pytest.approx([3.25, 0.65, 13.0])
    assert lead(-3) == 0
    assert slope([(0.0, 0.0), (1.0, 1.0), (1.2, 2.0), (1.5, 3.5)]) == pytest.approx(5.0)
    assert slope([]) == slope([(1.0, 5.0)]) == 0


def test_the_band_is_what_is_near_enough_and_never_more_of_what_is_restricted() -> None:
    assert (band_of(120, 0.01).low, band_of(120, 0.01).high) == (118.8, 121.2)
    assert band_of(2, 0.1).high == pytest.approx(2.14, abs=0.01)
    assert band_of(120, 0.1, restricted=True).high == pytest.approx(120.14, abs=0.01)
    assert not band_of(120, 0.1).holds(118.7)


def test_a_pour_counts_by_itself_when_stable_in_the_band_and_unchanged_for_three_seconds() -> None:
    band = band_of(10, 0.1)
    still = [(second / 4, 10.0, True) for second in range(14)]
    assert is_settled(still, band, 0.1)
    assert not is_settled(still[:12], band, 0.1)  # 2.75 s
    assert not is_settled([(at, 12.0, True) for at, _, _ in still], band, 0.1)
    assert not is_settled([*still[:-1], (3.25, 10.0, False)], band, 0.1)
    dripping = [(second / 4, 9.9 + 0.027 * (second // 6), True) for second in range(20)]
    assert not is_settled(dripping, band, 0.01)
    assert not is_settled([], band, 0.1)
    # What the first reading was does not matter once it is three seconds old; by a step it may tremble, by two not.
    poured = [(0.0, 4.0, False), *((1 + at, grams, True) for at, grams, _ in still)]
    assert is_settled(poured, band, 0.1)
    assert not is_settled([(at, grams, True) for at, grams in ((100.0, 10.0), (101.0, 10.0), (102.5, 10.0))], band, 0.1)
    for trembles, counts in ((0.1, True), (0.2, False)):
        now = [(at, grams + (trembles if at == 2.0 else 0.0), True) for at, grams, _ in still]
        assert is_settled(now, band, 0.1) == counts
    last = [*still[:-1], (3.25, 10.1, True)]
    assert is_settled(last, band_of(10.05, 0.1), 0.1)
    assert not is_settled([*still, (3.5, 9.0, True)], band, 2.0)  # the last reading is out of the band

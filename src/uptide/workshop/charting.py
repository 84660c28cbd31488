"""The chart of this workshop's oils: its axes are fitted to what is shipped, so that nobody's own oil moves them."""

from __future__ import annotations

from functools import lru_cache

from uptide.catalogue.catalogue import Catalogue
from uptide.core.figures.oil_profile import OilProfile, oil_profile
from uptide.core.finder.chart import OilChart
from uptide.core.lipids.fatty_acids import FattyAcid


def chart_of(facts: Catalogue) -> OilChart:
    """The chart of a catalogue's oils."""
    oils = tuple(oil_profile(item) for item in facts.ingredients.values() if item.is_fatty and not item.lot)
    return fitted_chart(oils, acids_charted(facts))


def acids_charted(facts: Catalogue) -> tuple[FattyAcid, ...]:
    """The acids that have a place on it."""
    return tuple(acid for acid in facts.acids.values() if not acid.is_alcohol)


def fitted_chart(oils: tuple[OilProfile, ...], acids: tuple[FattyAcid, ...]) -> OilChart:
    """The chart of some oils, of which a person's own are left out."""
    return _fitted(tuple(oil for oil in oils if oil.is_charted and not oil.key.startswith("own:")), acids)


@lru_cache(maxsize=4)
def _fitted(oils: tuple[OilProfile, ...], acids: tuple[FattyAcid, ...]) -> OilChart:
    return OilChart([oil.shares for oil in oils], {acid.code: acid for acid in acids})

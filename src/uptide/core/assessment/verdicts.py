"""A blend at a glance: what it is in one sentence, and its verdicts, with the one that is worst for who wears it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.citing import listed
from uptide.core.figures.finding import Finding
from uptide.core.keeping.findings import SOLD_FOR
from uptide.core.oxidation.surroundings import OWN_PLACE
from uptide.core.safety.caution import Caution
from uptide.core.skin.verdicts import COMEDOGENICITY_WORDS, PENETRATES, clogging, word_of
from uptide.core.skin.wearer import SKINS
from uptide.core.tolerance import exceeds, reaches

# What each verdict is called where it stands among others, in the order they are read in.
TITLES: Mapping[str, str] = {
    "keeps_months": "Keeps",
    "fit_to_sell": "Fit to sell",
    "feel": "Feel",
    "skin_fit": "Skin fit",
    "comedogenicity": "Clog risk",
    "penetration": "Carries in",
    "scent_dose": "Scent",
    "phototoxicity": "Sun",
    "solid_fat_content_22c": "Set and cloud",
    "skin_tint": "Tint",
    "cost": "Cost",
}
# Where the marks of the verdicts run, from and to, in the units of their figures; without an entry there is no mark.
SCALES: Mapping[str, tuple[float, float]] = {
    "keeps_months": (0, 24),
    "fit_to_sell": (0, 24),
    "feel": (1, 4),
    "skin_fit": (0, 100),
    "comedogenicity": (0, 5),
    "penetration": (0, 100),
    "phototoxicity": (0, 1.25),
    "solid_fat_content_22c": (0, 100),
    "skin_tint": (0, 12),
}
PAST_THE_MOST = 1.25  # how far the mark of scent goes past the most that is allowed
WHERE_NONE_MAY_BE = 0.1  # %: how far it goes where no scent is allowed at all, as for a newborn
MOST_AT_ONE = 1.0  # of the ratios that burn in the sun
# Words for how it feels, by the upper bound of the mean class (1 dry, 2 fast, 3 medium, 4 rich).
ADJECTIVES = ((1.5, "very light, dry"), (2.5, "light, fast"), (3.4, "medium-weight"), (9.0, "rich"))
# How much a verdict speaks against a blend for who wears it, 0 to 1; from WORST_FROM the greatest is pointed out.
STOPPED, UNSUITED, SOON, SHORT, CLOGS, CLOGS_PRONE, CARRIES, CARRIES_RISKY = 1.0, 0.7, 0.9, 0.5, 0.4, 0.6, 0.2, 0.8
WORST_FROM = 0.4
SOON_MONTHS, SHORT_MONTHS = 1.0, 3.0
PRONE = frozenset({"oily", "combination"})
RISKY_BELOW = frozenset({"retinoid", "acid_exfoliant", "benzoyl_peroxide"})  # what must not be carried in
MOST_SKINS = 4  # kinds of skin from which it is for most


@dataclass(frozen=True, slots=True)
class Verdict:
    """One verdict: its figure, the range it stands in, the limit on that range, and whether it is the worst here."""

    finding: Finding
    title: str
    scale: tuple[float, float] | None
    limit: float | None
    is_worst: bool


def verdicts(assessment: Assessment) -> tuple[Verdict, ...]:
    """The verdicts, in the order they are read in."""
    found = {finding.key: finding for finding in assessment.findings}
    concerns = {key: value for key, value in _concerns(assessment, found).items() if key in found}
    worst = max(concerns, key=lambda key: concerns[key], default="")
    return tuple(
        Verdict(found[key], title, *_range(key, assessment), is_worst=key == worst and concerns[worst] >= WORST_FROM)
        for key, title in TITLES.items()
        if key in found
    )


def _range(key: str, assessment: Assessment) -> tuple[tuple[float, float] | None, float | None]:
    """The range a verdict stands in, and the limit on it."""
    dose = assessment.safety.dose if assessment.safety else None
    if key == "scent_dose":
        return ((0, PAST_THE_MOST * max(dose.most, WHERE_NONE_MAY_BE)), dose.most) if dose else (None, None)
    limit = {"phototoxicity": MOST_AT_ONE, "penetration": PENETRATES, "fit_to_sell": SOLD_FOR}.get(key)
    return SCALES.get(key), limit


def _concerns(assessment: Assessment, found: Mapping[str, Finding]) -> Mapping[str, float]:
    """How much each verdict speaks against the blend for who wears it, 0 to 1."""
    wearer, safety = assessment.wearer, assessment.safety
    values = {key: finding.value for key, finding in found.items()}
    months, clog, oleic = values.get("keeps_months"), values.get("comedogenicity"), values.get("penetration")
    suits = assessment.on_skin.suits if assessment.on_skin else None
    return {
        "scent_dose": STOPPED if safety and safety.dose and safety.dose.is_over else 0.0,
        "phototoxicity": STOPPED if safety and safety.phototoxicity and safety.phototoxicity.is_over else 0.0,
        "keeps_months": 0.0
        if months is None or reaches(months, SHORT_MONTHS)
        else SHORT
        if reaches(months, SOON_MONTHS)
        else SOON,
        "fit_to_sell": SHORT if "fit_to_sell" in found and not reaches(values["fit_to_sell"] or 0.0, SOLD_FOR) else 0.0,
        "skin_fit": UNSUITED if suits and wearer.skin and not suits[wearer.skin] else 0.0,
        "comedogenicity": 0.0
        if clog is None or not reaches(clog, COMEDOGENICITY_WORDS[1][0])
        else CLOGS_PRONE
        if wearer.skin in PRONE
        else CLOGS,
        "penetration": 0.0
        if oleic is None or not exceeds(oleic, PENETRATES)
        else CARRIES_RISKY
        if wearer.medicines.yes & RISKY_BELOW
        else CARRIES,
    }


def sentence(assessment: Assessment, product: str, whom: str = "") -> str:
    """What the blend is, in one sentence; `product` is the name of its kind, `whom` of who wears it."""
    whole = assessment.resolution
    kind, _, manner = product.lower().partition(", ")  # “Bath oil, floating” is a floating bath oil
    product = f"{manner} {kind}".strip()
    if not whole.read:
        return ""
    if whole.waiting:
        rows = list(dict.fromkeys(f"“{row.typed}”" for row in whole.waiting))
        verb = "is" if len(rows) == 1 else "are"
        return f"A {product} of which too much is open: say what {listed(rows)} {verb}, and it is worked out."
    parts = [f"{_what(assessment, product)}{_for_skin(assessment)}", _keeps(assessment), _stopped(assessment, whom)]
    said = "; ".join(filter(None, parts))
    return f"{said[:1].upper()}{said[1:]}."


def _what(assessment: Assessment, product: str) -> str:
    feel = next((f.value for f in assessment.findings if f.key == "feel"), None)
    if feel is None:
        return f"a {product}"
    return f"a {word_of(feel, ADJECTIVES)} {product}"


def _for_skin(assessment: Assessment) -> str:
    """For which skin: whether it suits the wearer’s, or which it suits."""
    suits = assessment.on_skin.suits if assessment.on_skin else None
    if not suits:
        return ""
    skin, clogs = assessment.wearer.skin, clogging(assessment.on_skin) if assessment.on_skin else ""
    if skin:
        return f" for {SKINS[skin]} skin{clogs}" if suits[skin] else f", not one for {SKINS[skin]} skin"
    fitting = [SKINS[each] for each, fits in suits.items() if fits]
    return f" for {'most' if len(fitting) >= MOST_SKINS else listed(fitting)} skin{clogs}" if fitting else ""


def _keeps(assessment: Assessment) -> str:
    """How long it keeps, where, and what turns first."""
    life = assessment.shelf_life
    if life is None:
        return ""
    if life.months is None:
        return "how long it keeps nobody can say"
    place = assessment.recipe.storage.place
    where = f" in a {place}" if place and place != OWN_PLACE else ""
    months = f"{life.months} month{'s' if life.months != 1 else ''}" if life.months else "less than a month"
    if life.dated_lot:
        return f"keeps {months}{where}, by the supplier’s date of {life.dated_lot}"
    names = {item.name for _, item in assessment.resolution.parts}
    first = f", {_plain(life.limited_by)} turns first" if life.limited_by in names and len(names) > 1 else ""
    return f"keeps {months}{where}{first}"


def _plain(name: str) -> str:
    """A name inside a sentence, without its bracket."""
    name = name.partition(" (")[0]
    return f"{name[:1].lower()}{name[1:]}"


def _stopped(assessment: Assessment, whom: str) -> str:
    """What is stopped, for whom; or that nothing is, as far as is known."""
    safety = assessment.safety
    if safety is None:
        return ""
    stops: tuple[Caution, ...] = safety.open_stops
    who = f" for {whom}" if whom else ""
    if stops:
        about = list(dict.fromkeys(_plain(name) for stop in stops for name in stop.names))
        return f"stopped{who}: {listed(about)}" if about else f"stopped{who} as it is"
    if safety.unsettled:
        return f"nothing that is settled is stopped{who}"
    return f"nothing in it is stopped{who}"

"""What an oil does on skin: how it feels, whether it clogs, whom it suits, what it carries in, how long it glides.

Everything here rests on lists and common practice, from memory, and says so; where the trade has schools, the other
one's answer stands beside ours.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from math import exp, fsum, log

from uptide.core.figures.citing import cited, listed
from uptide.core.figures.fat import LINOLEIC, OLEIC, grams_of_acid, share_of_acids
from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.oil_profile import listed_comedogenicity, listed_feel
from uptide.core.figures.physical import viscosity, viscosity_of
from uptide.core.figures.specs import COMEDOGENICITY, FEEL, PENETRATION, SKIN_FIT, SLIP
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.lipids.lipid import LipidClass
from uptide.core.measures.say import say_number
from uptide.core.physics.solid import SKIN_CELSIUS
from uptide.core.skin.wearer import CONDITIONS, SKINS, Wearer
from uptide.core.tolerance import exceeds, reaches

Fatty = Sequence[tuple[float, Ingredient]]

NOTHING = "There is no oil in it yet."
KNOWN_ENOUGH = 0.90  # g/g of the oils whose class or rating must be known
# Upper bound of the mean class for each word; the classes are 1 dry, 2 fast, 3 medium, 4 rich.
FEEL_WORDS = ((1.5, "dry"), (2.5, "fast"), (3.4, "medium"), (9.0, "rich"))
# Minutes until it no longer feels wet, least and most, by class on dry skin; common practice, from memory.
MINUTES = {1: (1.0, 3.0), 2: (2.0, 6.0), 3: (5.0, 12.0), 4: (10.0, 30.0)}
DAMP, WARM = 0.6, 0.8  # of the minutes on damp and on warm skin; assumption
FEEL_DOUBT = 0.4  # classes
CUTS_GREASE = frozenset({"ester", "hydrocarbon"})
CUT_FROM = 0.05  # g/g: less cuts no grease that is noticed; assumption
THICK_WORDS = ((36.0, "dry"), (44.0, "fast"), (50.0, "medium"), (1e9, "rich"))  # mPa s at 32 °C, set to named examples

CLOGS_PLAINLY = 4.0  # of 5: from here on no skin is said to be suited without it; common practice
COMEDOGENIC_FROM = 5.0  # % of the oils: an ingredient with less is not called the worst
COMEDOGENICITY_WORDS = ((1.5, "low"), (2.5, "moderate"), (9.0, "high"))

BALANCED = 50.0  # % linoleic of linoleic and oleic acid
PENETRATES = 50.0  # % oleic acid of the carriers
SLIPS = (
    (33.0, "short: about five minutes"),
    (60.0, "works for ten minutes"),
    (1e9, "long, and drags"),
)  # mPa s at 32 °C
NEARLY_BALANCED = 30.0  # % linoleic that combination skin wants; common practice
LEAN, LADEN, RICH_ENOUGH = 3.0, 3.4, 2.4  # of the classes of feel: most for oily skin, heavy, enough for dry
# g/100 g of long saturated acids and rating above which skin is better off without; common practice.
LONG = 12  # carbons: a saturated acid of a butter; MCT has shorter ones
HEAVY_MOST, HEAVY_FOR_NORMAL, COMEDOGENICITY_MOST = 30.0, 20.0, 3.0
FEW_ACIDS = 60.0  # g of fatty acid in 100 g of the oils: below it the acids say little, and it suits most skin


@dataclass(frozen=True)
class OnSkin:
    """What oils (g, ingredient) do on skin: every verdict, and what several of them rest on, worked out once."""

    fatty: Fatty

    @cached_property
    def thickness(self) -> Finding:
        """How thick they are on warm skin."""
        return viscosity(list(self.fatty), SKIN_CELSIUS)

    @cached_property
    def mean_class(self) -> float | None:
        """The class of their feel, averaged by mass; None where that of too much of them is not known."""
        return _mean_class(self.fatty)

    @cached_property
    def feel(self) -> Finding:
        """How they feel on dry skin, and for how long."""
        return _feel(self)

    @cached_property
    def balance(self) -> float | None:
        """Linoleic acid [% of linoleic and oleic]; None where neither is known to be in them."""
        return _linoleic_balance(self.fatty)

    @cached_property
    def comedogenicity(self) -> Finding:
        """How they may clog."""
        return _comedogenicity(self.fatty, self.balance)

    @cached_property
    def suits(self) -> Mapping[str, bool] | None:
        """Which kinds of skin they suit; None where their feel is not known."""
        return _suited(self)

    @cached_property
    def slip(self) -> Finding:
        """How long they glide."""
        return _slip(self.thickness)

    def fit(self, wearer: Wearer, scent_percent: float) -> Finding:
        """Whether they suit somebody's skin, with so much scent [%] in the whole."""
        return _fit(self, wearer, scent_percent)

    def is_advised(self, wearer: Wearer, scent_percent: float) -> bool:
        """Whether they suit somebody's kind of skin, and nothing speaks against them on skin whose barrier is weak."""
        suits = self.suits
        return suits is not None and suits.get(wearer.skin, True) and not _is_against(self, wearer, scent_percent)

    def penetration(self, wearer: Wearer) -> Finding:
        """Whether they carry other things into skin."""
        return _penetration(self.fatty, wearer)


def word_of(value: float, words: Sequence[tuple[float, str]]) -> str:
    """The word for a value, from upper bounds."""
    return next(word for bound, word in words if not reaches(value, bound))


def feel_class(item: Ingredient) -> tuple[float, str] | None:
    """The class of an oil and how it is known: listed, or by its thickness where no list has it."""
    known = listed_feel(item)
    if known is not None:
        return float(known), "listed"
    thick = viscosity_of(item, SKIN_CELSIUS)
    if thick is None:
        return None
    word = word_of(thick, THICK_WORDS)
    return float(next(i for i, (_, w) in enumerate(FEEL_WORDS, 1) if w == word)), "by its thickness"


def minutes(mean: float) -> tuple[float, float]:
    """Minutes until dry skin no longer feels wet, least and most; between the classes on a scale of logarithms."""
    low = min(max(int(mean), 1), 3)
    part = min(max(mean - low, 0.0), 1.0)
    least, most = (
        exp(log(MINUTES[low][side]) + part * (log(MINUTES[low + 1][side]) - log(MINUTES[low][side]))) for side in (0, 1)
    )
    return least, most


def _mean_class(fatty: Fatty) -> float | None:
    known = [(mass, place[0]) for mass, item in fatty if (place := feel_class(item)) is not None]
    held = fsum(mass for mass, _ in known)
    enough = held > 0 and reaches(held, KNOWN_ENOUGH * fsum(mass for mass, _ in fatty))
    return fsum(mass * place for mass, place in known) / held if enough else None


def _feel(on: OnSkin) -> Finding:
    """How it feels on dry skin, and for how many minutes: the trade's classes of the oils, averaged by mass."""
    fatty, mean, thick = on.fatty, on.mean_class, on.thickness
    total = fsum(mass for mass, _ in fatty)
    if not total:
        return Finding.unknown(FEEL, NOTHING)
    found = [(mass, item, feel_class(item)) for mass, item in fatty]
    if mean is None:
        missing = listed([item.name for _, item, place in found if place is None])
        return Finding.unknown(FEEL, f"Unknown: no list has {missing}.")
    least, most = minutes(mean)
    inputs = tuple(
        Input(
            item.name,
            place[0],
            unit=f"of 4, {place[1]}",
            share=100 * mass / total,
            source="common-practice",
            locator="from memory",
            confidence="low",
        )
        for mass, item, place in found
        if place is not None
    )
    cut = fsum(mass for mass, item in fatty if item.kind in CUTS_GREASE) / total
    eased = f" {100 * cut:.0f} % of it cuts the grease." if reaches(cut, CUT_FROM) else ""
    other = (
        f"By thickness, {thick.value:.0f} mPa·s on skin: {word_of(thick.value, THICK_WORDS)}."
        if thick.value is not None
        else "By thickness: unknown."
    )
    return Finding(
        spec=FEEL,
        value=mean,
        low=max(1.0, mean - FEEL_DOUBT),
        high=min(4.0, mean + FEEL_DOUBT),
        inputs=inputs,
        sources=("common-practice", "skin-feel-model"),
        confidence="low",
        remark=f"{least:.0f} to {most:.0f} minutes on dry skin, {DAMP * least:.0f} to {DAMP * most:.0f} on damp, "
        f"{WARM * least:.0f} to {WARM * most:.0f} on warm.{eased}",
        word=word_of(mean, FEEL_WORDS),
        other=other,
    )


def _comedogenicity(fatty: Fatty, balance: float | None) -> Finding:
    """How it may clog: the worst ingredient that is no trace; beside it the mean by mass, and the linoleic balance.

    The worst ingredient is our school, because an average hides it and the ratings are too weak to be averaged.
    """
    total = fsum(mass for mass, _ in fatty)
    if not total:
        return Finding.unknown(COMEDOGENICITY, NOTHING)
    rated = [(mass, item, listed_comedogenicity(item)) for mass, item in fatty]
    known = [(mass, item, rating) for mass, item, rating in rated if rating is not None]
    held = fsum(mass for mass, _, _ in known)
    missing = [
        item.name for mass, item, rating in rated if rating is None and reaches(100 * mass / total, COMEDOGENIC_FROM)
    ]
    inputs = tuple(
        Input(
            item.name,
            rating,
            unit="of 5",
            share=100 * mass / total,
            source="common-practice",
            locator="lists; rabbit ears, from memory",
            confidence="low",
        )
        for mass, item, rating in known
    )
    third = (
        "unknown"
        if balance is None
        else f"{balance:.0f} % linoleic of its C18 acids: {_comedogenicity_by_balance(balance)}"
    )
    if not held or missing:
        why = f"Unknown: no list rates {listed(missing)}." if missing else "Unknown: nothing in it is rated."
        return Finding.unknown(
            COMEDOGENICITY,
            why,
            inputs=inputs,
            sources=cited(inputs),
            confidence="low",
            other=f"By the linoleic balance: {third}.",
        )
    counted = [(rating, item) for mass, item, rating in known if reaches(100 * mass / total, COMEDOGENIC_FROM)] or [
        (rating, item) for _, item, rating in known
    ]
    worst = max(rating for rating, _ in counted)
    mean = clog_by_mass(fatty)
    names = listed([item.name for rating, item in counted if rating == worst])
    return Finding(
        spec=COMEDOGENICITY,
        value=worst,
        inputs=inputs,
        sources=("common-practice", "fulton-1989"),
        confidence="low",
        remark=f"The worst of what is {COMEDOGENIC_FROM:g} % and more: {names}.{_edge(known, total, worst)} Ratings "
        "come from rabbit ears under undiluted oil and are poorly reproduced in people.",
        word=word_of(worst, COMEDOGENICITY_WORDS),
        other=f"Weighed by mass: {mean:.1f}. By the linoleic balance: {third}.",
    )


def clog_by_mass(fatty: Fatty) -> float:
    """Mean clog rating of what is rated, weighed by mass: the other school; 0 where nothing is rated."""
    known = [(mass, rating) for mass, item in fatty if (rating := listed_comedogenicity(item)) is not None]
    held = fsum(mass for mass, _ in known)
    return fsum(mass * rating for mass, rating in known) / held if held else 0.0


def _edge(known: Sequence[tuple[float, Ingredient, float]], total: float, worst: float) -> str:
    """Where this school's rule would give another answer: it looks at nothing below its share, however it is rated."""
    above = [(item, mass) for mass, item, rating in known if exceeds(rating, worst)]
    if above:
        each = [f"{item.name}, {say_number(100 * mass / total, 2)} %" for item, mass in above]
        highest = max(rating for _, _, rating in known)
        return f" Left out by this school, and {highest:g} of 5 from {COMEDOGENIC_FROM:g} % on: {listed(each)}."
    lower = [rating for mass, _, rating in known if not reaches(rating, worst)]
    few = [100 * mass / total for mass, _, rating in known if reaches(rating, worst)]
    if lower and len(few) == 1 and not exceeds(few[0], 2 * COMEDOGENIC_FROM):
        return f" With less than {COMEDOGENIC_FROM:g} % of it this school says {max(lower):g}."
    return ""


def _comedogenicity_by_balance(balance: float) -> str:
    return "low" if reaches(balance, BALANCED) else "moderate" if reaches(balance, BALANCED / 2) else "higher"


def _linoleic_balance(fatty: Fatty) -> float | None:
    """Linoleic acid [% of linoleic and oleic]; None where neither is known to be in it."""
    linoleic, oleic = grams_of_acid(fatty, LINOLEIC), grams_of_acid(fatty, OLEIC)
    return 100 * linoleic / (linoleic + oleic) if linoleic + oleic > 0 else None


def _fit(on: OnSkin, wearer: Wearer, scent_percent: float) -> Finding:
    """Whether its balance and richness suit a skin; for nobody in particular, which skins it suits."""
    fatty, balance = on.fatty, on.balance
    total = fsum(mass for mass, _ in fatty)
    if not total:
        return Finding.unknown(SKIN_FIT, NOTHING)
    mean = on.mean_class
    if mean is None:
        return Finding(spec=SKIN_FIT, value=balance, remark="Its feel is unknown.")
    suits = on.suits or {}
    fitting = [SKINS[skin] for skin, fits in suits.items() if fits]
    inputs = (
        Input("linoleic acid", 100 * grams_of_acid(fatty, LINOLEIC) / total, "g/100 g", source="lipid-literature"),
        Input("oleic acid", 100 * grams_of_acid(fatty, OLEIC) / total, "g/100 g", source="lipid-literature"),
        Input("feel", mean, "of 4", source="skin-feel-model"),
    )
    clogs = clogging(on)
    said = f"Suits skin that is {listed(fitting)}{clogs}." if fitting else "Suits no kind of skin plainly."
    word = f"suits {'most' if len(fitting) >= 4 else listed(fitting) if fitting else 'none plainly'}{clogs}"
    if wearer.skin:
        word = f"suits{clogs}" if suits[wearer.skin] else f"{UNSUITED[wearer.skin]} for {SKINS[wearer.skin]} skin"
        said = f"{wearer.name or 'The wearer'}’s skin is {SKINS[wearer.skin]}. {said}"
    touchy = sorted(wearer.weak_skin)
    if touchy:
        words = listed([CONDITIONS[name] for name in touchy])
        if _is_against(on, wearer, scent_percent):
            word = "not for this skin"
            said += f" With {words}: plain, linoleic oils without scent are advised."
        else:
            said += f" With {words}: plain and linoleic, as advised."
    elif wearer.sensitive and scent_percent > 0:
        said += " Sensitive skin does best without scent."
    return Finding(
        spec=SKIN_FIT,
        value=balance,
        inputs=inputs,
        sources=("common-practice", "danby-2013"),
        confidence="low",
        remark=said,
        word=word,
        other="One school praises oleic oils as the best moisturisers and gives them to every dry skin; the other "
        "keeps them from weak barriers, as here.",
    )


def _is_against(on: OnSkin, wearer: Wearer, scent_percent: float) -> bool:
    """Whether scent or oleic oils speak against it on skin whose barrier is weak."""
    oleic = on.balance is not None and not reaches(on.balance, BALANCED)
    return bool(wearer.weak_skin) and (scent_percent > 0 or oleic)


def clogging(on: OnSkin) -> str:
    """What goes with “suits” wherever it is said: the clog rating of what clogs plainly."""
    rating = on.comedogenicity.value
    return f" (clog rating {rating:g} of 5)" if rating is not None and reaches(rating, CLOGS_PLAINLY) else ""


def _suited(on: OnSkin) -> Mapping[str, bool] | None:
    """Which kinds of skin it suits; None where its feel is not known.

    Common practice: light, linoleic and gentle on pores for oily skin, rich or oleic for dry, all but what is rich
    and heavy for normal. Waxes, squalane and light esters, with few such acids, are for all.
    """
    fatty, mean = on.fatty, on.mean_class
    if mean is None:
        return None
    total = fsum(mass for mass, _ in fatty)
    balance, rating = on.balance, on.comedogenicity.value
    heavy = 100 * _heavy(fatty) / total
    acids = 100 * (grams_of_acid(fatty, LINOLEIC) + grams_of_acid(fatty, OLEIC)) / total
    few = balance is None or not reaches(acids, FEW_ACIDS / 2)
    clogs = rating is not None and exceeds(rating, COMEDOGENICITY_MOST)
    clogs_some = rating is not None and reaches(rating, COMEDOGENICITY_MOST)
    lean = not exceeds(mean, LEAN) and not exceeds(heavy, HEAVY_MOST) and not clogs
    laden = exceeds(mean, LADEN) and (exceeds(heavy, HEAVY_FOR_NORMAL) or clogs_some)
    linoleic = 100.0 if few or balance is None else balance
    rich = few or reaches(mean, RICH_ENOUGH) or not reaches(linoleic, BALANCED)
    return {
        "oily": lean and reaches(linoleic, BALANCED),
        "combination": lean and reaches(linoleic, NEARLY_BALANCED),
        "normal": not laden,
        "dry": rich,
        "mature": rich,
    }


# What is said for a skin that it does not suit, as in “light for dry skin”: too heavy is a no, too light is none.
UNSUITED: Mapping[str, str] = {
    "oily": "not", "combination": "not", "normal": "heavy", "dry": "light", "mature": "light",
}  # fmt: skip


def _heavy(fatty: Fatty) -> float:
    """Grams of saturated acids of lauric acid and longer: of butters, which clog; MCT and light esters have none."""
    return fsum(
        mass * share
        for mass, item in fatty
        if item.lipid is not None and item.lipid.acids and item.lipid.lipid_class is not LipidClass.SYNTHETIC_ESTER
        for acid, share in item.lipid.acids.fractions.items()
        if acid.double_bonds == 0 and acid.carbons >= LONG
    )


@lru_cache(maxsize=4096)
def suits_skin(item: Ingredient, skin: str) -> bool | None:
    """Whether an oil by itself suits a kind of skin; None where its feel is not known."""
    found = OnSkin(((100.0, item),)).suits
    return None if found is None else found[skin]


def _penetration(fatty: Fatty, wearer: Wearer) -> Finding:
    """How rich in oleic acid the carriers are: above half, they carry other things into skin."""
    total = fsum(mass for mass, _ in fatty)
    value = share_of_acids(fatty, OLEIC)
    if not total or value is None:
        why = NOTHING if not total else "Unknown: the acids of some of it are not known."
        return Finding.unknown(PENETRATION, why)
    inputs = tuple(
        Input(
            item.name,
            100 * item.lipid.acids.share_of(OLEIC) if item.lipid and item.lipid.acids else 0.0,
            unit="% oleic",
            share=100 * mass / total,
            source="lipid-literature",
        )
        for mass, item in fatty
    )
    risky = {"retinoid", "acid_exfoliant", "benzoyl_peroxide"} & wearer.medicines.yes
    hours = " Leave 12 to 14 hours between it and the other." if risky and exceeds(value, PENETRATES) else ""
    return Finding(
        spec=PENETRATION,
        value=value,
        inputs=inputs,
        sources=("danby-2013",),
        confidence="medium",
        remark=f"Above {PENETRATES:g} % it is kept from retinoids, acids and inflamed skin.{hours}",
        word="carries in" if exceeds(value, PENETRATES) else "little",
        other="The other school counts no harm in oleic oils on healthy skin.",
    )


def _slip(found: Finding) -> Finding:
    """How long it glides under a hand or a stone: its thickness on skin."""
    word = "" if found.value is None else word_of(found.value, SLIPS)
    return Finding(
        spec=SLIP,
        value=found.value,
        low=found.low,
        high=found.high,
        inputs=found.inputs,
        sources=found.sources,
        confidence="low",
        remark=found.remark
        if found.value is None
        else f"Thickness on skin at {SKIN_CELSIUS:g} °C; face massage wants ten minutes.",
        word=word,
        other="Others add a tenth of castor oil for the body and judge by hand.",
    )

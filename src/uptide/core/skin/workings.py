"""How the figures of what a blend is like on skin are computed, in words a person can check."""

from __future__ import annotations

from uptide.core.figures.method import Method
from uptide.core.skin.verdicts import BALANCED, COMEDOGENIC_FROM, DAMP, MINUTES, PENETRATES, WARM

BANDS = ", ".join(f"{least:g} to {most:g}" for least, most in MINUTES.values())

WORKINGS = (
    Method(
        "feel_by_class",
        "Σ wᵢ · classᵢ, from 1 dry to 4 rich",
        "The trade’s class of each oil on dry skin, averaged by mass; an oil that no list has is classed by its "
        f"thickness at 32 °C. Minutes are bands by class: {BANDS}.",
        "Common practice, from memory. Against thickness the named examples rank alike (0.89), the long list only "
        f"weakly (0.33); the factors for damp ({DAMP:g}) and warm skin ({WARM:g}) are assumptions.",
        ("common-practice", "skin-feel-model"),
    ),
    Method(
        "comedogenicity_by_worst",
        f"max ratingᵢ of what is {COMEDOGENIC_FROM:g} % and more of the oils",
        "The highest rating that any list gives the ingredients. An average would hide the one that clogs, and "
        "the ratings are too weak to be averaged; a mildly rated oil may still be used at a smaller share.",
        "Ratings come from rabbit ears under undiluted oil and are poorly reproduced in people.",
        ("common-practice", "fulton-1989"),
    ),
    Method(
        "linoleic_balance",
        "100 · linoleic / (linoleic + oleic)",
        f"Light, linoleic oils for oily skin (from {BALANCED:g} % on), rich or oleic ones for dry and mature skin, "
        "anything "
        "between for normal; what has few acids, as jojoba or squalane, suits most.",
        "Common practice, from memory; trials are few.",
        ("common-practice", "danby-2013"),
    ),
    Method(
        "oleic_by_mass",
        "Σ wᵢ · oleicᵢ / Σ wᵢ over the oils",
        "Oleic acid loosens the ordered fats of the skin’s barrier. A wax or hydrocarbon counts with none.",
        f"The line of {PENETRATES:g} % is a convention.",
        ("danby-2013",),
    ),
)

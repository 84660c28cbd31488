"""The words that the shelf is asked in: figures, comparatives, allergen families, kinds, feel."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from uptide.core.figures.oil_profile import FEELS, OilProfile

Figure = Callable[[OilProfile], float | None]

FIGURES: Mapping[str, tuple[str, str, Figure]] = {
    "linoleic": ("linoleic", "%", lambda p: p.linoleic),
    "oleic": ("oleic", "%", lambda p: p.oleic),
    "saturated": ("saturated", "%", lambda p: p.saturated),
    "omega 3": ("omega-3", "%", lambda p: p.omega_3),
    "iodine": ("iodine value", "", lambda p: p.iodine),
    "keeps": ("keeps", "months", lambda p: p.keeps),
    "clog": ("clog rating", "of 5", lambda p: p.comedogenicity),
    "colour": ("colour strength", "of 10", lambda p: p.tint),
    "odour": ("odour", "of 3", lambda p: p.odour),
    "thickness": ("thickness", "mPa·s", lambda p: p.thickness),
    "viscosity": ("viscosity at 25 °C", "mPa·s", lambda p: p.viscosity),
    "feel": ("feel", "of 4", lambda p: p.feel),
}
FIGURE_WORDS = {
    "linoleic": "linoleic", "linoleic acid": "linoleic", "omega 6": "linoleic", "oleic": "oleic", "oleic acid": "oleic",
    "omega 9": "oleic", "saturated": "saturated", "saturates": "saturated", "omega 3": "omega 3", "omega3": "omega 3",
    "linolenic": "omega 3", "alpha linolenic": "omega 3", "iodine": "iodine", "iodine value": "iodine", "iv": "iodine",
    "keeps": "keeps", "keep": "keeps", "keeping": "keeps", "keeping time": "keeps", "life": "keeps",
    "shelf life": "keeps",
    "clog": "clog", "clog rating": "clog", "comedogenic": "clog", "comedogenicity": "clog", "colour": "colour",
    "color": "colour", "tint": "colour", "colour strength": "colour", "odour": "odour", "smell": "odour",
    "thickness": "thickness", "price": "price", "cost": "price", "costs": "price",
    "viscosity": "viscosity", "viscosity at 25": "viscosity", "viscosity at 25 °c": "viscosity",
}  # fmt: skip
# A comparative: which figure, and whether more of it is meant.
COMPARATIVES = {
    "lighter": ("feel", False), "faster": ("feel", False), "drier": ("feel", False), "richer": ("feel", True),
    "heavier": ("feel", True), "slower": ("feel", True), "thinner": ("thickness", False),
    "thicker": ("thickness", True), "keeps longer": ("keeps", True), "longer lived": ("keeps", True),
    "lasts longer": ("keeps", True), "more stable": ("keeps", True), "keeps shorter": ("keeps", False),
    "clogs less": ("clog", False), "less clogging": ("clog", False), "less comedogenic": ("clog", False),
    "clogs more": ("clog", True), "paler": ("colour", False), "less colour": ("colour", False),
    "deeper": ("colour", True), "more colour": ("colour", True), "milder": ("odour", False),
    "smells less": ("odour", False), "cheaper": ("price", False), "dearer": ("price", True),
    "more linoleic": ("linoleic", True), "less linoleic": ("linoleic", False), "more oleic": ("oleic", True),
    "less oleic": ("oleic", False), "more saturated": ("saturated", True), "less saturated": ("saturated", False),
    "more omega 3": ("omega 3", True), "less omega 3": ("omega 3", False),
}  # fmt: skip
FAMILIES = {
    "nut": ("tree_nut", "peanut"), "nuts": ("tree_nut", "peanut"), "tree nut": ("tree_nut",),
    "tree nuts": ("tree_nut",),
    "peanut": ("peanut",), "peanuts": ("peanut",), "sesame": ("sesame",), "soy": ("soy",), "soya": ("soy",),
    "wheat": ("wheat",), "gluten": ("wheat",), "mustard": ("mustard",), "milk": ("milk",),
    "stone fruit": ("stone_fruit_seed",), "stone fruits": ("stone_fruit_seed",),
    "stone fruit seed": ("stone_fruit_seed",),
}  # fmt: skip
KIND_WORDS = {
    "butter": "butter", "butters": "butter", "carrier": "carrier", "carriers": "carrier", "ester": "ester",
    "esters": "ester", "wax": "wax", "waxes": "wax", "liquid wax": "liquid_wax", "liquid waxes": "liquid_wax",
    "hydrocarbons": "hydrocarbon", "hydrocarbon": "hydrocarbon",
}  # fmt: skip
# A superlative: which figure what is found is put in order by, whether from the greatest down, and how that is said.
SUPERLATIVES = dict.fromkeys(("cheap", "cheapest", "inexpensive", "affordable"), ("price", False, "the cheapest first"))
SUPERLATIVES |= dict.fromkeys(("dear", "dearest", "expensive"), ("price", True, "the dearest first"))
SUPERLATIVES |= {
    said: (figure, more, f"the {said} first")
    for figure, more, words in (
        ("feel", False, ("lightest", "fastest", "driest", "fastest absorbing", "quickest absorbing")),
        ("feel", True, ("richest", "heaviest", "slowest")),
        ("thickness", False, ("thinnest",)),
        ("thickness", True, ("thickest",)),
        ("keeps", True, ("longest keeping", "longest lasting", "longest lived", "most stable")),
        ("keeps", False, ("shortest keeping", "shortest lived", "least stable")),
        ("clog", False, ("least comedogenic", "least clogging")),
        ("clog", True, ("most comedogenic", "most clogging")),
        ("colour", False, ("palest",)),
        ("colour", True, ("deepest coloured", "most coloured")),
        ("odour", False, ("mildest", "mildest smelling")),
        ("odour", True, ("strongest smelling",)),
        *((figure, True, (f"most {figure}",)) for figure in ("linoleic", "oleic", "saturated", "omega 3")),
        *((figure, False, (f"least {figure}",)) for figure in ("linoleic", "oleic", "saturated", "omega 3")),
    )
    for said in words
}
# Verbs say the same of an oil as a superlative does.
SUPERLATIVES |= {
    verb: SUPERLATIVES[said]
    for verb, said in (
        ("keeps longest", "longest keeping"),
        ("lasts longest", "longest keeping"),
        ("longest shelf life", "longest keeping"),
        ("clogs least", "least clogging"),
        ("smells least", "mildest"),
    )
}
FEEL_WORDS: Mapping[str, frozenset[int]] = {word: frozenset({rank}) for rank, word in FEELS.items()} | {
    "slow": frozenset({4}),
    "heavy": frozenset({4}),
    "light": frozenset({1, 2}),
    "lightweight": frozenset({1, 2}),
    "fast absorbing": frozenset({1, 2}),
    "quickly absorbed": frozenset({1, 2}),
}
# What people hold of oils by tradition, as they ask for it: a temper, or a season of the year.
TRADITIONS = {
    "warming": "warming",
    "heating": "warming",
    "warm": "warming",
    "cooling": "cooling",
    "cool": "cooling",
    "spring": "spring",
    "summer": "summer",
    "autumn": "autumn",
    "fall": "autumn",
    "winter": "winter",
}
A_YEAR = 12.0  # months
LONG_KEPT = A_YEAR  # months from which an oil keeps long: common practice
RARELY_CLOGS = 1.0  # of 5, and below: called not comedogenic; common practice
NEVER_CLOGS = (
    r"(?:non?[-\s]?comedogenic|not\s+comedogenic|no\s+clogging|(?:does\s?n[o’']?t|does\s+not|do\s+not|don[’']t|"
    r"won[’']t|will\s+not)\s+clog(?:\s+(?:the\s+)?pores)?)"
)
# What is called high and low of a figure; common practice, and said wherever it is taken.
HIGH = {"linoleic": 50.0, "oleic": 50.0, "omega 3": 10.0, "saturated": 30.0, "keeps": LONG_KEPT, "clog": 3.0}
LOW = {"linoleic": 20.0, "oleic": 30.0, "omega 3": 2.0, "saturated": 15.0, "clog": RARELY_CLOGS, "odour": 1.0}
ABOVE, AT_LEAST = r"over|above|more\s+than|>(?!=)", r"at\s+least|from|>=|≥"
BELOW, AT_MOST = r"under|below|less\s+than|<(?!=)", r"at\s+most|up\s+to|<=|≤"
OVER, UNDER = f"{AT_LEAST}|{ABOVE}", f"{AT_MOST}|{BELOW}"
NUMBER = r"(\d+(?:[.,]\d+)?)"

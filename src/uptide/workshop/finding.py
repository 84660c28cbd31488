"""A wish asked of a workshop: read in its words, looked for among its oils, with its prices."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterator, Mapping
from dataclasses import replace
from types import MappingProxyType

from sqlalchemy.orm import Session

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.filter_words import FIGURES
from uptide.core.finder.search.conflicts import Conflicts
from uptide.core.finder.search.measuring import Measure
from uptide.core.finder.search.offers import Offer, offers
from uptide.core.finder.search.oil_table import OilTable, oil_table
from uptide.core.finder.search.wish import USUAL, Objective, Wish
from uptide.core.finder.search.wish_asked import Along
from uptide.core.finder.search.wish_clauses import clauses_of
from uptide.core.finder.search.wish_words import LONGEST_WISH, ReadWish, read_wish
from uptide.core.finder.use import PRODUCTS
from uptide.core.ingredients.ingredient import Phase
from uptide.core.ingredients.lot import KEY
from uptide.core.measures.habits import Habits
from uptide.core.months import months_between
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import is_stopped_in
from uptide.core.safety.person import judge
from uptide.core.skin.wearer import Wearer
from uptide.core.skin.whom import POSSESSIVE, before_a_product, may_be_during, read_whom
from uptide.store.people import names_of_people, wearer_of
from uptide.store.preferences import carried_over
from uptide.workshop.assessment import USUAL_PRODUCT
from uptide.workshop.charting import chart_of
from uptide.workshop.clock import today

ALONG_PERCENT = 0.5  # percent of a scent, or of what protects it, where nobody says how much; policy
WISHED = 2  # clauses, from which on a line is a wish for a blend; one alone looks for an oil
OF_ROOM = frozenset({"size", "product", "whom", "holds"})  # kinds of what is asked where a scent asks for room
ENDS_SOON = 1.0  # months: what is made of it is hardly used up before; policy
NAMED = 3  # oils that are named where they are left out; of more, how many
AGAINST = (Grade.STOP, Grade.WARN)
NOBODY: Mapping[str, Wearer] = MappingProxyType({})
FOR_WHOM = re.compile(r"\b(?P<by>for|in|during|while)\s+(?P<whom>[^,;\n]+)", re.IGNORECASE)
MOST_OF_WHOM = 6  # words
NO_PRICES = "no lot on the shelf has a price yet, so that nobody knows what anything costs"


def wish_said(text: str, facts: Catalogue, rate_shift: float = 0.0, people: Mapping[str, Wearer] = NOBODY) -> ReadWish:
    """Read a wish in the words of this workshop: its oils, products and people, and what its bottles taught."""
    described = _described(text, facts)
    read = _read(text, facts, rate_shift, described, people)
    read = _without_what_ends(_for_product(read, facts), facts)
    if not read.whom:
        return read
    named = people.get(read.whom.lower())
    wearer = named or next(each for each in described.values() if each.name == read.whom)
    return replace(_for_wearer(read, wearer, facts), described=None if named else wearer)


def _products(facts: Catalogue) -> dict[str, str]:
    """The keys of products by every name in small letters, none with a comma, which would part it."""
    return {name.lower().replace(",", ""): key for key, name in facts.product_names.items()} | PRODUCTS


def _read(
    text: str, facts: Catalogue, rate_shift: float, described: Mapping[str, Wearer], people: Mapping[str, Wearer]
) -> ReadWish:
    """What a wish says by its words and the prices here, before any oil is judged."""
    along = {
        key: Along(item.name, ALONG_PERCENT)
        for key, item in facts.ingredients.items()
        if item.phase in (Phase.SCENT, Phase.PROTECTION)
    }

    def figure_of(key: str, figure: str) -> float | None:
        return FIGURES[figure][2](oil_profile(facts.ingredients[key]))

    whom = {words: wearer.name for words, wearer in described.items()}
    names = [wearer.name for wearer in {**described, **people}.values()]
    read = read_wish(text, facts.names, _products(facts), names, along, figure_of, described=whom)
    currency, month = _currency(facts), today().month - 1
    wish = replace(read.wish, rate_shift=rate_shift, start_month=month, currency=currency, chart=chart_of(facts))
    read = replace(read, wish=wish)
    dear = [each for each in read.wish.limits if each.figure == "cost"]
    if not dear and read.objective is not Objective.CHEAPEST:
        return read
    said = next((each.typed for each in dear), "what it costs")
    why = ""
    if not facts.prices:
        why = NO_PRICES
    elif not currency:
        why = "the prices on the shelf are in several currencies, and nothing here changes one into another"
    elif any(each.currency not in ("", currency) for each in dear):
        why = f"the prices on the shelf are in {currency}; say it in that"
    if why:  # what cannot be held against a price is no limit, and stands among what was not read alone
        left = tuple(each for each in read.wish.limits if each not in dear)
        lines = tuple(line for line in read.lines if line[0] not in {each.words for each in dear})
        return replace(read, wish=replace(read.wish, limits=left), lines=lines, not_read=(*read.not_read, (said, why)))
    limits = tuple(replace(each, currency=currency) if each in dear else each for each in read.wish.limits)
    words = {each.words: replace(each, currency=currency).words for each in dear}
    lines = tuple((words.get(line, line), clause) for line, clause in read.lines)
    return replace(read, wish=replace(read.wish, limits=limits), lines=lines)


def wish_here(text: str, facts: Catalogue, store: Session) -> tuple[ReadWish, int | None]:
    """Read a wish in the words of this workshop, and the number of the person it is for."""
    named = _named(text, store)
    read = wish_said(text, facts, carried_over(store, None), _wearers(named, store))
    return read, named.get(read.whom.lower())


def is_wish(text: str, facts: Catalogue, store: Session, least: int = WISHED) -> bool:
    """Whether a line says, all of it, what a blend should be: asked at each word, so that no oil is judged for it.

    It says `least` things. It has two clauses, or says in one what the blend is, or how much of it and something more;
    “50 ml face oil with tea tree” asks for the room that a scent has.
    """
    read = _read(text, facts, 0.0, _described(text, facts), _wearers(_named(text, store), store))
    asked = {typed for _, typed in read.lines if typed}
    if read.not_read or len(asked) < least:
        return False
    if len(clauses_of(text)) >= WISHED:
        return True
    says_what = bool(read.product) or ("size" in read.kinds and len(asked) >= WISHED)
    asks_for_room = bool(read.wish.along) and "size" in read.kinds and read.kinds <= OF_ROOM
    return says_what and not asks_for_room


def _described(text: str, facts: Catalogue) -> dict[str, Wearer]:
    """Whom a wish is for without naming anybody, by the words that say it: “for a 3 year old”, “baby massage oil”."""
    said = text[:LONGEST_WISH]
    return {
        words.lower(): replace(wearer, name=POSSESSIVE.sub("", words))
        for words, wearer in (*_said_behind(said), *_said_before(said, _products(facts)))
    }


def _said_behind(text: str) -> Iterator[tuple[str, Wearer]]:
    """Whom the words behind “for” mean, as many of them as say somebody."""
    for said in FOR_WHOM.finditer(text):
        words = said["whom"].split()
        for many in range(min(len(words), MOST_OF_WHOM), 0, -1):
            called = " ".join(words[:many])
            whom = read_whom(called, NOBODY, today())
            if whom is not None and (said["by"].lower() == "for" or may_be_during(whom.wearer)):
                yield called, whom.wearer
                break


def _said_before(text: str, products: Collection[str]) -> Iterator[tuple[str, Wearer]]:
    """Whom words before a product mean: “baby light massage oil”."""
    names = "|".join(sorted(map(re.escape, products), key=len, reverse=True))
    for product in re.finditer(rf"\b(?:{names})\b", text, re.IGNORECASE):
        words = text[: product.start()].split()
        for first in range(max(0, len(words) - MOST_OF_WHOM), len(words)):
            asked = words[first:]
            for whom, rest in before_a_product(f"{' '.join(asked)} {product[0]}", NOBODY, today()):
                behind = len(rest.split()) - len(product[0].split())
                yield " ".join(asked[: len(asked) - behind]), whom.wearer


def _named(text: str, store: Session) -> dict[str, int]:
    """The numbers of those whom a wish names, by name in small letters."""
    said = text.lower()
    return {name.lower(): number for number, name in names_of_people(store) if f"for {name.lower()}" in said}


def _wearers(named: Mapping[str, int], store: Session) -> dict[str, Wearer]:
    return {name: wearer_of(store, number) for name, number in named.items()}


def _for_product(read: ReadWish, facts: Catalogue) -> ReadWish:
    """A wish without the oils of which even the least part is stopped in its product."""
    purpose = facts.usage_of(read.product or USUAL_PRODUCT, today()).purpose
    barred = frozenset(
        item.key
        for item in facts.ingredients.values()
        if item.is_fatty and is_stopped_in(item, 100 * read.wish.least, purpose, facts.safety, today())
    )
    named = facts.product_names.get(read.product or USUAL_PRODUCT, "such a product").lower()
    return _barring(read, barred, f"stopped in {named}", facts)


def _without_what_ends(read: ReadWish, facts: Catalogue) -> ReadWish:
    """A wish without the oils whose bottle here soon ends, unless it says how long it keeps, or that they are in it."""
    wish = read.wish
    if wish.months or wish.fresh or read.objective is Objective.USES_UP:
        return read
    ends = {
        key
        for key, (day, _) in facts.best_before.items()
        if key in facts.ingredients
        and facts.ingredients[key].is_fatty
        and bool(facts.ingredients[key].lot) is wish.on_hand  # on hand lots are looked for, else what they are of
        and facts.ingredients[key].base_key not in wish.must
        and months_between(today(), day) < ENDS_SOON
    }
    return _barring(read, frozenset(ends), "the bottle here ends within a month; “with fresh bottles” takes it", facts)


def _barring(read: ReadWish, barred: frozenset[str], why: str, facts: Catalogue) -> ReadWish:
    """A wish without some oils, and a line that says so before those of its limits."""
    if not barred:
        return read
    names = sorted(facts.ingredients[key].name for key in barred)
    which = ", ".join(names) if len(names) <= NAMED else f"{len(names)} oils and lots"
    place = len(read.lines) - len(read.wish.limits)
    lines = (*read.lines[:place], (f"without {which}: {why}", ""), *read.lines[place:])
    return replace(read, wish=replace(read.wish, barred=read.wish.barred | barred), lines=lines)


def _for_wearer(read: ReadWish, wearer: Wearer, facts: Catalogue) -> ReadWish:
    """A wish with what the card of its wearer brings: their skin, and the oils that something speaks against."""
    oils = [item for item in facts.ingredients.values() if item.is_fatty]
    barred = frozenset(item.key for item in oils if judge(item, wearer, facts.safety, today()).grade in AGAINST)
    clause = next(clause for words, clause in read.lines if words == f"for {read.whom}")
    lines = [*read.lines[: len(read.lines) - len(read.wish.limits)]]
    if barred:
        many = f"{len(barred)} {'oil or lot' if len(barred) == 1 else 'oils and lots'}"
        lines.append((f"without {many} that something speaks against for {read.whom}", clause))
    skin = read.wish.skin or wearer.skin
    if skin and not read.wish.skin:
        lines.append((f"suits {skin} skin, as {read.whom} has", clause))
    limits = read.lines[len(read.lines) - len(read.wish.limits) :]
    wish = replace(read.wish, skin=skin, barred=barred | read.wish.barred)
    return replace(read, wish=wish, lines=(*lines, *limits))


def _currency(facts: Catalogue) -> str:
    """The currency of all prices on the shelf; nothing where there are none, or several."""
    found = {price.currency for price in facts.prices.values()}
    return found.pop() if len(found) == 1 else ""


def oils_for(wish: Wish, facts: Catalogue) -> OilTable:
    """The oils that it may be made of: the lots on the shelf, no more than there is, or all that are known."""
    left = {f"{KEY}{code}": grams for lots in facts.on_hand.values() for code, grams in lots}
    items = [item for item in facts.ingredients.values() if (item.key in left if wish.on_hand else not item.lot)]
    items.sort(key=lambda item: item.base_key not in facts.on_hand)  # where nothing tells apart, what is there is taken
    ends = {} if wish.fresh else facts.best_before
    lasts = {key: months_between(today(), day) for key, (day, _) in ends.items()}
    prices = {key: price.per_gram for key, price in facts.prices.items()} if wish.currency else {}
    return oil_table(items, prices, left if wish.on_hand else {}, lasts)


def conflicts_of(read: ReadWish, facts: Catalogue, go_on: Callable[[], None] = lambda: None) -> Conflicts:
    """What looks for the limits of a wish that exclude one another."""
    return Conflicts(read.wish, oils_for(read.wish, facts), standard_draws(), go_on)


def find(
    read: ReadWish,
    facts: Catalogue,
    look: Callable[[Recipe], Assessment],
    habits: Habits,
    measure: Measure,
    *,
    wearer: int | None = None,
    go_on: Callable[[], None] = lambda: None,
    refused: Callable[[tuple[str, ...]], None] = lambda _: None,
) -> Iterator[Offer]:
    """Blends that keep a wish, each confirmed by its assessment, as they are found.

    `go_on` is asked before each step of the search; what it raises ends it. `refused` is told what the assessment had
    against a blend that was found.
    """
    return offers(
        read.wish,
        oils_for(read.wish, facts),
        standard_draws(),
        look,
        habits=habits,
        measure=measure,
        product=read.product,
        wearer=wearer,
        names={key: facts.ingredients[key].name for key in read.wish.along},
        objectives=(read.objective,) if read.objective is not None else USUAL,
        go_on=go_on,
        refused=refused,
    )

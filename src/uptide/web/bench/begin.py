"""How an empty sheet is begun: by typing, from a recipe there is, or from a wish."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from urllib.parse import urlencode

from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.measures.habits import Habits
from uptide.formats.recipe_file import read_recipe_file
from uptide.store.blends import list_blends
from uptide.web.drawing.view import View

EXAMPLE = "2 tbsp grapeseed, 1 tbsp jojoba, 12 drops lavender"
WISH = "light oils for oily skin that keep 12 months"
SHOWN = ("03-after-swim-body-oil.txt", "06-guesthouse-bath-oil.txt", "05-sunscreen-cleansing-oil.txt")  # of the demo
BLEND_WISH = "60 ml face oil for oily skin, linoleic over 50, keeps 5 months, with jojoba"
OWN_SHOWN = 3


class BeginView(View):
    """Three ways to begin, each with links that work: words and where they lead."""

    example: tuple[str, str]
    recipes: tuple[tuple[str, str], ...]
    own: tuple[tuple[str, str], ...]
    wish: tuple[str, str]
    blend_wish: tuple[str, str]


def begin_view(store: Session, *, is_begun: bool) -> BeginView | None:
    """The ways to begin here, with blends of one's own where there are any; None on a sheet that is begun."""
    if is_begun:
        return None
    own = list_blends(store)[:OWN_SHOWN]
    return BeginView(
        example=(EXAMPLE, f"/blends/new?{urlencode({'recipe': EXAMPLE})}"),
        recipes=_recipes()[: OWN_SHOWN - len(own)],
        own=tuple((blend.name, f"/blends/{blend.id}") for blend in own),
        wish=(WISH, f"/shelf?{urlencode({'q': WISH})}"),
        blend_wish=(BLEND_WISH, f"/shelf/find?{urlencode({'wish': BLEND_WISH})}"),
    )


@cache
def _recipes() -> tuple[tuple[str, str], ...]:
    """Recipes of the demo workshop, as new sheets."""
    found = []
    for file in SHOWN:
        read = read_recipe_file((files("uptide.demo") / file).read_text("utf-8"), shipped_catalogue(), Habits())
        rows = "\n".join(entry.typed for entry in read.recipe.entries)
        asked = {"recipe": rows, "product": read.recipe.product, "name": read.name}
        found.append((read.name, f"/blends/new?{urlencode(asked)}"))
    return tuple(found)

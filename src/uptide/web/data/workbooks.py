"""Blends, shelf and batches as a workbook, and a blend as plain text."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from fastapi import APIRouter
from fastapi.responses import PlainTextResponse, Response
from sqlalchemy.orm import Session

from uptide.formats.blend_text import write_blend
from uptide.formats.xlsx import MEDIA_TYPE, workbook
from uptide.store.batches import list_batches
from uptide.store.blends import list_blends, load_blend, load_version
from uptide.web.base.dependencies import Facts, OnShelf, Store
from uptide.workshop.assessment import assess_here
from uptide.workshop.shelf import Shelf

router = APIRouter(include_in_schema=False)
EVERY_BATCH = 100_000

BLEND_HEAD = ("blend", "version", "saved on", "product", "row", "ingredient", "g", "mL", "% by mass")
SHELF_HEAD = (
    "lot",
    "what it is",
    "supplier",
    "supplier's lot",
    "came",
    "opened",
    "best before",
    "came, g",
    "left, g",
    "price",
    "currency",
    "stands in",
    "note",
)
BATCH_HEAD = ("batch", "blend", "version", "made on", "state")


@router.get("/data/workbook.xlsx")
def sheets(store: Store, shelf: OnShelf) -> Response:
    """Three sheets: every row of every blend as it is now, what stands on the shelf, and the batches."""
    content = workbook(
        {
            "Blends": (BLEND_HEAD, _blends(store, shelf)),
            "Shelf": (SHELF_HEAD, _lots(shelf)),
            "Batches": (BATCH_HEAD, _batches(store)),
        }
    )
    return Response(
        content, media_type=MEDIA_TYPE, headers={"content-disposition": 'attachment; filename="uptide.xlsx"'}
    )


def _blends(store: Session, shelf: Shelf) -> Iterator[tuple[object, ...]]:
    for header in list_blends(store):
        blend = load_blend(store, header.id)
        found = assess_here(blend.newest.recipe, shelf.facts, store)
        product = shelf.facts.product_names.get(blend.newest.recipe.product, blend.newest.recipe.product)
        for row in found.rows:
            what = row.ingredient.name if row.ingredient is not None else ""
            version, day = blend.newest.number, blend.newest.saved_at.date()
            yield blend.name, version, day, product, row.line.typed, what, row.grams, row.millilitres, row.percent_mass


def _lots(shelf: Shelf) -> Iterator[tuple[object, ...]]:
    for each in shelf.standing:
        lot = each.lot
        yield (
            lot.code,
            each.item.name,
            lot.supplier,
            lot.supplier_lot,
            lot.received_on,
            lot.opened_on,
            lot.best_before,
            lot.bought_g,
            lot.left_g,
            lot.price,
            lot.currency,
            lot.place,
            lot.note,
        )


def _batches(store: Session) -> Iterator[tuple[object, ...]]:
    for each in list_batches(store, EVERY_BATCH):
        yield each.number, each.name, each.version, each.made_on, each.state.value


@router.get("/blends/{blend_id}/versions/{number}.txt")
def as_text(blend_id: int, number: int, store: Store, facts: Facts) -> PlainTextResponse:
    """A version of a blend as plain text to give away: for anyone, whomever it was made for."""
    blend, version = load_blend(store, blend_id), load_version(store, blend_id, number)
    recipe = replace(version.recipe, wearer=None, whom="")
    product = facts.product_names.get(recipe.product, recipe.product)
    return PlainTextResponse(write_blend(blend.name, number, product, assess_here(recipe, facts, store)))

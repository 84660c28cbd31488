"""Blends, lots, batches and jars for other programs: read, and blends and lots kept."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any, Literal

from fastapi import APIRouter, HTTPException, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import grams
from uptide.core.making.batch_record import BatchRecord
from uptide.core.recipe.recipe import Recipe
from uptide.store.batches import list_batches, load_batch
from uptide.store.blends import create_blend, list_blends, load_blend, load_version, rename_blend, save_version
from uptide.store.jars import Jar, list_jars, load_jar
from uptide.store.records import Blend, NotFoundError, Version
from uptide.store.shelf import all_lots, load_lot, save_lot
from uptide.web.api.assess import Day, RecipeIn, Text, recipe_of
from uptide.web.api.problems import (
    NOT_THERE,
    REFUSED,
    REFUSED_OVER,
    IdempotencyKey,
    IfMatch,
    Once,
    Writing,
    check_match,
    etag_of,
)
from uptide.web.base.dependencies import Facts, Measures, Store

router = APIRouter(prefix="/api", tags=["records"])


class EntryOut(BaseModel):
    """A row as typed, with the answers that were given about it."""

    typed: str
    answers: dict[str, str]


class VersionOut(BaseModel):
    """A version of a blend; written once and never changed."""

    blend: int
    name: str
    version: int
    saved_at: datetime
    note: str
    product: str
    container_kind: str | None
    container_ml: float | None
    wearer: int | None = Field(description="Number of the card of whom it was made for.")
    whom: str = Field(description="Whom it was made for in words, where no card was meant.")
    rows: list[EntryOut]
    newest: int = Field(description="The newest version there is of it.")


class BlendLineOut(BaseModel):
    """A blend as a line of a list."""

    id: int
    name: str
    product: str
    version: int = Field(description="The newest.")
    saved_at: datetime


class BlendIn(RecipeIn):
    """A recipe to be kept, under a name."""

    name: Text = Field(min_length=1, max_length=400, examples=["Dune oil"])
    note: Text = Field("", max_length=2000, description="What changed, in your words.")


class LotIn(BaseModel):
    """What stands on the shelf: one container of one ingredient."""

    model_config = ConfigDict(extra="forbid", strict=True)
    ingredient: Text = Field(
        description="Key of the ingredient, or its name.", min_length=1, max_length=200, examples=["jojoba"]
    )
    bought_g: float = Field(description="What came [g].", gt=0, le=1e6, examples=[500])
    left_g: float = Field(
        description="What is left [g]; the ledger gets the difference as put right.", ge=0, le=1e6, examples=[500]
    )
    supplier: Text = Field("", max_length=200)
    supplier_lot: Text = Field("", max_length=200)
    received_on: Day = None
    opened_on: Day = None
    best_before: Day = None
    price: float | None = Field(None, description="Of the whole container.", ge=0, le=1e7)
    currency: Text = Field("", max_length=3)
    place: Text = Field("", max_length=200)
    container: Text = Field("", max_length=200)
    note: Text = Field("", max_length=2000)
    grade: Literal["", "refined", "unrefined", "co2"] = ""


class LotOut(BaseModel):
    """A lot as it stands."""

    code: str
    ingredient: str = Field(description="Key of the ingredient; empty for what was made here.")
    bought_g: float
    left_g: float
    supplier: str
    supplier_lot: str
    received_on: date | None
    opened_on: date | None
    best_before: date | None
    price: float | None
    currency: str
    place: str
    container: str
    note: str
    grade: str
    blend: int | None = Field(description="The blend that it is of, where it was made here.")
    version: int | None
    status: str = Field(description="held or blocked: then nobody pours it.")


class BatchLineOut(BaseModel):
    """A batch as a line of a list."""

    number: str
    blend: int
    version: int
    name: str
    made_on: date
    state: str


class BatchEntryOut(BaseModel):
    """Something that happened to a batch."""

    seq: int
    kind: str
    at: datetime
    by: str
    ingredient: str
    lot: str
    grams: float
    detail: dict[str, Any]


class BatchOut(BaseModel):
    """A batch with its plan and all that happened to it."""

    number: str
    blend: int
    version: int
    made_on: date
    made_by: str
    planned_at: datetime
    plan: dict[str, Any]
    entries: list[BatchEntryOut]


class JarNoteOut(BaseModel):
    """Something noted of a jar."""

    on: date
    kind: str
    grams: float | None
    words: str


class JarOut(BaseModel):
    """A jar, what was asked of it, and what was noted."""

    id: int
    name: str
    begun_on: date
    asked: dict[str, Any]
    notes: list[JarNoteOut]


def _version(blend: Blend, version: Version) -> VersionOut:
    recipe = version.recipe
    return VersionOut(
        blend=blend.id,
        name=blend.name,
        version=version.number,
        saved_at=version.saved_at,
        note=version.note,
        product=recipe.product,
        container_kind=recipe.container.kind if recipe.container else None,
        container_ml=recipe.container.size_ml if recipe.container else None,
        wearer=recipe.wearer,
        whom=recipe.whom,
        rows=[EntryOut(typed=entry.typed, answers=dict(entry.answers)) for entry in recipe.entries],
        newest=blend.newest.number,
    )


def lot_out(lot: Lot) -> LotOut:
    """A lot as other programs read it."""
    blend, version = lot.made_from or (None, None)
    names = (name for name in LotOut.model_fields if name not in ("blend", "version"))
    return LotOut(**{name: getattr(lot, name) for name in names}, blend=blend, version=version)


def _tag(blend: Blend) -> str:
    return etag_of([blend.id, blend.name, blend.newest.number])


@router.get("/blends")
def blends(store: Store) -> list[BlendLineOut]:
    """All blends, the one saved last first."""
    return [
        BlendLineOut(id=each.id, name=each.name, product=each.product, version=each.versions, saved_at=each.saved_at)
        for each in list_blends(store)
    ]


@router.get("/blends/{blend}", responses=NOT_THERE)
def blend_now(blend: int, store: Store, response: Response) -> VersionOut:
    """A blend as it is now; its ETag is what a new version of it is sent with."""
    found = load_blend(store, blend)
    response.headers["etag"] = _tag(found)
    return _version(found, found.newest)


@router.get("/blends/{blend}/versions/{number}", responses=NOT_THERE)
def blend_version(blend: int, number: int, store: Store) -> VersionOut:
    """A version of a blend."""
    return _version(load_blend(store, blend), load_version(store, blend, number))


@router.post(
    "/blends",
    status_code=201,
    dependencies=[Writing],
    responses=REFUSED,
)
def new_blend(
    body: BlendIn,
    request: Request,
    store: Store,
    facts: Facts,
    habits: Measures,
    response: Response,
    idempotency_key: IdempotencyKey = "",
) -> VersionOut:
    """Keep a recipe as a new blend."""
    once = Once(store, request, idempotency_key, body)
    known = once.before()
    number = int(known) if known else create_blend(store, body.name, recipe_of(body, store, facts, habits), body.note)
    if not known:
        once.done(str(number))
    found = load_blend(store, number)
    response.headers["etag"], response.headers["location"] = _tag(found), f"/api/blends/{number}"
    return _version(found, found.newest)


@router.post(
    "/blends/{blend}/versions",
    status_code=201,
    dependencies=[Writing],
    responses=REFUSED_OVER,
)
def new_version(
    blend: int,
    body: BlendIn,
    request: Request,
    store: Store,
    facts: Facts,
    habits: Measures,
    response: Response,
    if_match: IfMatch = "",
    idempotency_key: IdempotencyKey = "",
) -> VersionOut:
    """Keep a recipe as the next version of a blend, if it is still as you read it."""
    once = Once(store, request, idempotency_key, body)
    if not once.before():
        check_match(if_match, _tag(load_blend(store, blend)), "blend")
        _save(blend, body, recipe_of(body, store, facts, habits), store)
        once.done(str(blend))
    found = load_blend(store, blend)
    response.headers["etag"] = _tag(found)
    response.headers["location"] = f"/api/blends/{blend}/versions/{found.newest.number}"
    return _version(found, found.newest)


def _save(blend: int, body: BlendIn, recipe: Recipe, store: Store) -> None:
    if body.name != load_blend(store, blend).name:
        rename_blend(store, blend, body.name)
    save_version(store, blend, recipe, body.note)


@router.get("/lots")
def lots(store: Store) -> list[LotOut]:
    """Every lot there ever was, in the order in which they came."""
    return [lot_out(each) for each in all_lots(store)]


@router.get("/lots/{code}", responses=NOT_THERE)
def lot_now(code: str, store: Store, response: Response) -> LotOut:
    """A lot; its ETag is what a change of it is sent with."""
    found = lot_out(load_lot(store, code))
    response.headers["etag"] = etag_of(found.model_dump(mode="json"))
    return found


@router.put(
    "/lots/{code}",
    dependencies=[Writing],
    responses=REFUSED_OVER,
)
def put_lot(
    code: str,
    body: LotIn,
    store: Store,
    facts: Facts,
    response: Response,
    if_match: IfMatch = "",
) -> LotOut:
    """Put a lot on the shelf, or change one that is still as you read it."""
    try:
        known: Lot | None = load_lot(store, code)
    except NotFoundError:
        known = None
    if known is not None:
        check_match(if_match, etag_of(lot_out(known).model_dump(mode="json")), "lot")
    save_lot(store, _lot_of(code, body, known, facts))
    found = lot_out(load_lot(store, code))
    response.headers["etag"] = etag_of(found.model_dump(mode="json"))
    return found


def _lot_of(code: str, body: LotIn, known: Lot | None, facts: Facts) -> Lot:
    """A lot as it is sent; what it was made from, and what was steeped in it, stay."""
    said = body.model_dump(exclude={"ingredient"})
    made = known is not None and (known.made_from is not None or known.infusion is not None)
    if known is not None and made:
        return Lot(code, known.ingredient, **said, made_from=known.made_from, infusion=known.infusion)
    if body.ingredient in facts.ingredients:
        return Lot(code, body.ingredient, **said)
    match = facts.names.match(body.ingredient)
    if not match.sure:
        meant = ", ".join(facts.ingredients[key].name for key in match.keys)
        raise HTTPException(
            400, f"“{body.ingredient}” is {'one of ' + meant if meant else 'no ingredient'}; say which."
        )
    return Lot(code, match.keys[0], **said)


@router.get("/batches")
def batches(store: Store) -> list[BatchLineOut]:
    """The newest thousand batches."""
    return [
        BatchLineOut(
            number=each.number,
            blend=each.blend_id,
            version=each.version,
            name=each.name,
            made_on=each.made_on,
            state=each.state.value,
        )
        for each in list_batches(store, 1000)
    ]


@router.get("/batches/{number}", responses=NOT_THERE)
def batch(number: str, store: Store, response: Response) -> BatchOut:
    """A batch with all that happened to it; its ETag is what a pour is sent with."""
    found = load_batch(store, number)
    response.headers["etag"] = batch_tag(found)
    return batch_out(found)


def batch_tag(record: BatchRecord) -> str:
    """The ETag of a batch: it changes with everything that happens to it."""
    return etag_of([record.number, record.seq])


def batch_out(found: BatchRecord) -> BatchOut:
    """A batch as other programs read it."""
    return BatchOut(
        number=found.number,
        blend=found.blend_id,
        version=found.version,
        made_on=found.made_on,
        made_by=found.made_by,
        planned_at=found.planned_at,
        plan=dict(found.plan),
        entries=[
            BatchEntryOut(
                seq=each.seq,
                kind=each.kind.value,
                at=each.at,
                by=each.by,
                ingredient=each.key,
                lot=each.code,
                grams=grams(each.mg),
                detail=dict(each.detail),
            )
            for each in found.entries
        ],
    )


def jar_out(jar: Jar) -> JarOut:
    """A jar as other programs read it."""
    notes = [JarNoteOut(on=n.on, kind=n.kind.value, grams=n.grams, words=n.words) for n in jar.notes]
    return JarOut(id=jar.id, name=jar.name, begun_on=jar.begun_on, asked=dict(jar.asked), notes=notes)


@router.get("/jars")
def jars(store: Store) -> list[JarOut]:
    """Every jar there ever was, the newest first."""
    return [jar_out(each) for each in list_jars(store)]


@router.get("/jars/{number}", responses=NOT_THERE)
def jar(number: int, store: Store) -> JarOut:
    """A jar and what was noted of it."""
    return jar_out(load_jar(store, number))

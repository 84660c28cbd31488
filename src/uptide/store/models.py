"""The tables. Rows of these never leave the store: its functions hand out plain records."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, Date, DateTime, ForeignKey, Index, MetaData, UniqueConstraint
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import TypeDecorator

# Batch migrations on SQLite need every constraint to have a name.
NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class UtcDateTime(TypeDecorator[datetime]):
    """A moment, always in UTC: SQLite keeps no time zone, so one is put back on the way out."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Refuse a moment without a zone; store it in UTC."""
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError(f"{value} has no time zone; moments are stored in UTC.")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: Any, dialect: Dialect) -> datetime | None:
        """Put the zone back."""
        return value.replace(tzinfo=UTC) if isinstance(value, datetime) else None


class Base(DeclarativeBase):
    """All tables share one naming of constraints."""

    metadata = MetaData(naming_convention=NAMING)


class BlendRow(Base):
    """A blend: its present name and what becomes of it; the recipe is in its versions."""

    __tablename__ = "blend"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    created_at: Mapped[datetime] = mapped_column(UtcDateTime)
    archived_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    copied_from: Mapped[int | None] = mapped_column(ForeignKey("blend.id"))
    versions: Mapped[list[VersionRow]] = relationship(order_by="VersionRow.number", back_populates="blend")


class VersionRow(Base):
    """One save of a blend; written once and never changed. `habits` are the measures that were in force.

    `wearer_id` is the number of whom it was made for, `whom` says it in words where no card was meant. The number is
    no foreign key: a card can be deleted, a version cannot.
    """

    __tablename__ = "blend_version"
    __table_args__ = (UniqueConstraint("blend_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    blend_id: Mapped[int] = mapped_column(ForeignKey("blend.id"), index=True)
    number: Mapped[int]
    saved_at: Mapped[datetime] = mapped_column(UtcDateTime)
    note: Mapped[str] = mapped_column(default="")
    product: Mapped[str]
    container_kind: Mapped[str | None]
    container_ml: Mapped[float | None]
    habits: Mapped[dict[str, Any]] = mapped_column(JSON)
    storage: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    use: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    wearer_id: Mapped[int | None]
    whom: Mapped[str] = mapped_column(default="", server_default="")
    reasons: Mapped[dict[str, str] | None] = mapped_column(JSON)
    blend: Mapped[BlendRow] = relationship(back_populates="versions")
    entries: Mapped[list[EntryRow]] = relationship(order_by="EntryRow.position")


class EntryRow(Base):
    """One row of a version, word by word as typed, with the answers that were given about it."""

    __tablename__ = "blend_entry"
    version_id: Mapped[int] = mapped_column(ForeignKey("blend_version.id"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    typed: Mapped[str]
    answers: Mapped[dict[str, str]] = mapped_column(JSON)


class BottleRow(Base):
    """A bottle of what was made. What follows from its notes is kept beside them, so that a list of all is one look.

    From `place` on its columns are worked out: where it stands, who has it, how long it keeps, when it is looked at.
    `worked_by` says by which model and which readings; what was worked out by others is worked out afresh when shown.
    `holder_id` is no foreign key: a card can be deleted.
    """

    __tablename__ = "bottle"
    __table_args__ = (
        UniqueConstraint("number"),
        # All that a trace asks of the bottles of hundreds of batches, so that it never leaves the index.
        Index("ix_bottle_batch", "batch_id", "state", "place", "holder", "holder_id", "fill_mg", "number"),
        Index("ix_bottle_board", "state", "ends_on", "batch_id"),
        Index("ix_bottle_holder", "holder", "look_on"),
        Index("ix_bottle_holder_id", "holder_id"),
        Index("ix_bottle_place", "place"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    number: Mapped[str]
    batch_id: Mapped[int | None] = mapped_column(ForeignKey("batch.id"))
    place_in_batch: Mapped[int] = mapped_column(default=0)
    blend_id: Mapped[int] = mapped_column(ForeignKey("blend.id"), index=True)
    blend_version: Mapped[int]
    size_ml: Mapped[float] = mapped_column(default=0.0)
    fill_mg: Mapped[int | None]
    filled_on: Mapped[date] = mapped_column(Date)
    place: Mapped[str] = mapped_column(default="")
    opened_on: Mapped[date | None] = mapped_column(Date)
    holder_id: Mapped[int | None]
    holder: Mapped[str] = mapped_column(default="")
    state: Mapped[str] = mapped_column(default="stands")
    made_on: Mapped[date] = mapped_column(Date)
    ends_on: Mapped[date | None] = mapped_column(Date)
    turns_on: Mapped[date | None] = mapped_column(Date)
    limited_by: Mapped[str] = mapped_column(default="")
    look_on: Mapped[date | None] = mapped_column(Date)
    look: Mapped[str] = mapped_column(default="")
    ended_on: Mapped[date | None] = mapped_column(Date)
    worked_by: Mapped[str] = mapped_column(default="")


class BottleNoteRow(Base):
    """Something that befell a bottle; never deleted, only struck, with a reason."""

    __tablename__ = "bottle_note"
    id: Mapped[int] = mapped_column(primary_key=True)
    bottle_id: Mapped[int] = mapped_column(ForeignKey("bottle.id"), index=True)
    happened_on: Mapped[date] = mapped_column(Date)
    kind: Mapped[str]
    detail: Mapped[dict[str, Any]] = mapped_column(JSON)
    wearer_id: Mapped[int | None] = mapped_column(index=True)
    whom: Mapped[str] = mapped_column(default="")
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    struck_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    struck_why: Mapped[str] = mapped_column(default="")


class LotRow(Base):
    """What stands on the shelf: one container of one ingredient, as it was bought."""

    __tablename__ = "lot"
    __table_args__ = (
        UniqueConstraint("code"),
        CheckConstraint("bought_g > 0", name="bought"),
        CheckConstraint("left_g >= 0 AND left_g <= bought_g", name="left"),
        CheckConstraint("price IS NULL OR price >= 0", name="price"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    code: Mapped[str]
    ingredient: Mapped[str] = mapped_column(index=True)
    supplier: Mapped[str] = mapped_column(default="")
    received_on: Mapped[date | None] = mapped_column(Date)
    opened_on: Mapped[date | None] = mapped_column(Date)
    best_before: Mapped[date | None] = mapped_column(Date)
    bought_g: Mapped[float]
    left_before: Mapped[float] = mapped_column("left_g", default=0.0)  # of before the ledger, which says what is left
    price: Mapped[float | None]
    currency: Mapped[str] = mapped_column(default="")
    place: Mapped[str] = mapped_column(default="")
    supplier_lot: Mapped[str] = mapped_column(default="", server_default="")
    status: Mapped[str] = mapped_column(default="", server_default="")  # held or blocked; nothing where it is free
    status_why: Mapped[str] = mapped_column(default="", server_default="")
    container: Mapped[str] = mapped_column(default="", server_default="")
    note: Mapped[str] = mapped_column(default="", server_default="")
    grade: Mapped[str] = mapped_column(default="", server_default="")
    blend_id: Mapped[int | None] = mapped_column(ForeignKey("blend.id"))
    blend_version: Mapped[int | None]
    infusion: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    certificates: Mapped[list[CertificateRow]] = relationship(order_by="CertificateRow.id")


class MovementRow(Base):
    """What came into a lot or went out of it [mg]; only ever added to: triggers refuse to change or delete one.

    `reverses` is the movement that this one takes back, `token` tells one that was sent twice.
    """

    __tablename__ = "movement"
    __table_args__ = (
        UniqueConstraint("reverses"),
        UniqueConstraint("token"),
        CheckConstraint("mg <> 0", name="moves"),
        Index("ix_movement_lot_mg", "lot_id", "mg"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"))
    kind: Mapped[str]
    mg: Mapped[int]
    happened_on: Mapped[date] = mapped_column(Date)
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    entered_by: Mapped[str] = mapped_column(default="")
    reason: Mapped[str] = mapped_column(default="")
    reverses: Mapped[int | None] = mapped_column(ForeignKey("movement.id"))
    token: Mapped[str]


class BatchRow(Base):
    """A batch: which version was made, the plan as it was frozen, and who holds the bench just now.

    What happened stands in its entries, numbered one by one, so that nobody writes past another.
    """

    __tablename__ = "batch"
    __table_args__ = (UniqueConstraint("number"), Index("ix_batch_state", "state"))
    id: Mapped[int] = mapped_column(primary_key=True)
    number: Mapped[str]
    blend_id: Mapped[int] = mapped_column(ForeignKey("blend.id"), index=True)
    blend_version: Mapped[int]
    planned_at: Mapped[datetime] = mapped_column(UtcDateTime)
    made_on: Mapped[date] = mapped_column(Date)
    made_by: Mapped[str] = mapped_column(default="")
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    state: Mapped[str]
    holder: Mapped[str] = mapped_column(default="")
    held_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class BatchEntryRow(Base):
    """Something that happened to a batch: a pour, mixture taken out, a bottle filled, a look; only ever added to."""

    __tablename__ = "batch_entry"
    __table_args__ = (UniqueConstraint("batch_id", "seq"), UniqueConstraint("token"))
    id: Mapped[int] = mapped_column(primary_key=True)
    batch_id: Mapped[int] = mapped_column(ForeignKey("batch.id"))
    seq: Mapped[int]
    kind: Mapped[str]
    position: Mapped[int | None]
    ingredient: Mapped[str] = mapped_column(default="")
    lot_id: Mapped[int | None] = mapped_column(ForeignKey("lot.id"), index=True)
    mg: Mapped[int | None]
    detail: Mapped[dict[str, Any]] = mapped_column(JSON)
    happened_at: Mapped[datetime] = mapped_column(UtcDateTime)
    entered_by: Mapped[str] = mapped_column(default="")
    token: Mapped[str]


class CertificateRow(Base):
    """What a laboratory said of a lot: as it was pasted, and as it was read. Written once; a newer one counts."""

    __tablename__ = "certificate"
    id: Mapped[int] = mapped_column(primary_key=True)
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"), index=True)
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    dated_on: Mapped[date | None] = mapped_column(Date)
    typed: Mapped[str]
    found: Mapped[dict[str, Any]] = mapped_column(JSON)
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class OwnOilRow(Base):
    """An oil that a person added, as they last gave it; earlier entries of the same key stay and do not count."""

    __tablename__ = "own_oil"
    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(index=True)
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    typed: Mapped[str]
    said: Mapped[dict[str, Any]] = mapped_column(JSON)


class WearerRow(Base):
    """A person who wears what is made here. Deleted whole when they ask; numbers are never given out again."""

    __tablename__ = "wearer"
    __table_args__ = ({"sqlite_autoincrement": True},)
    id: Mapped[int] = mapped_column(primary_key=True)
    created_at: Mapped[datetime] = mapped_column(UtcDateTime)
    cards: Mapped[list[WearerCardRow]] = relationship(order_by="WearerCardRow.id", cascade="all, delete-orphan")
    tests: Mapped[list[PatchTestRow]] = relationship(order_by="PatchTestRow.id", cascade="all, delete-orphan")


class WearerCardRow(Base):
    """What was known of a wearer from a moment on; the newest counts, the earlier ones say what was known before."""

    __tablename__ = "wearer_card"
    id: Mapped[int] = mapped_column(primary_key=True)
    wearer_id: Mapped[int] = mapped_column(ForeignKey("wearer.id", ondelete="CASCADE"), index=True)
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    said: Mapped[dict[str, Any]] = mapped_column(JSON)


class PatchTestRow(Base):
    """A patch test of one version of a blend on one wearer. `begun_at` is by the clock on their wall."""

    __tablename__ = "patch_test"
    id: Mapped[int] = mapped_column(primary_key=True)
    wearer_id: Mapped[int] = mapped_column(ForeignKey("wearer.id", ondelete="CASCADE"), index=True)
    blend_id: Mapped[int] = mapped_column(ForeignKey("blend.id"), index=True)
    blend_version: Mapped[int]
    protocol: Mapped[str]
    site: Mapped[str]
    begun_at: Mapped[datetime] = mapped_column(DateTime)
    note: Mapped[str] = mapped_column(default="")
    suspects: Mapped[list[str]] = mapped_column(JSON)
    ended_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    looks: Mapped[list[PatchLookRow]] = relationship(order_by="PatchLookRow.id", cascade="all, delete-orphan")


class PatchLookRow(Base):
    """What was seen at one look of a patch test; written once, a later one of the same step counts."""

    __tablename__ = "patch_look"
    id: Mapped[int] = mapped_column(primary_key=True)
    test_id: Mapped[int] = mapped_column(ForeignKey("patch_test.id", ondelete="CASCADE"), index=True)
    step: Mapped[int]
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    saw: Mapped[str]
    note: Mapped[str] = mapped_column(default="")


class PreferenceRow(Base):
    """A setting of the person who uses this installation, and the secret that signs its forms."""

    __tablename__ = "preference"
    key: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[Any] = mapped_column(JSON)


class UsedFormRow(Base):
    """A form that was acted on, and where it led: sent twice, it leads there again and makes nothing new."""

    __tablename__ = "used_form"
    token: Mapped[str] = mapped_column(primary_key=True)
    used_at: Mapped[datetime] = mapped_column(UtcDateTime)
    led_to: Mapped[str]


class JarRow(Base):
    """A jar that was begun: what was asked of it, and the day on which it was filled."""

    __tablename__ = "jar"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    begun_on: Mapped[date] = mapped_column(Date)
    asked: Mapped[dict[str, Any]] = mapped_column(JSON)
    notes: Mapped[list[JarNoteRow]] = relationship(order_by="(JarNoteRow.happened_on, JarNoteRow.id)")


class JarNoteRow(Base):
    """Something that was done with a jar or seen in it; never deleted, only marked."""

    __tablename__ = "jar_note"
    id: Mapped[int] = mapped_column(primary_key=True)
    jar_id: Mapped[int] = mapped_column(ForeignKey("jar.id"), index=True)
    happened_on: Mapped[date] = mapped_column(Date)
    kind: Mapped[str]
    grams: Mapped[float | None]
    words: Mapped[str]
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class JarReadingRow(Base):
    """What a thermometer in a jar said, typed by hand or read by the machine; never deleted, only marked."""

    __tablename__ = "jar_reading"
    id: Mapped[int] = mapped_column(primary_key=True)
    jar_id: Mapped[int] = mapped_column(ForeignKey("jar.id"), index=True)
    read_at: Mapped[datetime] = mapped_column(UtcDateTime)
    celsius: Mapped[float]
    typed: Mapped[bool]
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class JarPhotoRow(Base):
    """A photo of a jar, as JPEG without where it was taken; never deleted, only marked."""

    __tablename__ = "jar_photo"
    id: Mapped[int] = mapped_column(primary_key=True)
    jar_id: Mapped[int] = mapped_column(ForeignKey("jar.id"), index=True)
    taken_on: Mapped[date] = mapped_column(Date)
    words: Mapped[str]
    content: Mapped[bytes]
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class OwnPlantRow(Base):
    """A plant that a person added, as they last gave it; earlier entries of the same key stay and do not count."""

    __tablename__ = "own_plant"
    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(index=True)
    entered_at: Mapped[datetime] = mapped_column(UtcDateTime)
    said: Mapped[dict[str, Any]] = mapped_column(JSON)


class WishRow(Base):
    """A wish that is kept in its words, and the revision of the shelf when it was last looked for."""

    __tablename__ = "wish"
    id: Mapped[int] = mapped_column(primary_key=True)
    said: Mapped[str]
    measure: Mapped[str]
    kept_at: Mapped[datetime] = mapped_column(UtcDateTime)
    shelf: Mapped[int]
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)

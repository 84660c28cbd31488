"""Where a bottle will stand, as JSON: one of the usual places or a year of own temperatures, and what it stands in."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from uptide.core.errors import UptideError
from uptide.core.keeping.storage_history import placed
from uptide.core.oxidation.surroundings import OWN_PLACE, PERMEABILITY, PLACES, Glass, Light, Storage

Celsius = Annotated[float, Field(ge=-30, le=60)]


class StorageIn(BaseModel):
    """Where and how a bottle will stand; what is left out is as in a cool cupboard."""

    model_config = ConfigDict(extra="forbid", strict=True)
    place: str = Field(
        "cool cupboard", description="One of the usual places.", json_schema_extra={"enum": list(PLACES)}
    )
    celsius: list[Celsius] | None = Field(
        None, description="Own mean temperatures, January to December [°C], instead of a place.", min_length=12,
        max_length=12,
    )  # fmt: skip
    light: Literal["dark", "room", "bright", "sunny sill"] | None = Field(
        None, description="As the place, unless given."
    )
    glass: Literal["clear", "blue", "green", "amber", "opaque"] = Field(
        "amber", description="What light comes through."
    )
    material: str = Field("glass", description="What it is made of.", json_schema_extra={"enum": list(PERMEABILITY)})
    opened: bool = Field(default=True, description="Opened in use.")
    headspace_percent: float = Field(10.0, description="Air above the oil, as a share of its volume.", ge=0, le=500)
    uses_a_week: float = Field(7.0, ge=0, le=100)
    ml_a_use: float = Field(0.0, description="0 for unknown.", ge=0, le=1000)


def storage_in(given: StorageIn) -> Storage:
    """The surroundings that a JSON describes; raise UptideError for a place or wall that is not known."""
    storage = Storage(
        glass=Glass(given.glass),
        material=given.material,
        opened=given.opened,
        uses_a_week=given.uses_a_week,
        ml_a_use=given.ml_a_use,
        headspace=given.headspace_percent / 100,
    )
    storage = placed(storage, given.place)
    if given.celsius is not None:
        storage = replace(storage, place=OWN_PLACE, celsius=tuple(given.celsius), light=Light.DARK)
    return replace(storage, light=Light(given.light)) if given.light is not None else storage


def read_storage(name: str, text: str) -> Storage:
    """Read a file; raise UptideError that names the file and what in it cannot be."""
    try:
        return storage_in(StorageIn.model_validate_json(text))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the whole"
        raise UptideError(f"{name}: {where}: {first['msg']}.") from error

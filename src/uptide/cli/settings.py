"""Settings, read from the environment in this one place and passed down."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

from platformdirs import user_data_path
from pydantic import Field, ValidationError, field_validator
from pydantic_settings import BaseSettings, NoDecode, SettingsConfigDict

from uptide.core.errors import UptideError

PREFIX = "UPTIDE_"
FASTEST, MOST_WORKERS = 3600, 16


def _in_user_data(name: str) -> str:
    return f"sqlite:///{user_data_path('uptide', appauthor=False) / name}"


class Settings(BaseSettings):
    """What can be set; each field is read from the variable UPTIDE_ and its name in capitals."""

    model_config = SettingsConfigDict(env_prefix=PREFIX, env_ignore_empty=True, extra="ignore", frozen=True)

    database: str = Field(
        default_factory=lambda: _in_user_data("uptide.db"),
        description="URL of the database: a SQLite file in your data folder by default, or a PostgreSQL, as in "
        "postgresql+psycopg://wren@workshop/uptide.",
    )
    backups: str = Field("", description="Folder of its backups. Beside the database by default.")
    host: str = Field("127.0.0.1", description="Address to listen on. Only this machine by default.")
    port: Annotated[int, Field(ge=1, le=65535)] = Field(8000, description="Port to listen on.")
    workers: Annotated[int, Field(ge=1, le=MOST_WORKERS)] = Field(
        1, description="Processes that serve the pages. With several benches, as many as the machine has cores."
    )
    allowed_hosts: Annotated[tuple[str, ...], NoDecode] = Field(
        ("127.0.0.1", "localhost", "[::1]"),
        description="Host names that a browser may ask for, parted by commas. Others are refused.",
    )
    thermometer: str = Field(
        "", description="Thermometer in a jar: a device as /dev/ttyUSB0, or socket://host:port. None by default."
    )
    thermometer_speed: Annotated[float, Field(ge=1, le=FASTEST)] = Field(
        1.0, description="How many times a simulated thermometer is sped up; 1 for a real one."
    )
    scale: str = Field(
        "", description="Scale at the bench: a device as /dev/ttyUSB0, or socket://host:port. None by default."
    )
    spool: str = Field("", description="Folder that the simulated label printer puts its jobs into. None by default.")
    scale_pattern: str = Field(
        "", description="Regular expression for the lines of a scale of another layout; its group “value” is read."
    )

    @field_validator("allowed_hosts", mode="before")
    @classmethod
    def _parted_by_commas(cls, said: object) -> object:
        return tuple(part.strip() for part in said.split(",") if part.strip()) if isinstance(said, str) else said

    @property
    def backup_folder(self) -> Path | None:
        """Where backups are kept, if another folder was named than the one beside the database."""
        return Path(self.backups).expanduser() if self.backups else None


# What a variable is, where it is not plain from what is said of it.
ALLOWED = {
    "port": "a port is a number from 1 to 65535",
    "workers": f"that is a number from 1 to {MOST_WORKERS}",
    "thermometer_speed": f"a speed is a number from 1 to {FASTEST}",
}


def read_settings(**given: Any) -> Settings:
    """Read the settings; raise UptideError that names a variable that cannot be read."""
    try:
        return Settings(**given)
    except ValidationError as error:
        problem = error.errors()[0]
        name = str(problem["loc"][0])
        allowed = ALLOWED.get(name, problem["msg"])
        raise UptideError(f"{PREFIX}{name.upper()} is “{problem['input']}”; {allowed}.") from error


def settings_in_words() -> str:
    """Every setting with what it is, a line each."""
    names = {name: f"{PREFIX}{name.upper()}" for name in Settings.model_fields}
    wide = max(map(len, names.values()))
    return "\n".join(f"  {names[name]:<{wide}}  {of.description}" for name, of in Settings.model_fields.items())


def demo_database() -> Path:
    """Where the demo keeps its own file."""
    return user_data_path("uptide", appauthor=False) / "demo.db"

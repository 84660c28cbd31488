"""Settings, read from the environment in this one place and passed down."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from pathlib import Path

from platformdirs import user_data_path

from uptide.core.errors import UptideError

PREFIX = "UPTIDE_"
FASTEST = 3600


def _in_user_data(name: str) -> str:
    return f"sqlite:///{user_data_path('uptide', appauthor=False) / name}"


@dataclass(frozen=True, slots=True)
class Settings:
    """What can be set; each field is read from the variable UPTIDE_ and its name in capitals."""

    database: str = field(
        default_factory=lambda: _in_user_data("uptide.db"),
        metadata={"help": "URL of the database. The default is a SQLite file in your data folder."},
    )
    host: str = field(default="127.0.0.1", metadata={"help": "Address to listen on. Only this machine by default."})
    port: int = field(default=8000, metadata={"help": "Port to listen on."})
    allowed_hosts: tuple[str, ...] = field(
        default=("127.0.0.1", "localhost", "[::1]"),
        metadata={"help": "Host names that a browser may ask for, parted by commas. Others are refused."},
    )
    thermometer: str = field(
        default="",
        metadata={"help": "Thermometer in a jar: a device as /dev/ttyUSB0, or socket://host:port. None by default."},
    )
    thermometer_speed: float = field(
        default=1.0,
        metadata={"help": "How many times a simulated thermometer is sped up; 1 for a real one."},
    )
    scale: str = field(
        default="",
        metadata={"help": "Scale at the bench: a device as /dev/ttyUSB0, or socket://host:port. None by default."},
    )
    spool: str = field(
        default="", metadata={"help": "Folder that the simulated label printer puts its jobs into. None by default."}
    )
    scale_pattern: str = field(
        default="",
        metadata={"help": "Regular expression for the lines of a scale of another layout; its group “value” is read."},
    )


def read_settings(environment: Mapping[str, str] | None = None) -> Settings:
    """Read the settings; raise UptideError that names a variable that cannot be read."""
    found = os.environ if environment is None else environment
    values: dict[str, object] = {}
    for setting in fields(Settings):
        name = f"{PREFIX}{setting.name.upper()}"
        text = found.get(name, "").strip()
        if not text:
            continue
        if setting.name == "port":
            if not text.isdecimal() or not 0 < int(text) < 65536:
                raise UptideError(f"{name} is “{text}”; a port is a number from 1 to 65535.")
            values[setting.name] = int(text)
        elif setting.name == "thermometer_speed":
            values[setting.name] = _speed(text, name)
        elif setting.name == "allowed_hosts":
            values[setting.name] = tuple(part.strip() for part in text.split(",") if part.strip())
        else:
            values[setting.name] = text
    return Settings(**values)  # type: ignore[arg-type] # each value was read for its own field above


def _speed(text: str, name: str) -> float:
    try:
        speed = float(text)
    except ValueError:
        speed = 0.0
    if not 1 <= speed <= FASTEST:
        raise UptideError(f"{name} is “{text}”; a speed is a number from 1 to {FASTEST}.")
    return speed


def demo_database() -> Path:
    """Where the demo keeps its own file."""
    return user_data_path("uptide", appauthor=False) / "demo.db"

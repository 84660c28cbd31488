"""A database of every schema there ever was, with data in it, comes to the newest; none goes to an older program."""

from __future__ import annotations

import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy.orm import Session

from uptide.store.blends import load_blend
from uptide.store.condition import DatabaseError, look_into, migrations, newest_schema
from uptide.store.database import open_engine
from uptide.store.migrating import migrate, migration_config
from uptide.store.shelf import load_lot

pytestmark = pytest.mark.of_files

# What the first schema holds, in its own columns.
FIRST = (
    "INSERT INTO blend (id, name, created_at) VALUES (7, 'Dune', '2026-01-01 10:00:00')",
    "INSERT INTO blend_version (id, blend_id, number, saved_at, note, product, habits) "
    "VALUES (9, 7, 1, '2026-01-01 10:00:00', 'the first', 'body-oil', '{}')",
    "INSERT INTO blend_entry (version_id, position, typed, answers) VALUES (9, 0, '30 g jojoba', '{}')",
)
LOT = {"code": "A-1", "ingredient": "jojoba", "bought_g": 500.0, "left_g": 400.0}


@pytest.fixture(scope="module")
def ladder(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """A file of each schema, as it was before the next one: one database, brought up step by step."""
    folder = tmp_path_factory.mktemp("ladder")
    path, kept = folder / "up.db", {}
    open_engine(f"sqlite:///{path}").dispose()
    for schema in migrations():
        command.upgrade(migration_config(f"sqlite:///{path}"), schema)
        with closing(sqlite3.connect(path)) as file:
            if schema == migrations()[0]:
                for statement in FIRST:
                    file.execute(statement)
                needed = {row[1]: "" for row in file.execute("PRAGMA table_info(lot)") if row[3] and row[4] is None}
                row = {name: value for name, value in needed.items() if name != "id"} | LOT
                names = f"({', '.join(row)}) VALUES ({', '.join('?' * len(row))})"
                file.execute(f"INSERT INTO lot {names}", tuple(row.values()))
            file.commit()
            file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        kept[schema] = folder / f"{schema}.db"
        shutil.copy(path, kept[schema])
    return kept


@pytest.mark.parametrize("schema", migrations())
def test_what_was_kept_in_it_is_there_in_the_newest(ladder: dict[str, Path], schema: str) -> None:
    url = f"sqlite:///{ladder[schema]}"
    migrate(url)

    condition = look_into(ladder[schema])
    assert (condition.schema, condition.damage) == (newest_schema(), "")
    engine = open_engine(url)
    with Session(engine) as store:
        blend = load_blend(store, 7)
        left = load_lot(store, "A-1").left_g
    engine.dispose()
    assert (blend.name, blend.newest.note) == ("Dune", "the first")
    assert [entry.typed for entry in blend.newest.recipe.entries] == ["30 g jojoba"]
    assert left == 400


def test_a_newer_one_is_refused_in_words_and_left_as_it_is(ladder: dict[str, Path], tmp_path: Path) -> None:
    path = tmp_path / "newer.db"
    shutil.copy(ladder[newest_schema()], path)
    with closing(sqlite3.connect(path)) as file:
        file.execute("UPDATE alembic_version SET version_num = '9016'")
        file.commit()
    before = path.read_bytes()
    with pytest.raises(DatabaseError, match=f"its schema is 9016, this one knows up to {newest_schema()}"):
        migrate(f"sqlite:///{path}")

    assert path.read_bytes() == before

"""The demo workshop, Skerry Row: invented, and loaded through the importers that everybody has."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from uptide.store.database import BESIDE
from uptide.store.migrating import migrate
from uptide.workshop.importing import import_batches, import_blend, import_jars, import_people, import_shelf

DATA = files("uptide.demo")


def make_demo(path: Path) -> tuple[int, int]:
    """Make the demo database afresh at this path; return how many blends and lots it holds.

    The one that stood there is put aside with what SQLite keeps beside it: somebody may have saved something in it.
    """
    for ending in ("", *BESIDE):
        file, aside = path.with_name(path.name + ending), path.with_name(f"{path.name}.before{ending}")
        aside.unlink(missing_ok=True)
        if file.exists():
            file.rename(aside)
    url = f"sqlite:///{path}"
    migrate(url)
    import_people(url, DATA / "people.json")
    recipes = sorted((entry for entry in DATA.iterdir() if entry.name.endswith(".txt")), key=lambda entry: entry.name)
    names = {import_blend(url, recipe) for recipe in recipes}
    for table in ("own-oils.csv", "lots.csv", "certificates.csv"):
        import_shelf(url, DATA / table)
    import_people(url, DATA / "patch-tests.json")
    import_jars(url, DATA / "jars.json")
    import_batches(url, DATA / "batches.json")
    return len(names), (DATA / "lots.csv").read_text(encoding="utf-8").count("SR-")

"""The command `uptide`. Heavy imports stand inside the commands, so that `--help` answers at once."""

from __future__ import annotations

import atexit
import gc
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer
import typer.core

from uptide.cli.ending import UNREADABLE, fail, refuse_taken
from uptide.cli.knowing import known_things
from uptide.cli.simulating import simulate
from uptide.core.errors import UptideError

if TYPE_CHECKING:
    from uptide.cli.settings import Settings
    from uptide.formats.assessment_json import AssessmentOut

# Nothing of a start is garbage, and looking for some takes a tenth of it; what serves for long turns it on again.
gc.disable()
atexit.register(gc.freeze)  # nor is what goes as a whole at the end looked through once more


class Commands(typer.core.TyperGroup):
    """The commands of `uptide`: what a person can put right ends them with a sentence, and help lists the settings."""

    def invoke(self, ctx: Any) -> Any:
        """Run a command; say what was wrong and end with 2 where it raises an error of the trade."""
        try:
            return super().invoke(ctx)
        except UptideError as error:
            fail(str(error))

    def format_help(self, ctx: Any, formatter: Any) -> None:
        """Print the commands, and the variables that settings are read from."""
        from uptide.cli.settings import settings_in_words

        super().format_help(ctx, formatter)
        typer.echo(f"Settings, from variables of the environment:\n\n{settings_in_words()}\n")


app = typer.Typer(
    cls=Commands,
    no_args_is_help=True,
    add_completion=False,
    help="Up Tide: a work bench for people who blend oils for skin.",
)
app.add_typer(simulate, name="simulate")
Mine = Annotated[
    bool, typer.Option("--mine", help="With the measures, the shelf and the people of your database (UPTIDE_DATABASE).")
]
Yes = Annotated[bool, typer.Option("--yes", help="Do it without asking.")]
TakeDiffering = Annotated[
    bool, typer.Option("--take-differing", help="What is there and differs is changed to what the export says.")
]
WithPeople = Annotated[bool, typer.Option("--people", help="With people, their health and their patch tests.")]
OfTheBench = Annotated[bool, typer.Option("--bench", help="The one for tablets at the bench, which shows no people.")]
Remove = Annotated[bool, typer.Option("--remove", help="Take it away.")]


def _settings() -> Settings:
    from uptide.cli.settings import read_settings

    return read_settings()


@app.command()
def serve(
    port: Annotated[int | None, typer.Option(help="Port to listen on; UPTIDE_PORT or 8000 by default.")] = None,
) -> None:
    """Start the application in the browser, on this machine only."""
    settings = _settings()
    _run(settings, settings.database, port)


def _run(settings: Settings, database: str, port: int | None) -> None:
    from uptide.cli.serving import serve as serve_pages
    from uptide.store.condition import refuse_unusable

    refuse_unusable(database)
    _refuse_open_door(settings, database)
    where = port or settings.port
    refuse_taken(settings.host, where)
    typer.echo(f"Up Tide is at http://{settings.host}:{where}")
    serve_pages(settings, database, where)


def _refuse_open_door(settings: Settings, database: str) -> None:
    """Stop before others on the network can read what nobody asked a passphrase for."""
    from uptide.cli.safekeeping import has_passphrase, is_this_machine

    if not is_this_machine(settings.host) and not has_passphrase(database):
        fail(
            f"UPTIDE_HOST is {settings.host}, which others on the network can reach, and there is no passphrase: "
            "anybody could read people’s health. Set one with `uptide passphrase`, then start again."
        )


@app.command()
def demo(
    port: Annotated[int | None, typer.Option(help="Port to listen on; UPTIDE_PORT or 8000 by default.")] = None,
    only_data: Annotated[bool, typer.Option("--only-data", help="Make the data and stop.")] = False,  # noqa: FBT002
) -> None:
    """Make the demo workshop's data afresh, in a file of its own, and start the application on it."""
    from uptide.cli.demo import make_demo
    from uptide.cli.settings import demo_database

    settings = _settings()
    if not only_data:
        refuse_taken(settings.host, port or settings.port)
    path = demo_database()
    blends, lots = make_demo(path)
    typer.echo(f"Skerry Row: {blends} blends and {lots} lots in {path}")
    if not only_data:
        _run(settings, f"sqlite:///{path}", port)


@app.command()
def assess(
    file: Annotated[str, typer.Argument(help="A text file with the recipe, or - for standard input.")] = "-",
    product: Annotated[str, typer.Option(help="Key of the product, as in body-oil.")] = "",
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole assessment as JSON.")] = False,  # noqa: FBT002
    wearer: Annotated[Path | None, typer.Option(help="A JSON of people; the first will wear it.")] = None,
    storage: Annotated[Path | None, typer.Option(help="A JSON of where it will stand.")] = None,
    mine: Mine = False,  # noqa: FBT002
) -> None:
    """Print what a recipe is: rows in grams, figures, cautions, and what was not understood."""
    from uptide.core.skin.wearer import ANYONE
    from uptide.core.skin.whom import read_whom
    from uptide.formats.assessment_json import assessment_out
    from uptide.formats.people_json import read_people, wearer_in
    from uptide.formats.recipe_file import read_recipe_file
    from uptide.formats.storage_json import read_storage
    from uptide.workshop.clock import today

    text = _read_text(file)
    with known_things(mine=mine) as known:
        read = read_recipe_file(text, known.facts, known.habits, product)
        meant = read_whom(read.wearer, known.people, today()) if read.wearer else None
        worn_by = meant.wearer if meant else ANYONE
        if read.wearer and not wearer and meant is None:
            where = f"known are {', '.join(known.people) or 'none'}" if mine else "--mine knows your people"
            typer.echo(f"“{read.wearer}” has no card here ({where}): this is for anyone.", err=True)
        if wearer:
            people = read_people(wearer.name, _read_text(str(wearer))).people
            if not people:
                fail(f"{wearer} holds nobody.")
            worn_by = wearer_in(people[0])
        stands = read_storage(storage.name, _read_text(str(storage))) if storage else None
        recipe = replace(read.recipe, storage=stands) if stands else read.recipe
        result = assessment_out(known.assess(recipe, worn_by, {"name": read.name, "note": read.note}))
    if as_json:
        typer.echo(result.model_dump_json(indent=2))
    else:
        _print_assessment(result)
    if not result.rows:
        fail("No row of this recipe could be read.")


@app.command()
def ask(
    question: Annotated[str, typer.Argument(help="As in “bergamot in 30 ml” or “2% of 30 ml in drops”.")],
    mine: Mine = False,  # noqa: FBT002
) -> None:
    """Answer one question: a sum, an oil for a kind of skin, drops of a scent, or a whole recipe in brief."""
    from uptide.core.finder.ask import ask as answer
    from uptide.core.finder.known import Known
    from uptide.workshop.clock import today

    with known_things(mine=mine) as known:
        on_board = known.on_board(question)
        if on_board is not None:
            typer.echo("\n".join(on_board))
            return
        facts = known.facts
        here = Known(
            facts.ingredients,
            facts.names,
            habits=known.habits,
            people={wearer.name: wearer for wearer in known.people.values()},
            products=facts.product_names,
            today=today(),
            usage_of=lambda product, wearer: facts.usage_of(product, today(), wearer),
            assess=lambda recipe, wearer: known.assess(recipe, wearer, {}),
        )
        found = known.of_blend(question, here) or answer(question, here)
    lines = (f"{label}: {words}" for label, words in found.lines)
    typer.echo("\n".join(filter(None, (found.answer, found.working, *lines, found.remark))))


@app.command()
def find(
    wish: Annotated[
        str,
        typer.Argument(
            help="As in “60 ml face oil for oily skin, linoleic over 50, keeps 6 months, with jojoba, no nuts”."
        ),
    ],
    mine: Mine = False,  # noqa: FBT002
    spoons: Annotated[bool, typer.Option("--spoons", help="In spoons, droppers and drops, not in grams.")] = False,  # noqa: FBT002
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,  # noqa: FBT002
) -> None:
    """Find blends that keep a wish, each worked out and confirmed; or say which limits exclude one another."""
    from uptide.cli.finding import find_blends

    lines, understood = find_blends(wish, mine=mine, spoons=spoons, as_json=as_json)
    for line in lines:
        typer.echo(line)
    if not understood:
        raise typer.Exit(UNREADABLE)


def _read_text(file: str) -> str:
    try:
        return sys.stdin.read() if file == "-" else Path(file).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        fail(f"{file} cannot be read as text: {error}")


def _print_assessment(result: AssessmentOut) -> None:
    """Print an assessment for a person at a terminal."""
    from uptide.core.safety.caution import RANK, Grade

    for row in result.rows:
        typer.echo(
            f"{row.grams:9.2f} g {row.millilitres:8.2f} mL {row.percent_mass:6.2f} %  {row.typed}  = {row.ingredient}"
        )
    for finding in result.findings:
        value = "unknown" if finding.value is None else f"{finding.value:.4g} {finding.unit}"
        verdict = f"{finding.word}, " if finding.word else ""
        typer.echo(f"{finding.key}: {verdict}{value}{'  ' + finding.remark if finding.remark else ''}")
    for assumed in result.assumed:
        label = next(option.label for option in assumed.options if option.value == assumed.taken)
        typer.echo(f"assumed: “{assumed.about or 'a number alone'}” is {label}, {assumed.because}")
    for row_left in result.not_understood:
        typer.echo(f"not counted: {row_left.typed}: {row_left.reason or row_left.questions[0].text}")
    for caution in result.cautions:
        about = f"{caution.about}: " if caution.about else ""
        typer.echo(f"{caution.grade}: {about}{caution.message}")
    gravest: dict[str, str] = {}
    for each in sorted(result.not_for, key=lambda each: RANK[Grade(each.grade)]):
        gravest.setdefault(each.who, each.grade)
    for who, grade in gravest.items():
        typer.echo(f"not {who} ({grade})")
    if result.is_draft:
        typer.echo("A draft: a stop is open, or a row is not settled for good.")


@app.command("import")
def import_file(
    what: Annotated[
        str,
        typer.Argument(
            help="An export, as a folder or a ZIP; or what FILE holds: lots (or certificates, own oils), blend, "
            "people, jars or batches."
        ),
    ],
    file: Annotated[
        Path | None,
        typer.Argument(exists=True, dir_okay=False, help="A CSV of the shelf, a recipe as text, or a JSON of people."),
    ] = None,
    yes: Yes = False,  # noqa: FBT002
    take_differing: TakeDiffering = False,  # noqa: FBT002
) -> None:
    """Bring an export back, or the shelf, a blend, people, jars or batches; a file with a bad line changes nothing."""
    from uptide.store.migrating import migrate
    from uptide.workshop.importing import IMPORTED

    settings = _settings()
    if file is None:
        from uptide.cli.safekeeping import import_all

        if not Path(what).exists():
            fail(f"There is no export at {what}. To import {', '.join(IMPORTED)}, name the file as well.")
        migrate(settings.database, settings.backup_folder)
        with import_all(settings, Path(what), take_differing=take_differing) as lines:
            typer.echo("\n".join(lines))
            if not yes and not typer.confirm("Bring it in?"):
                raise typer.Exit(1)
        typer.echo("It is in.")
        return
    if what not in IMPORTED:
        fail(f"There is nothing called “{what}” to import; known are {', '.join(IMPORTED)}.")
    migrate(settings.database, settings.backup_folder)
    typer.echo(IMPORTED[what](settings.database, file))


@app.command("export")
def export_all(
    target: Annotated[Path, typer.Argument(help="A new folder, or a new file that ends in .zip.")],
    people: WithPeople = False,  # noqa: FBT002
) -> None:
    """Write all that is kept into plain files that any program can read, and `uptide import` can bring back."""
    from uptide.cli.safekeeping import export_here
    from uptide.store.migrating import migrate

    settings = _settings()
    migrate(settings.database, settings.backup_folder)
    typer.echo(export_here(settings, target, people=people))


@app.command()
def migrate() -> None:
    """Bring your database to the newest schema; data survives."""
    from uptide.store.migrating import migrate as bring_up_to_date

    settings = _settings()
    bring_up_to_date(settings.database, settings.backup_folder)
    typer.echo("The database is up to date.")


@app.command()
def passphrase(
    bench: OfTheBench = False,  # noqa: FBT002
    remove: Remove = False,  # noqa: FBT002
) -> None:
    """Set what must be said before anything is shown, typed twice; everybody who was let in says it anew."""
    from uptide.cli.safekeeping import set_passphrase
    from uptide.store.migrating import migrate

    settings = _settings()
    migrate(settings.database, settings.backup_folder)
    said = "" if remove else typer.prompt("Passphrase", hide_input=True, confirmation_prompt=True)
    typer.echo(set_passphrase(settings.database, said, bench=bench))


@app.command()
def doctor() -> None:
    """Look at what the program runs on and with; end with 1 where something is wrong."""
    from uptide.cli.safekeeping import examine_here

    lines, is_well = examine_here(_settings())
    typer.echo("\n".join(lines))
    if not is_well:
        raise typer.Exit(1)


@app.command()
def backup() -> None:
    """Copy your database into the folder of backups, look through the copy, and thin out the earlier ones."""
    from uptide.cli.safekeeping import back_up_here

    typer.echo(back_up_here(_settings()))


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A backup, as `uptide backup` made it.")],
    yes: Yes = False,  # noqa: FBT002
) -> None:
    """Put a backup in the place of your database, which is kept beside it; what differs is said first."""
    from uptide.cli.safekeeping import differences_here, restore_here

    settings = _settings()
    typer.echo(differences_here(settings, file))
    if not yes and not typer.confirm("Put it in place?"):
        raise typer.Exit(1)
    typer.echo(restore_here(settings, file))


@app.command("check-catalogue")
def check_catalogue(
    folder: Annotated[
        Path | None, typer.Argument(help="A folder with the catalogue's tables; the shipped one by default.")
    ] = None,
) -> None:
    """Read every table of the catalogue and name each row that is wrong, by file and line."""
    from uptide.catalogue.load import load_catalogue
    from uptide.catalogue.plants import load_plants
    from uptide.catalogue.shipped import DATA

    try:
        catalogue = load_catalogue(folder or DATA)
        plants = load_plants((folder or DATA) / "plants.csv")
    except UptideError as error:
        fail(str(error), 1)
    fatty = sum(1 for item in catalogue.ingredients.values() if item.lipid is not None)
    count, sources = len(catalogue.ingredients), len(catalogue.sources)
    typer.echo(
        f"{count} ingredients, {fatty} with known composition, {len(plants)} plants, {sources} sources: all rows good."
    )


if __name__ == "__main__":
    app()

"""Killed at any moment of a weighing, nothing that was confirmed is lost, and nothing stands twice."""

from __future__ import annotations

import multiprocessing
import os
import signal
import time
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from random import Random

import pytest
from bench import crash
from bench.postgres import Server
from sqlalchemy import text
from sqlalchemy.orm import Session

from uptide.core.ingredients.lot import Lot
from uptide.core.making.batch_record import EntryKind, Taken
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.devices.simulated_scale import SimulatedScale
from uptide.store.batches import load_batch, plan_batch
from uptide.store.blends import create_blend
from uptide.store.database import as_writer, is_of_a_server, open_engine
from uptide.store.ledger import movements_of
from uptide.store.migrating import migrate
from uptide.store.shelf import load_lot, save_lot
from uptide.workshop.clock import today
from uptide.workshop.making import Measured, confirm_pour

KILLS, FEW_KILLS = 50, 4
ENOUGH, MOST_KILLS = (
    10,
    200,
)  # confirmed, before it shows anything; a machine that slows down meanwhile takes more kills
PATIENCE = 60.0  # s
A_POUR_MG = 100


def prepare(url: str) -> str:
    """A batch that is never done, of one lot that never ends; return its number."""
    migrate(url)
    with Session(open_engine(url)) as session, session.begin():
        as_writer(session)
        save_lot(session, Lot("O-1", "olive", bought_g=900_000.0, left_g=900_000.0))
        blend = create_blend(session, "Endless", Recipe((Entry("100 g olive"),)))
        line = {"position": 0, "typed": "olive", "key": "olive", "name": "Olive", "restricted": False, "how": "weighed"}
        line |= {"target_mg": 900_000_000, "drops": 0, "said": "", "picks": [["O-1", 900_000_000]]}
        plan = {"lines": [line], "containers": [[1, 1.0]], "density": 0.9, "step_g": 0.1}
        return plan_batch(session, blend, 1, plan, made_on=today())


def weigh_until_killed(url: str, number: str, said: Connection, seed: int) -> None:
    """Pour on the simulated scale and confirm, and say each that was committed."""
    scale, engine = SimulatedScale(step=0.1, seed=seed), open_engine(url)
    while True:
        scale.pour(A_POUR_MG / 1000, rate=1000)
        scale.step_on(5.0)
        token = f"{seed}-{time.monotonic_ns()}"
        with Session(engine) as session, session.begin():
            seq = load_batch(as_writer(session), number).seq
            measured = Measured(A_POUR_MG, Taken.SCALE, gross_after=round(1000 * scale.pan.load))
            confirm_pour(session, number, 0, measured, "O-1", expected=seq, by="", token=token)
        said.send(token)


def test_fifty_kills_lose_no_confirmed_pour_and_double_none(database_url: str) -> None:
    url = database_url
    number, fork = prepare(url), multiprocessing.get_context("fork")
    random = Random(7)  # noqa: S311 - when it is killed
    confirmed: list[str] = []
    span = 0.0  # s that the first pour took on this machine, with the start of its process
    kills = 0
    for seed in range(MOST_KILLS):
        if seed > KILLS and len(confirmed) > ENOUGH:
            break
        kills += 1
        hears, says = fork.Pipe(duplex=False)
        begun, child = (
            time.monotonic(),
            fork.Process(target=weigh_until_killed, args=(url, number, says, seed), daemon=True),
        )
        child.start()
        says.close()
        if not span:
            assert hears.poll(PATIENCE)
            span = time.monotonic() - begun
        else:
            time.sleep(random.uniform(0.1, 2.0) * span)
        os.kill(child.pid or 0, signal.SIGKILL)
        child.join()
        with suppress(EOFError):
            while hears.poll():
                confirmed.append(hears.recv())

    assert len(confirmed) > ENOUGH
    with Session(open_engine(url)) as session:
        pours = [each for each in load_batch(session, number).entries if each.kind is EntryKind.POUR]
        rows = session.execute(text("SELECT token, seq FROM batch_entry WHERE kind = 'pour'")).all()
        tokens = [row.token for row in rows]
        assert set(confirmed) <= set(tokens)
        assert len(tokens) == len(set(tokens)) == len(pours)
        assert len(tokens) - len(confirmed) <= kills  # at most the one that was under way when it was killed
        used = [each.movement.mg for each in movements_of(session, "O-1") if each.movement.kind.value == "use"]
        assert used == [-A_POUR_MG] * len(pours)  # each pour is in the ledger once
        assert load_lot(session, "O-1").left_g == 900_000 - A_POUR_MG * len(pours) / 1000
        if not is_of_a_server(url):
            assert session.execute(text("PRAGMA integrity_check")).scalar() == "ok"


@pytest.mark.always
@pytest.mark.parametrize(
    "work",
    [pytest.param(work, id=work.name, marks=[pytest.mark.of_files] if work.of_files else []) for work in crash.WORKS],
)
def test_what_is_written_survives_kills_whole_or_not_at_all(
    work: crash.Work, tmp_path: Path, server: Server | None
) -> None:
    """A few of the kills of `make crash`."""
    place = crash.in_a_file(tmp_path) if server is None else crash.Place(server.url_of(server.make()), tmp_path)
    found = crash.kill(work, place, FEW_KILLS, seed=3)

    assert found.wrong == ()

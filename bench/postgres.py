"""A server of PostgreSQL for as long as something runs on it: made in a folder of its own, and gone afterwards.

make test-postgres runs the tests of the store, of the pages and of the kills on one.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import create_engine, text

from uptide.store.database import address_of
from uptide.store.migrating import migrate

PORT, NAME, SERVERS_OWN = 5432, "uptide", "postgres"  # in whose folder nobody else listens, so that the port is free
DEBIAN = Path("/usr/lib/postgresql")


class Server:
    """A server: makes databases as copies of one that is migrated once, and drops them."""

    def __init__(self, url: str) -> None:
        self.address = address_of(url)
        self.template = f"uptide_empty_{os.getpid()}"
        self.count = 0
        self.drop(self.template)
        self._do(f"CREATE DATABASE {self.template}")
        migrate(self.url_of(self.template))

    def _do(self, what: str) -> None:
        engine = create_engine(self.address, isolation_level="AUTOCOMMIT")
        with engine.connect() as connection:
            connection.execute(text(what))
        engine.dispose()

    def url_of(self, name: str) -> str:
        """The address of one of its databases."""
        return self.address.set(database=name).render_as_string(hide_password=False)

    def make(self) -> str:
        """Make a database of the newest schema with nothing in it; return its name."""
        self.count += 1
        name = f"{self.template}_{self.count}"
        self._do(f"CREATE DATABASE {name} TEMPLATE {self.template}")
        return name

    def drop(self, name: str) -> None:
        """Drop a database, whoever is still connected to it."""
        self._do(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")


def _programs() -> Path:
    """Where its programs are: the newest of Debian's, else those on the path."""
    found = sorted(DEBIAN.glob("*/bin/initdb"), key=lambda each: int(each.parts[-3]))
    on_path = shutil.which("initdb")
    if not found and on_path is None:
        sys.exit("There is no PostgreSQL here: apt-get install postgresql.")
    return (found[-1] if found else Path(str(on_path)).resolve()).parent


@contextmanager
def running() -> Iterator[str]:
    """Start a server in a folder of its own that listens on no network; yield its address, and stop it at the end."""
    programs = _programs()
    # Its programs refuse to run as root: Debian's package has a user for them.
    as_its_user = ["runuser", "-u", SERVERS_OWN, "--"] if os.geteuid() == 0 else []
    with tempfile.TemporaryDirectory(prefix="uptide-postgres-") as made:
        folder = Path(made)
        if as_its_user:
            shutil.chown(folder, SERVERS_OWN)

        def run(program: str, *arguments: str) -> None:
            said = subprocess.run(
                [*as_its_user, str(programs / program), *arguments], cwd="/", capture_output=True, check=False
            )
            if said.returncode:
                sys.exit(f"{program} failed: {said.stderr.decode()}")

        data = str(folder / "data")
        run("initdb", "-D", data, "-U", NAME, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
        # Nothing of it outlives the run: only a power cut could tell whether it waited for its disk.
        options = f"-k {folder} -p {PORT} -c listen_addresses= -c fsync=off -c max_connections=200"
        run("pg_ctl", "-D", data, "-o", options, "-l", str(folder / "log"), "-w", "start")
        try:
            yield f"postgresql+psycopg://{NAME}@/postgres?host={folder}&port={PORT}"
        finally:
            run("pg_ctl", "-D", data, "-m", "immediate", "stop")


def main(arguments: Sequence[str]) -> int:
    """Run a program with `--postgres` and the address of a server at its end; return how it ended."""
    with running() as url:
        return subprocess.run([*arguments, "--postgres", url], check=False).returncode


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

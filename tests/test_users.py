"""Who names a constant is found through imports, other names and what follows from it."""

from __future__ import annotations

from pathlib import Path

import pytest
from bench.constants import CORE, Number, Trial, numbers_of
from bench.users import Users


@pytest.fixture
def core(tmp_path: Path) -> Path:
    core = tmp_path / "uptide" / "core"
    core.mkdir(parents=True)
    core.joinpath("wax.py").write_text(
        "WAXED, BARE = 0.3, 0.1\nTWICE: float = 2 * WAXED\n\n\n"
        "class Coat:\n    def thick(self):\n        return TWICE\n\n\n"
        "def bare():\n    return BARE\n",
        encoding="utf-8",
    )
    core.joinpath("oil.py").write_text(
        "from uptide.core.wax import WAXED as SHINE\n\nWAXED = 5.0\n\n\n"
        "def shine():\n    return SHINE\n\n\ndef other():\n    return WAXED\n",
        encoding="utf-8",
    )
    return core


def test_a_constant_is_followed_to_every_function(core: Path) -> None:
    users = Users.read(core)
    assert users.of("uptide.core.wax", "WAXED") == {"uptide.core.oil.x_shine", "uptide.core.wax.xǁCoatǁthick"}
    assert users.of("uptide.core.wax", "BARE") == {"uptide.core.wax.x_bare"}
    assert users.of("uptide.core.oil", "WAXED") == {"uptide.core.oil.x_other"}  # another of the same name


def test_the_quickest_tests_of_its_users_are_asked_first(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (number,) = (n for n in numbers_of(CORE / "physics" / "density.py") if n.name == "DENSITY_ERROR")
    user = next(iter(Users.read(CORE).of(number.module, number.name)))
    monkeypatch.chdir(tmp_path)
    here = "test_here.py::one"
    Path("test_here.py").touch()
    known = tmp_path / "known.json"
    known.write_text(
        f'{{"tests_by_mangled_function_name": {{"{user}": ["gone.py::it", "{here}", "{here}-slow", "{here}-never"]}}, '
        f'"duration_by_test": {{"gone.py::it": 0.1, "{here}": 0.5, "{here}-slow": 4.0, "{here}-never": 1.0}}}}',
        encoding="utf-8",
    )
    assert Trial(known).first(number) == [here, f"{here}-never"]
    assert Trial(tmp_path / "nothing.json").first(number) == []
    assert Trial(known).first(Number("uptide.core.none", "NONE", line=1, column=0, value=1.0)) == []

"""Who may see what: nothing without the passphrase, and no people at the bench."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from argon2 import PasswordHasher
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session
from tests.web.conftest import field, token, words

from uptide.core.errors import UptideError
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import Wearer
from uptide.store.blends import create_blend
from uptide.store.database import open_engine
from uptide.store.people import add_person
from uptide.store.preferences import keep_passphrases
from uptide.web.app import create_app
from uptide.workshop import entrance
from uptide.workshop.entrance import Attempts, Passphrases, keep

WHOLE, BENCH = "low water at seven", "spoons and drops"


@pytest.fixture(scope="module")
def kept() -> tuple[str, str]:
    """Both passphrases as they are stored, but quickly told from others: at each request that is most of the time."""
    quick = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    return quick.hash(WHOLE), quick.hash(BENCH)


@pytest.fixture
def guarded(database_url: str, kept: tuple[str, str]) -> FastAPI:
    engine = open_engine(database_url)
    with Session(engine) as store, store.begin():
        keep_passphrases(store, *kept)
        add_person(store, Wearer("Wren", other_allergies="zinnwaldite"))
        create_blend(store, "Dune oil", Recipe((Entry("30 g jojoba"),)))
    engine.dispose()
    return create_app(database_url, ("testserver",))


@pytest.fixture
def stranger(guarded: FastAPI) -> Iterator[TestClient]:
    with TestClient(guarded) as client:
        yield client


def say(client: TestClient, passphrase: str, **more: str) -> tuple[int, str, str]:
    form = {"token": token(client, "/enter"), "passphrase": passphrase} | more
    answer = client.post("/enter", data=form, follow_redirects=False)
    return answer.status_code, answer.headers.get("location", ""), words(answer.text)


def test_nothing_is_shown_before_the_passphrase_is_said(guarded: FastAPI, stranger: TestClient) -> None:
    """Every address of the application, as it knows them itself."""
    open_to_all = {"/enter", "/static", "/keeping/feed/{secret}.ics"}
    seen = 0
    routes = [each for room in guarded.state.rooms for each in room.routes]
    for route in routes:
        path = getattr(route, "path", "")
        if path in open_to_all or not path:
            continue
        address = path.format_map(dict.fromkeys(getattr(route, "param_convertors", {}), "1"))
        for method in getattr(route, "methods", {"GET"}) - {"HEAD"}:
            seen += 1
            answer = stranger.request(method, address, follow_redirects=False)
            is_page = method == "GET" and not path.startswith("/api/")
            assert answer.status_code == (303 if is_page else 401), (method, path)
            assert "Wren" not in answer.text
            assert "Dune" not in answer.text
            if is_page:
                assert answer.headers["location"].startswith("/enter?to="), path
    assert seen > 120


def test_who_says_it_sees_what_was_asked_for(stranger: TestClient) -> None:
    asked = stranger.get("/people?said=x")
    assert asked.url.path == "/enter"
    status, to, _ = say(stranger, WHOLE, to=field(asked.text, "to"), maker=" Tove  of the row ")

    assert (status, to) == (303, "/people?said=x")
    cookie = next(each for each in stranger.cookies.jar if each.name == "uptide_entered")
    assert cookie.has_nonstandard_attr("HttpOnly")
    assert cookie.get_nonstandard_attr("SameSite") == "strict"
    assert "Wren" in stranger.get("/people").text
    page = stranger.get("/blends/1/versions/1/make", params={"bottles": "1 x 30 ml"}).text
    assert "Tove of the row" in page
    stranger.post("/leave", data={"token": token(stranger, "/people/new")})
    assert stranger.get("/people").url.path == "/enter"


def test_a_form_of_somebody_who_is_let_in_no_longer_is_given_back(stranger: TestClient) -> None:
    answer = stranger.post("/blends", data={"name": "Storm", "new": "30 g jojoba", "token": "x"})

    assert answer.status_code == 401
    assert ">Storm</textarea>" in answer.text
    assert ">30 g jojoba</textarea>" in answer.text
    assert 'action="/blends"' in answer.text
    assert "Wren" not in answer.text
    assert "Storm" not in stranger.get("/enter/first").text


def test_nobody_is_seen_at_the_bench(stranger: TestClient) -> None:
    assert say(stranger, BENCH, to="/people")[:2] == (303, "/making")
    for path in (
        "/",
        "/people",
        "/people/1",
        "/blends",
        "/blends/1",
        "/data",
        "/data/export.zip?people=true",
        "/measures",
    ):
        answer = stranger.get(path)
        assert answer.url.path == "/making", path
        assert "Wren" not in answer.text
    for path in (
        "/making",
        "/shelf",
        "/shelf?q=for+Wren",
        "/shelf/find?wish=for+Wren,+light",
        "/steeping",
        "/shelf/lots",
    ):
        answer = stranger.get(path)
        assert answer.status_code == 200
        assert "zinnwaldite" not in answer.text
        assert "nothing known against it for Wren" not in words(answer.text)
        assert 'href="/people"' not in answer.text
    assert stranger.post("/people/1/delete", data={}).url.path == "/making"
    assert stranger.get("/api/docs").url.path == "/making"


def test_a_wrong_one_opens_nothing_and_several_wait(stranger: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    for _ in range(entrance.FREE):
        status, _, said = say(stranger, "high water at eight")
        assert (status, "This is not the passphrase" in said) == (422, True)
    status, _, said = say(stranger, WHOLE)
    assert (status, "Wait" in said) == (429, True)
    assert stranger.get("/people").url.path == "/enter"
    monkeypatch.setattr(entrance, "WAIT", 0.0)
    assert say(stranger, WHOLE)[0] == 303


def test_a_program_says_the_passphrase_with_every_request(stranger: TestClient) -> None:
    """Wrong ones wait as those of people do; what it opens is the API alone, and at the bench not even that."""

    def asked(said: str, path: str = "/api/blends") -> int:
        return stranger.get(path, headers={"authorization": f"Bearer {said}"}, follow_redirects=False).status_code

    assert [asked(WHOLE), asked(WHOLE), asked("high water at eight"), asked("")] == [200, 200, 401, 401]
    assert asked(WHOLE, "/people") == 303
    assert asked(BENCH) == 303
    for _ in range(entrance.FREE):
        asked("another guess of it")
    assert asked(WHOLE) == 200  # it was let in before
    assert asked(f" {WHOLE}") == 401  # said anew, it waits


@pytest.mark.parametrize("to", ["https://example.org/", "//example.org", "/\\example.org", "javascript:alert(1)"])
def test_one_is_led_nowhere_else(stranger: TestClient, to: str) -> None:
    assert say(stranger, WHOLE, to=to)[:2] == (303, "/")


def test_a_cookie_of_another_passphrase_or_of_ones_own_making_opens_nothing(
    guarded: FastAPI, stranger: TestClient, database_url: str
) -> None:
    say(stranger, WHOLE)
    cookie = stranger.cookies["uptide_entered"]
    engine = open_engine(database_url)
    with Session(engine) as store, store.begin():
        keep_passphrases(store, keep("high water at eight"), "")
    engine.dispose()
    with TestClient(create_app(database_url, ("testserver",))) as again:
        for value in (cookie, cookie[:-1] + "x", "WyJ3aG9sZSIsIiJd.x.y"):
            again.cookies.set("uptide_entered", value)
            assert again.get("/people").url.path == "/enter"


def test_without_a_passphrase_there_is_no_door(client: TestClient) -> None:
    assert client.get("/enter", follow_redirects=False).headers["location"] == "/"
    assert client.get("/people").url.path == "/people"
    assert "Go out" not in client.get("/").text


def test_a_passphrase_is_kept_as_no_text_and_a_short_one_not_at_all(kept: tuple[str, str]) -> None:
    once, again = keep(WHOLE), keep(WHOLE)
    assert once.startswith("$argon2id$")
    assert once != again  # salted
    assert Passphrases(once, "").level(WHOLE) == "whole"
    assert Passphrases(*kept).level(f" {WHOLE} ") == "whole"
    assert Passphrases("broken", "").level(WHOLE) is None
    assert not Passphrases("", kept[1])
    for said in ("short", "x" * 201, "half a \ud800 character"):
        with pytest.raises(UptideError):
            keep(said)


def test_only_so_many_addresses_are_remembered(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(entrance, "REMEMBERED", 2)
    attempts = Attempts()
    for address in ("a", "a", "a", "a", "a", "b", "c"):
        attempts.was_wrong(address)
    assert attempts.wait("a") == 0
    for _ in range(4):
        attempts.was_wrong("c")
    assert attempts.wait("c") > 0
    attempts.was_right("c")
    assert attempts.wait("c") == 0


def test_who_moves_something_stands_in_the_ledger(guarded: FastAPI, stranger: TestClient) -> None:
    say(stranger, BENCH, maker="Tove of the row")
    lot = {"code": "A-1", "ingredient": "jojoba", "bought_g": "500", "left_g": "500"}
    stranger.post("/shelf/lots", data=lot | {"token": token(stranger, "/shelf/lots/new")})
    moved = {"token": token(stranger, "/shelf/lots/A-1"), "what": "used", "amount": "40"}
    page = stranger.post("/shelf/lots/A-1/movements", data=moved).text

    assert "Tove of the row" in words(page)
    (back,) = set(re.findall(r"/movements/(\d+)/take-back", page)) - {"1"}
    undone = stranger.post(
        f"/shelf/lots/A-1/movements/{back}/take-back", data={"token": token(stranger, "/shelf/lots/A-1")}
    )
    assert words(undone.text).count("Tove of the row") == 2

"""Keeping: what stands on the board, what is noted at a bottle, and who has it."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from icalendar import Calendar
from sqlalchemy import update
from sqlalchemy.exc import OperationalError
from tests.web.conftest import bottle_of, saved, token, words
from tests.web.keeping.kept import board, card, filled, note
from tests.web.making.at_bench import begin, blend, put

from uptide.core.ingredients.lot import Lot
from uptide.core.months import say_day
from uptide.store.models import BottleRow
from uptide.store.shelf import save_lot
from uptide.workshop import bottles
from uptide.workshop.clock import today


def test_what_was_filled_stands_on_the_board_alike_in_one_line(client: TestClient) -> None:
    batch = filled(client)
    number = batch.rpartition("/")[2]
    page = board(client)
    assert f"Face oil 2 × 100 mL of batch {number}" in page
    assert "lot OL-1," in page
    assert re.search(r"\d+ things", page)
    first = f"/bottles/{number}-1"
    note(client, first, "moved", place="bathroom")
    page = board(client)
    assert f"100 mL of batch {number}, bathroom" in page
    assert f"100 mL of batch {number}, cool cupboard" in page


def test_a_board_shows_what_is_asked_for(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    note(client, f"/bottles/{number}-1", "moved", place="bathroom")
    note(client, f"/bottles/{number}-1", "opened")
    note(client, f"/bottles/{number}-1", "given", whom="Wren")
    for asked, shown, hidden in (
        ({"kind": "lot"}, "lot OL-1", "of batch"),
        ({"kind": "bottle"}, "of batch", "lot OL-1"),
        ({"place": "bathroom"}, "bathroom", "lot OL-1"),
        ({"open": "true"}, "open since", "lot OL-1"),
        ({"holder": "Wren"}, "with Wren", "lot OL-1"),
        ({"section": "later"}, "Only what ends in one stretch of time", "Within half a year"),
        ({"month": "2000-01"}, "Nothing stands here that is like this", "lot OL-1"),
    ):
        page = board(client, **asked)
        assert shown in page
        assert hidden not in page.partition("Show ")[2], asked


def test_off_ends_a_bottle_and_leads_to_its_siblings(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    page = note(client, f"/bottles/{number}-1", "smell", smell="off")
    assert "It smelled off: it is over" in page
    assert f"Look at its siblings, which come from the same lots: {number}-2" in page
    assert "off" in board(client).partition("Over, off, or to be tested")[2][:400]
    assert "It smelled off" not in words(client.get(f"/bottles/{number}-2").text)


def test_a_reading_counts_at_once_for_the_siblings_that_stand_alike(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    before = re.search(r"Band: (.*?months, half reach [\d.]+)", words(client.get(f"/bottles/{number}-2").text))
    note(client, f"/bottles/{number}-1", "titration", low="9")
    after = re.search(r"Band: (.*?months, half reach [\d.]+)", words(client.get(f"/bottles/{number}-2").text))
    assert before
    assert after
    assert before[1] != after[1]


def test_a_bottle_is_of_its_lots_as_they_were_when_it_was_made(client: TestClient, app: FastAPI) -> None:
    # What a lot aged on the shelf since then did not happen in the bottle.
    came, made = today() - timedelta(days=720), today() - timedelta(days=700)
    with app.state.sessions() as session, session.begin():
        save_lot(session, Lot("RO-1", "rosehip", received_on=came, opened_on=came, bought_g=500.0, left_g=500.0))
    batch = begin(client, blend(client, "100 g lot RO-1"), bottles="1 x 50 ml", made=made.isoformat())
    client.post(f"{batch}/weigh/begin", data={"token": token(client, f"{batch}/weigh"), "seq": "0"})
    poured = {"token": token(client, f"{batch}/weigh"), "seq": "1", "position": "0", "code": "RO-1", "how": "typed"}
    client.post(f"{batch}/pours", data=poured | {"amount": "50"})
    for step in ("mixed", "fills"):
        seq = re.search(r'name="seq" value="(\d+)"', client.get(batch).text)
        assert seq
        client.post(f"{batch}/{step}", data={"token": token(client, batch), "seq": seq[1]})
    page = words(client.get(f"/bottles/{batch.rpartition('/')[2]}-1").text)
    band = re.search(r"nine in ten reach ([\d.]+) months", page)
    assert band
    assert float(band[1]) > 2  # a lot that stood open for two years has none left


def test_a_bottle_goes_to_somebody_and_their_page_says_so(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    person = card(client)
    page = note(client, f"/bottles/{number}-1", "sold", wearer=person.rpartition("/")[2], price="12")
    assert "sold to Wren, for 12" in page
    has = words(client.get(person).text)
    assert f"Face oil, 100 mL {number}-1, until" in has
    note(client, f"/bottles/{number}-1", "reaction", wearer=person.rpartition("/")[2], words="red after an hour")
    stopped = words(client.get(f"/bottles/{number}-1").text)
    assert "Stop:" in stopped
    assert "Find out by a patch test, once healed" in stopped
    road = re.search(r'href="(/people/\d+\?blend=\d+)#tests"', client.get(f"/bottles/{number}-1").text)
    assert road
    assert re.search(r'value="1.1"\s+selected', client.get(road[1]).text)
    assert "A reaction on" in words(client.get(person).text)
    note(client, f"/bottles/{number}-1", "came back")
    assert "Nothing that was written down." in words(client.get(person).text)


def test_so_many_bottles_of_a_batch_go_at_once_and_no_more_than_are_here(client: TestClient) -> None:
    batch = filled(client, 3)
    form = {"token": token(client, batch), "how": "given", "count": "2", "whom": "The guesthouse"}
    page = words(client.post(f"{batch}/handouts", data=form).text)
    assert page.count("given to The guesthouse") == 2
    again = words(client.post(f"{batch}/handouts", data=form).text)  # the same form is one handing out
    assert again.count("given to The guesthouse") == 2
    refused = client.post(f"{batch}/handouts", data=form | {"token": token(client, batch)})
    assert refused.status_code == 422
    assert "2 cannot go: 1 of them are here." in words(refused.text)
    assert 'value="The guesthouse"' in refused.text
    nobody = client.post(f"{batch}/handouts", data={"token": token(client, batch), "count": "1"})
    assert "To whom?" in words(nobody.text)
    lent = client.post(f"{batch}/handouts", data=form | {"token": token(client, batch), "how": "lent", "count": "1"})
    assert "“lent” is none of" in words(lent.text)
    assert "2 × 100 mL" in board(client, holder="The guesthouse")


def test_a_wish_stands_beside_the_next_version(client: TestClient) -> None:
    place = saved(client, new="2 tbsp jojoba").split("?")[0]
    note(client, bottle_of(client, place), "wish for the next", whom="Wren", words="lighter, less scent")
    assert "Wren wished: lighter, less scent" in words(client.get(place).text)
    newer = {"token": token(client, place), "name": "Face oil", "typed": ["3 tbsp jojoba"], "answers": [""]}
    assert client.post(f"{place}/versions", data=newer | {"version": "1"}, follow_redirects=False).status_code == 303
    assert "Wren wished" not in words(client.get(place).text)


def test_looks_that_are_due_stand_in_the_day_until_somebody_looked(client: TestClient) -> None:
    place = saved(client, new="30 g jojoba").split("?")[0]
    made = today() - timedelta(days=8)
    bottle = bottle_of(client, place, made.isoformat())
    assert "smell and look" in words(client.get("/").text)
    assert "Look at it: smell and look" in words(client.get(bottle).text)
    assert "wants a look" in board(client, look="true")
    note(client, bottle, "given", whom="Wren")
    assert "smell and look" not in words(client.get("/").text)  # what somebody else has nobody looks at here
    note(client, bottle, "came back")
    assert "smell and look" in words(client.get("/").text)
    note(client, bottle, "looked at")
    assert "smell and look" not in words(client.get("/").text)
    assert "Nothing stands here" in board(client, look="true")


def test_the_day_names_six_that_want_a_look_and_leads_to_the_rest(client: TestClient) -> None:
    made = today() - timedelta(days=8)
    for count in range(8):
        bottle_of(client, saved(client, new="30 g jojoba", name=f"Oil {count}").split("?")[0], made.isoformat())
    page = client.get("/").text
    assert words(page).count("smell and look") == 6
    assert 'href="/keeping?look=true"' in page


def test_the_quick_line_answers_from_the_board(client: TestClient) -> None:
    put(client, "OL-1", "olive", 100, 20)
    answer = words(client.get("/quick?q=what should I use up").text)
    assert "1 thing" in answer
    assert f"Olive oil (virgin) , lot OL-1, 100 g: {say_day(today() + timedelta(days=20))}" in answer
    assert "Nothing" in words(client.get("/quick?q=what is open").text)
    assert "/keeping?soon=true" in client.get("/quick?q=what should I use up").text


def test_the_calendar_is_a_file_and_a_feed_at_a_secret_address_that_can_be_renewed(client: TestClient) -> None:
    place = saved(client, new="30 g jojoba").split("?")[0]
    bottle_of(client, place, (today() - timedelta(days=8)).isoformat())
    put(client, "OL-1", "olive", 100, 20)
    assert client.get("/keeping/feed/guessed.ics").status_code == 404
    assert "Give it an address" in words(client.get("/keeping/calendar").text)
    renew = {"token": token(client, "/keeping/calendar")}
    first = re.search(r"/keeping/feed/([\w-]+)\.ics", client.post("/keeping/calendar/renew", data=renew).text)
    assert first
    calendar = Calendar.from_ical(client.get(first[0]).text)
    said = [str(each["summary"]) for each in calendar.walk("VEVENT")]
    assert any(each.startswith("Look at Face oil") for each in said)
    assert any(each.startswith("Olive oil (virgin) ends") for each in said)
    assert client.get("/keeping/calendar.ics").headers["content-type"].startswith("text/calendar")
    renew = {"token": token(client, "/keeping/calendar")}
    second = re.search(r"/keeping/feed/([\w-]+)\.ics", client.post("/keeping/calendar/renew", data=renew).text)
    assert second
    assert second[0] != first[0]
    assert client.get(first[0]).status_code == 404
    assert client.get("/keeping/feed/.ics").status_code == 404


def test_use_it_up_names_own_blends_and_what_it_is_worth_to_act(client: TestClient) -> None:
    put(client, "RO-1", "rosehip", 100, 300)
    put(client, "AR-1", "argan", 50, 300)
    version = blend(client, "25 g rosehip\n75 g jojoba")
    page = client.get("/keeping/use-up").text
    assert "25 % of it: 400 g use it up" in words(page)
    assert f'href="{version}/make?' in page
    # 400 g of 25 % rosehip (0.926 g/mL) in jojoba (0.864): 456 mL of its own density, by hand.
    bottles = re.search(r"bottles=1\+x\+(\d+)\+ml", page)
    assert bottles is not None
    assert int(bottles[1]) == round(400 * (0.25 / 0.926 + 0.75 / 0.8641))
    assert re.search(r"Move it to the fridge: about \d+\.\d months more", words(page))
    assert "Add 0.2 % of Mixed tocopherols" in words(page)
    assert "1.00 GBP are thrown out" in words(page)
    assert "No blend of your own uses it. Start one with all of it" in words(page)


def test_what_is_seen_is_noted_on_the_board_and_leads_back_to_it(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    note(client, f"/bottles/{number}-1", "moved", place="fridge")
    page = client.get("/keeping?place=fridge").text
    assert 'name="back" value="/keeping?place=fridge"' in " ".join(page.split())
    form = {"token": token(client, "/keeping"), "on": today().isoformat(), "back": "/keeping?place=fridge"}
    answer = client.post(f"/bottles/{number}-1/notes", data=form | {"said": "smell:off"}, follow_redirects=False)
    assert answer.headers["location"] == "/keeping?place=fridge"
    assert "off" in board(client, place="fridge")
    form |= {"token": token(client, "/keeping"), "back": "https://elsewhere.example"}
    away = client.post(f"/bottles/{number}-2/notes", data=form | {"said": "opened:"}, follow_redirects=False)
    assert away.headers["location"].startswith("/bottles/")
    assert "open since" in board(client, kind="bottle")


def test_what_an_older_program_left_is_worked_out_at_the_first_look(app: FastAPI, client: TestClient) -> None:
    place = saved(client, new="30 g jojoba").split("?")[0]
    for _ in range(7):
        bottle_of(client, place)
    with app.state.sessions() as session, session.begin():
        session.execute(update(BottleRow).values(worked_by="", ends_on=None, turns_on=None))
    page = board(client)
    assert "Nobody knows until when" not in page
    assert re.search(r"7 things", page)


def test_a_look_at_the_board_while_somebody_writes_shows_what_is_known(
    app: FastAPI, client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    bottle_of(client, saved(client, new="30 g jojoba").split("?")[0])
    with app.state.sessions() as session, session.begin():
        session.execute(update(BottleRow).values(worked_by="another"))

    def locked(*_: object) -> None:
        raise OperationalError("UPDATE", {}, Exception("database is locked"))

    monkeypatch.setattr(bottles, "keep_worked", locked)
    assert "1 thing" in board(client)
    assert client.get("/bottles/20261101-0-1").status_code == 200


def test_a_bottle_that_was_thrown_out_leaves_its_siblings_what_their_readings_say(client: TestClient) -> None:
    put(client, "RO-1", "rosehip", 500)
    number = filled(client, 3, "100 g rosehip").rpartition("/")[2]
    until = rf"(\d) × 100 mL of batch {number}, cool cupboard note {number}-\d: .*? used up (\d+ \w+ \d+)"
    before = re.search(until, board(client, kind="bottle"))
    note(client, f"/bottles/{number}-3", "titration", low="6")
    read = re.search(until, board(client, kind="bottle"))
    note(client, f"/bottles/{number}-1", "thrown out", words="it fell")
    left = re.search(until, board(client, kind="bottle"))
    assert before
    assert read
    assert left
    assert (before[1], read[1], left[1]) == ("3", "3", "2")
    assert left[2] == read[2] != before[2]

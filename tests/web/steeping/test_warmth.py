"""How warm a jar is: typed by hand, or kept by a thermometer that stands in it."""

from __future__ import annotations

import time
from datetime import timedelta

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import token, words
from tests.web.steeping.test_jars import begin

from uptide.core.errors import UptideError
from uptide.devices.port import Port, Seen
from uptide.store.readings import put_thermometer, readings_of, thermometer_stands_in
from uptide.web.app import create_app
from uptide.workshop.clock import today
from uptide.workshop.desk import Desk
from uptide.workshop.instruments import Instruments
from uptide.workshop.thermometer import Thermometer


def read(client: TestClient, jar: str, celsius: str, at: str) -> str:
    form = {"token": token(client, jar), "celsius": celsius, "at": at}
    return client.post(f"{jar}/readings", data=form).text


def yesterday(time_of_day: str) -> str:
    return f"{(today() - timedelta(days=1)).isoformat()}T{time_of_day}"


def test_typed_readings_are_the_heat_that_counts(client: TestClient) -> None:
    jar = begin(client, method="warm-bath", oil="olive oil")
    read(client, jar, "48", yesterday("09:00"))
    read(client, jar, "52", yesterday("09:10"))
    page = words(read(client, jar, "66,5", yesterday("11:10")))

    assert "66.5 °C" in page
    assert "60 °C are the most: turn the heat off" in page
    assert "Not read 2.0 h, counted as warm as the hotter end" in page
    assert "of the oil’s life by what was read; the plan was" in page

    undone = client.post(f"{jar}/readings/undo", data={"token": token(client, jar)})
    assert "66.5 °C" not in words(undone.text)
    assert "Last read 52.0 °C" in words(undone.text)


@pytest.mark.parametrize(
    ("celsius", "at", "why"),
    [
        ("hot", "", "“hot” is not a temperature in °C"),
        ("450", "", "450 °C is no temperature of a jar"),
        ("50", "soon", "“soon” is no time"),
        ("50", "2001-01-01T10:00", "is no time of this jar"),
        ("50", "2101-01-01T10:00", "is no time of this jar"),
    ],
)
def test_what_cannot_be_read_stands_beside_its_field(client: TestClient, celsius: str, at: str, why: str) -> None:
    jar = begin(client)
    page = read(client, jar, celsius, at)

    assert why in words(page)
    assert f'value="{celsius}"' in page
    assert "Last read" not in page


class Still(Port):
    """An instrument that says one thing."""

    def __init__(self, value: float, unit: str = "C", age: float = 0.0) -> None:
        super().__init__("/dev/ttyUSB0")
        self.said = Seen(value, unit, time.monotonic() - age)

    def newest(self) -> Seen | None:
        return self.said

    def age(self) -> float | None:
        return time.monotonic() - self.said.at


def test_a_thermometer_keeps_what_it_says_with_the_jar_it_stands_in(client: TestClient, app: FastAPI) -> None:
    jar = int(begin(client).rsplit("/", 1)[1])
    sessions = app.state.sessions
    thermometer = Thermometer(Still(49.5), sessions)
    assert not thermometer.keep()  # it stands in no jar

    with sessions() as session, session.begin():
        put_thermometer(session, jar)
    assert thermometer.keep()
    assert not thermometer.keep()  # it says the same
    assert not Thermometer(Still(49.5, age=12.0), sessions).keep()
    assert not Thermometer(Still(120.0, unit="F"), sessions).keep()
    with sessions() as session:
        assert [each.celsius for each in readings_of(session, jar)] == [49.5]
    old, wrong = Thermometer(Still(49.5, age=12.0), sessions).now(), Thermometer(Still(120.0, unit="F"), sessions).now()
    assert (old.celsius, round(old.silent or 0)) == (None, 12)
    assert "it measures in “F”" in wrong.fault


def test_it_is_put_in_and_taken_out(client: TestClient, app: FastAPI) -> None:
    jar, other = begin(client), begin(client)
    assert "The thermometer stands in this jar" not in client.get(jar).text
    app.state.desk = Desk(thermometer=Thermometer(Still(49.5), app.state.sessions))
    for place, form in ((jar, {"into": "true"}), (other, {}), (jar, {})):
        client.post(f"{place}/thermometer", data={"token": token(client, jar), **form})
        with app.state.sessions() as session:
            stands = thermometer_stands_in(session)
        assert stands == (int(jar.rsplit("/", 1)[1]) if form or place == other else None)


def test_without_a_thermometer_nothing_is_followed(client: TestClient) -> None:
    assert client.get(f"{begin(client)}/warmth").text == ""


def test_what_is_followed_comes_as_events(client: TestClient, app: FastAPI) -> None:
    jar = begin(client)
    app.state.desk = Desk(thermometer=Thermometer(Still(63.0), app.state.sessions))
    assert "stands in this jar no more" in client.get(f"{jar}/warmth").text


def test_an_address_that_is_none_is_refused_at_the_start(tmp_path: object) -> None:
    with pytest.raises(UptideError, match="is no instrument"):
        create_app(f"sqlite:///{tmp_path}/x.db", instruments=Instruments(thermometer="spy://x"))


def test_weeks_on_a_shelf_are_not_a_reading_a_minute(client: TestClient, app: FastAPI) -> None:
    jar, other = (int(begin(client).rsplit("/", 1)[1]) for _ in range(2))
    sessions, still = app.state.sessions, Still(20.0)
    with sessions() as session, session.begin():
        put_thermometer(session, jar)
    thermometer = Thermometer(still, sessions)
    said = [(20.0, True), (20.4, False), (20.6, True), (20.2, False), (20.1, True)]
    for celsius, kept in said:  # half a degree from the last that was kept
        still.said = Seen(celsius, "C", time.monotonic())
        assert thermometer.keep() is kept, celsius
    with sessions() as session, session.begin():
        put_thermometer(session, other)
    assert thermometer.keep()  # another jar

    quick = Thermometer(still, sessions, speed=3600.0)  # five minutes of the jar in a twelfth of a second
    assert quick.keep()
    time.sleep(0.1)
    still.said = Seen(20.1, "C", time.monotonic())
    assert quick.keep()


def test_it_is_taken_out_of_a_jar_that_has_ended(client: TestClient, app: FastAPI) -> None:
    for end in ("binned", "strain"):
        jar = begin(client)
        with app.state.sessions() as session, session.begin():
            put_thermometer(session, int(jar.rsplit("/", 1)[1]))
        if end == "strain":
            form = {"token": token(client, f"{jar}/strain"), "out": "180", "how": "pressed", "code": "J-1"}
            client.post(f"{jar}/strain", data=form)
        else:
            client.post(f"{jar}/notes", data={"token": token(client, jar), "kind": end})
        with app.state.sessions() as session:
            assert thermometer_stands_in(session) is None

"""How warm a jar is, in the words and the picture of its page."""

from __future__ import annotations

from datetime import datetime

from fastapi import Request

from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.judging import say_share
from uptide.core.infusion.temperature import Reading, TemperatureLog
from uptide.store.jars import Jar
from uptide.web.base.forms import TokenForm
from uptide.web.drawing.view import View
from uptide.web.drawing.warmth import WarmthView, draw_warmth

WHEN = "%Y-%m-%dT%H:%M"  # of a field for day and time


class ReadingForm(TokenForm):
    """A reading as it was typed, at a time by the clock on the wall."""

    celsius: str = ""
    at: str = ""


class JarWarmthView(View):
    """What is known of the warmth of a jar; `has` is whether a thermometer is there, `here` whether it stands in it."""

    has: bool
    here: bool
    picture: WarmthView | None
    said: tuple[tuple[str, str], ...]
    grade: str
    warning: str
    typed: bool
    watched: bool  # it is warmed, and somebody stays with it
    now: str  # for the field of the time


def warmth_of(jar: Jar, under_way: JarUnderWay | None, request: Request, stands_in: int | None) -> JarWarmthView:
    """The warmth of a jar in the words of its page."""
    log = under_way.log if under_way is not None else TemperatureLog(jar.readings)
    latest = log.latest
    says = log.says(latest.celsius) if latest is not None else None
    return JarWarmthView(
        has=request.app.state.desk.warmth() is not None,
        here=stands_in == jar.id,
        picture=draw_warmth(log),
        said=tuple(_said(log, under_way)),
        grade=says[0].value if says else "",
        warning=says[1] if says else "",
        watched=under_way is not None and under_way.plan.method.watched and under_way.ended is None,
        typed=any(reading.typed for reading in jar.readings),
        now=datetime.now().astimezone().strftime(WHEN),
    )


def _said(log: TemperatureLog, under_way: JarUnderWay | None) -> list[tuple[str, str]]:
    if log.latest is None or log.hottest is None:
        return []
    said = [("Last read", f"{log.latest.celsius:.1f} °C, {_when(log.latest)}")]
    said.append(("Hottest", f"{log.hottest.celsius:.1f} °C, {_when(log.hottest)}; {log.allowed:.0f} °C are the most"))
    plan = under_way.plan if under_way is not None else None
    if plan is not None and log.heat and plan.life_by_method:
        spent, planned = say_share(min(1.0, plan.spends(log.heat))), say_share(min(1.0, plan.life_spent or 0.0))
        said.append(("It has cost", f"{spent} of the oil’s life by what was read; the plan was {planned}"))
    if log.gaps:
        hours = sum((b.at - a.at).total_seconds() for a, b in log.gaps) / 3600
        said.append(("Not read", f"{hours:.1f} h, counted as warm as the hotter end"))
    return said


def _when(reading: Reading) -> str:
    typed = ", typed" if reading.typed else ""
    return f"{reading.at.astimezone():%d %b %H:%M}{typed}"

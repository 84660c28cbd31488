"""The chart of oils as a picture: smudges, dots, soundings of iodine value, the acids' directions, and labels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from markupsafe import Markup

from uptide.catalogue.catalogue import Catalogue
from uptide.core.figures.finding import AcidPart
from uptide.core.figures.oil_profile import OilProfile, oil_profile
from uptide.core.finder.chart import OilChart, Place, plane_of
from uptide.core.lipids.draws import draws_of
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.web.base.pages import number, piece
from uptide.web.drawing.hull import hull
from uptide.web.drawing.ribbon import draw_ribbon
from uptide.web.drawing.view import View
from uptide.workshop.charting import acids_charted, fitted_chart
from uptide.workshop.shelf import Shelf

WIDTH, HEIGHT, EDGE = 900.0, 640.0, 46.0
ZOOMS = (1, 2, 4)
LETTER, LINE = 5.9, 13.0  # user units that a letter and a line of a label need at zoom 1
DOT = 7.0
ACIDS_SHOWN = 7
SOUNDINGS = (20, 60, 100, 140, 180)  # iodine values at which a line is drawn
SMALLEST_SMUDGE = 5.0  # user units: a smaller one would hide under its dot


class Dot(View):
    """One oil on the chart, with the oil that lies next to it in each direction."""

    key: str
    name: str
    x: float
    y: float
    wide: float
    narrow: float
    turn: float
    on_hand: bool
    found: bool
    marked: bool
    to: Mapping[str, str]  # left, right, up, down: key of the next oil that way


class Label(View):
    """A name on the chart, as it stands at one zoom."""

    x: float
    y: float
    anchor: str
    words: str
    strong: bool
    key: str


class Corner(View):
    """Where an oil of nothing but one acid would lie, or as near to it as the picture goes."""

    x: float
    y: float
    label_y: float
    words: str
    anchor: str
    inside: bool


class About(View):
    """What is said of an oil beside the chart."""

    key: str
    name: str
    ribbon: Markup
    facts: tuple[tuple[str, str], ...]
    on_hand: bool
    marked: bool


class Reach(View):
    """A blend on the chart: where it lies, and the polygon of what its oils can reach."""

    name: str
    x: float
    y: float
    points: str


class ChartView(View):
    """Everything the chart shows."""

    width: float = WIDTH
    height: float = HEIGHT
    dots: tuple[Dot, ...]
    labels: tuple[tuple[int, tuple[Label, ...]], ...]
    corners: tuple[Corner, ...]
    middle: tuple[float, float]
    soundings: tuple[tuple[float, float, float, float, str], ...]
    fit: str
    about: tuple[About, ...]
    elsewhere: tuple[tuple[str, str], ...]
    first: str
    reach: Reach | None = None
    shelf: str = ""  # the corners of what the oils on hand can reach


@dataclass(frozen=True, slots=True)
class Frame:
    """From places on the chart to user units of the picture."""

    left: float
    bottom: float
    scale: float

    def x(self, value: float) -> float:
        """Across."""
        return EDGE + (value - self.left) * self.scale

    def y(self, value: float) -> float:
        """Down, as pictures count."""
        return HEIGHT - EDGE - (value - self.bottom) * self.scale

    def place(self, x: float, y: float) -> tuple[float, float]:
        """The place on the chart that stands at a point of the picture."""
        return self.left + (x - EDGE) / self.scale, self.bottom + (HEIGHT - EDGE - y) / self.scale


@lru_cache(maxsize=4)
def _chart(oils: tuple[OilProfile, ...], acids: tuple[FattyAcid, ...]) -> tuple[OilChart, dict[str, Place], Frame]:
    """The projection with every oil's place."""
    chart = fitted_chart(oils, acids)
    places = {p.key: _place(chart, p) for p in oils if p.is_charted}
    xs, ys = [p.x for p in places.values()], [p.y for p in places.values()]
    scale = min((WIDTH - 2 * EDGE) / (max(xs) - min(xs)), (HEIGHT - 2 * EDGE) / (max(ys) - min(ys)))
    spare_x = (WIDTH - 2 * EDGE) / scale - (max(xs) - min(xs))
    spare_y = (HEIGHT - 2 * EDGE) / scale - (max(ys) - min(ys))
    return chart, places, Frame(min(xs) - spare_x / 2, min(ys) - spare_y / 2, scale)


def _place(chart: OilChart, p: OilProfile) -> Place:
    draws = draws_of(p.item.lipid) if p.item.lipid else None
    if draws is None:
        return Place(*chart.place(p.shares))
    return chart.spread(p.shares, [acid.code for acid in draws.acids], draws.shares)


def frame_of(shelf: Shelf, portraits: tuple[OilProfile, ...]) -> Frame:
    """Where the places of a shelf's chart stand in the picture."""
    return _chart(portraits, acids_charted(shelf.facts))[2]


@lru_cache(maxsize=32)  # the same for every look at the same question
def chart_view(
    shelf: Shelf,
    portraits: tuple[OilProfile, ...],
    found: frozenset[str],
    marked: tuple[str, ...],
    blend: tuple[str, tuple[AcidPart, ...]] | None = None,
) -> ChartView:
    """Lay out the chart; oils that were not found stay on it, faint."""
    oils = {p.key: p for p in portraits}
    acids = acids_charted(shelf.facts)
    chart, places, frame = _chart(portraits, acids)
    spots = {key: (frame.x(place.x), frame.y(place.y)) for key, place in places.items()}
    ways = _ways(spots)
    dots = tuple(
        Dot(
            key=key,
            name=oils[key].item.name,
            x=spots[key][0],
            y=spots[key][1],
            wide=max(place.wide * frame.scale, SMALLEST_SMUDGE),
            narrow=max(place.narrow * frame.scale, SMALLEST_SMUDGE / 2),
            turn=-place.turn,
            on_hand=key in shelf.on_hand,
            found=key in found,
            marked=key in marked,
            to=ways[key],
        )
        for key, place in places.items()
    )
    corners = _corners(chart, portraits, acids, frame)
    reach = _reach(blend, chart, frame) if blend and blend[1] else None
    order = sorted(dots, key=lambda dot: (not dot.marked, not (dot.found and dot.on_hand), not dot.found, dot.name))
    soundings, fit = _soundings(portraits, places, frame)
    return ChartView(
        dots=dots,
        labels=tuple((zoom, tuple(_labels(order, zoom, corners, reach))) for zoom in ZOOMS),
        corners=corners,
        middle=(frame.x(0.0), frame.y(0.0)),
        soundings=soundings,
        fit=fit,
        about=tuple(_about(oils[dot.key], dot) for dot in dots),
        elsewhere=tuple((p.key, p.item.name) for p in portraits if not p.is_charted),
        first=order[0].key if order else "",
        reach=reach,
        shelf=_corners_of(spot for key, spot in spots.items() if key in shelf.on_hand),
    )


def _corners_of(spots: Iterable[tuple[float, float]]) -> str:
    """The polygon around places, as a picture has it."""
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in hull(tuple(spots)))


def _ways(spots: Mapping[str, tuple[float, float]]) -> dict[str, dict[str, str]]:
    """The next oil in each direction: the nearest within a quarter turn, off the line counting double."""
    found: dict[str, dict[str, str]] = {}
    for key, (x, y) in spots.items():
        best: dict[str, tuple[float, str]] = {}
        for other, (a, b) in spots.items():
            across, down = a - x, b - y
            if other == key or (across == 0 and down == 0):
                continue
            way = ("right" if across > 0 else "left") if abs(across) >= abs(down) else ("down" if down > 0 else "up")
            along, off = (abs(across), abs(down)) if way in ("left", "right") else (abs(down), abs(across))
            distance = along + 2 * off
            if way not in best or distance < best[way][0]:
                best[way] = (distance, other)
        found[key] = {way: other for way, (_, other) in best.items()}
    return found


def _labels(order: Sequence[Dot], zoom: int, corners: Sequence[Corner], reach: Reach | None) -> Iterable[Label]:
    """Names beside their dots wherever they find room; the marked and those on hand choose first."""
    names = Counter(_short(dot.name) for dot in order)
    taken = [
        (dot.x - DOT / zoom / 2, dot.y - DOT / zoom / 2, dot.x + DOT / zoom / 2, dot.y + DOT / zoom / 2)
        for dot in order
    ]
    gap, line = 7.0 / zoom, LINE / zoom
    for corner in corners:
        size = LETTER * 1.1 * len(corner.words) / zoom
        left = corner.x - {"start": 0.0, "end": size, "middle": size / 2}[corner.anchor]
        taken.append((left, corner.label_y - line, left + size, corner.label_y + line * 0.2))
    if reach is not None:
        taken.append(
            (reach.x - 8 / zoom, reach.y - line, reach.x + LETTER * 1.1 * len(reach.name) / zoom, reach.y + line)
        )
    for dot in order:
        if not dot.found:
            continue
        words = _short(dot.name) if names[_short(dot.name)] == 1 else dot.name.replace(" oil", "")
        width = LETTER * len(words) / zoom * (1.06 if dot.on_hand else 1.0)
        for anchor, x, y in (
            ("start", dot.x + gap, dot.y + line * 0.32),
            ("end", dot.x - gap, dot.y + line * 0.32),
            ("middle", dot.x, dot.y - gap),
            ("middle", dot.x, dot.y + gap + line * 0.7),
            ("start", dot.x + gap * 0.7, dot.y - gap * 0.7),
            ("start", dot.x + gap * 0.7, dot.y + gap + line * 0.5),
            ("end", dot.x - gap * 0.7, dot.y - gap * 0.7),
            ("end", dot.x - gap * 0.7, dot.y + gap + line * 0.5),
        ):
            left = x if anchor == "start" else x - width if anchor == "end" else x - width / 2
            box = (left, y - line * 0.8, left + width, y + line * 0.2)
            inside = box[0] > 0 and box[2] < WIDTH and box[1] > 0 and box[3] < HEIGHT
            if inside and not any(_overlap(box, other) for other in taken):
                taken.append(box)
                yield Label(x=x, y=y, anchor=anchor, words=words, strong=dot.on_hand, key=dot.key)
                break


def _short(name: str) -> str:
    """The name as it stands on the chart: without what every oil is called."""
    plain = name.split(" (")[0]
    return plain.removesuffix(" seed oil").removesuffix(" oil")


def _overlap(one: tuple[float, float, float, float], other: tuple[float, float, float, float]) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def _corners(
    chart: OilChart, oils: tuple[OilProfile, ...], acids: tuple[FattyAcid, ...], frame: Frame
) -> tuple[Corner, ...]:
    """The acids that move oils most: where each would lie alone, or the edge on the way there."""
    names = {acid.code: acid.common_name.split(" (")[0] for acid in acids}
    corners: list[Corner] = []
    middle_x, middle_y = frame.x(0.0), frame.y(0.0)
    for code in chart.longest(ACIDS_SHOWN, (p.shares for p in oils if p.is_charted)):
        x, y = (frame.x(chart.acid(code)[0]), frame.y(chart.acid(code)[1]))
        part = min([1.0, *_edges(middle_x, x, WIDTH, 14.0), *_edges(middle_y, y, HEIGHT, 18.0)])
        at = (middle_x + part * (x - middle_x), middle_y + part * (y - middle_y))
        if any(abs(at[0] - c.x) < 70 and abs(at[1] - c.y) < 14 for c in corners):
            continue
        anchor = "end" if at[0] > WIDTH * 0.72 else "start" if at[0] < WIDTH * 0.28 else "middle"
        # Above its end at the lower rim, where the soundings have their numbers.
        label_y = at[1] + 14 if at[1] >= HEIGHT / 2 and part == 1.0 else at[1] - 6
        corners.append(Corner(x=at[0], y=at[1], label_y=label_y, words=names[code], anchor=anchor, inside=part == 1.0))
    return tuple(corners)


def _edges(start: float, end: float, size: float, rim: float) -> list[float]:
    """Which part of the way from start to end is still inside the picture."""
    if end > size - rim:
        return [(size - rim - start) / (end - start)]
    return [(rim - start) / (end - start)] if end < rim else []


def _soundings(
    oils: tuple[OilProfile, ...], places: Mapping[str, Place], frame: Frame
) -> tuple[tuple[tuple[float, float, float, float, str], ...], str]:
    """Lines of equal iodine value: the plane that fits the oils best, and how well it does."""
    known = [(places[p.key], p.iodine) for p in oils if p.key in places and p.iodine is not None and p.item.lipid]
    plane = plane_of([place for place, _ in known], [iodine for _, iodine in known])
    lines = []
    for value in SOUNDINGS:
        ends = []
        for down in (0.0, HEIGHT):
            y = frame.bottom + (HEIGHT - EDGE - down) / frame.scale
            ends += [frame.x(plane.x_of(value, y)), down]
        lines.append((ends[0], ends[1], ends[2], ends[3], str(value)))
    return tuple(lines), f"{100 * plane.explained:.0f} %"


def _about(p: OilProfile, dot: Dot) -> About:
    return About(
        key=p.key,
        name=p.item.name,
        ribbon=piece(
            "drawing/_ribbon.html", "mini", draw_ribbon(p.acids, strips=False), f"Fatty acids of {p.item.name}"
        ),
        facts=(
            ("linoleic", f"{number(p.linoleic, 0)} %"),
            ("oleic", f"{number(p.oleic, 0)} %"),
            ("saturated", f"{number(p.saturated, 0)} %"),
            ("iodine value", number(p.iodine, 0)),
            ("keeps", f"{number(p.keeps, 0)} months" if p.keeps is not None else "unknown"),
            ("feel", p.feel_word),
            ("clog rating", number(p.comedogenicity, 0)),
        ),
        on_hand=dot.on_hand,
        marked=dot.marked,
    )


class BlendOnChart(View):
    """The chart as it stands beside a blend: every oil as a dot, the blend’s own by name, and where the blend lies."""

    width: float = WIDTH
    height: float = HEIGHT
    dots: tuple[tuple[float, float], ...]
    own: tuple[Label, ...]
    reach: Reach


@lru_cache(maxsize=64)
def blend_on_chart(acids: tuple[AcidPart, ...], facts: Catalogue) -> BlendOnChart | None:
    """A blend among all oils; None when it has no acids."""
    if not acids:
        return None
    profiles = tuple(oil_profile(item) for item in facts.ingredients.values() if item.is_fatty and not item.lot)
    chart, places, frame = _chart(profiles, acids_charted(facts))
    items = {item.base_key: item for part in acids for item, _ in part.parts}
    own = []
    for item in items.values():
        x, y = chart.place(oil_profile(item).shares)
        at, anchor = frame.x(x), "end" if frame.x(x) > WIDTH / 2 else "start"
        own.append(Label(x=at, y=frame.y(y), anchor=anchor, words=_short(item.name), strong=False, key=item.key))
    return BlendOnChart(
        dots=tuple((frame.x(place.x), frame.y(place.y)) for place in places.values()),
        own=tuple(own),
        reach=_reach(("", acids), chart, frame),
    )


def _reach(blend: tuple[str, tuple[AcidPart, ...]], chart: OilChart, frame: Frame) -> Reach:
    """Where a blend lies, and the polygon around the places of its oils."""
    name, acids = blend
    shares = {part.acid.code: part.percent / 100 for part in acids}
    items = {item.key: item for part in acids for item, _ in part.parts}
    places = [chart.place(oil_profile(item).shares) for item in items.values()]
    x, y = chart.place(shares)
    return Reach(name=name, x=frame.x(x), y=frame.y(y), points=_corners_of((frame.x(a), frame.y(b)) for a, b in places))

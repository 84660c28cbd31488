"""Where the lines of a picture go: the ribbon of fatty acids and the bottle in section, in user units of their SVG."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from uptide.core.blend.assessment import AcidPart, Bottle
from uptide.core.physics.bottle import HEAD_ROOM, KINDS

RIBBON_WIDTH, MARGIN = 860.0, 170.0
BAND_HEIGHT, STRIP_HEIGHT, STRIP_GAP, AXIS = 34.0, 13.0, 4.0, 18.0
NARROWEST_LABEL, NARROWEST_CODE = 92.0, 38.0  # user units that a name with its percent, or a code, needs
BOTTLE_HEIGHT, BOTTLE_WIDTH, LABEL_GAP = 300.0, 400.0, 17.0
NECK = 0.5  # of the diameter: height of shoulder and neck as drawn; below the shoulder the section is to scale


class View(BaseModel):
    """Something a template shows: immutable and already worked out."""

    model_config = ConfigDict(frozen=True, arbitrary_types_allowed=True)


class Segment(View):
    """One acid's part of the band."""

    x: float
    width: float
    code: str
    name: str
    percent: float
    depth: int
    hatched: bool
    label: str
    title: str


class Strip(View):
    """One oil's line under the band: the pieces of each acid that it brings."""

    name: str
    y: float
    percent: float
    pieces: tuple[tuple[float, float, int], ...]  # x, width, depth


class RibbonView(View):
    """The blend's fatty acids as a band, with a strip for each oil below it."""

    width: float
    height: float
    margin: float
    band_height: float
    strip_height: float
    segments: tuple[Segment, ...]
    strips: tuple[Strip, ...]
    ticks: tuple[tuple[float, str], ...]


def draw_ribbon(acids: tuple[AcidPart, ...], *, strips: bool = True) -> RibbonView | None:
    """Lay out the ribbon; None when there are no fatty acids to show."""
    if not acids:
        return None
    scale = RIBBON_WIDTH / 100
    segments: list[Segment] = []
    pieces: dict[str, list[tuple[float, float, int]]] = {}
    names: dict[str, tuple[str, float]] = {}
    x = MARGIN
    for part in acids:
        width = part.percent * scale
        depth = min(part.acid.double_bonds, 4)
        name = f"{part.acid.common_name} {part.percent:.1f} %"
        label = name if width >= NARROWEST_LABEL else part.acid.code if width >= NARROWEST_CODE else ""
        bringers = ", ".join(f"{item.name} {share:.1f}" for item, share in part.parts)
        segments.append(
            Segment(
                x=x,
                width=width,
                code=part.acid.code,
                name=part.acid.common_name,
                percent=part.percent,
                depth=depth,
                hatched=part.acid.conjugated or part.acid.hydroxyl_groups > 0,
                label=label,
                title=f"{part.acid.common_name} ({part.acid.code}) {part.percent:.1f} % of fatty acids: {bringers}",
            )
        )
        at = x
        for item, share in part.parts:
            pieces.setdefault(item.key, []).append((at, share * scale, depth))
            before = names.get(item.key, (item.name, 0.0))[1]
            names[item.key] = (item.name, before + share)
            at += share * scale
        x += width
    lines = tuple(
        Strip(
            name=names[key][0],
            y=AXIS + BAND_HEIGHT + 8 + place * (STRIP_HEIGHT + STRIP_GAP),
            percent=names[key][1],
            pieces=tuple(found),
        )
        for place, (key, found) in enumerate(sorted(pieces.items(), key=lambda pair: -names[pair[0]][1]))
    )
    shown = lines if strips else ()
    return RibbonView(
        width=MARGIN + RIBBON_WIDTH + 10,
        height=AXIS + BAND_HEIGHT + 10 + len(shown) * (STRIP_HEIGHT + STRIP_GAP),
        margin=MARGIN,
        band_height=BAND_HEIGHT,
        strip_height=STRIP_HEIGHT,
        segments=tuple(segments),
        strips=shown,
        ticks=tuple((MARGIN + RIBBON_WIDTH * step / 10, str(step * 10)) for step in range(11)),
    )


class Layer(View):
    """One pour in the bottle, with its fill-to mark."""

    name: str
    colour: str
    y: float
    height: float
    mark_y: float
    label_y: float
    label: str
    title: str


class BottleView(View):
    """A container in section, to scale."""

    width: float
    height: float
    outline: str
    left: float
    right: float
    shoulder_y: float
    layers: tuple[Layer, ...]
    graduations: tuple[tuple[float, str], ...]
    caption: str
    warning: str


def draw_bottle(bottle: Bottle | None) -> BottleView | None:
    """Lay out the bottle with one layer a pour; None when no container was chosen."""
    if bottle is None:
        return None
    container = bottle.container
    kind = KINDS[container.kind]
    neck_mm = NECK * container.diameter_mm
    scale = min((BOTTLE_HEIGHT - 24) / (container.shoulder_mm + neck_mm), 124 / container.diameter_mm)
    half, neck = container.diameter_mm * scale / 2, container.diameter_mm * kind.neck * scale / 2
    base = BOTTLE_HEIGHT - 8
    centre = 46 + half
    shoulder_y = base - container.shoulder_mm * scale
    top = shoulder_y - neck_mm * scale
    bend = min(neck_mm * scale * 0.55, half - neck + 4)
    outline = (
        f"M{centre - half:.1f},{base:.1f} L{centre - half:.1f},{shoulder_y:.1f} "
        f"Q{centre - half:.1f},{shoulder_y - bend:.1f} {centre - neck:.1f},{shoulder_y - bend:.1f} "
        f"L{centre - neck:.1f},{top:.1f} L{centre + neck:.1f},{top:.1f} L{centre + neck:.1f},{shoulder_y - bend:.1f} "
        f"Q{centre + half:.1f},{shoulder_y - bend:.1f} {centre + half:.1f},{shoulder_y:.1f} "
        f"L{centre + half:.1f},{base:.1f} Z"
    )
    layers = []
    for pour, label_y in zip(
        bottle.pours, _spread([base - p.top_mm * scale for p in bottle.pours], top, base), strict=True
    ):
        mark = base - min(pour.top_mm * scale, base - top)
        layers.append(
            Layer(
                name=pour.ingredient.name,
                colour=pour.ingredient.colour,
                y=mark,
                height=max(0.0, base - pour.bottom_mm * scale - mark),
                mark_y=mark,
                label_y=label_y,
                label=f"{pour.fill_to_ml:.1f} mL",
                title=f"{pour.ingredient.name}: {pour.millilitres:.1f} mL, fill to {pour.fill_to_ml:.1f} mL, "
                f"{pour.top_mm:.0f} mm above the base",
            )
        )
    step = container.size_ml / 5
    graduations = tuple((base - container.height_mm(step * i) * scale, f"{step * i:g}") for i in range(6))
    warning = f"{bottle.past_shoulder_ml:.1f} mL past the shoulder" if bottle.past_shoulder_ml else ""
    room = f"{bottle.room_ml:.1f} mL free below the shoulder" if bottle.room_ml > 0.05 else "filled to the shoulder"
    caption = (
        f"{container.size_ml:g} mL {kind.name}, {container.diameter_mm:.0f} × {container.shoulder_mm:.0f} "
        "mm to the shoulder; "
        f"{room}, {HEAD_ROOM:.0%} head room above it."
    )
    return BottleView(
        width=BOTTLE_WIDTH,
        height=BOTTLE_HEIGHT,
        outline=outline,
        left=centre - half,
        right=centre + half,
        shoulder_y=shoulder_y,
        layers=tuple(layers),
        graduations=graduations,
        caption=caption,
        warning=warning,
    )


def _spread(wanted: list[float], top: float, base: float) -> list[float]:
    """Move labels apart that would lie on one another: upwards from the base, or down from the top if they run out."""
    placed: list[float] = []
    for y in wanted:
        placed.append(min(y, placed[-1] - LABEL_GAP if placed else base))
    if not placed or placed[-1] >= top:
        return placed
    down: list[float] = []
    for y in reversed(wanted):
        down.append(max(y, down[-1] + LABEL_GAP if down else top))
    return down[::-1]

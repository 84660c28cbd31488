"""The bottle in section, to scale, in user units of its SVG."""

from __future__ import annotations

from uptide.core.assessment.assessment import Bottle
from uptide.core.physics.bottle import CONTAINER_KINDS, HEADSPACE
from uptide.web.drawing.view import View

BOTTLE_HEIGHT, BOTTLE_WIDTH, LABEL_GAP = 228.0, 400.0, 16.0


NECK = 0.5  # of the diameter: height of shoulder and neck as drawn; below the shoulder the section is to scale


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
    kind = CONTAINER_KINDS[container.kind]
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
    highest = top + (LABEL_GAP if bottle.past_shoulder_ml else 0.0)  # under what is said of too much
    layers = []
    for pour, label_y in zip(
        bottle.pours, _spread([base - p.top_mm * scale for p in bottle.pours], highest, base), strict=True
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
        f"{'No size is given; drawn as a ' if bottle.is_assumed else ''}"
        f"{container.size_ml:g} mL {kind.name}, {container.diameter_mm:.0f} × {container.shoulder_mm:.0f} "
        "mm to the shoulder; "
        f"{room}, {HEADSPACE:.0%} head room above it."
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

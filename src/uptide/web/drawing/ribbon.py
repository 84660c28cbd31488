"""Where the lines of a picture go: the ribbon of fatty acids and the bottle in section, in user units of their SVG."""

from __future__ import annotations

from uptide.core.figures.finding import AcidPart
from uptide.web.drawing.view import View

RIBBON_WIDTH, MARGIN = 860.0, 170.0
NARROW_WIDTH, NARROW_MARGIN = 258.0, 128.0  # beside other things, and on a phone: 400 wide with its rim
RIM = 14.0  # for half of the last number
LETTER = 6.3  # user units of a letter of a name
BAND_HEIGHT, STRIP_HEIGHT, STRIP_GAP, AXIS = 34.0, 13.0, 4.0, 18.0
NARROWEST_LABEL, NARROWEST_CODE = 92.0, 38.0  # user units that a name with its percent, or a code, needs


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
    letters: int  # of a name, before it is cut
    ticks: tuple[tuple[float, str], ...]


def draw_ribbon(acids: tuple[AcidPart, ...], *, strips: bool = True, narrow: bool = False) -> RibbonView | None:
    """Lay out the ribbon; None when there are no fatty acids to show."""
    if not acids:
        return None
    across, margin = (NARROW_WIDTH, NARROW_MARGIN) if narrow else (RIBBON_WIDTH, MARGIN)
    step = 2 if narrow else 1  # of tenths, between ticks
    scale = across / 100
    segments: list[Segment] = []
    pieces: dict[str, list[tuple[float, float, int]]] = {}
    names: dict[str, tuple[str, float]] = {}
    x = margin
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
        width=margin + across + RIM,
        height=AXIS + BAND_HEIGHT + 10 + len(shown) * (STRIP_HEIGHT + STRIP_GAP),
        margin=margin,
        band_height=BAND_HEIGHT,
        strip_height=STRIP_HEIGHT,
        segments=tuple(segments),
        strips=shown,
        letters=int(margin / LETTER),
        ticks=tuple((margin + across * tenth / 10, str(tenth * 10)) for tenth in range(0, 11, step)),
    )

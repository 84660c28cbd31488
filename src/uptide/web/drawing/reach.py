"""Where the oils reach: the outline of what two figures of a blend can be together, the oils, and a blend in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uptide.web.drawing.axes import Axis
from uptide.web.drawing.hull import hull
from uptide.web.drawing.view import View

WIDTH, HEIGHT = 640.0, 420.0
LEFT, RIGHT, TOP, BOTTOM = 54.0, 24.0, 34.0, 40.0  # px about the field
BESIDE = 10.0  # px from a blend to its name
Corner = tuple[float, float]


class OilDot(View):
    """An oil by itself, with its page."""

    x: float
    y: float
    name: str
    key: str
    on_hand: bool


class Mark(View):
    """A blend, and where its name stands and which way it goes from there."""

    x: float
    y: float
    name: str
    name_x: float
    anchor: str


class ReachView(View):
    """The picture."""

    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    foot: float = HEIGHT - BOTTOM
    end: float = WIDTH - RIGHT
    across: str
    upward: str
    outline: str
    dots: tuple[OilDot, ...]
    mark: Mark | None
    ticks_across: tuple[tuple[float, str], ...]
    ticks_upward: tuple[tuple[float, str], ...]


@dataclass(frozen=True, slots=True)
class Field:
    """The two axes of the picture: where figures stand in it, and which figures stand where somebody points."""

    along: Axis
    up: Axis

    @classmethod
    def of(cls, corners: Sequence[Corner]) -> Field:
        """A field in which all of these have room."""
        return cls(
            Axis([x for x, _ in corners], LEFT, WIDTH - RIGHT), Axis([y for _, y in corners], HEIGHT - BOTTOM, TOP)
        )

    def figures(self, x: float, y: float) -> Corner:
        """The two figures at a place of the picture."""
        return self.along.figure(x), self.up.figure(y)

    def draw(
        self,
        titles: tuple[str, str],
        outline: Sequence[Corner],
        oils: Sequence[tuple[str, str, bool, Corner]],
        blend: tuple[str, Corner] | None,
    ) -> ReachView:
        """Draw it: what stands along its sides, the outline, oils (key, name, on hand), and a blend by its name."""
        mark = None
        if blend is not None:
            x, y = self.along.at(blend[1][0]), self.up.at(blend[1][1])
            is_right = x > WIDTH / 2
            beside = x - BESIDE if is_right else x + BESIDE
            mark = Mark(x=x, y=y, name=blend[0], name_x=beside, anchor="end" if is_right else "start")
        return ReachView(
            across=titles[0],
            upward=titles[1],
            outline=" ".join(f"{self.along.at(x):.1f},{self.up.at(y):.1f}" for x, y in hull(outline)),
            dots=tuple(
                OilDot(x=self.along.at(x), y=self.up.at(y), name=name, key=key, on_hand=on_hand)
                for key, name, on_hand, (x, y) in oils
            ),
            mark=mark,
            ticks_across=self.along.ticks(),
            ticks_upward=self.up.ticks(),
        )

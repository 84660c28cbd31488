"""A bottle in section: how high each pour stands in it.

The shapes are plain bodies of revolution (common practice, measured from stock glass in no particular catalogue): the
body is a cylinder that holds the stated size up to the shoulder, and shoulder and neck above it are head room.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

from uptide.core.errors import ContainerError

HEADSPACE = 0.10  # of the stated size, above the shoulder: room for the dropper and for warmth; common practice
SMALLEST, LARGEST = 1.0, 20_000.0  # mL
# mL of containers as they are sold; common practice.
USUAL_SIZES = (5, 10, 15, 20, 30, 50, 60, 100, 120, 150, 200, 250, 300, 500, 1000, 2000, 2500, 5000, 10_000)


@dataclass(frozen=True, slots=True)
class ContainerKind:
    """A kind of container: its words, the height of its body in diameters, and the width of its neck in diameters."""

    key: str
    name: str
    slenderness: float
    neck: float


CONTAINER_KINDS = {
    kind.key: kind
    for kind in (
        ContainerKind("dropper", "dropper bottle", 1.6, 0.42),
        ContainerKind("pump", "pump bottle", 2.2, 0.40),
        ContainerKind("spray", "spray bottle", 2.3, 0.38),
        ContainerKind("bottle", "bottle", 2.0, 0.40),
        ContainerKind("roller", "roller bottle", 3.2, 0.75),
        ContainerKind("squeeze", "squeeze bottle", 2.4, 0.36),
        ContainerKind("jar", "jar", 0.62, 0.94),
    )
}


@dataclass(frozen=True, slots=True)
class Container:
    """A container of a kind that holds `size_ml` [mL] up to its shoulder.

    Raises:
        ContainerError: a size outside 1 to 20,000 mL, or an unknown kind.
    """

    kind: str
    size_ml: float

    def __post_init__(self) -> None:
        if self.kind not in CONTAINER_KINDS:
            raise ContainerError(f"There is no container called “{self.kind}”; known are {', '.join(CONTAINER_KINDS)}.")
        if not SMALLEST <= self.size_ml <= LARGEST:
            raise ContainerError(
                f"A container of {self.size_ml:g} mL cannot be filled here; {SMALLEST:g} to {LARGEST:,.0f} mL can."
            )

    @property
    def diameter_mm(self) -> float:
        """Inner diameter of the body [mm]."""
        volume_mm3 = self.size_ml * 1000
        return float((4 * volume_mm3 / (pi * CONTAINER_KINDS[self.kind].slenderness)) ** (1 / 3))

    @property
    def shoulder_mm(self) -> float:
        """Height of the shoulder above the inner base [mm]: nothing is filled past it."""
        return self.diameter_mm * CONTAINER_KINDS[self.kind].slenderness

    def height_mm(self, volume_ml: float) -> float:
        """Height of a volume [mL] above the base [mm]; what is past the shoulder is drawn as standing in the neck.

        >>> jar = Container("bottle", 100)
        >>> round(jar.height_mm(50) / jar.shoulder_mm, 3)
        0.5
        """
        body = min(volume_ml, self.size_ml)
        height = self.shoulder_mm * body / self.size_ml
        over = max(0.0, volume_ml - self.size_ml)
        neck_area = pi / 4 * (self.diameter_mm * CONTAINER_KINDS[self.kind].neck) ** 2
        return height + over * 1000 / neck_area

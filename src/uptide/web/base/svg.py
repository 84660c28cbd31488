"""The plain shapes of every picture as SVG: places and sizes in user units, written to a tenth of one; words escaped.

Templates call them by the hundred for each page, which is why they are no macros.
"""

from __future__ import annotations

from markupsafe import Markup, escape


def px(value: float) -> str:
    """Write a place in a picture to a tenth of a user unit; a whole one without decimals.

    >>> px(86.04), px(12.345)
    ('86', '12.3')
    """
    return f"{value:.1f}".removesuffix(".0")


def _said(name: str, value: str) -> str:
    return f' {name}="{escape(value)}"' if value else ""


def line(kind: str, x1: float, y1: float, x2: float, y2: float, dash: str = "", width: str = "") -> Markup:
    """A straight line.

    >>> line("hair", 1, 2, 3.25, 4)
    Markup('<line class="hair" x1="1" y1="2" x2="3.2" y2="4"/>')
    """
    more = _said("stroke-dasharray", dash) + _said("stroke-width", width)
    ends = f'x1="{px(x1)}" y1="{px(y1)}" x2="{px(x2)}" y2="{px(y2)}"'
    return Markup(f"<line{_said('class', kind)}{more} {ends}/>")  # noqa: S704 - every word was escaped


def rect(kind: str, x: float, y: float, width: float, height: float, title: str = "", fill: str = "") -> Markup:
    """A rectangle, with a title that is said of it."""
    said = f"<title>{escape(title)}</title>" if title else ""
    at = f'x="{px(x)}" y="{px(y)}" width="{px(width)}" height="{px(height)}"'
    return Markup(f"<rect{_said('class', kind)}{_said('fill', fill)} {at}>{said}</rect>")  # noqa: S704


def text(kind: str, x: float, y: float, words: object, anchor: str = "") -> Markup:
    """Words at a place.

    >>> text("", 1, 2, "a < b", anchor="end")
    Markup('<text x="1" y="2" text-anchor="end">a &lt; b</text>')
    """
    at = f'x="{px(x)}" y="{px(y)}"'
    return Markup(f"<text{_said('class', kind)} {at}{_said('text-anchor', anchor)}>{escape(words)}</text>")  # noqa: S704


def ellipse(kind: str, name: str, x: float, y: float, wide: float, narrow: float, turn: float) -> Markup:
    """An ellipse with an id, turned by so many degrees around its middle."""
    at = f'cx="{px(x)}" cy="{px(y)}" rx="{px(wide)}" ry="{px(narrow)}"'
    turned = f'transform="rotate({px(turn)} {px(x)} {px(y)})"'
    return Markup(f"<ellipse{_said('class', kind)}{_said('id', name)} {turned} {at}/>")  # noqa: S704

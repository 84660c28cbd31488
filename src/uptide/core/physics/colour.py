"""Colour of an oil in a glass and as a tint on skin: light is taken away layer by layer (Beer-Lambert).

The colour of each oil is written as sRGB seen through 1 cm. In linear light each channel is a transmittance, and those
multiply, to the power of the mass fraction and of the depth. Three channels stand for the whole spectrum.
"""

from __future__ import annotations

from collections.abc import Iterable
from math import exp, fsum, log, sqrt

from uptide.core.tolerance import reaches

FAINTEST = 0.5 / 255 / 12.92  # linear light below the darkest sRGB step: a channel that is written as 00 is not zero
# On skin a film is some 20 micrometres deep, where the colour in 1 cm says little: a deep orange oil and one ten times
# deeper look alike in a glass. There the tint strength of common practice (1 to 10) counts, read as a scale of
# logarithms from pale oils (a few mg/kg of carotenoids) to sea buckthorn fruit (about 1 000 mg/kg).
PER_STEP = 10 ** (-0.31)  # colour strength from one step of tint to the next lower
# Absorbance (natural) of a film of strength 1 in its strongest channel. Set so that 3 % of sea buckthorn fruit oil just
# shows on fair skin and 8 % is plain (common practice: two droppers in 60 mL, five or six for a glow).
FILM = 2.5
JUST_SEEN, PLAIN = 2.3, 6.0  # colour difference CIE 1976: just noticeable; plain to anybody
SKIN_TONES = {
    "very fair": "#f6e3d7",
    "fair": "#f0d3bd",
    "medium": "#d9a983",
    "olive": "#b98558",
    "brown": "#8c5a36",
    "dark": "#5a3825",
}  # invented steps from fair to dark, for the picture alone

Rgb = tuple[float, float, float]


def linear(colour: str) -> Rgb:
    """Read #rrggbb as linear light, 0 to 1 (IEC 61966-2-1)."""
    channels = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels)
    return red, green, blue


def written(light: Rgb) -> str:
    """Write linear light as #rrggbb.

    >>> written(linear("#c8390a"))
    '#c8390a'
    """
    encoded = (c * 12.92 if c <= 0.0031308 else 1.055 * c ** (1 / 2.4) - 0.055 for c in light)
    return "#" + "".join(f"{round(255 * min(1.0, max(0.0, c))):02x}" for c in encoded)


def through(parts: Iterable[tuple[float, str]], depth: float = 1.0) -> Rgb:
    """Mix (mass fraction, colour in 1 cm) pairs and look through `depth` [cm]: transmittance of each channel."""
    seen = [(share, linear(colour)) for share, colour in parts]
    red, green, blue = (
        exp(depth * fsum(share * log(max(light[channel], FAINTEST)) for share, light in seen)) for channel in range(3)
    )
    return red, green, blue


def steps_of_tint(before: str, after: str) -> float:
    """By how many steps of tint a colour in 1 cm is stronger than another: by the channel of which each takes most.

    >>> round(steps_of_tint("#f6ecb4", "#e09612"), 2), steps_of_tint("#f6ecb4", "#f6ecb4")
    (2.62, 0.0)
    """
    took, takes = (max(-log(max(light, FAINTEST)) for light in linear(colour)) for colour in (before, after))
    return -log(takes / took) / log(PER_STEP) if took > 0 and takes > 0 else 0.0


def on_skin(parts: Iterable[tuple[float, str, float]], skin: str) -> str:
    """The colour of skin under a film of (mass fraction, colour in 1 cm, tint strength 1 to 10) parts."""
    taken = [0.0, 0.0, 0.0]
    for share, colour, strength in parts:
        absorbed = [-log(max(light, FAINTEST)) for light in linear(colour)]
        strongest = max(absorbed) or 1.0
        for channel in range(3):
            taken[channel] += FILM * share * PER_STEP ** (10 - strength) * absorbed[channel] / strongest
    red, green, blue = (light * exp(-gone) for light, gone in zip(linear(skin), taken, strict=True))
    return written((red, green, blue))


def difference(first: str, second: str) -> float:
    """Colour difference CIE 1976 (D65) of two sRGB colours."""
    pairs = zip(_lab(linear(first)), _lab(linear(second)), strict=True)
    return sqrt(fsum((a - b) ** 2 for a, b in pairs))


def _lab(light: Rgb) -> Rgb:
    red, green, blue = light
    x = (0.4124 * red + 0.3576 * green + 0.1805 * blue) / 0.9505
    y = 0.2126 * red + 0.7152 * green + 0.0722 * blue
    z = (0.0193 * red + 0.1192 * green + 0.9505 * blue) / 1.0890
    fx, fy, fz = (c ** (1 / 3) if c > 216 / 24389 else (24389 / 27 * c + 16) / 116 for c in (x, y, z))
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


def tint_word(seen: float) -> str:
    """The word for a colour difference on skin.

    >>> tint_word(1.0), tint_word(3.0), tint_word(9.0)
    ('no tint', 'a slight tint', 'a plain tint')
    """
    return (
        "no tint" if not reaches(seen, JUST_SEEN) else "a slight tint" if not reaches(seen, PLAIN) else "a plain tint"
    )

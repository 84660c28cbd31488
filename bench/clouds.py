"""Where every oil of the catalogue clears alone, against its own cloud or melting range: the table of docs/setting.md.

python -m bench.clouds
"""

from __future__ import annotations

from collections.abc import Iterator

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.figures.setting import setting

AGREES = 2.0  # K
COLD = 0.0  # °C: nothing colder is worked out
# Why an oil clears elsewhere than its range says; every other is within AGREES of it.
EXPLAINED = {
    "palm": "its range is a slip melting point, where a twentieth is still solid; the last of it melts at 44 °C",
    "palm-kernel": "its range is a slip melting point; the last of it melts at 30 °C",
}


def clouds(facts: Catalogue) -> Iterator[tuple[str, str, str, str]]:
    """Key, range, where it clears, and what is to be said of it: each oil or butter whose acids are known."""
    for key, item in sorted(facts.ingredients.items()):
        if item.lipid is None or not item.is_fatty:
            continue
        found = setting([(100.0, item)])
        listed = (*item.properties.get("cloud_point", ()), *item.properties.get("melting_point", ()))
        if found is None or not listed or listed[0].low is None or listed[0].high is None:
            yield key, "–", "below 0", "no range is listed"
            continue
        low, high = listed[0].low, listed[0].high
        clears = found.clear_above
        within = low <= COLD + AGREES if clears is None else low - AGREES <= clears <= high + AGREES
        moved = f"by its cloud point, {item.cloud_shift:+.0f} K" if abs(item.cloud_shift) >= 1 else ""
        said = "within 2 K" if within else EXPLAINED.get(key, "off")
        yield key, f"{low:g} to {high:g}", "below 0" if clears is None else f"{clears:.1f}", f"{said} {moved}".strip()


def main() -> None:
    """Print the table."""
    print("| oil | cloud or melting range, °C | clears at, °C | |\n|---|---|---|---|")
    for row in clouds(shipped_catalogue()):
        print("|", " | ".join(row), "|")


if __name__ == "__main__":
    main()

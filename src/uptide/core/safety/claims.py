"""Words on a label or in a note that make a medicine of a cosmetic, promise too much, or repeat a false belief."""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.safety.tables import ClaimPattern, SafetyTables


@dataclass(frozen=True, slots=True)
class Claim:
    """Words that were found: what they are, where, why they should go, and what may be said instead."""

    pattern: ClaimPattern
    found: str
    where: str


def read_claims(texts: dict[str, str], tables: SafetyTables) -> tuple[Claim, ...]:
    """Read names, notes and labels, given by where they stand; each pattern is named once for each place."""
    found = []
    for where, text in texts.items():
        for pattern in tables.claims:
            match = pattern.pattern.search(text)
            if match is not None and match[0].strip():
                found.append(Claim(pattern, match[0].strip(), where))
    return tuple(found)

"""A figure with its working, in the words of a page."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.catalogue.catalogue import Source
from uptide.core.figures.finding import Finding
from uptide.core.measures.say import say_number
from uptide.core.methods.every import METHODS
from uptide.web.base.pages import number
from uptide.web.drawing.view import View


class InputView(View):
    """One line of a working."""

    name: str
    share: str
    value: str
    source: str
    confidence: str


class FigureView(View):
    """A figure with its working."""

    key: str
    title: str
    value: str
    band: str
    unit: str
    remark: str
    formula: str
    explanation: str
    doubt: str
    inputs: tuple[InputView, ...]
    sources: tuple[str, ...]
    confidence: str
    word: str = ""
    other: str = ""


def figure_view(finding: Finding, sources: Mapping[str, Source], *, worked: bool = True) -> FigureView:
    """A finding in the words of the page; its working only where it is shown."""
    method = METHODS[finding.method]
    band = ""
    if finding.low is not None and finding.high is not None and finding.high - finding.low > 10**-finding.decimals / 2:
        decimals = max(finding.decimals, 1)  # the band of a whole number of months is not whole
        band = f"{number(finding.low, decimals)} – {number(finding.high, decimals)}"
    return FigureView(
        key=finding.key,
        title=finding.title,
        value=number(finding.value, finding.decimals),
        band=band,
        unit=finding.unit if finding.value is not None else "",
        remark=finding.remark,
        formula=method.formula,
        explanation=method.explanation,
        doubt=method.doubt,
        inputs=tuple(
            InputView(
                name=entry.name,
                share="" if entry.share is None else f"{entry.share:.1f} %",
                value=f"{say_number(entry.value, 4)} {entry.unit}",
                source=cite(entry.source, entry.locator, sources),
                confidence=entry.confidence,
            )
            for entry in (finding.inputs if worked else ())
        ),
        sources=tuple(cite(key, "", sources) for key in (finding.sources if worked else ())),
        confidence=finding.confidence,
        word=finding.word,
        other=finding.other,
    )


def cite(key: str, locator: str, sources: Mapping[str, Source]) -> str:
    """A source in words: its citation, whether it was read or recalled, and where in it."""
    if not key:
        return ""
    source = sources.get(key)
    words = f"{source.citation} ({source.how_read})" if source else key
    return f"{words}; {locator}" if locator else words

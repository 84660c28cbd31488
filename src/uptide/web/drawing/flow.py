"""Where a lot went as one picture: as wide as the grams, from the lot through jars and batches to where it is now."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field

from uptide.core.making.batch_record import LEFTOVER
from uptide.core.making.trace import BOTTLE, PLANT, TAKEN_OUT, VESSEL, BatchFlow, Ended, Trace
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

WIDTH, HIGH, BAR, GAP, LETTERS = 900.0, 320.0, 10.0, 9.0, 170.0
MOST_BATCHES, MOST_HOLDERS = 10, 6
LEAST = 1.5  # user units: a node of few grams is still seen
HERE, GONE, OTHERS = "bottles here", "bottles used up or thrown out", "bottles with others"


class NodeView(View):
    """A place that some of it went through or is in."""

    x: float
    y: float
    high: float
    title: str
    grams: str
    href: str
    is_last: bool


class RibbonView(View):
    """So many grams from one place to another."""

    path: str
    words: str


class FlowView(View):
    """The picture."""

    width: float = WIDTH
    height: float
    nodes: tuple[NodeView, ...]
    ribbons: tuple[RibbonView, ...]


@dataclass(slots=True)
class _Node:
    title: str
    href: str = ""
    depth: int = 0
    is_end: bool = False
    into: float = 0.0
    out: float = 0.0
    y: float = 0.0
    high: float = 0.0
    drawn_in: float = 0.0
    drawn_out: float = 0.0


@dataclass(slots=True)
class _Graph:
    nodes: dict[str, _Node] = field(default_factory=dict)
    edges: dict[tuple[str, str], float] = field(default_factory=dict)

    def add(self, start: str, end: str, grams: float) -> None:
        if grams > 0:
            self.edges[start, end] = self.edges.get((start, end), 0.0) + grams


def draw_flow(trace: Trace) -> FlowView | None:
    """Draw where a lot went; None where nothing of it moved."""
    graph = _graph(trace)
    if not graph.edges:
        return None
    _deepen(graph)
    _sum_up(graph)
    # What was poured can be more than was ever entered as come: then that is as high as the picture.
    scale = (HIGH - GAP * 8) / max(max(node.into, node.out) for node in graph.nodes.values())
    height = _place(graph, scale)
    last = max(node.depth for node in graph.nodes.values())
    step = (WIDTH - LETTERS - BAR) / max(1, last)

    def x(node: _Node) -> float:
        return step * node.depth

    return FlowView(
        height=height,
        nodes=tuple(
            NodeView(
                x=x(node),
                y=node.y,
                high=node.high,
                title=node.title,
                grams=f"{number(max(node.into, node.out), 1)} g",
                href=node.href,
                is_last=node.is_end,
            )
            for node in graph.nodes.values()
        ),
        ribbons=tuple(_ribbons(graph, scale, x)),
    )


def _graph(trace: Trace) -> _Graph:
    """Nodes and what flows between them [g of the lot]."""
    graph = _Graph()
    graph.nodes["lot"] = _Node(f"lot {trace.code}", f"/shelf/lots/{trace.code}")
    made = {trace.code: "lot"}  # the node that each lot stands in
    for jar in trace.jars:
        key = jar.key
        graph.nodes[key] = _Node(jar.name, f"/steeping/jars/{jar.number}" if jar.number else "")
        if jar.lot:
            made[jar.lot] = key
    shown = {batch.number for batch, _ in sorted(trace.reached, key=_grams, reverse=True)[:MOST_BATCHES]}
    for batch, _ in trace.reached:
        key = batch.number if batch.number in shown else "more"
        made[f"{LEFTOVER}{batch.number}"] = key
        if key not in graph.nodes:
            rest = len(trace.reached) - len(shown)
            title = f"{batch.name}, {batch.number}" if key != "more" else f"{rest} more batches"
            graph.nodes[key] = _Node(title, f"/making/{key}" if key != "more" else "")
    poured = [(jar.key, jar.poured) for jar in trace.jars]
    poured += [(made[f"{LEFTOVER}{batch.number}"], batch.poured) for batch, _ in trace.reached]
    for into, lots in poured:
        for code, grams in lots.items():
            if code in made and made[code] != into:
                graph.add(made[code], into, grams * trace.share_of_lot(code))
    _add_ends(graph, trace, made)
    return graph


def _grams(reached: tuple[BatchFlow, float]) -> float:
    return reached[0].made * reached[1]


def _add_ends(graph: _Graph, trace: Trace, made: Mapping[str, str]) -> None:
    """Where it is now, those with the most bottles by name."""
    held: dict[str, float] = {}
    for each in trace.ends:
        if each.container is not None and each.container.holder:
            held[each.container.holder] = held.get(each.container.holder, 0.0) + each.grams
    named = sorted(held, key=lambda name: -held[name])[:MOST_HOLDERS]
    for each in trace.ends:
        end = _end_of(each, named)
        if end not in graph.nodes:
            graph.nodes[end] = _Node(end, is_end=True)
        graph.add(_start_of(each, trace, made), end, each.grams)


def _end_of(each: Ended, named: Iterable[str]) -> str:
    if each.kind != BOTTLE or each.container is None:
        return each.kind
    if each.container.state == "gone":
        return GONE
    if each.container.holder:
        return f"bottles with {each.container.holder}" if each.container.holder in named else OTHERS
    return HERE


def _start_of(each: Ended, trace: Trace, made: Mapping[str, str]) -> str:
    if each.kind in (BOTTLE, VESSEL, TAKEN_OUT):
        return made[f"{LEFTOVER}{each.through}"]
    if each.kind == PLANT:
        return each.through
    return made[each.key]


def _deepen(graph: _Graph) -> None:
    """Each node right of all that flows into it; where it is now in the last column."""
    for _ in range(len(graph.nodes)):
        for start, end in graph.edges:
            if graph.nodes[end].depth <= graph.nodes[start].depth < len(graph.nodes):
                graph.nodes[end].depth = graph.nodes[start].depth + 1
    last = max(node.depth for node in graph.nodes.values())
    for node in graph.nodes.values():
        node.depth = last if node.is_end else min(node.depth, last)


def _sum_up(graph: _Graph) -> None:
    """What flows into each node and out of it."""
    for (start, end), grams in graph.edges.items():
        graph.nodes[start].out += grams
        graph.nodes[end].into += grams


def _place(graph: _Graph, scale: float) -> float:
    """Stack the nodes of each column; return how high the picture is."""
    columns: dict[int, float] = {}
    for node in sorted(graph.nodes.values(), key=lambda each: -max(each.into, each.out)):
        node.high = max(LEAST, scale * max(node.into, node.out))
        top = columns.get(node.depth, 4.0)
        node.y = top
        columns[node.depth] = top + max(node.high, 16.0) + GAP
    return max(columns.values(), default=0.0)


def _ribbons(graph: _Graph, scale: float, x: Callable[[_Node], float]) -> Iterable[RibbonView]:
    ordered = sorted(graph.edges.items(), key=lambda each: (graph.nodes[each[0][0]].y, graph.nodes[each[0][1]].y))
    for (start, end), grams in ordered:
        one, other, wide = graph.nodes[start], graph.nodes[end], scale * grams
        left, right = x(one) + BAR, x(other)
        top, foot = one.y + one.drawn_out, other.y + other.drawn_in
        middle = (left + right) / 2
        path = (
            f"M{left:.1f},{top:.1f}C{middle:.1f},{top:.1f} {middle:.1f},{foot:.1f} {right:.1f},{foot:.1f}"
            f"V{foot + wide:.1f}C{middle:.1f},{foot + wide:.1f} {middle:.1f},{top + wide:.1f} "
            f"{left:.1f},{top + wide:.1f}Z"
        )
        one.drawn_out += wide
        other.drawn_in += wide
        yield RibbonView(path=path, words=f"{number(grams, 1)} g from {one.title} to {other.title}")

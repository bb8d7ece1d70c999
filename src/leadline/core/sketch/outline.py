"""From a solved sketch to curves: open or closed chains for paths, closed regions for profiles."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from scipy.interpolate import BSpline

from leadline.core.geometry.edges import Edge, arc_edges, ellipse_edges, line_edge, spline_edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem, mm
from leadline.core.sketch.model import Arc, Circle, Ellipse, Entity, Line, Sketch, Smoothed, end_points
from leadline.core.sketch.smoothing import smoothed
from leadline.core.sketch.splines import AnySpline, curve, spline_knots, stretch, support

JOIN = 1e-6


@dataclass(frozen=True)
class Chain:
    """Entities end to end; ``forward[i]`` tells whether entity i runs as drawn."""

    entities: tuple[Entity, ...]
    forward: tuple[bool, ...]
    closed: bool


def coordinates(sketch: Sketch) -> dict[str, Array]:
    """The points of a sketch, the origin included."""
    return {"O": np.zeros(2)} | {p.id: np.array([p.x, p.y]) for p in sketch.points}


def entity_edges(entity: Entity, at: dict[str, Array], sketch: Sketch) -> list[Edge]:
    """An entity as exact edges in its own direction (arcs, circles and ellipses counter-clockwise)."""
    if isinstance(entity, Line):
        if np.abs(at[entity.end] - at[entity.start]).max() < JOIN:
            raise Problem("no-length", f"Line {entity.id} has no length.", "Delete it.", items=[entity.id])
        return [line_edge(at[entity.start], at[entity.end], entity.id)]
    if isinstance(entity, Circle):
        return arc_edges(at[entity.center], entity.radius, 0.0, 2 * math.pi, entity.id)
    if isinstance(entity, Arc):
        start, sweep, radius = arc_numbers(entity, at)
        edges = arc_edges(at[entity.center], radius, start, sweep, entity.id)
        edges[0].control[0], edges[-1].control[-1] = at[entity.start], at[entity.end]
        return edges
    if isinstance(entity, Ellipse):
        return ellipse_arc(entity, at)
    if isinstance(entity, Smoothed):
        whole = smooth_outline(entity, at, sketch)[0]
        return [spline_edge(stretch(whole, a, b), entity.id) for a, b in ((0.0, 0.5), (0.5, 1.0))]
    return [spline_edge(spline_curve(entity, at), entity.id)]


def spline_curve(entity: AnySpline, at: dict[str, Array]) -> BSpline:
    """A drawn spline as a curve in the sketch plane."""
    points = np.array([at[p] for p in support(entity)])
    return curve(entity, spline_knots(entity, points), points)


def ellipse_arc(entity: Ellipse, at: dict[str, Array]) -> list[Edge]:
    """An ellipse or elliptical arc as exact edges."""
    major = at[entity.major] - at[entity.center]
    start, sweep = ellipse_numbers(entity, at)
    edges = ellipse_edges(at[entity.center], major, entity.minor, start, sweep, entity.id)
    if entity.start is not None and entity.end is not None:
        edges[0].control[0], edges[-1].control[-1] = at[entity.start], at[entity.end]
    return edges


def ellipse_numbers(entity: Ellipse, at: dict[str, Array]) -> tuple[float, float]:
    """Start and sweep of an ellipse as angles on the circle that it is stretched from."""
    major = at[entity.major] - at[entity.center]
    size = float(np.hypot(*major))
    if size < JOIN:
        raise Problem("no-length", f"Ellipse {entity.id} has no length.", "Delete it.", items=[entity.id])
    if entity.start is None or entity.end is None:
        return 0.0, 2 * math.pi
    angles = []
    for p in (entity.start, entity.end):
        d = at[p] - at[entity.center]
        angles.append(math.atan2((major[0] * d[1] - major[1] * d[0]) / entity.minor, float(major @ d) / size))
    return angles[0], (angles[1] - angles[0]) % (2 * math.pi) or 2 * math.pi


def smooth_outline(entity: Smoothed, at: dict[str, Array], sketch: Sketch) -> tuple[BSpline, float]:
    """The closed spline that an outline smooths to, and its largest deviation from it.

    Raises:
        Problem: the outline is not one closed chain of lines and arcs, or the tolerance is too fine.
    """
    of = sketch.model_copy(
        update={
            "entities": [e.model_copy(update={"construction": False}) for e in sketch.entities if e.id in entity.of]
        }
    )
    found = chains(of)
    if (
        len(found) != 1
        or not found[0].closed
        or any(e.kind not in ("line", "arc", "circle") for e in found[0].entities)
    ):
        raise Problem(
            "not-closed",
            f"The outline that {entity.id} smooths is not one closed chain of lines and arcs.",
            "Close it, or smooth it again.",
            items=[entity.id, *entity.of],
        )
    return smoothed(list(_loop(found[0], at, of).edges), entity.tolerance, entity.id)


def arc_numbers(arc: Arc, at: dict[str, Array]) -> tuple[float, float, float]:
    """Start angle, sweep (0 to 2 pi) and radius of an arc."""
    a, b = at[arc.start] - at[arc.center], at[arc.end] - at[arc.center]
    start = math.atan2(a[1], a[0])
    sweep = (math.atan2(b[1], b[0]) - start) % (2 * math.pi)
    radius = float(np.hypot(*a) + np.hypot(*b)) / 2
    if radius < JOIN:
        raise Problem("no-length", f"Arc {arc.id} has no radius.", "Delete it.", items=[arc.id])
    return start, sweep or 2 * math.pi, radius


def chains(sketch: Sketch, only: Sequence[str] | None = None) -> list[Chain]:
    """Join the drawn (not construction) entities into chains.

    Raises:
        Problem: three or more curves meet at one point (a branch), naming the place.
    """
    wanted = [e for e in sketch.entities if not e.construction and (only is None or e.id in only)]
    at = coordinates(sketch)
    found = [Chain((e,), (True,), True) for e in wanted if end_points(e) is None]
    open_entities = [e for e in wanted if end_points(e) is not None]
    ends: dict[str, tuple[int, int]] = {}
    touching: defaultdict[int, list[Entity]] = defaultdict(list)
    nodes = _Nodes()
    for e in open_entities:
        pair = end_points(e)
        assert pair is not None
        ends[e.id] = (nodes.of(at[pair[0]]), nodes.of(at[pair[1]]))
        for node in ends[e.id]:
            touching[node].append(e)
    for node, entities in touching.items():
        if len(entities) > 2:
            x, y = nodes.places[node]
            names = ", ".join(e.id for e in entities)
            raise Problem(
                "branch",
                f"{len(entities)} curves meet at ({mm(x)}, {mm(y)}): {names}.",
                "Leave two there: delete the others or make them construction.",
                items=[e.id for e in entities],
                at=[float(x), float(y)],
            )
    left = {e.id: e for e in open_entities}
    while left:
        found.append(_walk(left, ends, touching))
    return found


class _Nodes:
    """Places that are one within the joining tolerance, found by the cells of a grid as wide as that."""

    def __init__(self) -> None:
        self.places: list[tuple[float, float]] = []
        self._cells: defaultdict[tuple[int, int], list[int]] = defaultdict(list)

    def of(self, p: Array) -> int:
        x, y = float(p[0]), float(p[1])
        column, row = math.floor(x / JOIN), math.floor(y / JOIN)
        near = [
            i
            for c in (column - 1, column, column + 1)
            for r in (row - 1, row, row + 1)
            for i in self._cells.get((c, r), ())
        ]
        for i in sorted(near):
            if max(abs(x - self.places[i][0]), abs(y - self.places[i][1])) <= JOIN:
                return i
        self.places.append((x, y))
        self._cells[column, row].append(len(self.places) - 1)
        return len(self.places) - 1


def _walk(left: dict[str, Entity], ends: dict[str, tuple[int, int]], touching: dict[int, list[Entity]]) -> Chain:
    """One chain, from a loose end if there is one, in the direction of its first-drawn entity."""
    loose = [e for e in left.values() if any(len(touching[n]) == 1 for n in ends[e.id])]
    first = loose[0] if loose else next(iter(left.values()))
    forward = not loose or len(touching[ends[first.id][0]]) == 1
    start = ends[first.id][0 if forward else 1]
    entities, senses = [first], [forward]
    node = ends[first.id][1 if forward else 0]
    del left[first.id]
    while True:
        following = [e for e in touching[node] if e.id in left]
        if not following:
            break
        e = following[0]
        sense = ends[e.id][0] == node
        entities.append(e)
        senses.append(sense)
        node = ends[e.id][1 if sense else 0]
        del left[e.id]
    closed = node == start and (len(entities) > 1 or ends[first.id][0] == ends[first.id][1])
    if not closed and sum(senses) * 2 < len(senses):
        entities.reverse()
        senses = [not s for s in reversed(senses)]
    return Chain(tuple(entities), tuple(senses), closed)


def single_chain(sketch: Sketch, only: Sequence[str] | None = None) -> Chain:
    """The one chain of a path sketch.

    Raises:
        Problem: nothing is drawn, there is a branch, or pieces do not join (with place and gap).
    """
    found = chains(sketch, only)
    if not found:
        raise Problem("no-path", "The sketch has no curve to follow.", "Draw a line, an arc or a spline in it.")
    if len(found) == 1:
        return found[0]
    loose = [c for c in found if not c.closed]
    if len(loose) == 1:  # closed outlines beside it are profiles
        return loose[0]
    at = coordinates(sketch)
    gap, p, q = _nearest_ends(found, at)
    if p is None or q is None:
        raise Problem(
            "several-paths", "The sketch has several separate curves.", "Leave one, or pick the path's curves."
        )
    raise Problem(
        "gap",
        f"The path has a gap of {mm(gap)} between ({mm(p[0])}, {mm(p[1])}) and ({mm(q[0])}, {mm(q[1])}).",
        "Join the two ends, or make the loose piece construction.",
        at=[float(v) for v in p],
        items=[e.id for c in found[1:] for e in c.entities],
    )


def chain_ends(chain: Chain) -> tuple[str, str] | None:
    """First and last point id of an open chain."""
    if chain.closed:
        return None
    first, last = end_points(chain.entities[0]), end_points(chain.entities[-1])
    assert first is not None
    assert last is not None
    return first[0 if chain.forward[0] else 1], last[1 if chain.forward[-1] else 0]


def _nearest_ends(found: list[Chain], at: dict[str, Array]) -> tuple[float, Array | None, Array | None]:
    best: tuple[float, Array | None, Array | None] = (math.inf, None, None)
    for i, a in enumerate(found):
        for b in found[:i]:
            for p in chain_ends(a) or ():
                for q in chain_ends(b) or ():
                    gap = float(np.hypot(*(at[p] - at[q])))
                    if gap < best[0]:
                        best = (gap, at[q], at[p])
    return best


def regions(sketch: Sketch, only: Sequence[str] | None = None) -> list[Region]:
    """The closed regions of a profile sketch; loops directly inside a region are its islands.

    Without ``only`` these are the regions that are material when islands alternate with holes; ``only`` names
    any regions, the insides of holes too.

    Raises:
        Problem: no closed region (with the place of the loose end), outlines that cross, or an
            unknown region.
    """
    at = coordinates(sketch)
    found = chains(sketch)
    loops = _loops(sketch, at, found)
    if not loops:
        raise _nothing_closed(found, at)
    nested = nest(loops)
    if only is None:
        return [r for r, material in nested if material]
    known = {r.id: r for r, _ in nested}
    missing = [o for o in only if o not in known]
    if missing:
        raise Problem(
            "deleted-reference",
            f"The region {missing[0]} is no longer in the profile.",
            "Pick the region again.",
            of="regions",
        )
    return [known[o] for o in only]


def sheets(sketch: Sketch, only: Sequence[str] | None = None) -> list[Region]:
    """The drawn outlines of a sketch, open and closed, or those that hold the named entities, to be swept to surfaces.

    Raises:
        Problem: nothing is drawn, or there is a branch.
    """
    at = coordinates(sketch)
    found = [c for c in chains(sketch) if only is None or any(e.id in only for e in c.entities)]
    if not found:
        raise Problem(
            "no-region", "The profile has no curve: nothing is drawn in it.", "Draw a line, an arc or a spline."
        )
    return [Region(_loop(c, at, sketch), (), True) for c in found]


def _loop(chain: Chain, at: dict[str, Array], sketch: Sketch) -> Loop:
    edges: list[Edge] = []
    for entity, forward in zip(chain.entities, chain.forward, strict=True):
        own = entity_edges(entity, at, sketch)
        edges.extend(own if forward else [e.reversed() for e in reversed(own)])
    return Loop(tuple(edges), not chain.closed).oriented(True)


def _nothing_closed(found: list[Chain], at: dict[str, Array]) -> Problem:
    if not found:
        return Problem(
            "no-region", "The profile has no closed region: nothing is drawn in it.", "Draw a closed outline."
        )
    ends = chain_ends(found[0])
    assert ends is not None
    p, q = at[ends[0]], at[ends[1]]
    gap = float(np.hypot(*(p - q)))
    return Problem(
        "no-region",
        f"The profile has no closed region: the outline is open by {mm(gap)} at ({mm(q[0])}, {mm(q[1])}).",
        "Join its ends.",
        at=[float(v) for v in q],
        items=[e.id for e in found[0].entities],
    )


def all_regions(sketch: Sketch) -> list[tuple[Region, bool]]:
    """Every region that can be picked, and whether it is material when nothing is picked.

    Raises Problem as ``regions``.
    """
    loops = _loops(sketch, coordinates(sketch), chains(sketch))
    return nest(loops) if loops else []


def _loops(sketch: Sketch, at: dict[str, Array], found: list[Chain]) -> list[Loop]:
    return [_loop(c, at, sketch) for c in found if c.closed]


def nest(loops: list[Loop]) -> list[tuple[Region, bool]]:
    """The region just inside each counter-clockwise loop, and whether it lies inside an even number of others.

    Raises:
        Problem: a loop encloses nothing, or crosses itself or another.
    """
    outlines = [loop.polygon(0.01) for loop in loops]
    for loop, outline in zip(loops, outlines, strict=True):
        if len(outline) < 3:
            raise Problem(
                "no-area",
                "An outline of the profile goes there and back and encloses nothing.",
                "Delete one of its lines, or draw it on.",
                items=[e.origin for e in loop.edges],
            )
    polygons = [shapely.Polygon(outline) for outline in outlines]
    for loop, polygon in zip(loops, polygons, strict=True):
        if not polygon.is_valid:
            raise Problem(
                "crosses-itself",
                "An outline of the profile crosses itself.",
                "Redraw it without the crossing.",
                items=[e.origin for e in loop.edges],
            )
    rims = [polygon.exterior for polygon in polygons]
    for i, j in shapely.STRtree(rims).query(rims, predicate="intersects").T:
        if i > j:
            raise Problem(
                "outlines-cross",
                "Two outlines of the profile touch or cross each other.",
                "Move one of them clear of the other.",
                items=[loops[i].edges[0].origin, loops[j].edges[0].origin],
            )
    n = len(loops)
    around: list[set[int]] = [set() for _ in range(n)]
    for i, j in shapely.STRtree(polygons).query(polygons, predicate="within").T:
        if i != j:
            around[i].add(int(j))
    inside: list[list[int]] = [[] for _ in range(n)]
    for k in range(n):
        for i in around[k]:
            if len(around[k]) == len(around[i]) + 1:
                inside[i].append(k)
    result = []
    for i in range(n):
        holes = inside[i]
        region = Region(loops[i], tuple(loops[k].oriented(False) for k in holes))
        result.append((region, len(around[i]) % 2 == 0))
    return result

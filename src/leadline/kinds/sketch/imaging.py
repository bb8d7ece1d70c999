"""Points, curves, paths, faces and edges of earlier steps projected onto a plane along its normal.

Projection along the plane's normal is affine, so lines, arcs, ellipses and splines stay exact: a circle becomes a
circle or an ellipse, a spline keeps its knots. Only edges along a free path are interpolated.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem
from leadline.core.sketch.model import Arc, Circle, ControlSpline, Ellipse, Entity, Line, Smoothed, Spline
from leadline.core.sketch.outline import coordinates, single_chain
from leadline.core.sketch.splines import spline_knots, support
from leadline.core.sweep.borders import FreeStrand, Strand
from leadline.recipe.context import Context
from leadline.recipe.inputs import edge_owners

PARALLEL = 1e-9
NO_SIZE = 1e-7
MOST_POINTS = 400


@dataclass
class Image:
    """One projected entity: its kind, the places of its points in the order of ``entity_points``, and its size."""

    kind: str
    points: list[Array]
    radius: float | None = None
    knots: list[float] | None = None
    handles: tuple[bool, bool] = (False, False)


def images(context: Context, source: str, what: str, item: str, plane: Plane) -> list[Image]:
    """The projection of a source onto a plane.

    Raises:
        Problem: the source is gone, or stands so that nothing of it is seen.
    """
    if what in ("face", "edge"):
        return _of_a_body(context, source, what, item, plane)
    product = context.sketch(source, "projection")
    sketch, at = product.solution.sketch, coordinates(product.solution.sketch)
    if what == "point":
        if item not in at:
            raise _gone(context, source, item)
        return [Image("point", [plane.to_plane(product.plane.to_space(at[item]))])]
    entities = [e for e in sketch.entities if e.id == item]
    if what == "path":
        entities = list(single_chain(sketch).entities)
    if not entities:
        raise _gone(context, source, item)
    return [_entity_image(e, at, product.plane, plane) for e in entities]


def _gone(context: Context, source: str, item: str) -> Problem:
    return Problem(
        "deleted-reference",
        f"{item} is no longer in “{context.names.get(source, source)}”.",
        "Attach it to something else.",
        source=source,
    )


def _entity_image(entity: Entity, at: dict[str, Array], source: Plane, plane: Plane) -> Image:
    def image(p: str) -> Array:
        return np.asarray(plane.to_plane(source.to_space(at[p])))

    if isinstance(entity, Line):
        a, b = image(entity.start), image(entity.end)
        if float(np.hypot(*(b - a))) < NO_SIZE:
            raise Problem("edge-on", f"The line {entity.id} is seen end-on from here.", "Project one of its points.")
        return Image("line", [a, b])
    if isinstance(entity, Circle):
        u = np.array([entity.radius, 0.0])
        return _round_image(entity.id, at[entity.center], u, np.array([0.0, entity.radius]), None, source, plane)
    if isinstance(entity, Arc):
        u = at[entity.start] - at[entity.center]
        ends = (at[entity.start], at[entity.end])
        return _round_image(entity.id, at[entity.center], u, np.array([-u[1], u[0]]), ends, source, plane)
    if isinstance(entity, Ellipse):
        u = at[entity.major] - at[entity.center]
        v = np.array([-u[1], u[0]]) / np.hypot(*u) * entity.minor
        both = None if entity.start is None or entity.end is None else (at[entity.start], at[entity.end])
        return _round_image(entity.id, at[entity.center], u, v, both, source, plane)
    if isinstance(entity, Spline | ControlSpline):
        points = [image(p) for p in support(entity)]
        if isinstance(entity, ControlSpline):
            return Image("control_spline", points)
        knots = list(spline_knots(entity, np.array([at[p] for p in support(entity)])))
        return Image(
            "spline", points, knots=knots, handles=(entity.start_handle is not None, entity.end_handle is not None)
        )
    assert isinstance(entity, Smoothed)
    raise Problem("not-projected", f"{entity.id} follows an outline.", "Project the outline, and smooth it here.")


def _round_image(
    name: str, center: Array, u: Array, v: Array, ends: tuple[Array, Array] | None, source: Plane, plane: Plane
) -> Image:
    """The image of ``center + cos t u + sin t v``: its axes are the singular vectors of the images of u and v."""
    along = np.column_stack(
        [plane.to_plane(source.to_space(p)) - plane.to_plane(source.to_space(np.zeros(2))) for p in np.eye(2)]
    )
    c = np.asarray(plane.to_plane(source.to_space(center)))
    axes, sizes, _ = np.linalg.svd(along @ np.column_stack([u, v]))
    if sizes[1] < NO_SIZE:
        raise Problem("edge-on", f"{name} is seen edge-on from here.", "Project one of its points.")
    images = [] if ends is None else [np.asarray(plane.to_plane(source.to_space(p))) for p in ends]
    if np.linalg.det(along) < 0:
        images.reverse()
    if sizes[0] - sizes[1] <= PARALLEL * sizes[0]:
        return Image("arc", [c, *images]) if images else Image("circle", [c], radius=float(sizes[0]))
    return Image("ellipse", [c, c + axes[:, 0] * sizes[0], *images], radius=float(sizes[1]))


def _of_a_body(context: Context, source: str, what: str, name: str, plane: Plane) -> list[Image]:
    if what == "face":
        body = context.faces(source, what)
        flat = body.outline(name)
        if flat is not None:
            return [image for loop in flat[1] for image in _outline_images(loop, flat[0], plane)]
        strands = body.border(name)
    else:
        strands = context.edges(source, what).edges().get(name, [])
        if not strands and context.quick and edge_owners(name) != {source}:
            raise context.not_yet(source, what)
    if not strands:
        raise _gone(context, source, name)
    return [image for strand in strands for image in strand_images(strand, plane)]


def strand_images(strand: Strand, plane: Plane) -> list[Image]:
    """The projection of a stretch of an edge. Raises Problem when it is seen end-on or winds too often."""
    if not isinstance(strand, FreeStrand):
        return _outline_images(strand.edges, strand.plane, plane)
    if len(strand.stations) > MOST_POINTS:
        raise Problem(
            "too-long", "The edge winds too often to be projected as one curve.", "Project one of its points."
        )
    points = np.asarray(plane.to_plane(strand.points))
    slopes = np.asarray(plane.to_plane(strand.points + strand.slopes)) - points
    return [_spline_image(points, slopes, strand.stations)]


def _outline_images(edges: Sequence[Edge], source: Plane, plane: Plane) -> list[Image]:
    """Images of edges in order; quarter arcs of one circle or ellipse become one again."""
    runs: list[list[Edge]] = []
    for edge in edges:
        if runs and _goes_on(runs[-1][-1], edge):
            runs[-1].append(edge)
        else:
            runs.append([edge])
    if len(runs) > 1 and _goes_on(runs[-1][-1], runs[0][0]):
        runs[0] = runs.pop() + runs[0]
    return [_edge_image(run, source, plane) for run in runs]


def _goes_on(before: Edge, after: Edge) -> bool:
    one, other = _conic(before), _conic(after)
    if before.origin != after.origin or one is None or other is None:
        return False
    return bool(np.allclose(one[0], other[0], atol=1e-9) and np.allclose(before.end, after.start, atol=1e-9))


def _conic(edge: Edge) -> tuple[Array, Array, Array] | None:
    """Centre and the images of the unit axes, ``u`` towards the middle of the edge, of a circular or elliptical arc."""
    if edge.degree != 2 or len(edge.control) != 3 or edge.weights[1] >= 1.0:
        return None
    a, b, c = edge.control
    w = float(edge.weights[1])
    center = (a + c) / 2 - (b - (a + c) / 2) * w**2 / (1 - w**2)
    return center, (b - center) * w, (c - a) / (2 * np.sqrt(1 - w**2))


def _edge_image(run: Sequence[Edge], source: Plane, plane: Plane) -> Image:
    def image(p: Array) -> Array:
        return np.asarray(plane.to_plane(source.to_space(p)))

    edge = run[0]
    if edge.straight:
        a, b = image(edge.start), image(edge.end)
        if float(np.hypot(*(b - a))) < NO_SIZE:
            raise Problem("edge-on", "The edge is seen end-on from here.", "Project one of its points.")
        return Image("line", [a, b])
    conic = _conic(edge)
    if conic is not None:
        center, u, v = conic
        ends = (run[0].start, run[-1].end)
        if u[0] * v[1] - u[1] * v[0] < 0:
            ends = (ends[1], ends[0])
        closed = np.allclose(ends[0], ends[1], atol=1e-9)
        return _round_image("The edge", center, u, v, None if closed else ends, source, plane)
    knots = np.unique(edge.knots)
    points = np.array([image(edge.point(t)) for t in knots])
    slopes = np.array([image(edge.point(t) + edge.derivative(t)) for t in knots]) - points
    return _spline_image(points, slopes, knots)


def _spline_image(points: Array, slopes: Array, knots: Array) -> Image:
    """Through points (n, 2) at the knots, leaving both ends along the slopes d/dt there."""
    first = points[0] + slopes[0] * (knots[1] - knots[0]) / 3
    last = points[-1] - slopes[-1] * (knots[-1] - knots[-2]) / 3
    return Image("spline", [*points, first, last], knots=(knots - knots[0]).tolist(), handles=(True, True))

"""Reference geometry: what points, curves, paths and flat faces look like square onto a sketch plane.

Projection along the plane's normal is affine, so lines, arcs, ellipses and splines stay exact: a circle becomes a
circle or an ellipse, a spline keeps its knots.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Message, Problem
from leadline.core.recipe.results import SketchProduct
from leadline.core.recipe.steps.context import Context
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.model import (
    Arc,
    Circle,
    ControlSpline,
    Ellipse,
    Entity,
    Line,
    Projection,
    Sketch,
    Smoothed,
    Spline,
    entity_points,
)
from leadline.core.sketch.outline import coordinates, single_chain
from leadline.core.sketch.splines import spline_knots, support
from leadline.core.sweep.faces import face_outline

PARALLEL = 1e-9
NO_SIZE = 1e-7


@dataclass
class Image:
    """One projected entity: its kind, the places of its points in the order of ``entity_points``, and its size."""

    kind: str
    points: list[Array]
    radius: float | None = None
    knots: list[float] | None = None
    handles: tuple[bool, bool] = (False, False)


def images(context: Context, source: str, what: str, item: str, plane: Plane) -> list[Image]:
    """What a source looks like on a plane.

    Raises:
        Problem: the source is gone, or stands so that nothing of it is seen.
    """
    if what == "face":
        outline_plane, loops = _face(context, source, item)
        return [_edge_image(e, outline_plane, plane) for loop in loops for e in loop]
    product = context.product(source, "projection")
    if not isinstance(product, SketchProduct):
        raise context.wrong(source, "projection", "a sketch")
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
        "deleted-reference", f"{item} is no longer in “{context.names.get(source, source)}”.", "Attach it to something else.",
        source=source,
    )  # fmt: skip


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
        return Image("spline", points, knots=knots, handles=(entity.start_handle is not None, entity.end_handle is not None))
    assert isinstance(entity, Smoothed)
    raise Problem("not-projected", f"{entity.id} follows an outline.", "Project the outline, and smooth it here.")


def _round_image(
    name: str, center: Array, u: Array, v: Array, ends: tuple[Array, Array] | None, source: Plane, plane: Plane
) -> Image:
    """The image of ``center + cos t u + sin t v``: its axes are the singular vectors of the images of u and v."""
    along = np.column_stack([plane.to_plane(source.to_space(p)) - plane.to_plane(source.to_space(np.zeros(2))) for p in np.eye(2)])
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


def _face(context: Context, source: str, face: str) -> tuple[Plane, list[list[Edge]]]:
    plan = context.plan(source, "face")
    found = face_outline(plan.motion, plan.regions, face)
    if found is None:
        raise _gone(context, source, face)
    return found


def _edge_image(edge: Edge, source: Plane, plane: Plane) -> Image:
    def image(p: Array) -> Array:
        return np.asarray(plane.to_plane(source.to_space(p)))

    if edge.straight:
        return Image("line", [image(edge.start), image(edge.end)])
    if edge.arc is not None:
        center = np.array(edge.arc[:2])
        u = edge.start - center
        middle = edge.point(sum(edge.domain) / 2) - center
        turn = 1.0 if u[0] * middle[1] - u[1] * middle[0] > 0 else -1.0
        ends = (edge.start, edge.end) if turn > 0 else (edge.end, edge.start)
        return _round_image(edge.origin, center, u, np.array([-u[1], u[0]]), ends, source, plane)
    knots = np.unique(edge.knots)
    points = [image(edge.point(t)) for t in knots]
    first, last = (image(edge.point(t)) for t in (knots[0], knots[-1]))
    tangents = [image(edge.point(t) + edge.derivative(t)) - p for t, p in ((knots[0], first), (knots[-1], last))]
    handles = [first + tangents[0] * (knots[1] - knots[0]) / 3, last - tangents[1] * (knots[-1] - knots[-2]) / 3]
    return Image("spline", [*points, *handles], knots=(knots - knots[0]).tolist(), handles=(True, True))


# -- into a sketch ----------------------------------------------------------------------------------


def project(sketch: Sketch, found: Sequence[Image], source: str, what: str, item: str, replace: str | None = None) -> Sketch:
    """Add images as construction geometry, or attach a projection that lost its source to this one.

    Raises:
        Problem: what is attached has another number of points than what it replaces.
    """
    draft = Draft(sketch)
    if replace is not None:
        return _attach(draft, found, source, what, item, replace)
    places: dict[tuple[float, float], str] = {}

    def point(at: Array) -> str:
        key = (round(float(at[0]), 7), round(float(at[1]), 7))
        if key not in places:
            places[key] = draft.add_point(at)
        return places[key]

    points: list[str] = []
    entities: list[str] = []
    for image in found:
        names = [point(p) for p in image.points]
        points += names
        if image.kind != "point":
            entities.append(draft.add(_entity(image, names)))
    draft.projections.append(Projection(
        id=draft.name("j"), source=source, what=what, item=item, points=list(dict.fromkeys(points)), entities=entities,
    ))  # fmt: skip
    return draft.sketch()


def _entity(image: Image, names: list[str]) -> Entity:
    if image.kind == "line":
        return Line(id="x", start=names[0], end=names[1], construction=True)
    if image.kind == "arc":
        return Arc(id="x", center=names[0], start=names[1], end=names[2], construction=True)
    if image.kind == "circle":
        return Circle(id="x", center=names[0], radius=image.radius or 0.0, construction=True)
    if image.kind == "ellipse":
        start, end = (names[2], names[3]) if len(names) == 4 else (None, None)
        return Ellipse(id="x", center=names[0], major=names[1], minor=image.radius or 0.0, start=start, end=end, construction=True)
    if image.kind == "control_spline":
        return ControlSpline(id="x", points=names, construction=True)
    n = len(image.knots or [])
    rest = names[n:]
    start_handle = rest.pop(0) if image.handles[0] else None
    end_handle = rest.pop(0) if image.handles[1] else None
    return Spline(id="x", points=names[:n], knots=image.knots, start_handle=start_handle, end_handle=end_handle, construction=True)


def _attach(draft: Draft, found: Sequence[Image], source: str, what: str, item: str, replace: str) -> Sketch:
    old = next((p for p in draft.projections if p.id == replace), None)
    if old is None:
        raise Problem("deleted-reference", f"The projection {replace} is no longer in the sketch.", "Project again.")
    if _shape(draft, old) != [(i.kind, len(i.points)) for i in found]:
        raise Problem(
            "other-shape", "What you picked has another shape than what it would replace.",
            "Pick the same kind of thing, or delete this one and project anew.", items=[*old.entities, *old.points],
        )  # fmt: skip
    places: dict[str, tuple[float, float]] = {}
    _place(draft, old, found, places, {})
    draft.points |= {p: np.array(at) for p, at in places.items()}
    draft.projections = [
        p.model_copy(update={"source": source, "what": what, "item": item}) if p is old else p for p in draft.projections
    ]
    return draft.sketch()


def _shape(draft: Draft, projection: Projection) -> list[tuple[str, int]]:
    if not projection.entities:
        return [("point", 1)] * len(projection.points)
    return [(draft.entities[e].kind, len(entity_points(draft.entities[e]))) for e in projection.entities]


def follow(context: Context, sketch: Sketch, plane: Plane) -> tuple[dict[str, tuple[float, float]], dict[str, float], list[Message]]:
    """Where all projections of a sketch stand now: places, radii, and a warning for each that lost its source."""
    places: dict[str, tuple[float, float]] = {}
    radii: dict[str, float] = {}
    messages: list[Message] = []
    draft = Draft(sketch)
    for projection in sketch.projections:
        try:
            found = images(context, projection.source, projection.what, projection.item, plane)
            if _shape(draft, projection) != [(i.kind, len(i.points)) for i in found]:
                raise Problem("other-shape", "Its source has changed its shape.", "Attach it again.")
        except Problem as problem:
            name = context.names.get(projection.source, projection.source)
            messages.append(Message(
                "warning", "lost-projection", f"The reference from “{name}” stands where it was: {problem.message.text}",
                "Attach it to something else, or let it go.", {"items": [*projection.entities, *projection.points], "projection": projection.id},
            ))  # fmt: skip
            continue
        _place(draft, projection, found, places, radii)
    return places, radii, messages


def _place(draft: Draft, projection: Projection, found: Sequence[Image], places: dict[str, tuple[float, float]], radii: dict[str, float]) -> None:
    names = [entity_points(draft.entities[e]) for e in projection.entities] or [[p] for p in projection.points]
    for own, image in zip(names, found, strict=True):
        for point, at in zip(own, image.points, strict=True):
            places[point] = (float(at[0]), float(at[1]))
    for entity, image in zip(projection.entities, found, strict=False):
        if image.radius is not None:
            radii[entity] = image.radius

"""Reference geometry in a sketch: projected from earlier steps, following them, attached again."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Message, Problem
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
    Spline,
    entity_points,
)
from leadline.kinds.sketch.imaging import Image, images
from leadline.recipe.context import NOT_YET, Context


def project(
    sketch: Sketch, found: Sequence[Image], source: str, what: str, item: str, replace: str | None = None
) -> Sketch:
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
    draft.projections.append(
        Projection(
            id=draft.name("j"),
            source=source,
            what=what,
            item=item,
            points=list(dict.fromkeys(points)),
            entities=entities,
        )
    )
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
        return Ellipse(
            id="x", center=names[0], major=names[1], minor=image.radius or 0.0, start=start, end=end, construction=True
        )
    if image.kind == "control_spline":
        return ControlSpline(id="x", points=names, construction=True)
    n = len(image.knots or [])
    rest = names[n:]
    start_handle = rest.pop(0) if image.handles[0] else None
    end_handle = rest.pop(0) if image.handles[1] else None
    return Spline(
        id="x", points=names[:n], knots=image.knots, start_handle=start_handle, end_handle=end_handle, construction=True
    )


def _attach(draft: Draft, found: Sequence[Image], source: str, what: str, item: str, replace: str) -> Sketch:
    old = next((p for p in draft.projections if p.id == replace), None)
    if old is None:
        raise Problem("deleted-reference", f"The projection {replace} is no longer in the sketch.", "Project again.")
    if _shape(draft, old) != [(i.kind, len(i.points)) for i in found]:
        raise Problem(
            "other-shape",
            "What you picked has another shape than what it would replace.",
            "Pick the same kind of thing, or delete this one and project anew.",
            items=[*old.entities, *old.points],
        )
    places: dict[str, tuple[float, float]] = {}
    _place(draft, old, found, places, {})
    draft.points |= {p: np.array(at) for p, at in places.items()}
    draft.projections = [
        p.model_copy(update={"source": source, "what": what, "item": item}) if p is old else p
        for p in draft.projections
    ]
    return draft.sketch()


def _shape(draft: Draft, projection: Projection) -> list[tuple[str, int]]:
    if not projection.entities:
        return [("point", 1)] * len(projection.points)
    return [(draft.entities[e].kind, len(entity_points(draft.entities[e]))) for e in projection.entities]


def follow(
    context: Context, sketch: Sketch, plane: Plane
) -> tuple[dict[str, tuple[float, float]], dict[str, float], list[Message]]:
    """Where all projections of a sketch stand now: places, radii, and a warning for each that lost its source.

    In a quick build those of what only a body that is built can tell stay where they were.
    """
    places: dict[str, tuple[float, float]] = {}
    radii: dict[str, float] = {}
    messages: list[Message] = []
    if not sketch.projections:
        return places, radii, messages
    draft = Draft(sketch)
    for projection in sketch.projections:
        try:
            if not (
                draft.entities.keys() >= set(projection.entities) and draft.points.keys() >= set(projection.points)
            ):
                raise Problem("drawn-away", "Some of what it drew is no longer in the sketch.", "Let it go.")
            found = images(context, projection.source, projection.what, projection.item, plane)
            if _shape(draft, projection) != [(i.kind, len(i.points)) for i in found]:
                raise Problem("other-shape", "Its source has changed its shape.", "Attach it again.")
        except Problem as problem:
            if problem.message.code == NOT_YET:
                continue  # it stays where it was until the body is built
            name = context.names.get(projection.source, projection.source)
            messages.append(
                Message(
                    "warning",
                    "lost-projection",
                    f"The reference from “{name}” stands where it was: {problem.message.marked}",
                    "Attach it to something else, or let it go.",
                    {"items": [*projection.entities, *projection.points], "projection": projection.id},
                )
            )
            continue
        _place(draft, projection, found, places, radii)
    return places, radii, messages


def _place(
    draft: Draft,
    projection: Projection,
    found: Sequence[Image],
    places: dict[str, tuple[float, float]],
    radii: dict[str, float],
) -> None:
    names = [entity_points(draft.entities[e]) for e in projection.entities] or [[p] for p in projection.points]
    for own, image in zip(names, found, strict=True):
        for point, at in zip(own, image.points, strict=True):
            places[point] = (float(at[0]), float(at[1]))
    for entity, image in zip(projection.entities, found, strict=False):
        if image.radius is not None:
            radii[entity] = image.radius

"""Move, turn, scale, mirror, copy and paste pieces of a sketch."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.model import (
    LENGTHS,
    X_AXIS,
    Y_AXIS,
    Arc,
    Circle,
    Constraint,
    Dimension,
    Ellipse,
    Entity,
    Line,
    Sketch,
    entity_points,
)

LEVELS = ("horizontal", "vertical")


@dataclass(frozen=True)
class Map:
    """``p -> matrix @ p + shift``: a similarity, with its turn (rad), factor and whether it mirrors."""

    matrix: Array
    shift: Array

    def __call__(self, p: Array) -> Array:
        return np.asarray(self.matrix @ p + self.shift)

    @property
    def mirrors(self) -> bool:
        return bool(np.linalg.det(self.matrix) < 0)

    @property
    def factor(self) -> float:
        return math.sqrt(abs(float(np.linalg.det(self.matrix))))

    @property
    def keeps_levels(self) -> bool:
        return bool(np.abs(self.matrix - np.diag(np.diag(self.matrix))).max() < 1e-9 * self.factor)

    @property
    def swaps_levels(self) -> bool:
        return bool(np.abs(np.diag(self.matrix)).max() < 1e-9 * self.factor)


def shift_by(dx: float, dy: float) -> Map:
    return Map(np.eye(2), np.array([dx, dy]))


def turn_about(center: Array, angle: float, factor: float = 1.0) -> Map:
    c, s = factor * math.cos(angle), factor * math.sin(angle)
    matrix = np.array([[c, -s], [s, c]])
    return Map(matrix, center - matrix @ center)


def mirror_in(start: Array, end: Array) -> Map:
    u = (end - start) / np.hypot(*(end - start))
    matrix = 2 * np.outer(u, u) - np.eye(2)
    return Map(matrix, start - matrix @ start)


def transform(sketch: Sketch, items: Sequence[str], change: Map) -> Sketch:
    """Move, turn or scale pieces where they are. Ties between them stay; ties to the rest of the sketch are let go."""
    draft = Draft(sketch)
    entities, points = _closure(draft, items)
    outside = [e for e in draft.entities.values() if e.id not in entities and points & set(entity_points(e))]
    if outside:
        points = _loosen(draft, entities, points, {p for e in outside for p in entity_points(e)})
    own = entities | points
    for p in points:
        draft.points[p] = change(draft.points[p])
    for name in entities:
        draft.entities[name] = _scaled(draft.entities[name], change.factor)
    draft.constraints = [c for c in (_after(c, own, change) for c in draft.constraints) if c is not None]
    draft.dimensions = [
        _resized(d, change) if set(d.items) <= own else d
        for d in draft.dimensions
        if set(d.items) <= own or not own & set(d.items)
    ]
    return draft.sketch()


def copies(sketch: Sketch, items: Sequence[str], changes: Sequence[Map]) -> Sketch:
    """Further copies of pieces, one per map, each with the constraints and sizes that hold within it."""
    draft = Draft(sketch)
    for change in changes:
        _add_copy(draft, *_closure(draft, items), draft, change)
    return draft.sketch()


def paste(sketch: Sketch, clip: Sketch, at: Array) -> Sketch:
    """Pieces from another sketch, their middle put at a place. Ties to paths stay behind."""
    draft, other = Draft(sketch), Draft(clip)
    xy = np.array([*other.points.values()] or [np.zeros(2)])
    middle = (xy.min(axis=0) + xy.max(axis=0)) / 2
    _add_copy(draft, set(other.entities), set(other.points), other, shift_by(*(at - middle)))
    return draft.sketch()


def clip(sketch: Sketch, items: Sequence[str]) -> Sketch:
    """The picked pieces alone, as a sketch."""
    draft = Draft(sketch)
    entities, points = _closure(draft, items)
    own = entities | points
    return Sketch(
        points=[p for p in sketch.points if p.id in points],
        entities=[e for e in sketch.entities if e.id in entities],
        constraints=[c for c in draft.constraints if set(c.items) <= own],
        dimensions=[d for d in draft.dimensions if set(d.items) <= own],
    )


def mirror(sketch: Sketch, items: Sequence[str], about: str, live: bool) -> Sketch:
    """Mirror images of pieces about a line or axis; ``live`` ones stay symmetric.

    Raises:
        Problem: ``about`` is not a line, or is one of the pieces.
    """
    draft = Draft(sketch)
    line = draft.entities.get(about)
    if about in (X_AXIS, Y_AXIS):
        start, end = np.zeros(2), np.array([1.0, 0.0] if about == X_AXIS else [0.0, 1.0])
    elif isinstance(line, Line):
        start, end = draft.at(line.start), draft.at(line.end)
    else:
        raise Problem("wrong-items", "Things are mirrored about a line.", "Pick a line or an axis last.", items=[about])
    items = [i for i in items if i != about]
    entities, points = _closure(draft, items)
    change = mirror_in(start, end)
    size = float(np.hypot(*np.ptp(np.array(list(draft.points.values())), axis=0))) or 1.0
    on_axis = {p for p in points if float(np.hypot(*(change(draft.at(p)) - draft.at(p)))) < 1e-7 * size}
    names = _add_copy(draft, entities, points, draft, change, shared=on_axis, constrained=not live)
    if live:
        loose = {p for p in points if p not in on_axis}
        for p in sorted(loose):
            draft.hold("symmetric", p, names[p], about)
        for e in sorted(entities):
            if isinstance(draft.entities[e], Circle):
                draft.hold("equal", e, names[e])
    return draft.sketch()


# -- the parts ------------------------------------------------------------------------------------


def _closure(draft: Draft, items: Sequence[str]) -> tuple[set[str], set[str]]:
    """The entities among the items, and all points that they or the items are."""
    entities = {i for i in items if i in draft.entities}
    points = {i for i in items if i in draft.points} | {p for e in entities for p in entity_points(draft.entities[e])}
    if not entities and not points:
        raise Problem("nothing-picked", "Nothing is picked.", "Pick curves or points first.")
    return entities, points & set(draft.points)


def _loosen(draft: Draft, entities: set[str], points: set[str], shared: set[str]) -> set[str]:
    """Give moved entities points of their own where they shared them with others; returns the points that move."""
    twins = {p: draft.add_point(draft.points[p]) for p in points & shared}
    for name in entities:
        draft.entities[name] = _renamed(draft.entities[name], twins)
    inner = entities | points
    draft.constraints = [
        c.model_copy(update={"items": [twins.get(i, i) for i in c.items]}) if set(c.items) <= inner else c
        for c in draft.constraints
    ]
    draft.dimensions = [
        d.model_copy(update={"items": [twins.get(i, i) for i in d.items]}) if set(d.items) <= inner else d
        for d in draft.dimensions
    ]
    return (points - shared) | set(twins.values())


def _add_copy(
    draft: Draft,
    entities: set[str],
    points: set[str],
    source: Draft,
    change: Map,
    shared: set[str] | None = None,
    constrained: bool = True,
) -> dict[str, str]:
    """Add mapped copies; returns new names by old. ``shared`` points are not copied."""
    names = {p: p for p in shared or set()}
    for p in list(source.points):
        if p in points and p not in names:
            names[p] = draft.add_point(change(source.points[p]))
    for name in list(source.entities):
        if name in entities:
            entity = _renamed(_scaled(source.entities[name], change.factor), names)
            names[name] = draft.add(_reversed(entity) if change.mirrors else entity)
    if constrained:
        own = entities | points
        for c in list(source.constraints):
            kept = _after(c, own, change) if set(c.items) <= own else None
            if kept is not None and not set(kept.items) <= set(shared or ()):
                draft.hold(kept.kind, *(names[i] for i in kept.items))
        for d in list(source.dimensions):
            if set(d.items) <= own and not set(d.items) <= set(shared or ()):
                copy = _resized(d, change)
                draft.dimensions.append(
                    copy.model_copy(update={"id": draft.name("d"), "items": [names[i] for i in d.items]})
                )
    return names


def _after(c: Constraint, own: set[str], change: Map) -> Constraint | None:
    """What becomes of a constraint when the pieces in ``own`` move by a map; None when it no longer holds."""
    mine = own & set(c.items)
    if not mine:
        return c
    if set(c.items) - own or c.kind in ("fix", "on_path"):
        return None
    if c.kind in LEVELS and not change.keeps_levels:
        if not change.swaps_levels:
            return None
        return c.model_copy(update={"kind": LEVELS[1 - LEVELS.index(c.kind)]})
    return c


def _resized(d: Dimension, change: Map) -> Dimension:
    update: dict[str, object] = {}
    if d.kind in LENGTHS and abs(change.factor - 1) > 1e-12:
        update["value"] = (
            d.value * change.factor if isinstance(d.value, int | float) else f"({d.value})*{change.factor:.9g}"
        )
    kinds = ("horizontal_distance", "vertical_distance")
    if d.kind in kinds and not change.keeps_levels:
        update["kind"] = kinds[1 - kinds.index(d.kind)] if change.swaps_levels else "distance"
    if d.at is not None:
        x, y = change.matrix @ np.array(d.at)
        update["at"] = (float(x), float(y))
    return d.model_copy(update=update)


def _scaled(entity: Entity, factor: float) -> Entity:
    if isinstance(entity, Circle):
        return entity.model_copy(update={"radius": entity.radius * factor})
    return entity.model_copy(update={"minor": entity.minor * factor}) if isinstance(entity, Ellipse) else entity


def _renamed(entity: Entity, names: dict[str, str]) -> Entity:
    update: dict[str, object] = {}
    for field in ("start", "end", "center", "major", "start_handle", "end_handle"):
        value = getattr(entity, field, None)
        if value is not None:
            update[field] = names.get(value, value)
    if hasattr(entity, "points"):
        update["points"] = [names.get(p, p) for p in entity.points]
    if hasattr(entity, "of"):
        update["of"] = [names.get(e, e) for e in entity.of]
    return entity.model_copy(update=update)


def _reversed(entity: Entity) -> Entity:
    """A mirrored arc runs the other way between its ends."""
    if isinstance(entity, Arc | Ellipse) and entity.start is not None:
        return entity.model_copy(update={"start": entity.end, "end": entity.start})
    return entity

"""A sketch while an edit changes it: makes unused names, adds entities, and removes entities with the constraints that
refer to them.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.sketch.model import (
    ORIGIN,
    Constraint,
    Dimension,
    Entity,
    Line,
    Point,
    Sketch,
    entity_points,
)


class Draft:
    """Mutable copies of a sketch's lists; ``sketch()`` gives the result."""

    def __init__(self, sketch: Sketch) -> None:
        self.points = {p.id: np.array([p.x, p.y]) for p in sketch.points}
        self.entities: dict[str, Entity] = {e.id: e for e in sketch.entities}
        self.constraints = list(sketch.constraints)
        self.dimensions = list(sketch.dimensions)
        self.projections = list(sketch.projections)
        held = {*(c.id for c in self.constraints), *(d.id for d in self.dimensions), *(p.id for p in self.projections)}
        self._taken = {*self.points, *self.entities, *held}
        self._last: dict[str, int] = {}

    def sketch(self) -> Sketch:
        points = [Point(id=p, x=float(x), y=float(y)) for p, (x, y) in self.points.items()]
        whole = [
            p for p in self.projections if set(p.points) <= set(self.points) and set(p.entities) <= set(self.entities)
        ]
        return Sketch(
            points=points,
            entities=list(self.entities.values()),
            constraints=self.constraints,
            dimensions=self.dimensions,
            projections=whole,
        )

    def name(self, stem: str) -> str:
        """The first name of a stem and a number that was not taken yet; what was taken stays so when it goes."""
        i = self._last.get(stem, 0) + 1
        while f"{stem}{i}" in self._taken:
            i += 1
        self._last[stem] = i
        self._taken.add(f"{stem}{i}")
        return f"{stem}{i}"

    def at(self, point: str) -> Array:
        return np.zeros(2) if point == ORIGIN else self.points[point]

    def entity(self, name: str) -> Entity:
        if name not in self.entities:
            raise Problem(
                "deleted-reference", f"{name} is no longer in the sketch.", "Pick the piece again.", items=[name]
            )
        return self.entities[name]

    # -- adding -----------------------------------------------------------------------------------

    def add_point(self, at: ArrayLike) -> str:
        name = self.name("p")
        self.points[name] = np.array(at, dtype=float)
        return name

    def add(self, entity: Entity) -> str:
        """Add an entity under a fresh name, whatever its own."""
        name = self.name("e")
        self.entities[name] = entity.model_copy(update={"id": name})
        return name

    def hold(self, kind: Any, *items: str, path: str | None = None) -> None:
        self.constraints.append(Constraint(id=self.name("k"), kind=kind, items=list(items), path=path))

    def size(self, kind: Any, value: float | str, *items: str) -> None:
        self.dimensions.append(Dimension(id=self.name("d"), kind=kind, items=list(items), value=value))

    # -- changing ---------------------------------------------------------------------------------

    def change(self, name: str, **update: Any) -> None:
        self.entities[name] = self.entities[name].model_copy(update=update)

    def drop(self, names: Iterable[str]) -> None:
        """Remove entities with the constraints and dimensions that refer to them, and the points that nothing uses any
        more.
        """
        gone = set(names)
        before = {p for e in self.entities.values() for p in entity_points(e)}
        for name in gone:
            self.entities.pop(name, None)
        self.drop_constraints_on(gone)
        self.sweep(before)

    def sweep(self, candidates: Iterable[str]) -> None:
        """Take away those of the points that no entity stands on and no constraint holds to something real."""
        used = {p for e in self.entities.values() for p in entity_points(e)}
        loose = {p for p in candidates if p not in used and p in self.points}
        for point in loose:
            del self.points[point]
        self.drop_constraints_on(loose)

    def drop_constraints_on(self, gone: set[str]) -> None:
        self.constraints = [c for c in self.constraints if not gone & set(c.items)]
        self.dimensions = [d for d in self.dimensions if not gone & set(d.items)]

    def drop_lengths_of(self, name: str) -> None:
        """A piece whose ends have moved keeps its directions and loses its lengths."""
        lengths = ("length", "curve_length")
        self.dimensions = [d for d in self.dimensions if not (d.kind in lengths and name in d.items)]
        kinds = ("midpoint", "symmetric")
        equal_lines = isinstance(self.entities.get(name), Line)
        self.constraints = [
            c
            for c in self.constraints
            if name not in c.items or not (c.kind in kinds or (c.kind == "equal" and equal_lines))
        ]

    def rename(self, old: str, new: str, kinds: tuple[str, ...] | None = None) -> None:
        """Let constraints (of some kinds) and dimensions hold ``new`` where they held ``old``."""
        self.constraints = [
            c.model_copy(update={"items": [new if k == old else k for k in c.items]})
            if old in c.items and (kinds is None or c.kind in kinds)
            else c
            for c in self.constraints
        ]
        if kinds is None:
            self.dimensions = [
                d.model_copy(update={"items": [new if k == old else k for k in d.items]}) if old in d.items else d
                for d in self.dimensions
            ]

    def users(self, point: str) -> list[str]:
        """The entities that stand on a point."""
        return [e.id for e in self.entities.values() if point in entity_points(e)]

    def held(self, point: str) -> bool:
        """Whether a constraint or dimension names the point."""
        return any(point in c.items for c in self.constraints) or any(point in d.items for d in self.dimensions)

    def with_end(self, name: str, at_end: bool, point: str) -> None:
        """Let an entity end at another point."""
        entity = self.entities[name]
        if entity.kind in ("spline", "control_spline"):
            points = list(entity.points)
            points[-1 if at_end else 0] = point
            self.change(name, points=points)
        else:
            self.change(name, **{"end" if at_end else "start": point})

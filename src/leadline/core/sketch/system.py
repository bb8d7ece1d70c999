"""A sketch as a system of equations: which variables there are, and what holds them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leadline.core.sketch.bordered import Bordered
from leadline.core.sketch.model import (
    ORIGIN,
    X_AXIS,
    Y_AXIS,
    Arc,
    Circle,
    ControlSpline,
    Ellipse,
    Entity,
    Line,
    Point,
    Sketch,
    Spline,
    entity_points,
)
from leadline.core.sketch.names import check_names
from leadline.core.sketch.rows import Array, Equations, Kind, Row, Terms
from leadline.core.sketch.splines import AnySpline, spline_knots, support

COINCIDENT_TOLERANCE = 1e-9
_AXIS_ENDS = {X_AXIS: "X!", Y_AXIS: "Y!"}


@dataclass
class External:
    """What a sketch takes from outside.

    Evaluated dimensions by id; where paths cross its plane, by the tie's id; where projected points stand and how
    large projected circles and ellipses (their minor half-axis) are, by the point's or entity's id.
    """

    dimensions: Mapping[str, float] = field(default_factory=dict)
    crossings: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    places: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    radii: Mapping[str, float] = field(default_factory=dict)


class System:
    """Variables of a sketch, scaled to unit size about its middle, and its equations.

    Coincident points that already stand together are one variable pair; points that do not yet are
    held by equations, so that a solve moves them together.
    """

    held: NDArray[np.bool_]

    def __init__(self, sketch: Sketch, external: External | None = None) -> None:
        self.sketch = sketch
        self.external = external or External()
        self.entities = {e.id: e for e in sketch.entities}
        self.points = {p.id: p for p in sketch.points}
        check_names(self.sketch)
        self._place()
        self._alias()
        self._number()
        self.equations = Equations(self.n)
        self._metric: list[Terms] = []
        self._shape()

    # -- reading and writing the state ---------------------------------------------------------

    def state(self) -> Array:
        """The drawn state as scaled variables, shape (n,)."""
        return self._state(self.sketch.entities, self._places)

    def state_of(self, other: Sketch) -> Array:
        """The places and sizes of another sketch of the same points and entities as scaled variables, shape (n,); what
        is held stays as drawn.
        """
        places = {p.id: (np.array([p.x, p.y]) - self.middle) / self.scale for p in other.points}
        return np.where(self.held, self.state(), self._state(other.entities, {**self._places, **places}))

    def _state(self, entities: Sequence[Entity], places: Mapping[str, Array]) -> Array:
        x = np.zeros(self.n)
        for root, base in self._base.items():
            x[base], x[base + 1] = places[root]
        for entity in entities:
            if isinstance(entity, Circle):
                x[self.radius[entity.id]] = entity.radius / self.scale
            elif isinstance(entity, Ellipse):
                x[self.radius[entity.id]] = entity.minor / self.scale
            elif isinstance(entity, Arc):
                cx, cy = places[entity.center]
                arms = (places[p] for p in (entity.start, entity.end))
                x[self.radius[entity.id]] = max(1e-9, sum(math.hypot(px - cx, py - cy) for px, py in arms) / 2)
        for index, value in self._own.items():
            x[index] = value
        return x

    def solved(self, x: Array) -> Sketch:
        """The sketch with the coordinates of state x."""
        points = []
        for p in self.sketch.points:
            base = self._base[self._roots[p.id]]
            px, py = (x[base : base + 2] * self.scale + self.middle).tolist()
            points.append(Point.model_construct(id=p.id, x=px, y=py))
        entities = [
            self._resized(e, float(x[self.radius[e.id]] * self.scale)) if e.id in self.radius else e
            for e in self.sketch.entities
        ]
        return self.sketch.model_copy(update={"points": points, "entities": entities})

    @staticmethod
    def _resized(entity: Entity, radius: float) -> Entity:
        if isinstance(entity, Circle):
            return entity.model_copy(update={"radius": radius})
        return entity.model_copy(update={"minor": radius}) if isinstance(entity, Ellipse) else entity

    def variables_of(self, item: str) -> list[int]:
        """Indices of the variables that a point or entity stands on, its own radius included."""
        if item in self.entities:
            entity = self.entities[item]
            own = [self.radius[item]] if item in self.radius else []
            return own + [v for p in entity_points(entity) for v in self.variables_of(p)]
        base = self._base[self._roots[item]]
        return [base, base + 1]

    # -- for the catalogue ----------------------------------------------------------------------

    def point_terms(self, point_id: str) -> tuple[Terms, Terms]:
        base = self._base[self._roots[point_id]]
        return [(base, 1.0)], [(base + 1, 1.0)]

    def between(self, start: str, end: str) -> int:
        """The direction from one point to another."""
        return self.combination([(start, -1.0), (end, 1.0)])

    def combination(self, weights: list[tuple[str, float]]) -> int:
        """The direction sum(w_i p_i), for weights that sum to nought."""
        x_terms = [(self._base[self._roots[p]], w) for p, w in weights]
        return self.equations.add_direction(x_terms, [(i + 1, w) for i, w in x_terms])

    def turned(self, start: str, end: str) -> int:
        """The direction from one point to another, turned by a quarter, so that a cross with it is a dot product."""
        a, b = self._base[self._roots[start]], self._base[self._roots[end]]
        return self.equations.add_direction([(b + 1, -1.0), (a + 1, 1.0)], [(b, 1.0), (a, -1.0)])

    def ends_of(self, line: str) -> tuple[str, str]:
        """Start and end point of a line or a sketch axis."""
        if line in _AXIS_ENDS:
            return ORIGIN, _AXIS_ENDS[line]
        entity = self.entities[line]
        assert isinstance(entity, Line)
        return entity.start, entity.end

    def same_point(self, a: str, b: str) -> bool:
        return self._roots[a] == self._roots[b]

    def at(self, point_id: str) -> Array:
        """The drawn place of a point, scaled."""
        return self._scaled(self._roots[point_id])

    def knots(self, spline: AnySpline) -> tuple[float, ...]:
        return spline_knots(spline, np.array([self._raw(p) for p in support(spline)]))

    def own_variable(self, value: float) -> int:
        """A further variable that a constraint needs for itself, e.g. where on a spline its point is."""
        self.n += 1
        self.equations.n = self.n
        self.held = np.concatenate([self.held, [False]])
        self._own[self.n - 1] = value
        return self.n - 1

    def is_point(self, item: str) -> bool:
        return item in self._roots

    # -- building -------------------------------------------------------------------------------

    def _raw(self, point_id: str) -> tuple[float, float]:
        if point_id == ORIGIN:
            return (0.0, 0.0)
        if point_id in _AXIS_ENDS.values():
            one = self.scale
            return (one, 0.0) if point_id == _AXIS_ENDS[X_AXIS] else (0.0, one)
        p = self.points[point_id]
        return (p.x, p.y)

    def _scaled(self, point_id: str) -> Array:
        return self._places[point_id]

    def _place(self) -> None:
        xy = np.array([(p.x, p.y) for p in self.sketch.points] or [(0.0, 0.0)])
        radii = [e.radius for e in self.sketch.entities if isinstance(e, Circle)]
        radii += [e.minor for e in self.sketch.entities if isinstance(e, Ellipse)]
        self.middle = xy.mean(axis=0)
        reach = float(np.hypot(*(xy - self.middle).T).max())  # does not change when the drawing is turned
        self.scale = max(2 * reach, *radii, 1e-6)
        names = [*self.points, ORIGIN, *_AXIS_ENDS.values()]
        raw = np.array([self._raw(p) for p in names])
        self._places: dict[str, Array] = dict(zip(names, (raw - self.middle) / self.scale, strict=True))

    def _alias(self) -> None:
        roots = {p: p for p in [*self.points, ORIGIN, *_AXIS_ENDS.values()]}

        def find(p: str) -> str:
            while roots[p] != p:
                roots[p] = roots[roots[p]]
                p = roots[p]
            return p

        self.aliased: set[str] = set()
        for constraint in self.sketch.constraints:
            if constraint.kind != "coincident" or len(constraint.items) != 2:
                continue
            if not all(i in roots for i in constraint.items):
                continue
            a, b = (find(i) for i in constraint.items)
            pair = [np.array(self._raw(i)) for i in constraint.items]
            if np.abs(pair[0] - pair[1]).max() <= COINCIDENT_TOLERANCE * self.scale:
                self.aliased.add(constraint.id)
                if a == ORIGIN or b != ORIGIN:
                    a, b = b, a
                roots[a] = b
        self._roots = {p: find(p) for p in roots}

    def _number(self) -> None:
        self._base: dict[str, int] = {}
        n = 0
        for root in dict.fromkeys(self._roots.values()):
            self._base[root] = n
            n += 2
        self.radius: dict[str, int] = {}  # of an ellipse: its minor half-axis
        self._own: dict[int, float] = {}
        for entity in self.sketch.entities:
            if isinstance(entity, Arc | Circle | Ellipse):
                self.radius[entity.id] = n
                n += 1
        self.n = n
        self.held = np.zeros(n, dtype=bool)
        self.bordered: Bordered | None = None  # the matrix of its steps, laid out once
        for name in (ORIGIN, *_AXIS_ENDS.values()):
            self.held[self._base[name] : self._base[name] + 2] = True

    def _shape(self) -> None:
        """Edges whose turning and stretching is watched, and what makes an arc an arc."""
        self.ranges: list[tuple[int, float, float]] = []
        projected = {e for p in self.sketch.projections for e in p.entities}  # all their points are held already
        self.edges: list[int] = []
        self.arcs: list[tuple[int, int]] = []
        for entity in self.sketch.entities:
            if isinstance(entity, Line):
                self.edges.append(self.between(entity.start, entity.end))
            elif isinstance(entity, Spline | ControlSpline):
                pairs = list(zip(entity.points, entity.points[1:], strict=False))
                if isinstance(entity, Spline):
                    handles = [(entity.points[0], entity.start_handle), (entity.end_handle, entity.points[-1])]
                    pairs += [(a, b) for a, b in handles if a is not None and b is not None]
                self.edges.extend(self.between(a, b) for a, b in pairs)
            elif isinstance(entity, Ellipse):
                self.edges.append(self.between(entity.center, entity.major))
                for end in (entity.start, entity.end):
                    if end is not None and entity.id not in projected:
                        self.equations.add(on_ellipse(self, entity, end, entity.id))
            elif isinstance(entity, Arc):
                arms = [self.between(entity.center, p) for p in (entity.start, entity.end)]
                self.arcs.append((arms[0], arms[1]))
                for arm in arms[:1] if entity.id in projected else arms:
                    self.equations.add(Row(Kind.LENGTH, entity.id, v=arm, linear=[(self.radius[entity.id], -1.0)]))


def on_ellipse(system: System, ellipse: Ellipse, point: str, owner: str) -> Row:
    """A point on an ellipse: (sqrt((x/a)² + (y/b)²) - 1) sqrt(ab) = 0 in its own axes."""

    def off(v: Any) -> Any:
        mx, my, dx, dy, b = ellipse_arms(v)
        a2 = mx * mx + my * my
        along, across = (dx * mx + dy * my) / a2, (mx * dy - my * dx) / (np.sqrt(a2) * b)
        return (np.sqrt(along * along + across * across) - 1.0) * np.sqrt(np.sqrt(a2) * b)

    return Row(Kind.GENERAL, owner, function=off, variables=ellipse_variables(system, ellipse, point))


def ellipse_variables(system: System, ellipse: Ellipse, point: str) -> list[int]:
    """The variables of an ellipse and a point: centre, major tip, point, minor half-axis."""
    points = (ellipse.center, ellipse.major, point)
    return [*(i for p in points for i in system.variables_of(p)), system.radius[ellipse.id]]


def ellipse_arms(v: Any) -> tuple[Any, Any, Any, Any, Any]:
    """From values (..., 7) of ``ellipse_variables``: the major arm, the arm to the point, the minor half-axis."""
    return v[..., 2] - v[..., 0], v[..., 3] - v[..., 1], v[..., 4] - v[..., 0], v[..., 5] - v[..., 1], v[..., 6]

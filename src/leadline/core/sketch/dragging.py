"""Dragging: pull a point of a solved sketch towards the pointer while every constraint stays exact."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.problems import Problem
from leadline.core.sketch import stepping
from leadline.core.sketch.model import Arc, Circle, Ellipse, Sketch
from leadline.core.sketch.rows import Array
from leadline.core.sketch.solver import build_system
from leadline.core.sketch.system import External

WEIGHT = 1e5
STEPS = 3  # pulls per event: what is out of reach costs no more than this
CORRECTIONS = 4
LEASH = 2.0  # times the size of the sketch and the pull together: how large a pull may make it
SETTLED = 1e-3  # of the size of the sketch: the next correction is then far below a pixel


class Drag:
    """One drag: made at its start, asked for every place that the pointer comes to.

    Each pull starts from the sketch as given, so that the result does not depend on the way the pointer took.
    """

    def __init__(self, sketch: Sketch, external: External | None = None) -> None:
        self.system = build_system(sketch, external or External())
        self.x0 = self.system.state()
        self.metric = stepping.EdgeMetric(self.system, self.x0, calm=True)
        points = self.system.sketch.points
        self.places = np.array([self.system.variables_of(p.id) for p in points], dtype=int).reshape(-1, 2)
        self.rounds = [
            (self.system.variables_of(e.center)[:2], self.system.radius[e.id])
            for e in self.system.sketch.entities
            if isinstance(e, Circle | Ellipse)
        ]
        self.box = self._box(self.x0)

    def to(self, item: str, place: tuple[float, float]) -> Sketch:
        """Where everything goes when a point, or the rim of a circle or ellipse, is pulled to a place.

        Raises:
            Problem: there is no such point.
        """
        system = self.system
        goal = (np.array(place) - system.middle) / system.scale
        if item in system.radius:
            return self._rim(item, goal)
        if item not in system.points:
            raise Problem("unknown-point", f"There is no point {item} to drag.", "Pick a point of the sketch.")
        variables = system.variables_of(item)
        start = self.x0[variables]
        x, done, step = self.x0, 0.0, 1.0
        for _ in range(STEPS):
            tried = self._pull(x, variables, start + (done + step) * (goal - start))
            if tried is not None and stepping.keeps_shape(system, x, tried) and self._on_leash(tried, goal):
                x, done = tried, done + step
            if done >= 1.0 - 1e-12:
                break
            step /= 2  # out of reach, or part of the way to it: close in on how far it goes
        return system.solved(x)

    def _pull(self, x: Array, variables: list[int], goal: Array) -> Array | None:
        """A few constrained Gauss-Newton steps towards the goal, then back on the constraints."""
        system, metric, began = self.system, self.metric, x
        extra = np.zeros(system.n)
        extra[variables] = WEIGHT
        for _ in range(CORRECTIONS):
            change = np.zeros(system.n)
            change[metric.free] = -(metric.H @ (x - self.x0)[metric.free])
            change[variables] -= WEIGHT * (x[variables] - goal)
            J, r = system.equations.jacobian(x), system.equations.residual(x)
            dx = metric.least_change(J, -r, pull=change, extra=extra)
            x = x + dx
            if np.abs(dx).max() < SETTLED:
                break
        if not stepping.keeps_shape(system, began, x):
            return None  # what has turned over already need not be settled
        settled, _ = stepping.correct(system, x, np.zeros(len(system.equations.rows)), near=True)
        return settled

    def _on_leash(self, x: Array, goal: Array) -> bool:
        """Whether the sketch stays within twice the size of what was drawn and where the pointer is.

        Near the end of what its constraints allow, a small pull of one point can throw another far away.
        """
        box = self._box(x)
        allowed = LEASH * float(np.ptp(np.vstack([self.box, goal[None]]), axis=0).max())
        return bool(np.ptp(box, axis=0).max() <= allowed and np.abs(x - self.x0)[self.metric.free].max() <= allowed)

    def _box(self, x: Array) -> Array:
        """The lowest and the highest corner (2, 2) of all points and round curves, scaled."""
        rims = [x[centre] + side * x[radius] for centre, radius in self.rounds for side in (-1, 1)]
        corners = np.vstack([x[self.places], *rims]) if len(self.places) else np.zeros((1, 2))
        return np.array([corners.min(axis=0), corners.max(axis=0)])

    def _rim(self, entity: str, goal: Array) -> Sketch:
        system, index = self.system, self.system.radius[entity]
        curve = system.entities[entity]
        assert isinstance(curve, Arc | Circle | Ellipse)
        size = math.hypot(*(goal - system.at(curve.center)))
        if isinstance(curve, Ellipse):
            size = self._minor_through(curve, goal)
        x = self._pull(self.x0, [index], np.array([max(size, 0.02 * self.x0[index])]))
        return system.solved(x if x is not None and x[index] > 0 and self._on_leash(x, goal) else self.x0)

    def _minor_through(self, ellipse: Ellipse, goal: Array) -> float:
        """The minor half-axis with which the ellipse comes nearest to a place: how far that stands off the
        major axis.
        """
        major, d = self.system.at(ellipse.major) - self.system.at(ellipse.center), goal - self.system.at(ellipse.center)
        return abs(float(major[0] * d[1] - major[1] * d[0])) / math.hypot(*major)


def drag(sketch: Sketch, item: str, to: tuple[float, float], external: External | None = None) -> Sketch:
    """One pull on its own: see ``Drag``."""
    return Drag(sketch, external).to(item, to)

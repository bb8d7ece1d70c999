"""Random pairs of bodies added, cut and kept in common, judged by a mesh boolean that knows nothing of the kernel."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.mesh_booleans import Operation, as_manifold
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece, LinePiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.combine import Combined, combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.core.sweep.motion import Motion
from tests.support.shapes import box, disc, ring

SNAPPED = 0.4


class Dice:
    """Random sizes, places and directions; a ``snapped`` throw gives round numbers along the axes, as people draw,
    so that faces and edges often fall together.
    """

    def __init__(self, random: np.random.Generator) -> None:
        self.random, self.snapped = random, bool(random.random() < SNAPPED)

    def chance(self, share: float) -> bool:
        return bool(self.random.random() < share)

    def size(self, low: float, high: float, step: float = 1.0) -> float:
        value = float(self.random.uniform(low, high))
        return max(step, round(value / step) * step) if self.snapped else value

    def place(self) -> Array:
        at = self.random.normal(0, 6, 3)
        return np.asarray(np.round(at / 5) * 5 if self.snapped else at)

    def axes(self) -> Array:
        """Two unit vectors square to each other, as rows."""
        if self.snapped or self.chance(0.2):
            return np.asarray(np.eye(3)[self.random.permutation(3)[:2]])
        return np.asarray(np.linalg.qr(self.random.normal(size=(3, 3)))[0][:2])


@dataclass(frozen=True)
class Pair:
    """Two bodies that meet more often than not, and what they are."""

    base: Body
    tool: Body
    title: str


def random_pair(random: np.random.Generator, kinds: tuple[str, ...] = ("rod", "bar", "torus", "elbow", "coil")) -> Pair:
    """A base about the origin and a tool through a place near its middle."""
    dice = Dice(random)
    first, second = random.choice(kinds, size=2)
    base, tool = MAKERS[first](dice, np.zeros(3)), MAKERS[second](dice, dice.place())
    return Pair(_swept(*base, "base"), _swept(*tool, "tool"), f"{first} and {second}{', snapped' * dice.snapped}")


def _swept(motion: Motion, section: Region, owner: str) -> Body:
    (body,) = sweep_bodies(motion, [section], owner, owner.capitalize())
    return body


def _straight(dice: Dice, at: Array) -> Path:
    way, up = dice.axes()
    length = dice.size(20, 90, 10)
    start = at - way * length * (0.5 if dice.chance(0.5) else 0.0)
    return Path([LinePiece(start, start + length * way, "line")], up=up)


def _rod(dice: Dice, at: Array) -> tuple[Motion, Region]:
    radius = dice.size(2, 14, 2)
    section = disc(radius) if dice.chance(0.7) else ring(radius, radius * dice.random.choice([0.5, 0.75, 0.9]))
    return Motion(_straight(dice, at)), section


def _bar(dice: Dice, at: Array) -> tuple[Motion, Region]:
    turns = 0.0 if dice.snapped or dice.chance(0.7) else dice.random.uniform(-1, 1)
    return Motion(_straight(dice, at), turns), box(dice.size(3, 25, 5), dice.size(3, 25, 5))


def _torus(dice: Dice, at: Array) -> tuple[Motion, Region]:
    x, y = dice.axes()
    radius = dice.size(12, 30, 5)
    centre = at if dice.chance(0.5) else at + radius * x
    path = Path([ArcPiece(centre, x, y, radius, 2 * math.pi, "circle")], True)
    return Motion(path), disc(dice.size(1.5, 0.6 * radius, 2))


def _elbow(dice: Dice, at: Array) -> tuple[Motion, Region]:
    x, y = dice.axes()
    radius, turn = dice.size(15, 30, 5), math.pi / 2 if dice.snapped else dice.random.uniform(0.5, 3)
    line = LinePiece(at - 30 * y + radius * x, at + radius * x, "a")
    return Motion(Path([line, ArcPiece(at, x, y, radius, turn, "b")])), disc(dice.size(2, 0.8 * radius, 2))


def _coil(dice: Dice, at: Array) -> tuple[Motion, Region]:
    x, y = dice.axes()
    wire = dice.size(0.8, 2.5, 0.5)
    pitch = wire * dice.random.uniform(2.5, 4)
    return Motion(Path([HelixPiece(at, x, y, dice.size(8, 20, 5), pitch, dice.size(1, 4), "helix")])), disc(wire)


MAKERS: dict[str, Callable[[Dice, Array], tuple[Motion, Region]]] = {
    "rod": _rod,
    "bar": _bar,
    "torus": _torus,
    "elbow": _elbow,
    "coil": _coil,
}


@dataclass(frozen=True)
class Verdict:
    """``refused`` and ``wrong`` tell in words what is the matter; the result is there unless it was refused."""

    result: Combined | None = None
    refused: str = ""
    wrong: str = ""


def judged(pair: Pair, operation: Operation) -> Verdict:
    """Combine a pair and compare with the mesh boolean, as finely as its meshes allow."""
    try:
        done = combine(pair.base, pair.tool, operation)
    except Problem as problem:
        return Verdict(refused=problem.message.text)
    chord = 0.01 * min(b.volume() / b.area() for b in (pair.base, pair.tool))
    a, b = (as_manifold(tessellate(body, chord)) for body in (pair.base, pair.tool))
    assert a is not None
    assert b is not None
    common = a ^ b
    before, extra = pair.base.volume(), pair.tool.volume()
    expected = {"add": before + extra - common.volume(), "cut": before - common.volume(), "common": common.volume()}[
        operation
    ]
    if not done.touched:  # the base stays as it is, which is right where the two have nothing in common
        expected = before + common.volume()
    found = sum(body.volume() for body in done.bodies)
    slack = 1.5 * chord * (common.surface_area() + 1e-3)
    if abs(found - expected) > slack:
        return Verdict(done, wrong=f"{found:.6g} mm³ where about {expected:.6g} is right")
    if not all(body.valid() for body in done.bodies):
        return Verdict(done, wrong="not a valid solid")
    return Verdict(done)

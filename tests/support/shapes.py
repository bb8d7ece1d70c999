"""Sketches, sections and paths that the tests share, built by hand and not by the code under test."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.section import Loop, Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece, LinePiece, SplinePiece
from leadline.core.paths.spiral import SpiralCurve, rise_of
from leadline.core.paths.wound import WoundPiece
from leadline.core.sketch.model import Sketch

X, Y, Z = np.eye(3)


class Draw:
    """A sketch written in few words: ``draw.point(...)``, ``draw.line(...)``, ``draw.hold(...)``,
    ``draw.size(...)``.
    """

    def __init__(self) -> None:
        self.data: dict[str, list[dict[str, Any]]] = {"points": [], "entities": [], "constraints": [], "dimensions": []}
        self.values: dict[str, float] = {}

    def point(self, name: str, x: float, y: float) -> str:
        self.data["points"].append({"id": name, "x": x, "y": y})
        return name

    def line(self, name: str, start: str, end: str, construction: bool = False) -> str:
        entity = {"kind": "line", "id": name, "start": start, "end": end, "construction": construction}
        self.data["entities"].append(entity)
        return name

    def arc(self, name: str, center: str, start: str, end: str) -> str:
        self.data["entities"].append({"kind": "arc", "id": name, "center": center, "start": start, "end": end})
        return name

    def circle(self, name: str, center: str, radius: float) -> str:
        self.data["entities"].append({"kind": "circle", "id": name, "center": center, "radius": radius})
        return name

    def spline(self, name: str, *points: str, kind: str = "spline", **more: str) -> str:
        self.data["entities"].append({"kind": kind, "id": name, "points": list(points), **more})
        return name

    def ellipse(self, name: str, center: str, major: str, minor: float, *ends: str) -> str:
        both = dict(zip(("start", "end"), ends, strict=False))
        self.data["entities"].append(
            {"kind": "ellipse", "id": name, "center": center, "major": major, "minor": minor, **both}
        )
        return name

    def hold(self, kind: str, *items: str, path: str | None = None) -> str:
        name = f"k{len(self.data['constraints'])}"
        self.data["constraints"].append({"id": name, "kind": kind, "items": list(items), "path": path})
        return name

    def size(self, kind: str, value: float, *items: str, driving: bool = True, side: str = "near") -> str:
        """Lengths in mm; angles in degrees in the sketch and in rad in ``values``."""
        name = f"d{len(self.data['dimensions'])}"
        self.data["dimensions"].append(
            {"id": name, "kind": kind, "items": list(items), "value": value, "driving": driving, "side": side}
        )
        if driving:
            self.values[name] = math.radians(value) if kind == "angle" else float(value)
        return name

    def sketch(self) -> Sketch:
        return Sketch.model_validate(self.data)


def rectangle(width: float = 40, height: float = 20, at_origin: bool = True) -> Draw:
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", width, 0), ("c", width, height), ("d", 0, height)):
        d.point(name, x, y)
    for name, p, q in (("l1", "a", "b"), ("l2", "b", "c"), ("l3", "c", "d"), ("l4", "d", "a")):
        d.line(name, p, q)
    for kind, line in (("horizontal", "l1"), ("vertical", "l2"), ("horizontal", "l3"), ("vertical", "l4")):
        d.hold(kind, line)
    if at_origin:
        d.hold("coincident", "a", "O")
    return d


def slot(length: float = 40, radius: float = 10) -> Draw:
    """Two lines and two half circles, tangent all round, its middle line from the origin along x."""
    d = Draw()
    for name, x, y in (
        ("c1", 0, 0),
        ("c2", length, 0),
        ("p1", 0, radius),
        ("p2", length, radius),
        ("p3", length, -radius),
        ("p4", 0, -radius),
    ):
        d.point(name, x, y)
    d.line("top", "p1", "p2")
    d.line("bottom", "p3", "p4")
    d.arc("right", "c2", "p3", "p2")
    d.arc("left", "c1", "p1", "p4")
    for a, b in (("top", "right"), ("right", "bottom"), ("bottom", "left"), ("left", "top")):
        d.hold("tangent", a, b)
    d.hold("equal", "left", "right")
    d.hold("coincident", "c1", "O")
    d.hold("horizontal", "c1", "c2")
    return d


def hexagon(across: float = 30) -> Draw:
    d = Draw()
    radius = across / math.sqrt(3)
    for i in range(6):
        d.point(f"p{i}", radius * math.cos(i * math.pi / 3), radius * math.sin(i * math.pi / 3))
    for i in range(6):
        d.line(f"l{i}", f"p{i}", f"p{(i + 1) % 6}")
    for i in range(1, 6):
        d.hold("equal", "l0", f"l{i}")
    for i in range(4):
        d.size("angle", 120, f"l{i}", f"l{i + 1}")
    d.hold("horizontal", "l1")
    d.hold("coincident", "p0", "O")
    return d


def filleted_rectangle(width: float = 60, height: float = 40, radius: float = 8) -> Draw:
    d = Draw()
    w, h, r = width, height, radius
    corners = [(r, 0), (w - r, 0), (w, r), (w, h - r), (w - r, h), (r, h), (0, h - r), (0, r)]
    for i, (x, y) in enumerate(corners):
        d.point(f"p{i}", x, y)
    for i, (x, y) in enumerate([(w - r, r), (w - r, h - r), (r, h - r), (r, r)]):
        d.point(f"c{i}", x, y)
    for i in range(4):
        d.line(f"l{i}", f"p{2 * i}", f"p{2 * i + 1}")
        d.arc(f"a{i}", f"c{i}", f"p{2 * i + 1}", f"p{(2 * i + 2) % 8}")
    for i in range(4):
        d.hold("tangent", f"l{i}", f"a{i}")
        d.hold("tangent", f"a{i}", f"l{(i + 1) % 4}")
    for i in range(1, 4):
        d.hold("equal", "a0", f"a{i}")
    d.hold("horizontal", "l0")
    d.hold("vertical", "l1")
    d.hold("horizontal", "l2")
    d.hold("vertical", "l3")
    d.hold("coincident", "c3", "O")
    return d


def tangent_chain(count: int = 20, step: float = 12, radius: float = 9) -> Draw:
    """Lines and quarter arcs by turns, each tangent to the next, like a staircase."""
    d = Draw()
    x = y = 0.0
    d.point("p0", x, y)
    d.hold("coincident", "p0", "O")
    at, heading = "p0", 0
    for i in range(count):
        name = f"p{i + 1}"
        if i % 2 == 0:
            x, y = (x + step, y) if heading == 0 else (x, y + step)
            d.point(name, x, y)
            d.line(f"e{i}", at, name)
        elif heading == 0:
            d.point(f"c{i}", x, y + radius)
            x, y, heading = x + radius, y + radius, 1
            d.point(name, x, y)
            d.arc(f"e{i}", f"c{i}", at, name)
        else:
            d.point(f"c{i}", x + radius, y)
            x, y, heading = x + radius, y + radius, 0
            d.point(name, x, y)
            d.arc(f"e{i}", f"c{i}", name, at)
        if i:
            d.hold("tangent", f"e{i - 1}", f"e{i}")
        at = name
    d.hold("horizontal", "e0")
    return d


# -- sections and paths -------------------------------------------------------------------------


def disc(radius: float, at: tuple[float, float] = (0, 0), origin: str = "e1") -> Region:
    return Region(Loop(tuple(arc_edges(at, radius, 0.0, 2 * math.pi, origin))))


def ring(outer: float, inner: float) -> Region:
    hole = Loop(tuple(arc_edges((0, 0), inner, 0.0, 2 * math.pi, "e2"))).oriented(False)
    return Region(disc(outer).outer, (hole,))


def box(width: float, height: float, at: tuple[float, float] = (0, 0)) -> Region:
    (cx, cy), w, h = at, width / 2, height / 2
    corners = [(cx - w, cy - h), (cx + w, cy - h), (cx + w, cy + h), (cx - w, cy + h)]
    return polygon(corners)


def polygon(corners: list[tuple[float, float]]) -> Region:
    pairs = zip(corners, corners[1:] + corners[:1], strict=True)
    return Region(Loop(tuple(line_edge(a, b, f"l{i}") for i, (a, b) in enumerate(pairs))))


def straight(length: float = 100) -> Path:
    return Path([LinePiece(np.zeros(3), length * X, "line")], up=Z)


def arc(radius: float = 40, sweep: float = math.pi / 2) -> Path:
    return Path([ArcPiece(radius * Y, -Y, X, radius, sweep, "arc")], up=Z)


def full_circle(radius: float = 40) -> Path:
    return Path([ArcPiece(np.zeros(3), X, Y, radius, 2 * math.pi, "circle")], True, Z)


def bent(radius: float = 30) -> Path:
    corner = 100 * X + radius * Y
    return Path(
        [
            LinePiece(np.zeros(3), 100 * X, "a"),
            ArcPiece(corner, -Y, X, radius, math.pi / 2, "b"),
            LinePiece(corner + radius * X, corner + radius * X + 50 * Y, "c"),
        ],
        up=Z,
    )


def planar_spline() -> Path:
    points = np.array([[0, 0, 0], [50, 30, 0], [100, -20, 0], [160, 10, 0.0]])
    curve = make_interp_spline([0, 1, 2, 3], points, k=3, bc_type="natural")
    return Path([SplinePiece(curve, "spline", Z)], up=Z)


def space_spline() -> Path:
    points = np.array([[0, 0, 0], [40, 30, 10], [90, -10, 45], [130, 20, 30], [180, 0, 0.0]])
    return Path([SplinePiece(make_interp_spline([0, 1, 2, 3, 4], points, k=3, bc_type="natural"), "spline")])


def spiral(start: float = 30, end: float = 12, pitches: tuple[float, ...] = (4, 12, 4), turns: float = 3) -> Path:
    """A conical coil of changing pitch."""
    rise = rise_of(turns, np.linspace(0, turns, len(pitches)), np.array(pitches, dtype=float))
    return Path([WoundPiece(SpiralCurve(np.zeros(3), X, Y, Z, (start, end), rise), "spiral")])


def helix(turns: float = 3, radius: float = 30, lead: float = 15) -> Path:
    return Path([HelixPiece(np.zeros(3), X, Y, radius, lead, turns, "helix")])


PATHS = {
    "straight": straight,
    "arc": arc,
    "circle": full_circle,
    "bent": bent,
    "spline": planar_spline,
    "space": space_spline,
    "helix": helix,
}

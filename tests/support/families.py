"""Families of sketches as people draw them, for the studies and the tests of the solver."""

from __future__ import annotations

import math

import numpy as np

from tests.support.shapes import Draw


def rack(teeth: int, pitch: float = 10, height: float = 6, radius: float = 1) -> Draw:
    """A row of rectangular teeth, every corner rounded, all radii equal: many small edges."""
    corners = [
        np.array(p, dtype=float)
        for i in range(teeth)
        for p in ((i * pitch, 0), ((i + 0.5) * pitch, 0), ((i + 0.5) * pitch, height), ((i + 1) * pitch, height))
    ]
    d = Draw()
    at = d.point("a", *corners[0])
    d.hold("coincident", "a", "O")
    lines: list[str] = []
    arcs: list[str] = []
    for j in range(1, len(corners) - 1):
        u, v = (w / np.hypot(*w) for w in (corners[j] - corners[j - 1], corners[j + 1] - corners[j]))
        start, end = d.point(f"s{j}", *(corners[j] - radius * u)), d.point(f"e{j}", *(corners[j] + radius * v))
        centre = d.point(f"c{j}", *(corners[j] - radius * u + radius * v))
        lines.append(d.line(f"l{j}", at, start))
        left = u[0] * v[1] - u[1] * v[0] > 0
        arcs.append(d.arc(f"r{j}", centre, *((start, end) if left else (end, start))))
        at = end
    lines.append(d.line(f"l{len(corners) - 1}", at, d.point("z", *corners[-1])))
    for j, arc in enumerate(arcs):
        d.hold("tangent", lines[j], arc)
        d.hold("tangent", arc, lines[j + 1])
        if j:
            d.hold("equal", arcs[0], arc)
    for j, line in enumerate(lines):
        d.hold("vertical" if j % 2 else "horizontal", line)
    return d


def belt(first: float = 20, second: float = 10, apart: float = 60) -> Draw:
    """Two full circles and the two straights round them, each held on both and tangent to both."""
    d = Draw()
    d.point("c1", 0, 0)
    d.point("c2", apart, 0)
    d.circle("k1", "c1", first)
    d.circle("k2", "c2", second)
    lean = (first - second) / apart
    rise = math.sqrt(1 - lean * lean)
    for i, side in enumerate((1, -1)):
        p = d.point(f"p{i}", first * lean, side * first * rise)
        q = d.point(f"q{i}", apart + second * lean, side * second * rise)
        line = d.line(f"l{i}", p, q)
        for point, circle in ((p, "k1"), (q, "k2")):
            d.hold("on_curve", point, circle)
            d.hold("tangent", line, circle)
    d.hold("coincident", "c1", "O")
    d.hold("horizontal", "c1", "c2")
    return d


def keyhole(radius: float = 15, width: float = 10, length: float = 40) -> Draw:
    """A large arc, a slot out of it, and the small half circle at the slot's end."""
    d = Draw()
    reach = math.sqrt(radius**2 - width**2 / 4)
    for name, x, y in (
        ("c", 0, 0),
        ("a", reach, width / 2),
        ("b", reach, -width / 2),
        ("e", length, width / 2),
        ("f", length, -width / 2),
        ("m", length, 0),
    ):
        d.point(name, x, y)
    d.arc("head", "c", "a", "b")
    d.line("top", "a", "e")
    d.line("low", "b", "f")
    d.arc("end", "m", "f", "e")
    for kind, *items in (
        ("coincident", "c", "O"),
        ("tangent", "top", "end"),
        ("tangent", "low", "end"),
        ("horizontal", "top"),
        ("on_curve", "m", "X"),
    ):
        d.hold(kind, *items)
    return d


def bracket(width: float = 60, height: float = 40, radius: float = 6, hole: float = 4) -> Draw:
    """An L with one rounded inner corner, and two equal holes at one height."""
    t = 14.0
    d = Draw()
    for name, x, y in (
        ("a", 0, 0),
        ("b", width, 0),
        ("c", width, t),
        ("e", t + radius, t),
        ("f", t, t + radius),
        ("g", t, height),
        ("h", 0, height),
        ("m", t + radius, t + radius),
        ("u", width - 12, t / 2),
        ("v", width - 30, t / 2),
    ):
        d.point(name, x, y)
    for name, p, q in (
        ("l1", "a", "b"),
        ("l2", "b", "c"),
        ("l3", "c", "e"),
        ("l4", "f", "g"),
        ("l5", "g", "h"),
        ("l6", "h", "a"),
    ):
        d.line(name, p, q)
    d.arc("fillet", "m", "f", "e")
    d.circle("h1", "u", hole)
    d.circle("h2", "v", hole)
    for kind, *items in (
        ("coincident", "a", "O"),
        ("horizontal", "l1"),
        ("vertical", "l2"),
        ("horizontal", "l3"),
        ("vertical", "l4"),
        ("horizontal", "l5"),
        ("vertical", "l6"),
        ("tangent", "l3", "fillet"),
        ("tangent", "fillet", "l4"),
        ("equal", "h1", "h2"),
        ("horizontal", "u", "v"),
    ):
        d.hold(kind, *items)
    return d


def rounded_triangle(side: float = 60, radius: float = 8) -> Draw:
    """Three lines and three equal arcs, tangent all round."""
    d = Draw()
    corners = [
        side * np.array([math.cos(a), math.sin(a)]) / math.sqrt(3)
        for a in (math.pi * (k * 2 / 3 - 5 / 6) for k in range(3))
    ]
    for i, p in enumerate(corners):
        back, on = (w / np.hypot(*w) for w in (corners[i - 1] - p, corners[(i + 1) % 3] - p))
        cut = radius / math.tan(math.pi / 6)
        d.point(f"s{i}", *(p + cut * back))
        d.point(f"e{i}", *(p + cut * on))
        d.point(f"c{i}", *(p * (1 - 2 * radius / np.hypot(*p))))
    for i in range(3):
        d.line(f"l{i}", f"e{i}", f"s{(i + 1) % 3}")
        d.arc(f"r{i}", f"c{i}", f"s{i}", f"e{i}")
    for i in range(3):
        d.hold("tangent", f"r{i}", f"l{i}")
        d.hold("tangent", f"l{i}", f"r{(i + 1) % 3}")
        if i:
            d.hold("equal", "r0", f"r{i}")
            d.hold("equal", "l0", f"l{i}")
    d.hold("horizontal", "l0")
    d.hold("coincident", "c0", "O")
    return d


def mirrored_arcs(radius: float = 10, apart: float = 50) -> Draw:
    """Two arcs that mirror each other about the y axis, joined by a line."""
    d = Draw()
    for sign, side in ((-1, "l"), (1, "r")):
        x = sign * apart / 2
        d.point(f"c{side}", x, 0)
        d.point(f"i{side}", x, radius)
        d.point(f"o{side}", x + sign * radius * math.cos(0.4), -radius * math.sin(0.4))
    d.arc("left", "cl", "il", "ol")
    d.arc("right", "cr", "or", "ir")
    d.line("top", "il", "ir")
    d.hold("symmetric", "left", "right", "Y")
    return d


def polyline(corners: int = 9, step: float = 14) -> Draw:
    """An open zigzag of free lines from the origin."""
    d = Draw()
    for i in range(corners):
        d.point(f"p{i}", i * step, step * (0.7 if i % 2 else 0.0))
    for i in range(corners - 1):
        d.line(f"l{i}", f"p{i}", f"p{i + 1}")
    d.hold("coincident", "p0", "O")
    d.hold("horizontal", "p0", "p2")
    return d

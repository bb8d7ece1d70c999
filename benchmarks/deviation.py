"""How far the swept surfaces are from the exact motion, between its nodes, and from the rails."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from benchmarks.timing import table, verdict
from leadline.core.geometry.laws import Even, Table
from leadline.core.geometry.plane import Array
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.orientation import Upright
from tests.support.motions import ellipse, railed, zigzag
from tests.support.shapes import Y, Z, helix, space_spline, straight

EXTENT = 7.0
OFF_NODES = 977  # a prime, so that the check points miss the nodes


def _upright() -> Motion:
    path = helix(3)
    return Motion(path, orientation=Upright(path, Z))


CASES: dict[str, Callable[[], Motion]] = {
    "free curve, turning": lambda: Motion(space_spline()),
    "helix, upright": _upright,
    "free curve, twist and size by tables": lambda: Motion(
        space_spline(),
        Table([0, 60, 150], [0, 2.0, -1.0], True),
        sizes=(Table([0, 70, 150], [1, 1.4, 0.7], True), Even(1, -0.003)),
    ),
    "straight, two elliptic rails": lambda: railed(
        straight(80),
        [ellipse(95, 9, math.pi / 2 + 0.05, -1.3, Y), ellipse(95, 7, math.pi / 2 + 0.05, -1.3, Z)],
        [(9, 0), (0, 7)],
    ),
    "mitred corners": lambda: Motion(zigzag(), mitred=True),
}


def report() -> str:
    rows = []
    for name, make in CASES.items():
        motion = make()
        for tolerance in (1e-2, 1e-4, 1e-6):
            off, points = _off(motion, tolerance)
            rows.append([name, f"{tolerance:.0e}", f"{off:.1e}", str(points), verdict(off <= tolerance)])
    title = "Surface against the exact motion, within 7 mm of the path (mm)"
    return (
        table(title, ["sweep", "asked", "largest deviation off the nodes", "control points along", ""], rows)
        + "\n"
        + _rails()
    )


def _off(motion: Motion, tolerance: float) -> tuple[float, int]:
    worst, points = 0.0, 0
    for span in motion.spans(EXTENT, tolerance):
        assert span.spline is not None
        s = np.linspace(span.start, span.end, OFF_NODES)[1:-1]
        off = np.linalg.norm((span.spline(s) - motion.carriers(span.piece, s)).reshape(-1, 3, 3), axis=2)
        worst = max(worst, float((off[:, 0] + EXTENT * (off[:, 1] + off[:, 2])).max()))
        points += len(span.spline.c)
    return worst, points


def _rails() -> str:
    """The swept faces at the anchors against the rails' own curves."""
    rows = []
    for tolerance in (1e-2, 1e-4, 1e-6):
        motion = CASES["straight, two elliptic rails"]()
        assert motion.rails is not None
        worst = 0.0
        for (x, y), across, minor in (((9.0, 0.0), 1, 9.0), ((0.0, 7.0), 2, 7.0)):
            for span in motion.spans(EXTENT + 4, tolerance):
                assert span.spline is not None
                nine = span.spline(np.linspace(span.start, span.end, OFF_NODES)).reshape(-1, 3, 3)
                worst = max(worst, _from_ellipse(nine[:, 0] + x * nine[:, 1] + y * nine[:, 2], across, minor))
        rows.append([f"{tolerance:.0e}", f"{worst:.1e}", verdict(worst <= tolerance)])
    return table("Swept faces against their rails (mm)", ["asked", "largest distance", ""], rows)


def _from_ellipse(p: Array, across: int, minor: float) -> float:
    level = (p[:, 0] / 95) ** 2 + (p[:, across] / minor) ** 2
    slope = 2 * np.hypot(p[:, 0] / 95**2, p[:, across] / minor**2)
    return float((np.abs(level - 1) / slope + np.abs(p[:, 3 - across])).max())

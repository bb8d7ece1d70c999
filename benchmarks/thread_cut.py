"""A V groove cut along a helix into a rod, turn after turn."""

from __future__ import annotations

import math

import numpy as np
from tests.core.shapes import X, Y, Z, disc, polygon

from benchmarks.timing import best, table, verdict
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import HelixPiece, LinePiece
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.orientation import Upright

RADIUS, PITCH, DEPTH, HALF, OVER = 10.0, 2.0, 1.2, 0.7, 0.3
SECONDS, ERROR = 2.0, 1e-4


def cut(turns: int) -> tuple[Body, float]:
    """The cut rod, and the volume that went."""
    rod_line = Path([LinePiece(np.zeros(3), (turns * PITCH + 8) * Z, "line")], up=X)
    (rod,) = sweep_bodies(Motion(rod_line), [disc(RADIUS)], "rod", "Rod")
    coil = Path([HelixPiece(4 * Z, X, Y, RADIUS, PITCH, turns, "helix")], up=Z)
    motion = Motion(coil, orientation=Upright(coil, Z), axes=np.array([Z, X]))
    (tool,) = sweep_bodies(motion, [polygon([(-HALF, OVER), (0, -DEPTH), (HALF, OVER)])], "v", "V")
    (body,) = combine(rod, tool, "cut").bodies
    return body, rod.volume() - body.volume()


def report() -> str:
    one, _ = best(lambda: cut(1), 3)
    twelve, (body, gone) = best(lambda: cut(12), 3)
    inner = HALF * DEPTH / (DEPTH + OVER)
    exact = inner * DEPTH * 2 * math.pi * (RADIUS - DEPTH / 3) * 12
    error = abs(gone / exact - 1)
    growth = twelve / one / 12
    rows = [
        ["12 turns into a rod, seconds with all checks", f"{twelve:.2f}", f"{SECONDS:g}", verdict(twelve < SECONDS)],
        ["one turn, seconds", f"{one:.2f}", "", ""],
        ["12 turns against twelve times one", f"{growth:.2f}", "1", verdict(growth <= 1.0)],
        ["volume cut against closed form", f"{error:.1e}", f"{ERROR:.0e}", verdict(error < ERROR)],
        ["valid", str(body.valid()).lower(), "true", verdict(body.valid())],
    ]
    return table("A thread-like cut", ["what", "reached", "target", ""], rows)

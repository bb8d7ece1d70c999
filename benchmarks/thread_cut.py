"""A V groove cut along a helix into a rod, turn after turn."""

from __future__ import annotations

import math

import numpy as np

from benchmarks.timing import best, table, verdict
from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.mesh_booleans import as_manifold, combined, shown
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import HelixPiece, LinePiece
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.orientation import Upright
from tests.support.shapes import X, Y, Z, disc, polygon

RADIUS, PITCH, DEPTH, HALF, OVER = 10.0, 2.0, 1.2, 0.7, 0.3
SECONDS, ERROR = 2.0, 1e-4
CHORD = 0.05  # mm, of the meshes of a preview


def cut_as_meshes(turns: int) -> DisplayMesh:
    """The same as a preview: both meshed from their motions, and one taken from the other."""
    rod, tool = (as_manifold(display_mesh(*made, CHORD)) for made in _motions(turns))
    assert rod is not None
    assert tool is not None
    return shown(combined(rod, tool, "cut"), "rod")


def cut(turns: int) -> tuple[Body, float]:
    """The cut rod, and the volume that went."""
    (rod,), (tool,) = (
        sweep_bodies(*made, name, name) for name, made in zip(("rod", "v"), _motions(turns), strict=True)
    )
    (body,) = combine(rod, tool, "cut").bodies
    return body, rod.volume() - body.volume()


def _motions(turns: int) -> tuple[tuple[Motion, list[Region]], tuple[Motion, list[Region]]]:
    """The rod and the groove's section along its helix."""
    rod_line = Path([LinePiece(np.zeros(3), (turns * PITCH + 8) * Z, "line")], up=X)
    coil = Path([HelixPiece(4 * Z, X, Y, RADIUS, PITCH, turns, "helix")], up=Z)
    motion = Motion(coil, orientation=Upright(coil, Z), axes=np.array([Z, X]))
    return (Motion(rod_line), [disc(RADIUS)]), (motion, [polygon([(-HALF, OVER), (0, -DEPTH), (HALF, OVER)])])


def report() -> str:
    one, _ = best(lambda: cut(1), 3)
    twelve, (body, gone) = best(lambda: cut(12), 3)
    previewed, _ = best(lambda: cut_as_meshes(12), 3)
    inner = HALF * DEPTH / (DEPTH + OVER)
    exact = inner * DEPTH * 2 * math.pi * (RADIUS - DEPTH / 3) * 12
    error = abs(gone / exact - 1)
    growth = twelve / one / 12
    rows = [
        ["12 turns into a rod, seconds with all checks", f"{twelve:.2f}", f"{SECONDS:g}", verdict(twelve < SECONDS)],
        ["one turn, seconds", f"{one:.2f}", "", ""],
        ["12 turns against twelve times one", f"{growth:.2f}", "1", verdict(growth <= 1.0)],
        ["volume cut against closed form", f"{error:.1e}", f"{ERROR:.0e}", verdict(error < ERROR)],
        [
            "as a preview by mesh booleans, seconds; times quicker than the solid",
            f"{previewed:.2f}; {twelve / previewed:.0f}",
            "",
            "",
        ],
        ["valid", str(body.valid()).lower(), "true", verdict(body.valid())],
    ]
    return table("A thread-like cut", ["what", "reached", "target", ""], rows)

"""Strands twisted along a free curve, against the kernel's pipe builder on one untwisted strand."""

from __future__ import annotations

import math

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe
from OCP.gp import gp_Ax2, gp_Circ
from scipy.interpolate import make_interp_spline

from benchmarks.timing import best, table, verdict
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.solids.kernel import bspline_curve, direction, pnt
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion
from tests.support.shapes import disc

STRAND, LAY, CHORD, TARGET = 3.0, 4.3, 0.05, 3.0
POINTS = np.array([[0, 0, 0], [180, 120, 30], [400, -40, 110], [620, 60, 60], [800, 0, 0.0]])
CURVE = make_interp_spline(np.linspace(0, 1, 5), POINTS)


def ours(turns: float) -> int:
    """Four strands as solids with their display mesh; the number of faces."""
    motion = Motion(Path([SplinePiece(CURVE, "p")]), turns)
    strands = [
        disc(STRAND, (LAY * math.cos(a), LAY * math.sin(a)), f"e{i}") for i, a in enumerate(np.arange(4) * math.pi / 2)
    ]
    bodies = sweep_bodies(motion, strands, "rope", "Rope")
    if not all(b.valid() for b in bodies):
        raise RuntimeError("a strand is not a valid solid")
    display_mesh(motion, strands, CHORD)
    return sum(len(b.face_names) for b in bodies)


def kernels() -> None:
    curve = bspline_curve(CURVE.c, CURVE.t, 3)
    spine = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(curve).Edge()).Wire()
    circle = gp_Circ(gp_Ax2(pnt(POINTS[0]), direction(CURVE(0, 1))), STRAND)
    face = BRepBuilderAPI_MakeFace(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()).Face()
    BRepMesh_IncrementalMesh(BRepOffsetAPI_MakePipe(spine, face).Shape(), CHORD, False, 0.3, False)


def report() -> str:
    length = Path([SplinePiece(CURVE, "p")]).length
    fifty, faces = best(lambda: ours(50), 3)
    five_hundred, _ = best(lambda: ours(500), 2)
    theirs, _ = best(kernels, 3)
    growth = five_hundred / fifty / 10
    rows = [
        [
            "4 strands, 50 turns, valid solids and display mesh, against one untwisted strand by the kernel",
            f"{fifty / theirs:.2f}",
            f"{TARGET:g}",
            verdict(fifty / theirs <= TARGET),
        ],
        ["500 turns against ten times the 50", f"{growth:.2f}", "1", verdict(growth <= 1.1)],
        [
            "seconds, for orientation only: 50 turns / 500 turns / kernel",
            f"{fifty:.2f} / {five_hundred:.1f} / {theirs:.2f}",
            "",
            "",
        ],
        ["faces of the four", str(faces), "", ""],
    ]
    return table(
        f"Strands twisted along a free curve of {length / 1000:.2f} m", ["what", "reached", "target", ""], rows
    )

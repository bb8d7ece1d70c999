"""A round section along a helix: ours for 50 turns against the kernel's own pipe builder for 10."""

from __future__ import annotations

import math

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe
from OCP.Geom import Geom_CylindricalSurface
from OCP.Geom2d import Geom2d_Line
from OCP.gp import gp_Ax2, gp_Ax3, gp_Circ, gp_Dir, gp_Dir2d, gp_Pnt, gp_Pnt2d

from benchmarks.timing import best, table, verdict
from leadline.core.solids.body import Body
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion
from tests.support.shapes import disc, helix

RADIUS, LEAD, WIRE, CHORD = 30.0, 15.0, 5.0, 0.05
TARGET = 0.5


def ours(turns: int) -> Body:
    motion = Motion(helix(turns, RADIUS, LEAD))
    (body,) = sweep_bodies(motion, [disc(WIRE)], "spring", "Spring")
    if not body.valid():
        raise RuntimeError("the spring is not a valid solid")
    display_mesh(motion, [disc(WIRE)], CHORD)
    return body


def kernels(turns: int) -> Body:
    """The kernel's pipe along its own helix (a line on a cylinder), meshed to the same chord."""
    slope = LEAD / (2 * math.pi)
    line = Geom2d_Line(gp_Pnt2d(0, 0), gp_Dir2d(1, slope))
    per_turn = 2 * math.pi * math.hypot(1, slope)
    surface = Geom_CylindricalSurface(gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), RADIUS)
    edge = BRepBuilderAPI_MakeEdge(line, surface, 0.0, turns * per_turn).Edge()
    BRepLib.BuildCurves3d_s(edge)
    spine = BRepBuilderAPI_MakeWire(edge).Wire()
    circle = gp_Circ(gp_Ax2(gp_Pnt(RADIUS, 0, 0), gp_Dir(0, RADIUS, slope)), WIRE)
    face = BRepBuilderAPI_MakeFace(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()).Face()
    shape = BRepOffsetAPI_MakePipe(spine, face).Shape()
    BRepMesh_IncrementalMesh(shape, CHORD, False, 0.3, False)
    return Body("pipe", shape, [])


def report() -> str:
    mine, body = best(lambda: ours(50), 3)
    theirs, _ = best(lambda: kernels(10), 3)
    exact = math.pi * WIRE**2 * 50 * math.hypot(2 * math.pi * RADIUS, LEAD)
    ratio = mine / theirs
    rows = [
        [
            "50 turns, valid solid and display mesh, against the kernel's pipe and mesher for 10 turns",
            f"{ratio:.2f}",
            f"{TARGET}",
            verdict(ratio <= TARGET),
        ],
        ["seconds, for orientation only", f"{mine:.2f} / {theirs:.2f}", "", ""],
        [
            "volume of the 50 turns against closed form",
            f"{abs(body.volume() / exact - 1):.1e}",
            "1e-6",
            verdict(abs(body.volume() / exact - 1) < 1e-6),
        ],
    ]
    return table("Round section along a helix", ["what", "reached", "target", ""], rows)

"""The edge taken off an end of a threaded bar or hole."""

from __future__ import annotations

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
from OCP.BRepLib import BRepLib
from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Ax1

from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.booleans import candidates
from leadline.core.solids.cylinder import Cylinder
from leadline.core.solids.kernel import direction, faces, pnt, solids
from leadline.core.trades.thread_shape import Thread

BEYOND = 0.25  # of a chamfer, by which its tool reaches beyond the body
GRID = 400  # heights and places across the groove at which the chamfer's volume is added up
SAME = 5e-3  # of the chamfer's volume, by which the solid may differ from that


def bevelled(body: Body, cylinder: Cylinder, thread: Thread, at_end: bool, size: float, owner: str) -> Body:
    """A threaded body with an edge taken off at 45°, ``size`` (mm) along it, where its thread goes through an end; the cut face is ``owner/chamfer``.

    The kernel's cut is taken that has the volume which the thread's own shape says.

    Raises:
        Problem: it cannot be cut.
    """
    gone = _volume(thread, size)
    for made in candidates(body, _tool(cylinder, at_end, size, owner), "cut"):
        if len(solids(made.body.shape)) == 1 and made.body.valid() and abs(body.volume() - made.body.volume() - gone) < SAME * gone + 1e-7 * body.volume():
            return Body(body.name, made.body.shape, made.body.face_names)
    raise Problem("boolean", "The kernel could not cut the chamfer.", "Give it a little more or less.", field="chamfer")


def _volume(thread: Thread, size: float) -> float:
    """What of a thread that goes through an end lies beyond its chamfer, mm³: at each height, over all places u of a lead, between the cone and the thread's own radius."""
    inward = 1.0 if thread.side == "outside" else -1.0
    u = (np.arange(GRID) + 0.5) / GRID * thread.lead
    radius = thread.radius - inward * thread.groove.depth(u)
    cone = thread.radius - inward * (size - (np.arange(GRID) + 0.5) / GRID * size)
    over = np.maximum(inward * (radius**2 - cone[:, None] ** 2), 0.0)
    return float(np.pi * over.mean() * size)


def _tool(cylinder: Cylinder, at_end: bool, size: float, owner: str) -> Body:
    """The ring that takes the edge off an end of a bar or a hole at 45°, ``size`` (mm) along it, its slanted face named ``owner/chamfer``."""
    base, r = cylinder.base, cylinder.radius
    away = 1.0 if cylinder.side == "outside" else -1.0
    beyond = BEYOND * size
    corners = [(r - away * (size + beyond), -beyond), (r + away * beyond, -beyond), (r + away * beyond, size + beyond)]
    z = [(cylinder.height - h if at_end else h) for _, h in corners]
    polygon = BRepBuilderAPI_MakePolygon()
    for (radius, _), h in zip(corners, z, strict=True):
        polygon.Add(pnt(base.origin + radius * base.x + h * base.normal))
    polygon.Close()
    face = BRepBuilderAPI_MakeFace(polygon.Wire(), True).Face()
    ring = BRepPrimAPI_MakeRevol(face, gp_Ax1(pnt(base.origin), direction(base.normal))).Shape()
    solid = solids(ring)[0]
    BRepLib.OrientClosedSolid_s(solid)
    names = [f"{owner}/chamfer" if BRepAdaptor_Surface(f).GetType() == GeomAbs_SurfaceType.GeomAbs_Cone else f"{owner}/beyond" for f in faces(solid)]
    return Body("bevel", solid, names)

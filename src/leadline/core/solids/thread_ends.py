"""What is turned off at the ends of a thread: the edge of the bar or hole, and a groove in which the tool runs out."""

from __future__ import annotations

import math
from collections.abc import Sequence

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
from leadline.core.solids.kernel import direction, faces, pnt, solids
from leadline.core.solids.round_face import RoundFace
from leadline.core.trades.thread_shape import Thread

BEYOND = 0.25  # of a ring's size, by which it reaches beyond the body
GRID = 400  # heights and places across the groove at which the chamfer's volume is added up
SAME = 5e-3  # of what is turned off, by which the solid may differ from that


def bevelled(body: Body, round_face: RoundFace, thread: Thread, at_end: bool, size: float, owner: str) -> Body:
    """A threaded body with an edge taken off at 45°, ``size`` (mm) along it, where its thread goes through an end; the
    cut face is ``owner/chamfer``.

    Raises:
        Problem: it cannot be cut.
    """
    beyond = BEYOND * size
    corners = [(-size - beyond, -beyond), (beyond, -beyond), (beyond, size + beyond)]
    radius = float(thread.radius_at(np.array(round_face.height if at_end else 0.0)))
    places = [(away, round_face.height - z if at_end else z) for away, z in corners]
    ring = _ring(round_face, radius, places, {GeomAbs_SurfaceType.GeomAbs_Cone: f"{owner}/chamfer"}, owner)
    return _turned_off(body, ring, _volume(thread, at_end, size), "The kernel could not cut the chamfer.", "chamfer")


def relieved(body: Body, round_face: RoundFace, begins: float, width: float, depth: float, owner: str) -> Body:
    """A body with a groove round a cylinder of it, which ``begins`` at a height from its start (mm), so wide and so
    deep.

    Its bottom is ``owner/relief/bottom``, its sides are ``owner/relief/side``.

    Raises:
        Problem: it cannot be cut.
    """
    outward = BEYOND * depth + abs(round_face.slope) * width
    corners = [(-depth, begins), (outward, begins), (outward, begins + width), (-depth, begins + width)]
    names = {
        GeomAbs_SurfaceType.GeomAbs_Cylinder: f"{owner}/relief/bottom",
        GeomAbs_SurfaceType.GeomAbs_Plane: f"{owner}/relief/side",
    }
    first, last = (round_face.radius + round_face.slope * z for z in (begins, begins + width))
    bottom = first - depth if round_face.side == "outside" else first + depth
    gone = math.pi * width * abs((first * first + first * last + last * last) / 3 - bottom * bottom)
    return _turned_off(
        body,
        _ring(round_face, first, corners, names, owner),
        gone,
        "The kernel could not cut the relief groove.",
        "relief",
    )


def _turned_off(body: Body, ring: Body, gone: float, why: str, field: str) -> Body:
    """The kernel's cut of a ring that takes away so much (mm³). Raises Problem."""
    for made in candidates(body, ring, "cut"):
        if (
            len(solids(made.body.shape)) == 1
            and made.body.valid()
            and abs(body.volume() - made.body.volume() - gone) < SAME * gone + 1e-7 * body.volume()
        ):
            return Body(body.name, made.body.shape, made.body.face_names)
    raise Problem("boolean", why, "Give it a little more or less.", of=field)


def _volume(thread: Thread, at_end: bool, size: float) -> float:
    """What of a thread that goes through an end lies beyond its chamfer, mm³: at each height, over all places u of a
    lead, between the cone and the thread's own radius.
    """
    inward = 1.0 if thread.side == "outside" else -1.0
    u = (np.arange(GRID) + 0.5) / GRID * thread.lead
    from_end = (np.arange(GRID) + 0.5)[:, None] / GRID * size
    face = thread.radius_at(thread.height - from_end if at_end else from_end)
    radius = face - inward * thread.groove.depth(u)
    cone = thread.radius_at(np.array(thread.height if at_end else 0.0)) - inward * (size - from_end)
    over = np.maximum(inward * (radius**2 - cone**2), 0.0)
    return float(np.pi * over.mean() * size)


def _ring(
    round_face: RoundFace,
    radius: float,
    corners: Sequence[tuple[float, float]],
    names: dict[GeomAbs_SurfaceType, str],
    owner: str,
) -> Body:
    """A ring by the corners of its section (out of the body's material from that ``radius``, height from the cylinder's
    start; mm), its faces named by what they lie on.
    """
    base = round_face.base
    away = 1.0 if round_face.side == "outside" else -1.0
    polygon = BRepBuilderAPI_MakePolygon()
    for out, h in corners:
        polygon.Add(pnt(base.origin + (radius + away * out) * base.x + h * base.normal))
    polygon.Close()
    face = BRepBuilderAPI_MakeFace(polygon.Wire(), True).Face()
    ring = BRepPrimAPI_MakeRevol(face, gp_Ax1(pnt(base.origin), direction(base.normal))).Shape()
    solid = solids(ring)[0]
    BRepLib.OrientClosedSolid_s(solid)
    return Body("ring", solid, [names.get(BRepAdaptor_Surface(f).GetType(), f"{owner}/beyond") for f in faces(solid)])

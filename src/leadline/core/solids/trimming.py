"""Ends of a sweep cut off by planes."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.quick import rectangle_section
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.motion import Motion


def cut_off(body: Body, plane: Plane, at: Array, name: str, field: str) -> Body:
    """Take away what of a body lies on the side of the plane that the point ``at`` (3,) is on; the cut face gets ``name``.

    Raises:
        Problem: the point lies on the plane, the plane misses the body or leaves nothing or more than one piece of it.
    """
    height = float(plane.height(at))
    away = plane.normal * np.sign(height)
    corners = np.array(body.box())
    reach = 2 * float(np.linalg.norm(corners[1] - corners[0])) + 2 * float(np.linalg.norm(corners.mean(axis=0) - plane.origin)) + 1
    if abs(height) < 1e-9:
        raise Problem("no-side", "The end lies on the plane that it is to be cut by.", "Lengthen the end, or move the plane.", field=field)
    line = LinePiece(plane.origin, plane.origin + reach * away, "off")
    (tool,) = sweep_bodies(Motion(Path([line], up=plane.x)), [rectangle_section(2 * reach, 2 * reach)], "off", "Cut")
    tool = Body(tool.name, tool.shape, [name if n == "off/cap/start" else n for n in tool.face_names])
    done = combine(body, tool, "cut")
    if not done.touched or name not in {n for b in done.bodies for n in b.face_names}:
        raise Problem("plane-misses", "The plane does not cut the sweep.", "Move it, or lengthen the end.", field=field)
    if len(done.bodies) != 1:
        raise Problem("many-pieces", f"The plane leaves {len(done.bodies)} pieces of the sweep.", "Cut nearer to its end.", field=field)
    return done.bodies[0]

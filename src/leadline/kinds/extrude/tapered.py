"""An extrusion whose sides lean: from its profile to the profile's offset at the other end, straight between."""

from __future__ import annotations

import math
from dataclasses import replace

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Loop, Region
from leadline.core.geometry.walls import hollow
from leadline.core.loft.lofted import Station, lofted
from leadline.core.loft.outline import Outline
from leadline.core.loft.shares import End
from leadline.core.problems import Problem, degrees
from leadline.core.sweep.motion import Motion

STEEPEST = math.radians(80)
FREE = End(False, 1.0)


def tapered(plane: Plane, regions: list[Region], length: float, taper: float) -> tuple[Motion, Region]:
    """The motion and its section, for a profile of one region that goes ``length`` mm ahead, its sides leaning outward
    by ``taper`` rad.

    Raises:
        Problem: there are several regions, the angle is too flat, or the outline cannot be offset by so much.
    """
    if abs(taper) > STEEPEST:
        raise Problem(
            "bad-size",
            f"Sides that lean by {degrees(taper)} are too flat.",
            f"Give up to {degrees(STEEPEST)}.",
            field="taper",
        )
    if len(regions) != 1 or regions[0].sheet:
        raise Problem(
            "one-region",
            "Sides lean on an extrusion of one region, and not on a surface.",
            "Pick one region, or take the taper away.",
            field="taper",
        )
    region, out = regions[0], length * math.tan(taper)
    try:
        end = Region(
            _moved(region.outer, out), tuple(_moved(hole.oriented(True), -out).oriented(False) for hole in region.holes)
        )
    except Problem as problem:
        raise problem.after("", field="taper") from None
    top = Plane(plane.origin + length * plane.normal, plane.x, plane.y)
    threads = _corresponding(region.outer, end.outer)
    made = lofted([Station("the profile", plane, region), Station("its end", top, end)], FREE, FREE, threads=threads)
    return made.motion, made.region


def _corresponding(first: Loop, second: Loop) -> list[tuple[float, float]]:
    """The shares of both outlines at which the edges of each drawn curve begin."""
    begins = [_begins(loop) for loop in (first, second)]
    shared = [origin for origin in begins[0] if origin in begins[1]]
    return [(begins[0][o], begins[1][o]) for o in shared] if len(shared) > 1 else []


def _begins(loop: Loop) -> dict[str, float]:
    """By each drawn curve of an outline the share of its length at which the curve begins."""
    starts, edges = Outline(loop).starts, loop.edges
    return {e.origin: float(starts[i]) for i, e in enumerate(edges) if edges[i - 1].origin != e.origin}


def _moved(outline: Loop, out: float) -> Loop:
    """A closed outline moved outward, or inward under zero. Raises Problem."""
    bare = Region(replace(outline))
    return hollow(bare, out, "outward").outer if out > 0 else hollow(bare, -out, "inward").holes[0].oriented(True)

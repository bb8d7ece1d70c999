"""Sections without a sketch, those of shapes that go over from one to another, and walls."""

from __future__ import annotations

from dataclasses import replace

from leadline.core.expressions import Expression
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import (
    ellipse_section,
    hexagon_section,
    polygon_section,
    rectangle_section,
    ring_section,
    round_section,
    slot_section,
)
from leadline.core.geometry.section import Region
from leadline.core.geometry.walls import Side, band, hollow
from leadline.core.problems import Problem, Remedy, mm
from leadline.recipe.context import Context
from leadline.recipe.inputs import FaceRef, ProfileRef, QuickProfile

THINNEST = 1e-6  # mm, of a wall
OPEN = "no-region"  # the code of what is said of a profile that has no closed outline


def wall_of(context: Context, value: Expression | None) -> float | None:
    """The thickness of a wall, mm, or None where none is given. Raises Problem."""
    wall = context.given(value)
    if wall is not None and wall <= THINNEST:
        raise Problem(
            "bad-size", f"A wall of {mm(wall)} is none.", "Give a wall above zero, or none.", field="wall"
        ).mended(Remedy("Without a wall", {"wall": None}))
    return wall


def quick_region(context: Context, profile: QuickProfile) -> Region:
    """The outline of a quick section about its origin. Raises Problem."""
    width = context.value(profile.width)
    if profile.quick == "round":
        return round_section(width)
    if profile.quick == "hexagon":
        return hexagon_section(width)
    if profile.quick == "ring":
        return ring_section(width, context.value(profile.wall))
    if profile.quick == "polygon":
        return polygon_section([(context.value(p.x), context.value(p.y)) for p in profile.corners])
    height = context.value(profile.height)
    return {"rectangle": rectangle_section, "slot": slot_section, "ellipse": ellipse_section}[profile.quick](
        width, height
    )


def blended_regions(context: Context, profile: ProfileRef | FaceRef, surface: bool) -> tuple[Plane, list[Region]]:
    """The regions of a profile that is to go over into another; for a ``surface`` its outlines, if one of them is open.

    Raises Problem.
    """
    if surface and isinstance(profile, ProfileRef):
        plane, outlines = context.profile(profile, surface=True)
        if any(r.outer.open for r in outlines):
            return plane, outlines
    try:
        return context.profile(profile)
    except Problem as problem:
        if problem.message.code == OPEN:
            problem.mended(Remedy("Make a surface of it", {"surface": True}))
        raise


def walled(region: Region, wall: float, side: Side) -> Region:
    """A region as a wall of itself; an open outline as a band along it. Raises Problem."""

    def made() -> Region:
        return (
            band(region, wall, side)
            if region.sheet and region.outer.open
            else hollow(replace(region, sheet=False), wall, side)
        )

    return region.kept(("walled", wall, side), made)

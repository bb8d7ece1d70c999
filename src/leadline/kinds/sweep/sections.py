"""The further sections of a sweep, in the plane that moves along its path."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.loft.lofted import changing
from leadline.core.loft.shares import End
from leadline.core.problems import Problem, Remedy, degrees, mm
from leadline.core.sweep.blend import Blend
from leadline.core.sweep.motion import Motion
from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.context import Context
from leadline.recipe.inputs import QuickProfile
from leadline.recipe.sections import blended_regions, quick_region, walled

SQUARE = 1e-6  # rad by which a drawn section's plane may be off the one that moves
BEYOND = 1e-6  # mm by which a section may stand beyond an end


def blended(
    context: Context, step: SweepStep, bare: Motion, regions: list[Region], shift: float, wall: float | None
) -> tuple[Region, Blend]:
    """The profile with all further sections as one region.

    Stations of the step are ``shift`` mm more than those of the motion.

    Raises:
        Problem: more than one region; rails beside it; a section that is not on the stretch, or not square to the path
            where it is drawn.
    """
    if len(regions) != 1:
        raise Problem(
            "one-region", "With further sections the profile is one outline.", "Pick one region.", field="sections"
        )
    if step.rails:
        raise Problem(
            "rails-and-sections",
            "Both the rails and the further sections say how the section changes.",
            "Take one of them away, or make a loft.",
            field="sections",
        )
    placed: list[tuple[float, Region | None]] = [(bare.home, regions[0])]
    for i in range(len(step.sections)):
        at, region = _placed(context, step, i, bare, shift)
        if not -BEYOND <= at <= bare.length + BEYOND:
            raise Problem(
                "off-path",
                (
                    f"Section {i + 2} stands at {mm(at + shift)}, outside the stretch from {mm(shift)} to "
                    f"{mm(bare.length + shift)}."
                ),
                "Move it, or sweep more of the path.",
                field="sections",
                station=float(np.clip(at, 0, bare.length)),
            )
        placed.append(
            (
                float(np.clip(at, 0.0, bare.length)),
                region if region is None or wall is None else walled(region, wall, step.wall_side),
            )
        )
    end = End(step.section_change == "smooth")
    placed.sort(key=lambda one: one[0])
    made, blend = changing(placed, end, end, step.section_change == "even")
    _check_points(placed, bare.length, shift)
    return replace(made, sheet=regions[0].sheet), blend


def _check_points(placed: list[tuple[float, Region | None]], length: float, shift: float) -> None:
    """Raises Problem where the shape ends in a point and the stretch that is swept goes on."""
    for (at, region), edge, field, word in ((placed[0], 0.0, "start", "starts"), (placed[-1], length, "end", "ends")):
        if region is None and abs(at - edge) > BEYOND:
            raise Problem(
                "point-inside",
                (
                    f"The shape ends in a point at {mm(at + shift)}, but the stretch that is swept {word} at "
                    f"{mm(edge + shift)}."
                ),
                "Move the point to the end, or sweep only as far as to it.",
                field="sections",
                station=at,
            ).mended(Remedy("Sweep only as far as to it", {field: at + shift}))


def _placed(context: Context, step: SweepStep, i: int, bare: Motion, shift: float) -> tuple[float, Region | None]:
    """The station of a further section on the motion, and its outline there; none for a point."""
    section = step.sections[i]
    profile = section.profile
    at = None if section.at is None or section.at == "" else context.station(section.at, bare.length) - shift
    if profile is None or isinstance(profile, QuickProfile):
        if at is None:
            raise Problem(
                "no-station", f"Nothing says where section {i + 2} stands.", "Give its station.", field="sections"
            )
        return at, None if profile is None else quick_region(context, profile)
    plane, regions = blended_regions(context, profile, step.surface)
    if len(regions) != 1:
        raise Problem(
            "one-region",
            f"Section {i + 2} has {len(regions)} regions.",
            "Pick one of them.",
            field="sections",
            source=profile.step,
        )
    if at is not None:
        outline = regions[0].outer.polygon(0.01)
        return at, regions[0].mapped(np.eye(2), -(outline.min(axis=0) + outline.max(axis=0)) / 2)
    return _as_drawn(plane, regions[0], i, bare)


def _as_drawn(plane: Plane, region: Region, i: int, bare: Motion) -> tuple[float, Region]:
    stations = bare.path.crossings(plane)
    if len(stations) == 0:
        raise Problem(
            "misses-path",
            f"The plane of section {i + 2} misses the path.",
            "Give its station, so that it is brought there.",
            field="sections",
        )
    middle = plane.to_space(region.outer.polygon(0.1).mean(axis=0))
    at = min(
        (float(s) for s in stations), key=lambda s: float(np.linalg.norm(bare.path.point(np.array([s]))[0] - middle))
    )
    f = bare.frames(np.array([at]))
    moving = f.plane(0)
    lean = float(np.arccos(np.clip(abs(float(moving.normal @ plane.normal)), -1.0, 1.0)))
    if lean > SQUARE:
        raise Problem(
            "section-leans",
            f"Section {i + 2} leans by {degrees(lean)} to the section's plane at {mm(at)}.",
            "Draw it on a plane square to the path, or give its station, so that it is brought there.",
            field="sections",
            station=at,
        )
    axes: Array = np.stack([f.X[0], f.Y[0]])
    back = np.linalg.inv(axes @ axes.T) @ axes  # what the motion stretches is drawn as it is to become
    matrix = back @ np.stack([plane.x, plane.y], axis=1)
    return at, region.mapped(matrix, back @ (plane.origin - f.C[0]))

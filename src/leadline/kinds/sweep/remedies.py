"""Ways out of what is wrong with a sweep, as changes of the step that can be made at once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from leadline.core.geometry.section import Region
from leadline.core.paths.corners import largest_round
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, Remedy, at_most, mm
from leadline.core.sweep.mitres import mitre_planes
from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.context import Context
from leadline.recipe.inputs import QuickProfile

ROOM = 1.05  # times the section's reach, the least radius that is offered for corners
FITS = 0.999  # of the largest section that fits


def round_corners(path: Path, regions: Sequence[Region]) -> list[Remedy]:
    """For a path with corners: to mitre them, or to round them by a radius that the lines leave room for and the
    section can go round.
    """
    found = []
    try:
        mitre_planes(path)
        found.append(Remedy("Mitre the corners", {"corners": "mitre"}))
    except Problem:  # it says that these corners cannot be mitred, so that this is no way out
        pass
    most = largest_round(path)
    least = ROOM * max(float(np.hypot(*r.outer.polygon(0.01).T).max()) for r in regions)
    if most is not None and least < most:
        radius = max(most / 2, least)
        found.append(Remedy(f"Round them by {mm(radius)}", {"corners": "round", "corner_radius": at_most(radius)}))
    return found


def with_smaller_section(context: Context, step: SweepStep, messages: list[Message]) -> list[Message]:
    """The messages, that of the worst fold with the largest section that fits everywhere."""
    folds = [m for m in messages if m.code == "fold" and m.level == "error"]
    if not folds:
        return messages
    worst = min(folds, key=lambda m: float(m.place["scale"]))
    remedies = tuple(_smaller(context, step, FITS * float(worst.place["scale"])))
    return [replace(m, remedies=remedies) if m is worst else m for m in messages]


def _smaller(context: Context, step: SweepStep, scale: float) -> list[Remedy]:
    if step.rails or step.sections or step.size is not None or step.size_y is not None or step.more_profiles:
        return []
    if isinstance(step.profile, QuickProfile) and step.profile.quick != "polygon":
        quick = step.profile
        width = scale * context.value(quick.width)
        height = scale * context.value(quick.height)
        if quick.quick == "ring" and width <= 2 * context.value(quick.wall):
            return []
        sized = (
            quick.model_dump(mode="json")
            | {"width": at_most(width)}
            | ({"height": at_most(height)} if height > 0 else {})
        )
        return [Remedy(f"Make the section {mm(width)} wide", {"profile": sized})]
    share = math.floor(scale * 1000) / 1000
    return (
        [Remedy(f"Scale the section to {share:.1%}", {"size": {"by": "ratio", "start": share, "end": share}})]
        if share > 0
        else []
    )

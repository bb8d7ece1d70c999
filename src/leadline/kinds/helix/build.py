"""The helix step: a coil about the normal of a plane."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PPoly

from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import HelixPiece, turned
from leadline.core.paths.spiral import SpiralCurve, rise_of
from leadline.core.paths.wound import WoundPiece
from leadline.core.problems import Problem
from leadline.core.units import format_length
from leadline.kinds.helix.model import HelixStep
from leadline.kinds.helix.result import HelixResult
from leadline.recipe.context import Context
from leadline.recipe.path_report import check_turns, path_report
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report

FLAT = 1e-9  # mm of height


@dataclass(frozen=True)
class _Coil:
    """Turns, the rise over them, and the radius at both ends."""

    turns: float
    rise: PPoly
    radius: tuple[float, float]
    even: bool

    @property
    def height(self) -> float:
        return float(self.rise(self.turns))


def build(context: Context, step: HelixStep, report: Report) -> PathProduct:
    """The path, and where its further starts stand.

    Raises:
        Problem: not just two of pitch, turns and height are given, a size is not above zero, or a table goes back.
    """
    coil = _coil(context, step)
    check_turns(coil.turns, "helix")
    plane = context.plane(step.plane)
    path = _path(coil, plane, context.value(step.start_angle), step.hand)
    unit = context.scope.unit
    first, last = (format_length(2 * r, unit) for r in coil.radius)
    height = coil.height
    pitch = (
        "flat"
        if height < FLAT
        else f"{format_length(height / coil.turns / step.starts, unit)}{'' if coil.even else ' on average'}"
    )
    report.figure = (
        f"Ø{first}{f' to Ø{last}' if first != last else ''}, {coil.turns:.4g} "
        f"turns{', flat' if pitch == 'flat' else f' of {pitch}'}"
    )
    if step.starts > 1:
        report.figure += f", {step.starts} starts"
    report.data = HelixResult(
        path=path_report(path, coil.turns),
        turns=coil.turns,
        coil={"height": height, "lead": height / coil.turns, "starts": step.starts},
    )
    return PathProduct(path, _starts(plane, step.starts))


def _coil(context: Context, step: HelixStep) -> _Coil:
    given = {
        name: size
        for name, value in (("pitch", step.pitch), ("turns", step.turns), ("height", step.height))
        if (size := context.given(value)) is not None
    }
    first = context.value(step.radius)
    end = context.given(step.end_radius)
    last = first if end is None else end
    flat = abs(last - first) > FLAT
    for name, value in (("radius", first), ("end_radius", last), *given.items()):
        if value < 0 or (value == 0 and not (flat and name in ("pitch", "height"))):
            way_out = (
                "Give it above zero, or an end radius for a flat spiral."
                if name in ("pitch", "height")
                else "Give it above zero."
            )
            raise Problem("bad-size", f"The helix's {name.replace('_', ' ')} is not above zero.", way_out, field=name)
    if step.pitch_table is not None:
        return _Coil(*_by_table(context, step, given), (first, last), False)
    if len(given) != 2:
        raise Problem(
            "two-of-three",
            f"A helix needs two of pitch, turns and height; {len(given)} are given.",
            "Give two and leave the third empty.",
            field="pitch",
        )
    if "turns" not in given and given["pitch"] == 0:
        raise Problem("bad-size", "Without a pitch its turns cannot follow.", "Give the turns.", field="turns")
    turns = given["turns"] if "turns" in given else given["height"] / (given["pitch"] * step.starts)
    lead = given["pitch"] * step.starts if "pitch" in given else given["height"] / given["turns"]
    return _Coil(turns, rise_of(turns, np.array([0.0, turns]), np.array([lead, lead])), (first, last), True)


def _by_table(context: Context, step: HelixStep, given: dict[str, float]) -> tuple[float, PPoly]:
    """Turns and rise where the pitch is a table. Raises Problem."""
    if set(given) != {"turns"}:
        raise Problem(
            "two-of-three",
            "With a table of pitches a helix needs its turns, and no pitch or height.",
            "Give the turns alone.",
            field="turns",
        )
    points = step.pitch_table or []
    at = np.array([context.value(p.at) for p in points])
    pitch = np.array([context.value(p.value) for p in points])
    order = np.argsort(at, kind="stable")
    if np.diff(at[order]).min() < 1e-9:
        raise Problem(
            "two-values", "The table has two pitches at one turn.", "Move or delete one.", field="pitch_table"
        )
    if pitch.min() < 0:
        raise Problem("turns-back", "A pitch of the table is under zero.", "Give zero or more.", field="pitch_table")
    rise = rise_of(given["turns"], at[order], pitch[order] * step.starts)
    if float(rise(given["turns"])) <= FLAT:
        raise Problem("bad-size", "The pitches of the table are all zero.", "Give one above zero.", field="pitch_table")
    return given["turns"], rise


def _path(coil: _Coil, plane: Plane, angle: float, hand: str) -> Path:
    u = math.cos(angle) * plane.x + math.sin(angle) * plane.y
    v = (-math.sin(angle) * plane.x + math.cos(angle) * plane.y) * (-1 if hand == "left" else 1)
    if coil.even and coil.radius[0] == coil.radius[1]:
        lead = coil.height / coil.turns * (-1 if hand == "left" else 1)
        return Path([HelixPiece(plane.origin, u, v, coil.radius[0], lead, coil.turns, "helix")], up=plane.normal)
    curve = SpiralCurve(plane.origin, u, v, plane.normal, coil.radius, coil.rise)
    return Path([WoundPiece(curve, "helix")], up=plane.normal)


def _starts(plane: Plane, count: int) -> Placements | None:
    """The turns about the axis that take the first start to each of them, itself included."""
    if count == 1:
        return None
    angles = np.arange(count) * 2 * math.pi / count
    rows: list[Array] = [turned(e, plane.normal, angles) for e in np.eye(3)]
    turns = np.stack(rows, axis=2)
    return Placements(turns, plane.origin - np.einsum("nij,j->ni", turns, plane.origin))

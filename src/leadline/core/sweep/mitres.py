"""Mitred corners: where two lines meet, the section of both lies on the plane that halves the angle.

On a line a section point may slide along the line without leaving its prism. So that the section lies on the
halving planes at both ends, X and Y get a part along the tangent that changes evenly between them.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem, degrees, mm
from leadline.core.sweep.frames import Frames

SHARPEST = math.radians(150)
Ends = tuple[Array | None, Array | None]  # normals of the halving planes at a piece's start and end


def mitre_planes(path: Path) -> list[Ends]:
    """The halving planes at both ends of every piece, None where there is no corner.

    Raises:
        Problem: a corner at an arc or a spline, or one that turns back on itself.
    """
    n = len(path.pieces)
    ends: list[list[Array | None]] = [[None, None] for _ in range(n)]
    for joint, i in zip(path.joints, range(n), strict=False):
        if joint.kind != "corner":
            continue
        j = (i + 1) % n
        a, b = path.pieces[i], path.pieces[j]
        if not isinstance(a, LinePiece) or not isinstance(b, LinePiece):
            raise Problem(
                "mitre-at-curve",
                f"The corner at {mm(joint.station)} is not between two straight lines, so it cannot be mitred.",
                "Draw an arc there, tangent to both sides.",
                station=joint.station,
                of="corners",
            )
        if joint.turn > SHARPEST:
            raise Problem(
                "sharp-corner",
                f"The corner at {mm(joint.station)} turns back by {degrees(joint.turn)}.",
                f"Mitres go up to {degrees(SHARPEST)}.",
                station=joint.station,
                of="corners",
            )
        m = a.direction + b.direction
        ends[i][1] = ends[j][0] = m / np.linalg.norm(m)
    return [(a, b) for a, b in ends]


def sheared(f: Frames, ends: Ends, share: Array, length: float) -> Frames:
    """Frames with their sections slid along the tangent; ``share`` (n,) runs from 0 to 1 along the piece."""
    moved = [f.C - f.P, f.X, f.Y, *(np.moveaxis(f.Z, 1, 0) if f.warp else ())]
    slopes = [f.dC - f.T, f.dX, f.dY, *(np.moveaxis(f.dZ, 1, 0) if f.warp else ())]
    slid, slid_slopes = np.array(moved), np.array(slopes)
    for m, w, dw in ((ends[0], 1 - share, -1 / length), (ends[1], share, 1 / length)):
        if m is None:
            continue
        for k, (v, dv) in enumerate(zip(moved, slopes, strict=True)):
            slid[k] += _slide(f, m, w, v)
            slid_slopes[k] += _slide(f, m, w, dv) + _slide(f, m, np.full_like(w, dw), v)
    Z, dZ = (np.moveaxis(v[3:], 0, 1) for v in (slid, slid_slopes)) if f.warp else (f.Z, f.dZ)
    return replace(
        f,
        C=f.P + slid[0],
        X=slid[1],
        Y=slid[2],
        dC=f.T + slid_slopes[0],
        dX=slid_slopes[1],
        dY=slid_slopes[2],
        Z=Z,
        dZ=dZ,
    )


def _slide(f: Frames, m: Array, weight: Array, v: Array) -> Array:
    return np.asarray(-(weight * (v @ m) / (f.T @ m))[:, None] * f.T)

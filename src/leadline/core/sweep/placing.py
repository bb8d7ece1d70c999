"""Where a drawn profile stands on its path."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, degrees, mm
from leadline.core.sweep.motion import EDGE_ON


@dataclass(frozen=True)
class Placed:
    """A section on its path: the station, its ``axes`` in space there (2, 3), and its regions from the path's point.

    ``turn`` is the angle about the path by which a section was brought, None when it stands as drawn.
    """

    home: float
    axes: Array
    regions: list[Region]
    matrix: Array
    shift: Array
    turn: float | None = None

    def local(self, xy: Array) -> Array:
        """A point of the drawn profile (2,) in the placed section."""
        return np.asarray(self.matrix @ xy + self.shift)


def place_on_path(path: Path, plane: Plane, regions: Sequence[Region]) -> Placed:
    """Find where drawn regions stand on the path, as drawn.

    Raises:
        Problem: the profile's plane misses the path, or the path runs along it.
    """
    stations = path.crossings(plane)
    outline = plane.to_space(np.vstack([r.outer.polygon(0.1) for r in regions]))
    middle = outline.mean(axis=0)
    if len(stations) == 0:
        raise _misses(path, outline)
    steep = [abs(float(t @ plane.normal)) for t in path.tangent(stations)]
    usable = [i for i, sine in enumerate(steep) if sine > np.sin(EDGE_ON)]
    if not usable:
        i = int(np.argmax(steep))
        raise Problem(
            "edge-on",
            f"The path runs along the profile's plane: at {mm(float(stations[i]))} they stand at "
            f"{degrees(float(np.arcsin(steep[i])))} to each other.",
            "Bring the profile to the path, or draw it on a plane square to the path.",
            station=float(stations[i]),
            of="profile",
        )
    near = min(usable, key=lambda i: float(np.linalg.norm(path.point(stations[i : i + 1])[0] - middle)))
    home = float(stations[near])
    if path.closed and abs(home - path.length) < 1e-9:
        home = 0.0
    at = np.array([home])
    flip = -1.0 if float(path.tangent(at)[0] @ plane.normal) < 0 else 1.0
    matrix = np.diag([1.0, flip])
    shift = -matrix @ plane.to_plane(path.point(at)[0])
    return Placed(home, np.stack([plane.x, flip * plane.y]), [r.mapped(matrix, shift) for r in regions], matrix, shift)


def bring_to_path(path: Path, regions: Sequence[Region], anchor: Array, at: float, turn: float) -> Placed:
    """Stand regions up square to the path at a station, ``anchor`` (2,) of them on it, turned by an angle (rad) about
    it.

    The profile's x goes to the path's side, its y along the normal of the path's plane, or a quarter turn from that
    where its y is then more nearly upright (along Z).
    """
    frame = path.plane_at(at)
    rises = [v[2] for v in (frame.y, -frame.x, -frame.y, frame.x)]
    quarters = int(np.argmax([r + (1e-6 if i == 0 else 0.0) for i, r in enumerate(rises)]))
    c, s = np.cos(turn + quarters * np.pi / 2), np.sin(turn + quarters * np.pi / 2)
    axes = np.stack([c * frame.x + s * frame.y, -s * frame.x + c * frame.y])
    matrix, shift = np.eye(2), -anchor
    return Placed(at, axes, [r.mapped(matrix, shift) for r in regions], matrix, shift, turn)


def _misses(path: Path, outline: Array) -> Problem:
    s = np.linspace(0.0, path.length, 400)
    p = path.point(s)
    gaps = np.linalg.norm(p[:, None] - outline[None, :: max(1, len(outline) // 40)], axis=2)
    i, _ = np.unravel_index(int(gaps.argmin()), gaps.shape)
    return Problem(
        "misses-path",
        f"The profile does not meet the path: its nearest point is {mm(float(gaps.min()))} "
        f"away from the path at {mm(float(s[i]))}.",
        "Bring the profile to the path, draw it on a plane square to the path, or move its plane.",
        station=float(s[i]),
        of="profile",
    )

"""The report that every path has, and checks that all paths share."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Plane
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, degrees, mm
from leadline.recipe.shown import PathShown, PlaneShown

MAX_TURNS = 2000.0
SHOWN_TURN = 48  # points on a turn of a coil
MOST_SHOWN = 4000


def path_report(path: Path, turns: float = 0.0) -> PathShown:
    """What views show of a path: points along it, length, pieces, joints and the tightest bend."""
    s = path.samples(max(8, 32 if turns == 0 else 24))
    if len(s) > MOST_SHOWN or turns > 0:
        s = np.linspace(0.0, path.length, int(min(MOST_SHOWN, max(len(s), SHOWN_TURN * turns + 2))))
    tightest = float(np.linalg.norm(path.curvature(s), axis=1).max())
    return {
        "points": np.round(path.point(s), 4).tolist(),
        "length": path.length,
        "closed": path.closed,
        "tightest": 1 / tightest if tightest > 1e-9 else None,
        "pieces": [{"kind": p.kind, "length": p.length, "origin": p.origin} for p in path.pieces],
        "joints": [{"station": j.station, "kind": j.kind} for j in path.joints],
    }


def plane_shown(plane: Plane) -> PlaneShown:
    return {"origin": plane.origin.tolist(), "x": plane.x.tolist(), "y": plane.y.tolist()}


def kinks(path: Path) -> list[Message]:
    return [
        Message(
            "note",
            "corner",
            f"At {mm(j.station)} two parts meet at a corner of {degrees(j.turn, 3)}.",
            "Make them tangent, or let the sweep mitre or round it.",
            {"station": j.station},
        )
        for j in path.joints
        if j.kind == "corner"
    ]


def check_turns(turns: float, what: str = "coil") -> None:
    """Raises Problem when there are more than can be built."""
    if abs(turns) > MAX_TURNS:
        raise Problem(
            "too-many-turns", f"The {what} has {turns:.6g} turns.", f"Give at most {MAX_TURNS:g}.", field="turns"
        )

"""Bent tubes as parts, and what is read of them."""

import math

import numpy as np

from leadline.core.paths.bends import BendRow, Bends
from tests.support.parts import part

CASE = np.array([(0, 0, 0), (0, 0, 200), (150, 0, 200), (150, 120, 200.0)])


DEGREE = math.pi / 180


def row(feed: float, turn: float, angle: float, radius: float, at: float = 0.0) -> BendRow:
    start = at + feed
    return BendRow(feed, turn * DEGREE, angle * DEGREE, radius, start, start + radius * angle * DEGREE)


def bends(rows: list[tuple[float, float, float, float]], last: float) -> Bends:
    made: list[BendRow] = []
    for one in rows:
        made.append(row(*one, made[-1].end if made else 0.0))
    return Bends(tuple(made), last)


def document(**fields):
    points = [
        {"id": f"q{i}", "at": {"by": "place", "x": x, "y": y, "z": z}} for i, (x, y, z) in enumerate(CASE.tolist())
    ]
    return part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Riser",
            "units": "mm",
            "values": [],
            "steps": [
                {"kind": "route", "id": "way", "name": "Way", "points": points, "radius": 40},
                {
                    "kind": "sweep",
                    "id": "tube",
                    "name": "Tube",
                    "path": {"step": "way"},
                    "profile": {"quick": "round", "width": 20},
                    "wall": 1.5,
                    **fields.pop("sweep", {}),
                },
                {"kind": "bent", "id": "bend", "name": "Bending", "tube": "tube", **fields},
            ],
        }
    )

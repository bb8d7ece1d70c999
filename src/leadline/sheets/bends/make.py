"""The sheet of bends, made from a path."""

from __future__ import annotations

import math

from leadline.core.paths.bends import bends_of
from leadline.core.paths.path import Path
from leadline.sheets.bends.model import BendLine, BendsSheet


def make(path: Path) -> BendsSheet:
    """Lengths in mm, angles in degrees.

    Raises:
        Problem: the path is not of straight runs and bends.
    """
    bends = bends_of(path)
    rows = [
        BendLine(number=i + 1, feed=r.feed, turn=math.degrees(r.turn), angle=math.degrees(r.angle), radius=r.radius, start=r.start, end=r.end)
        for i, r in enumerate(bends.rows)
    ]
    return BendsSheet(rows=rows, last=bends.last, length=path.length, bent=sum(r.radius * r.angle for r in bends.rows))

"""Views of bodies as flat drawings: their visible and hidden edges and outlines, as polylines."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from leadline.core.geometry.hidden_lines import Drawable, lines_seen
from leadline.core.geometry.plane import Array

GRID = 1e-4  # mm, on which ends that meet are one


@dataclass(frozen=True)
class View:
    """Polylines (n, 2) in mm, x to the right and y up as they are seen."""

    visible: list[Array]
    hidden: list[Array]


def views_of(drawn: Sequence[Drawable], eyes: Mapping[str, tuple[Array, Array]]) -> dict[str, View]:
    """Bodies, at least one, seen from several places: each a unit vector (3,) towards the eye, and one (3,) to the
    right there.
    """
    lines = {name: lines_seen(drawn, *eye) for name, eye in eyes.items()}
    return {name: View(chained(own.visible), chained(own.hidden)) for name, own in lines.items()}


def chained(segments: Array) -> list[Array]:
    """Straight pieces (n, 2, 2) put end to end, those that lie on each other once; in any order and either way round.

    Lines end where more than two pieces meet.
    """
    ends = np.round(segments / GRID).astype(np.int64)
    swapped = (ends[:, 0, 0] > ends[:, 1, 0]) | ((ends[:, 0, 0] == ends[:, 1, 0]) & (ends[:, 0, 1] > ends[:, 1, 1]))
    ends[swapped] = ends[swapped][:, ::-1]
    once = np.unique(ends[(ends[:, 0] != ends[:, 1]).any(axis=1)].reshape(-1, 4), axis=0)
    merged = shapely.line_merge(shapely.multilinestrings(shapely.linestrings(once.reshape(-1, 2, 2) * GRID)))
    places, line = shapely.get_coordinates(shapely.get_parts(merged), return_index=True)
    return np.split(places, np.flatnonzero(np.diff(line)) + 1) if len(places) else []

"""Views of bodies as flat drawings: their visible and hidden edges and outlines, as polylines."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.hidden_lines import Drawable, lines_seen
from leadline.core.geometry.plane import Array

GRID = 1e-4  # mm, on which ends that meet are one


@dataclass(frozen=True)
class View:
    """Polylines (n, 2) in mm, x to the right and y up as they are seen."""

    visible: list[Array]
    hidden: list[Array]


def views_of(drawn: Sequence[Drawable], eyes: Mapping[str, tuple[Array, Array]]) -> dict[str, View]:
    """Bodies, at least one, seen from several places: each a unit vector (3,) towards the eye, and one (3,) to the right there."""
    lines = {name: lines_seen(drawn, *eye) for name, eye in eyes.items()}
    return {name: View(chained(own.visible), chained(own.hidden)) for name, own in lines.items()}


def chained(segments: Array) -> list[Array]:
    """Straight pieces (n, 2, 2) put end to end, those that lie on each other once; in any order and either way round."""
    ends = np.round(segments / GRID).astype(np.int64)
    at: dict[tuple[int, int], set[int]] = defaultdict(set)
    seen: set[tuple[tuple[int, int], tuple[int, int]]] = set()
    pieces: list[tuple[tuple[int, int], tuple[int, int]]] = []
    for (x0, y0), (x1, y1) in ends.tolist():
        a, b = sorted([(x0, y0), (x1, y1)])
        if a != b and (a, b) not in seen:
            seen.add((a, b))
            at[a].add(len(pieces))
            at[b].add(len(pieces))
            pieces.append((a, b))
    left = set(range(len(pieces)))
    lines = []
    while left:
        a, b = pieces[left.pop()]
        line = [a, b]
        for end in (1, 0):
            while True:
                tip = line[-1] if end else line[0]
                following = next((k for k in at[tip] if k in left), None)
                if following is None:
                    break
                left.discard(following)
                p, q = pieces[following]
                line.insert(len(line) if end else 0, q if p == tip else p)
        lines.append(np.array(line) * GRID)
    return lines

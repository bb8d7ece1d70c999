"""Views of bodies as flat drawings: their visible and hidden edges and outlines, by the kernel's hidden line removal on meshes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.gp import gp_Ax2, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_PolyAlgo, HLRBRep_PolyHLRToShape
from OCP.TopAbs import TopAbs_ShapeEnum

from leadline.core.geometry.plane import Array
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, direction, edges, parts
from leadline.core.solids.tessellate import mark_smooth_edges, tessellate

CHORD_SHARE = 5e-4  # of the size of all bodies: the chord of the meshes that are looked at
ANGLE = 0.2  # rad, between the facets of those meshes
GRID = 1e-4  # mm, on which ends that meet are one


@dataclass(frozen=True)
class View:
    """Polylines (n, 2) in mm, x to the right and y up as they are seen."""

    visible: list[Array]
    hidden: list[Array]


def views_of(bodies: Sequence[Body], eyes: Mapping[str, tuple[Array, Array]], chord_share: float = CHORD_SHARE, angle: float = ANGLE) -> dict[str, View]:
    """Bodies seen from several places: each a unit vector (3,) towards the eye, and one (3,) to the right there.

    Their meshes, which are looked at, stay on them: within a ``chord_share`` of their size, and an ``angle`` (rad) between facets.
    """
    low, high = np.min([b.box()[0] for b in bodies], axis=0), np.max([b.box()[1] for b in bodies], axis=0)
    chord = chord_share * float(np.linalg.norm(high - low))
    for body in bodies:
        mark_smooth_edges(body.shape)
        tessellate(body, chord, angle)
    return {name: _seen(bodies, *eye) for name, eye in eyes.items()}


def _seen(bodies: Sequence[Body], towards: Array, right: Array) -> View:
    """One view of bodies that are meshed."""
    algorithm = HLRBRep_PolyAlgo()
    for body in bodies:
        algorithm.Load(body.shape)
    algorithm.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), direction(towards), direction(right))))
    algorithm.Update()
    found = HLRBRep_PolyHLRToShape()
    found.Update(algorithm)
    return View(
        chained(_segments([found.VCompound(), found.OutLineVCompound()])), chained(_segments([found.HCompound(), found.OutLineHCompound()])),
    )  # fmt: skip


def _segments(shapes: Iterable[Shape]) -> Array:
    """The straight pieces (n, 2, 2) of projected edges."""
    found = []
    for shape in shapes:
        if shape is None or shape.IsNull():
            continue
        for edge in edges(shape):
            ends = [BRep_Tool.Pnt_s(v).Coord()[:2] for v in parts(edge, TopAbs_ShapeEnum.TopAbs_VERTEX)]
            if len(ends) == 2:
                found.append(ends)
    return np.array(found).reshape(-1, 2, 2)


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

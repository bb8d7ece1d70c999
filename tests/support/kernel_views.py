"""The kernel's own hidden line removal, for comparison."""

from __future__ import annotations

from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.gp import gp_Ax2, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_PolyAlgo, HLRBRep_PolyHLRToShape
from OCP.TopAbs import TopAbs_ShapeEnum
from scipy.spatial import KDTree

from leadline.core.solids.kernel import direction, edges, parts
from leadline.core.solids.tessellate import mark_smooth_edges, tessellate


def kernel_lines(bodies: list[Any], towards: Any, right: Any, chord: float, angle: float = 0.1) -> tuple[Any, Any]:
    """The visible and the hidden straight pieces (n, 2, 2) of bodies, meshed within a chord (mm) and an angle (rad)."""
    algorithm = HLRBRep_PolyAlgo()
    for body in bodies:
        mark_smooth_edges(body.shape)
        tessellate(body, chord, angle)
        algorithm.Load(body.shape)
    algorithm.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), direction(towards), direction(right))))
    algorithm.Update()
    found = HLRBRep_PolyHLRToShape()
    found.Update(algorithm)
    return _pieces([found.VCompound(), found.OutLineVCompound()]), _pieces(
        [found.HCompound(), found.OutLineHCompound()]
    )


def _pieces(shapes: list[Any]) -> Any:
    found = []
    for shape in shapes:
        if shape is None or shape.IsNull():
            continue
        for edge in edges(shape):
            ends = [BRep_Tool.Pnt_s(v).Coord()[:2] for v in parts(edge, TopAbs_ShapeEnum.TopAbs_VERTEX)]
            if len(ends) == 2:
                found.append(ends)
    return np.array(found).reshape(-1, 2, 2)


def share_elsewhere(pieces: Any, others: Any, size: float, near: float = 4e-3) -> float:
    """The share of the length of pieces (n, 2, 2) that none of the others is near to; ``near`` is of the size
    of all.
    """
    places, lengths = _along(pieces, size / 1000)
    if not len(places):
        return 0.0
    beside, _ = _along(others, size / 1000)
    far = KDTree(beside).query(places)[0] > near * size if len(beside) else np.ones(len(places), dtype=bool)
    return float(lengths[far].sum() / lengths.sum())


def _along(pieces: Any, step: float) -> tuple[Any, Any]:
    """Places (m, 2) along pieces, about every step, and the length that each stands for."""
    long = np.linalg.norm(pieces[:, 1] - pieces[:, 0], axis=1)
    counts = np.maximum(1, np.ceil(long / step)).astype(int)
    which = np.repeat(np.arange(len(pieces)), counts)
    place = (np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts) + 0.5) / counts[which]
    return pieces[which, 0] + place[:, None] * (pieces[which, 1] - pieces[which, 0]), (long / counts)[which]

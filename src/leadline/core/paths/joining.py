"""Paths put in order end to end and joined into one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.derived import reversed_piece
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, Piece
from leadline.core.problems import Problem, mm

MEETS = 1e-6  # mm: under that two ends are one


@dataclass(frozen=True)
class Joined:
    """``order`` are the parts as they follow each other (index, reversed); ``bridged`` the gaps that were
    closed, mm.
    """

    path: Path
    order: tuple[tuple[int, bool], ...]
    bridged: tuple[float, ...]


def reversed_path(path: Path) -> Path:
    """The path the other way round."""
    return Path([reversed_piece(p) for p in reversed(path.pieces)], path.closed, path.up)


def joined(paths: Sequence[Path], names: Sequence[str], tolerance: float = MEETS) -> Joined:
    """One path of ``paths``, each turned round where that lets it follow; gaps up to ``tolerance`` mm are closed by
    straight pieces.

    It begins at the free end that comes first. ``names`` are what messages call the parts.

    Raises:
        Problem: a part is closed, three ends meet, or a part is too far from the others.
    """
    for path, name in zip(paths, names, strict=True):
        if path.closed:
            raise Problem(
                "part-closed", f"“{name}” is closed, so that nothing can follow it.", "Take it away.", of="parts"
            )
    reach = max(tolerance, MEETS)
    ends = np.array([p.point(np.array([0.0, p.length])) for p in paths])  # (n, 2, 3)
    first, turned = _beginning(ends, names, reach)
    order, bridged = [(first, turned)], []
    left = [i for i in range(len(paths)) if i != first]
    while left:
        here = ends[order[-1][0], 0 if order[-1][1] else 1]
        away = np.linalg.norm(ends[left] - here, axis=2)
        i, side = np.unravel_index(int(np.argmin(away)), away.shape)
        gap = float(away[i, side])
        if gap > reach:
            before, after = names[order[-1][0]], names[left[i]]
            raise Problem(
                "gap",
                f"Between “{before}” and “{after}” there is a gap of {mm(gap)}.",
                f"Let them meet, or close gaps up to {mm(gap * 1.01)}.",
                of="tolerance",
                place=here.tolist(),
            )
        bridged.append(gap if gap > MEETS else 0.0)
        order.append((left.pop(int(i)), side == 1))
    start, end = ends[order[0][0], 1 if order[0][1] else 0], ends[order[-1][0], 0 if order[-1][1] else 1]
    closed = len(paths) > 1 and bool(np.linalg.norm(end - start) <= MEETS)
    return Joined(Path(_pieces(paths, order, bridged), closed), tuple(order), tuple(bridged))


def _beginning(ends: Array, names: Sequence[str], reach: float) -> tuple[int, bool]:
    """The first part with a free end, and whether it is turned round; where there is none the chain closes and any will
    do.
    """
    flat = ends.reshape(-1, 3)
    near = np.linalg.norm(flat[:, None] - flat, axis=2) <= reach
    meeting = near.sum(axis=1)
    if meeting.max() > 2:
        k = int(np.argmax(meeting))
        three = " and ".join(f"“{names[i // 2]}”" for i in np.flatnonzero(near[k]).tolist())
        raise Problem(
            "branch",
            f"{int(meeting[k])} ends meet at one place: {three}.",
            "Leave out one of them.",
            of="parts",
            place=flat[k].tolist(),
        )
    free = np.flatnonzero(meeting == 1)
    return (int(free[0]) // 2, bool(free[0] % 2)) if len(free) else (0, False)


def _pieces(paths: Sequence[Path], order: Sequence[tuple[int, bool]], bridged: Sequence[float]) -> list[Piece]:
    pieces: list[Piece] = []
    for k, (i, turned) in enumerate(order):
        own = reversed_path(paths[i]).pieces if turned else paths[i].pieces
        if k and bridged[k - 1] > 0:
            a = pieces[-1].point(np.array([pieces[-1].length]))[0]
            pieces.append(LinePiece(a, own[0].point(np.zeros(1))[0], f"gap-{k}"))
        pieces += own
    return pieces

"""The sizes that a spring is drawn with."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.dimensions import Dimension, Note, Span
from leadline.core.geometry.plane import Plane, any_square_to, plane_on
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece


def dimensions_of(
    path: Path, wire: float, seat: Plane | None, outside: float, heights: tuple[float, float] | None
) -> list[Dimension]:
    """How thick the wire is, how wide the spring is ``outside``, its legs, and how long it is as it is drawn: from one
    of the ``heights`` over its ``seat`` to the other; all mm.

    The axis is the seat's normal; where there is none, as of a wire that goes its own way, only the wire's size is
    told.
    """
    half = np.array([path.length / 2])
    middle = path.point(half)[0]
    if seat is None:
        return [Note(middle, any_square_to(path.tangent(half)[0]), wire, before="Ø")]
    off = middle - seat.origin
    away = off - float(off @ seat.normal) * seat.normal
    found: list[Dimension] = [Note(middle, away / np.linalg.norm(away), wire, before="Ø")]
    found += [Span(p.start, p.end) for p in (path.pieces[0], path.pieces[-1]) if isinstance(p, LinePiece)]
    foot = seat.origin + (0.0 if heights is None else heights[0]) * seat.normal
    across = outside / 2 * plane_on(seat.origin, seat.normal).x
    found.append(Span(foot - across, foot + across, before="Ø", outermost=True))
    if heights is not None:
        found.append(Span(foot, seat.origin + heights[1] * seat.normal, outermost=True))
    return found

"""Which places of several outlines correspond: corners to corners, else by share of length from a matched start; of
open ones the ends.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leadline.core.geometry.plane import Array
from leadline.core.loft.outline import SNAP, Outline, merged
from leadline.core.problems import Problem

STARTS = 256  # places that are tried as the start of an outline without corners
NEAR = 0.12  # of an outline: corners that are farther apart do not go together
EVEN = 16  # places by which two outlines without corners are compared


@dataclass(frozen=True)
class Match:
    """How a place on the reference outline (share of 0 to 1) goes over to one on another (share, on a closed one whole
    turns apart the same).
    """

    reference: Array
    other: Array

    def to(self, shares: Array) -> Array:
        return np.interp(shares, self.reference, self.other)

    def back(self, shares: Array) -> Array:
        """The places of the reference, 0 to 1, for places of the other."""
        return np.asarray(np.interp(self.other[0] + np.mod(shares - self.other[0], 1.0), self.other, self.reference))


def leading(outlines: Sequence[Outline]) -> int:
    """The outline that the others are matched with: the first of those that have the most corners."""
    return max((i for i, o in enumerate(outlines) if o.only is None), key=lambda i: (len(outlines[i].corners), -i))


def matches(outlines: Sequence[Outline], threads: Sequence[Sequence[float]] = ()) -> list[Match]:
    """For each outline how it goes with the leading one, which begins at its own start.

    ``threads`` are places (shares) that are to correspond, one for each outline; between two of them corners go with
    those that are near.
    """
    first = leading(outlines)
    reference = outlines[first]
    if threads:
        return [
            _held(reference, outline, [t[first] for t in threads], [t[i] for t in threads], i == first)
            for i, outline in enumerate(outlines)
        ]
    if reference.open:
        return [
            _own() if i == first or outline.only is not None else _along(reference, outline)
            for i, outline in enumerate(outlines)
        ]
    keys = reference.corners if len(reference.corners) else np.arange(EVEN) / EVEN
    seen = _seen(reference, keys)
    return [
        _own() if i == first or outline.only is not None else _found(keys, seen, outline)
        for i, outline in enumerate(outlines)
    ]


def cells(outlines: Sequence[Outline], found: Sequence[Match], more: Array | None = None) -> Array:
    """Shares of the reference between which each outline has one smooth stretch, from 0 to 1; cut at ``more`` of its
    places as well.
    """
    places = [np.array([0.0, 1.0]), *([] if more is None else [more])]
    for outline, match in zip(outlines, found, strict=True):
        if outline.only is None:
            places += [match.back(outline.starts[:-1]), match.reference]
    every = merged(places)
    return np.concatenate([[0.0], every[(every > SNAP) & (every < 1 - SNAP)], [1.0]])


def _own() -> Match:
    return Match(np.array([0.0, 1.0]), np.array([0.0, 1.0]))


def _around(reference: Array, other: Array) -> Match:
    """A match of key places, both in order, continued over the reference's start."""
    other = other[0] + np.mod(other - other[0], 1.0)
    wide = np.concatenate([[reference[-1] - 1], reference, [reference[0] + 1]])
    tall = np.concatenate([[other[-1] - 1], other, [other[0] + 1]])
    at = np.interp([0.0, 1.0], wide, tall)
    inner = (reference > SNAP) & (reference < 1 - SNAP)
    return Match(np.concatenate([[0.0], reference[inner], [1.0]]), np.concatenate([at[:1], other[inner], at[1:]]))


def _threaded(reference: Sequence[float] | Array, other: Sequence[float] | Array, is_open: bool = False) -> Match:
    if is_open:
        return _between(np.asarray(reference, dtype=float), np.asarray(other, dtype=float))
    a, b = np.mod(reference, 1.0), np.mod(other, 1.0)
    order = np.argsort(a, kind="stable")
    if _crossing(a[order], b[order]):
        raise Problem(
            "threads-cross",
            "Two threads between the sections cross, or one place has two of them.",
            "Drag one of them back.",
            of="threads",
        )
    return _around(a[order], b[order])


def _crossing(a: Array, b: Array) -> bool:
    """Whether places of two closed outlines, those of the first in order, do not go round the second in the
    same order.
    """
    steps = [np.mod(np.diff(v, append=v[:1]), 1.0) if len(v) > 1 else np.ones(1) for v in (a, b)]
    return any(float(v.min()) < SNAP or abs(float(v.sum()) - 1.0) > SNAP for v in steps)


def _between(reference: Array, other: Array) -> Match:
    """A match of key places of open outlines, whose ends go with each other. Raises Problem when two pairs cross."""
    order = np.argsort(reference, kind="stable")
    a, b = np.clip(reference[order], 0.0, 1.0), np.clip(other[order], 0.0, 1.0)
    inner = (a > SNAP) & (a < 1 - SNAP)
    a, b = np.concatenate([[0.0], a[inner], [1.0]]), np.concatenate([[0.0], b[inner], [1.0]])
    if np.diff(b).min() < SNAP:
        raise Problem(
            "threads-cross",
            "Two threads between the sections cross, or one leads an inner place to an end.",
            "Drag one of them back.",
            of="threads",
        )
    return Match(a, b)


def _along(reference: Outline, other: Outline) -> Match:
    """Corners of an open outline with those of the reference, in order from one end to the other."""
    corners = other.corners
    if len(corners) == 0:
        return _own()
    keys = reference.corners
    far = ((_seen(reference, keys)[:, None] - _seen(other, corners)[None]) ** 2).sum(axis=2)
    _, chosen = _in_order(far)
    return _between(keys[chosen], corners)


def alike(reference: Outline, other: Outline) -> Outline:
    """An open outline passed the way in which it looks more like the reference."""
    places = np.linspace(0.0, 1.0, EVEN + 1)
    seen, own = _seen(reference, places), _seen(other, places)
    return other if float(((own - seen) ** 2).sum()) <= float(((own[::-1] - seen) ** 2).sum()) else other.reversed()


def _held(reference: Outline, outline: Outline, keys: Sequence[float], places: Sequence[float], own: bool) -> Match:
    """A match through given pairs of places; further corners go with the reference's nearest one, if both are each
    other's nearest.
    """
    if own or outline.only is not None:
        return _own()
    match = _threaded(keys, places, outline.open)
    corners, ours = reference.corners, outline.corners
    if len(corners) == 0 or len(ours) == 0:
        return match
    gaps = np.abs(match.back(ours)[:, None] - corners)
    gaps = gaps if outline.open else np.minimum(gaps, 1 - gaps)
    given = np.abs(np.mod(ours[:, None] - np.mod(places, 1.0) + 0.5, 1.0) - 0.5).min(axis=1) < SNAP
    pairs = [
        (k, i)
        for i, k in enumerate(gaps.argmin(axis=1))
        if not given[i] and gaps[:, k].argmin() == i and gaps[i, k] < NEAR
    ]
    try:
        return _threaded(
            [*keys, *(float(corners[k]) for k, _ in pairs)],
            [*places, *(float(ours[i]) for _, i in pairs)],
            outline.open,
        )
    except Problem:  # what is given holds, whatever becomes of corners that would go together but cross it
        return match


def _seen(outline: Outline, shares: Array) -> Array:
    """Places as seen from the outline's middle, in its own size, (n, 2)."""
    every = outline.points(np.arange(STARTS) / STARTS)
    middle = every.mean(axis=0)
    return np.asarray((outline.points(shares) - middle) / np.linalg.norm(every - middle, axis=1).max())


def _found(keys: Array, seen: Array, other: Outline) -> Match:
    corners = other.corners
    if len(corners) == 0:
        shifts = np.arange(STARTS) / STARTS
        own = _seen(other, shifts)
        at = np.round((keys - keys[0]) * STARTS).astype(int)
        off = [float(((own[(k + at) % STARTS] - seen) ** 2).sum()) for k in range(STARTS)]
        return _around(keys[:1], shifts[int(np.argmin(off))][None])
    chosen = _corner_pairs(seen, _seen(other, corners))
    return _threaded(keys[chosen], corners)


def _corner_pairs(seen: Array, own: Array) -> NDArray[np.intp]:
    """For each of the ``own`` corners (m, 2), in order, the one of ``seen`` (n, 2), n >= m, that it goes with: the
    order is kept round the outline, and the sum of squared distances is least (for each partner of the first corner).
    """
    n = len(seen)
    far = ((seen[:, None] - own[None]) ** 2).sum(axis=2)
    best, chosen = np.inf, np.arange(len(own), dtype=np.intp)
    for first in range(n):
        cost = np.roll(far, -first, axis=0)
        cost[1:, 0] = np.inf  # the first corner goes with row 0
        total, way = _in_order(cost)
        if total < best:
            best, chosen = total, (way + first) % n
    return chosen


def _in_order(cost: Array) -> tuple[float, NDArray[np.intp]]:
    """For each column of ``cost`` (n, m), n >= m, a row of its own, the rows in order, with the least sum (dynamic
    programming).
    """
    n, m = cost.shape
    total = np.full((m, n), np.inf)
    total[0] = cost[:, 0]
    came = np.zeros((m, n), dtype=np.intp)
    for j in range(1, m):
        low = np.minimum.accumulate(total[j - 1])
        at = np.array([int(np.argmin(total[j - 1][: i + 1])) for i in range(n)])
        total[j, 1:] = low[:-1] + cost[1:, j]
        came[j, 1:] = at[:-1]
    end = int(np.argmin(total[-1]))
    way = [end]
    for j in range(m - 1, 0, -1):
        way.append(int(came[j, way[-1]]))
    return float(total[-1, end]), np.array(way[::-1], dtype=np.intp)

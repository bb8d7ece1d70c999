"""Sections that change along one motion: each point moves from its place in one section to its place in the next.

The points of the outline carry the coordinates of all sections at once, so that everything that is known of a motion
(points, derivatives, volume, fold test) is known of a blend as well: see ``Blend``.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Protocol

import numpy as np

from leadline.core.geometry.laws import Law
from leadline.core.geometry.plane import Array
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.rails import RailTrack
from leadline.core.sweep.warp import Stack


class Leading(Protocol):
    """A term ``h(s) U(p)`` that makes the shape tangent to a neighbour at one end (``leadline.core.loft.leads``).

    U is affine in the point's place in the section at that end.

    Attributes:
        at_end: It is at the last section, else at the first.
        carriers: What is added to C, X and Y for each unit of h, (3, 3).
        axes: With ``pieces`` the points have two further coordinates after all others, which these two vectors, (2, 3),
            carry; anchors of rails have them after the coordinates of the sections.
        pieces: Not empty where edges have directions of their own.
    """

    @property
    def at_end(self) -> bool: ...
    @property
    def carriers(self) -> Array: ...
    @property
    def axes(self) -> Array: ...
    @property
    def pieces(self) -> Sequence[object]: ...
    def height(self, s: Array) -> tuple[Array, Array]:
        """h, mm, and its derivative, at stations s (n,): (n,) each."""
        ...


@dataclass(frozen=True)
class Blend:
    """Several sections along one motion, with rails and with ends that are tangent to neighbours.

    A point of the outline has the coordinates x and y in the first section; for each of k further sections two
    coordinates x_k and y_k, which are the difference of its place there from its place in the first; and for each of r
    rails a coordinate z_r, the share of that rail's displacement that it takes part in. At station s it stands at ::

        C + x X + y Y + Σ b_k(s) (x_k X + y_k Y) + Σ z_r G_r(s)

    C, X and Y are the motion's origin and axes, and b_k(s) is the share of section k: 1 at its own station, 0 at the
    stations of all others. G_r(s) is the displacement that brings the point which rail r holds from where it would be
    without rails onto the rail. The formula is linear in vectors by station, the carriers, as a plain motion is.

    Attributes:
        laws: The shares b_k by station, one for each further section.
        bounds: The largest size of each coordinate beyond x and y, (2 k + r,).
        rails: The rails, by station.
        anchors: The point that each rail holds, by its coordinates: (r, 2 + 2 k, and 2 more for each lead with pieces).
        leads: Terms at the ends that make the shape tangent to neighbours.
        ruled: If given, points go straight in space from each section to the next. C, X and Y are then not the
            motion's but the mean of those of the k + 1 sections by their shares, and each further section's
            coordinates are carried by that section's own X and Y.
    """

    laws: tuple[Law, ...]
    bounds: Array
    rails: tuple[RailTrack, ...] = ()
    anchors: Array = field(default_factory=lambda: np.zeros((0, 2)))
    leads: tuple[Leading, ...] = ()
    ruled: Frames | None = None

    @cached_property
    def breaks(self) -> Array:
        """Stations at which a derivative may jump."""
        return np.concatenate([law.breaks for law in self.laws] + [rail.breaks for rail in self.rails])

    @cached_property
    def stack(self) -> Stack:
        return Stack(self.bounds)

    def places(self, points: Array) -> Array:
        """The places of points (m, n) of the outline, with all their coordinates, in the plane of each section:
        (k + 1, m, 2), mm.
        """
        first = points[:, :2]
        return np.stack([first, *(first + points[:, 2 * k : 2 * k + 2] for k in range(1, len(self.laws) + 1))])

    def blended(self, s: Array, f: Frames) -> Frames:
        """The motion's frames f at stations s (n,), with the carriers of sections, rails and leads added."""
        shares = np.stack([law.value(s) for law in self.laws], axis=1)
        rates = np.stack([law.slope(s) for law in self.laws], axis=1)
        by_sections = (
            self._carried(f, shares, rates) if self.ruled is None else self._straight(self.ruled, f, shares, rates)
        )
        for lead in self.leads:
            by_sections = _led(by_sections, lead, *lead.height(s))
        own = [
            (h[:, None, None] * lead.axes, dh[:, None, None] * lead.axes)
            for lead in self.leads
            if lead.pieces
            for h, dh in [lead.height(s)]
        ]
        bare = _beside(by_sections, own)
        missing = [self._missing(s, f, bare, i) for i in range(len(self.rails))]
        return _beside(by_sections, [*((m[:, None], dm[:, None]) for m, dm in missing), *own])

    def _carried(self, f: Frames, shares: Array, rates: Array) -> Frames:
        """Frames in which the motion's own axes carry the further sections' coordinates.

        ``shares`` and ``rates`` are the b_k and their derivatives by station, (n, k) each.
        """
        axes, slopes = np.stack([f.X, f.Y], axis=1)[:, None], np.stack([f.dX, f.dY], axis=1)[:, None]
        b, db = shares[:, :, None, None], rates[:, :, None, None]
        return replace(f, Z=_flat(b * axes), dZ=_flat(db * axes + b * slopes), warp=self.stack)

    def _straight(self, own: Frames, f: Frames, shares: Array, rates: Array) -> Frames:
        """Frames in which points go straight in space from each section to the next.

        ``own`` are the frames of the k + 1 sections; ``shares`` and ``rates`` as in ``_carried``.
        """
        all_shares = np.column_stack([1 - shares.sum(axis=1), shares])
        all_rates = np.column_stack([-rates.sum(axis=1), rates])
        (C, X, Y), (dC, dX, dY) = ([w @ v for v in (own.C, own.X, own.Y)] for w in (all_shares, all_rates))
        axes = np.stack([own.X, own.Y], axis=1)[None, 1:]
        Z, dZ = (_flat(w[:, :, None, None] * axes) for w in (shares, rates))
        return replace(f, C=C, X=X, Y=Y, dC=dC, dX=dX, dY=dY, Z=Z, dZ=dZ, warp=self.stack)

    def _missing(self, s: Array, f: Frames, bare: Frames, i: int) -> tuple[Array, Array]:
        """G of rail i and its derivative at stations s (n,): (n, 3) each, mm and mm per mm.

        ``bare`` are the frames without the displacements of rails.
        """
        place, slope = self.rails[i].points(s, f)
        held, along = bare.each(np.tile(self.anchors[i], (len(s), 1)))
        return place - held, slope - along


def _flat(carriers: Array) -> Array:
    """Carriers by section and coordinate, (n, k, 2, 3), laid out by coordinate alone, (n, 2 k, 3)."""
    return carriers.reshape(len(carriers), -1, 3)


def _beside(f: Frames, more: Sequence[tuple[Array, Array]]) -> Frames:
    """Frames with further carriers after those that they have: pairs of carriers and their slopes, (n, m, 3) each."""
    return replace(
        f,
        Z=np.concatenate([f.Z, *(v for v, _ in more)], axis=1),
        dZ=np.concatenate([f.dZ, *(d for _, d in more)], axis=1),
    )


def _led(f: Frames, lead: Leading, h: Array, dh: Array) -> Frames:
    """Frames with a lead's affine part added to C, X and Y; h and its derivative dh are (n,) each.

    At the end the lead is affine in the place in the *last* section, which is x + x_k: so the carriers of the last
    section's two coordinates get the same as X and Y do.
    """
    (c, x, y), h, dh = lead.carriers, h[:, None], dh[:, None]
    Z, dZ = f.Z, f.dZ
    if lead.at_end:
        Z, dZ = Z.copy(), dZ.copy()
        for own, by in ((Z, h), (dZ, dh)):
            own[:, -2] += by * x
            own[:, -1] += by * y
    return replace(
        f, C=f.C + h * c, X=f.X + h * x, Y=f.Y + h * y, dC=f.dC + dh * c, dX=f.dX + dh * x, dY=f.dY + dh * y, Z=Z, dZ=dZ
    )

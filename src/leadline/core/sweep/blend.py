"""Several sections along one motion: a point goes over from each one's place for it to the next one's."""

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
    """A term ``h(s) U(p)``, affine in the points p of the first section, or at the end in those of the last one;
    ``carriers`` are (3, 3).

    With ``pieces`` the points have two further coordinates, after all others, that ``axes`` (2, 3) carry; ``anchors``
    have them after those of the sections.
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
        """h and its derivative by station, each (n,)."""
        ...


@dataclass(frozen=True)
class Blend:
    """The first section's points are x and y; of each further section they have two coordinates, how far they stand off
    there from where they stand in the first, and of each rail one, the share that it has in them.

    ``laws`` tell the share of each further section by station, ``bounds`` (2 k + r,) are of the coordinates.

    ``leads`` are terms at the ends that make the shape tangent to what it meets there.

    A point stands at ``C + x X + y Y + Σ b_k(s) (x_k X + y_k Y) + Σ z_r G_r(s)``, where G_r is what is missing to rail
    r from where the point that it holds, ``anchors`` (r, 2 + 2 k + 2 for each lead with pieces), would be without
    rails. All of it is linear in known vectors, so that everything that is known of a section that bends by rails is
    known of it.

    A ``ruled`` one goes straight in space from each section to the next: then C, X and Y are not the motion's but those
    of the sections, ``ruled`` (k + 1), by their shares, and each further section's coordinates are carried by its own X
    and Y.
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
        """Where points (m, n) of the outline stand in each of the sections, (k + 1, m, 2)."""
        first = points[:, :2]
        return np.stack([first, *(first + points[:, 2 * k : 2 * k + 2] for k in range(1, len(self.laws) + 1))])

    def blended(self, s: Array, f: Frames) -> Frames:
        """The frames with the carriers of the further sections."""
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
        """Frames whose own axes carry the further sections' coordinates, by their shares and the rates of these
        (n, k).
        """
        axes, slopes = np.stack([f.X, f.Y], axis=1)[:, None], np.stack([f.dX, f.dY], axis=1)[:, None]
        b, db = shares[:, :, None, None], rates[:, :, None, None]
        return replace(f, Z=_flat(b * axes), dZ=_flat(db * axes + b * slopes), warp=self.stack)

    def _straight(self, own: Frames, f: Frames, shares: Array, rates: Array) -> Frames:
        """Frames in which a point goes straight from its place in each of the sections' ``own`` frames to that in the
        next.
        """
        all_shares = np.column_stack([1 - shares.sum(axis=1), shares])
        all_rates = np.column_stack([-rates.sum(axis=1), rates])
        (C, X, Y), (dC, dX, dY) = ([w @ v for v in (own.C, own.X, own.Y)] for w in (all_shares, all_rates))
        axes = np.stack([own.X, own.Y], axis=1)[None, 1:]
        Z, dZ = (_flat(w[:, :, None, None] * axes) for w in (shares, rates))
        return replace(f, C=C, X=X, Y=Y, dC=dC, dX=dX, dY=dY, Z=Z, dZ=dZ, warp=self.stack)

    def _missing(self, s: Array, f: Frames, bare: Frames, i: int) -> tuple[Array, Array]:
        """What is missing to a rail where nothing is moved by rails yet, and how that changes, each (n, 3)."""
        place, slope = self.rails[i].points(s, f)
        held, along = bare.each(np.tile(self.anchors[i], (len(s), 1)))
        return place - held, slope - along


def _flat(carriers: Array) -> Array:
    """Carriers of sections, (n, k, 2, 3), as those of single coordinates, (n, 2 k, 3)."""
    return carriers.reshape(len(carriers), -1, 3)


def _beside(f: Frames, more: Sequence[tuple[Array, Array]]) -> Frames:
    """Frames with further carriers, and their slopes, (n, m, 3) each, after those that they have."""
    return replace(
        f,
        Z=np.concatenate([f.Z, *(v for v, _ in more)], axis=1),
        dZ=np.concatenate([f.dZ, *(d for _, d in more)], axis=1),
    )


def _led(f: Frames, lead: Leading, h: Array, dh: Array) -> Frames:
    """Frames with a term at one end put into C, X and Y; where points of the last section stand is told by their last
    two coordinates too.
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

"""Bodies split by a plane or a surface that goes right through them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body, boxes_meet, corners_of
from leadline.core.solids.booleans import FUZZY, Images, images_of, listed, named
from leadline.core.solids.kernel import Shape, faces, gp_plane, solids
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import mark_smooth_edges
from leadline.core.sweep.motion import Motion

CONSERVED = 1e-5  # of the volume, by which the pieces may differ from the whole: as exactly as a sweep is checked
BEYOND = 0.1  # by which a cutting face is larger than the body, as a share of the body's size


@dataclass(frozen=True)
class Piece:
    """One solid of a split body, and its faces at which it was cut, as they lie in it (their normals point out
    of it).
    """

    body: Body
    cuts: list[tuple[Shape, Shape]]
    """With each the cutting face that it came from."""

    @property
    def side(self) -> int:
        """1 ahead of what cut it, where the cutting faces' normals point, -1 behind, 0 where it has both for
        neighbours.
        """
        behind = [own.Orientation() == cutter.Orientation() for own, cutter in self.cuts]
        return -1 if behind and all(behind) else 0 if any(behind) or not behind else 1


def flat_cutter(plane: Plane, corners: Array, name: str) -> Body:
    """A rectangle of the plane over the shadow of a box's ``corners`` (8, 3) on it, with one face of that name."""
    shadow = plane.to_plane(corners)
    low, high = shadow.min(axis=0), shadow.max(axis=0)
    room = BEYOND * float((high - low).max())
    flat = gp_plane(plane)
    return Body(
        name, BRepBuilderAPI_MakeFace(flat, low[0] - room, high[0] + room, low[1] - room, high[1] + room).Face(), [name]
    )


def box_corners(body: Body) -> Array:
    """The corners (8, 3) of a box about a body."""
    return corners_of(*body.box())


def straight_through(
    body: Body, plane: Plane, outlines: Sequence[Region], owner: str, name: str, more: float = 0.0
) -> list[Body]:
    """Outlines of a plane carried along its normal from before a body to behind it, and ``more`` mm further, as
    ``sweep_bodies`` makes them.
    """
    heights = plane.height(box_corners(body))
    room = BEYOND * float(np.ptp(heights)) + more
    low, high = float(heights.min()) - room, float(heights.max()) + room
    line = LinePiece(plane.origin + low * plane.normal, plane.origin + high * plane.normal)
    motion = Motion(Path([line], up=plane.y), home=-low, axes=np.stack([plane.x, plane.y]))
    return sweep_bodies(motion, outlines, owner, name)


def split(body: Body, cutter: Body) -> list[Piece]:
    """The pieces into which a surface without thickness splits a solid, those ahead of it first, each numbered in its
    name.

    Raises:
        Problem: the surface misses the body or does not go right through it, or the kernel's pieces are not valid or do
            not have the body's volume together.
    """
    missed = Problem(
        "does-not-split", f"It does not go right through {body.name}.", "Make it larger, or move it through the body."
    )
    if not boxes_meet(body.box(), cutter.box()):
        raise missed
    whole = body.volume()
    for pieces in split_ways(body, [cutter]):
        if (
            all(p.body.valid() for p in pieces)
            and abs(sum(p.body.volume() for p in pieces) - whole) <= CONSERVED * whole
        ):
            if len(pieces) < 2:
                raise missed
            pieces.sort(key=lambda p: (-p.side, *np.round(p.body.centre(), 6)))
            return [Piece(_titled(p.body, i + 1), p.cuts) for i, p in enumerate(pieces)]
    raise Problem("boolean", f"The kernel could not split {body.name}.", "Move what splits it slightly.")


def _titled(body: Body, number: int) -> Body:
    return Body(f"{body.name} {number}", body.shape, body.face_names, body.mass, body.surface)


def split_ways(body: Body, cutters: Sequence[Body]) -> Iterator[list[Piece]]:
    """The pieces into which surfaces split a body, without tolerance and then with more and more of it."""
    for fuzzy in (0.0, *FUZZY):
        splitter = BRepAlgoAPI_Splitter()
        splitter.SetArguments(listed(body.shape))
        splitter.SetTools(listed(*(c.shape for c in cutters)))
        splitter.SetCheckInverted(
            False
        )  # a sweep's solid is none, as its volume tells, and looking takes a fifth of the time
        if fuzzy:
            splitter.SetFuzzyValue(fuzzy)
        splitter.Build()
        if not splitter.IsDone():
            continue
        shape = splitter.Shape()
        mark_smooth_edges(shape)
        images = images_of(splitter, body.shape, body.face_names)
        on_cutters: Images = {}
        for cutter in cutters:
            for key, found in images_of(splitter, cutter.shape, cutter.face_names).items():
                on_cutters.setdefault(key, []).extend(found)
        yield [_piece(body.name, solid, images, on_cutters) for solid in solids(shape)]


def _piece(title: str, solid: Shape, images: Images, on_cutters: Images) -> Piece:
    own = faces(solid)
    names = [named(images, face) for face in own]
    made = [face for face, name in zip(own, names, strict=True) if name is None]
    cuts = [(face, image) for face in made for image, _ in on_cutters.get(hash(face), []) if image.IsSame(face)]
    return Piece(
        Body(title, solid, [n or named(on_cutters, f) or "unnamed" for n, f in zip(names, own, strict=True)]), cuts
    )

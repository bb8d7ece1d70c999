"""Bodies made hollow by the kernel's offset of their faces, with the walls measured afterwards."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Mode
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.TopoDS import TopoDS_Solid

from leadline.core.geometry.plane import Plane
from leadline.core.problems import Offer, Problem, mm
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.hollow_sweep import Carried, hollowed_along
from leadline.core.solids.kernel import Shape, builder, faces, shells
from leadline.core.solids.naming import flat_plane
from leadline.core.solids.splitting import box_corners, flat_cutter, split
from leadline.core.solids.thickening import inside_name
from leadline.core.solids.walls import Walls, measured_walls
from leadline.core.surfaces.offset import thickest

ACCURACY = 1e-5  # mm, of the kernel's offset
HALVINGS = 5
BELOW = 0.98  # of the wall at which a side begins to fold, which surely is none too many
FULL = 2.0
SLACK = 1e-5  # mm, by which the kernel's boxes are larger than what is in them
THIN = 0.999  # of the wall, than which it is nowhere thinner


@dataclass(frozen=True)
class Hollowing:
    """``wall`` mm inside of the body's faces, or outside of them; ``opened`` faces are left out, ``own`` have walls of
    their own.
    """

    wall: float
    outward: bool
    opened: Sequence[str]
    own: Mapping[str, float]

    def scaled(self, k: float) -> Hollowing:
        return Hollowing(self.wall * k, self.outward, self.opened, {n: w * k for n, w in self.own.items()})

    @property
    def thinnest(self) -> float:
        return min([self.wall, *self.own.values()])


def hollowed(body: Body, how: Hollowing, owner: str, carried: Carried | None = None) -> tuple[Body, Walls]:
    """The body as a wall of itself; by its own sides moved, if it is known as what is ``carried`` along a path and
    these can be, else by the kernel's offset.

    New faces are named ``owner/inside/...`` after the face that they run along, and ``owner/rim``.

    Raises:
        Problem: the walls do not fit, with the thickest that do.
    """
    if carried is not None and not carried.serves(body, how.own, how.opened):
        carried = None
    if not how.outward:
        _check_depth(body, how)
    done = _tried(body, how, owner, carried)
    if done is not None:
        return done
    low = _most(body, how, owner, carried)
    if low == 0.0:
        raise Problem(
            "no-hollow",
            f"“{body.name}” cannot be made hollow so.",
            "Open other faces, or hollow it before its edges are rounded.",
            of="wall",
        )
    raise Problem(
        "wall-too-thick",
        f"A wall of {mm(how.wall)} does not fit into “{body.name}”.",
        f"Thickest that fits: {mm(how.wall * low, 3)}.",
        of="wall",
    ).mended(*([] if how.own else [Offer(f"Make it {mm(how.wall * low, 3)}", "wall", how.wall * low, length=True)]))


def _check_depth(body: Body, how: Hollowing) -> None:
    """Raises Problem where a flat face is to have a wall of its own as thick as all that lies behind it."""
    corners = box_corners(body)
    for name, wall in how.own.items():
        plane = flat_plane(body, name)
        deep = np.inf if plane is None else -float(plane.height(corners).min())
        if wall >= deep - SLACK:
            raise Problem(
                "wall-too-thick",
                f"A face is to have a wall of {mm(wall)}, but “{body.name}” reaches only {mm(deep)} behind it.",
                f"Give it less than {mm(deep)}.",
                of="walls",
            )


def _most(body: Body, how: Hollowing, owner: str, carried: Carried | None) -> float:
    """The greatest share of the walls that works, as far as it is looked for; nought when none does."""
    if carried is not None:
        share = BELOW * thickest(carried.motion, carried.region, 1.0 if how.outward else -1.0, how.wall) / how.wall
        if 0.0 < share < BELOW and _tried(body, how.scaled(share), owner, carried) is not None:
            return share
        found = _halved(lambda k: _along(body, how.scaled(k), owner, carried) is not None)
        if found > 0.0:
            return found
    return _halved(lambda k: _by_the_kernel(body, how.scaled(k), owner) is not None)


def _halved(works: Callable[[float], bool]) -> float:
    """The greatest share up to one that works, found by halving; nought when none does."""
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if works(middle) else (low, middle)
    return low


def _tried(body: Body, how: Hollowing, owner: str, carried: Carried | None) -> tuple[Body, Walls] | None:
    """The hollow body; None where it cannot be made, or what comes of it is not sound."""
    made = None if carried is None else _along(body, how, owner, carried)
    return made or _by_the_kernel(body, how, owner)


def _along(body: Body, how: Hollowing, owner: str, carried: Carried) -> tuple[Body, Walls] | None:
    """The hollow body by its own sides moved; None where that cannot be done: the kernel may do it all the same."""
    try:
        made = hollowed_along(body, carried, how.wall, how.outward, how.opened, how.own, owner)
    except Problem:
        return None
    walls = measured_walls(made, owner)
    return (made, walls) if walls.least > THIN * how.thinnest else None


def _by_the_kernel(body: Body, how: Hollowing, owner: str) -> tuple[Body, Walls] | None:
    """The hollow body; None where the kernel fails or what it gives is not sound."""
    thicker = (
        {} if how.outward else {n: w for n, w in how.own.items() if w > how.wall and flat_plane(body, n) is not None}
    )
    made = by_kernel_offset(body, replace(how, own={n: w for n, w in how.own.items() if n not in thicker}), owner)
    for name, wall in thicker.items():
        made = None if made is None else _filled(made, body, name, wall, owner)
    if made is None or not any(name.startswith(f"{owner}/inside/") for name in made.face_names):
        return None  # or nothing of the inside is left
    walls = measured_walls(made, owner)
    return (made, walls) if walls.least > THIN * how.thinnest else None


def _filled(hollow: Body, whole: Body, name: str, wall: float, owner: str) -> Body | None:
    """A hollow body filled up to ``wall`` mm behind a flat face: the kernel's offset fails where such a wall meets a
    rounding beside it.
    """
    plane = flat_plane(whole, name)
    assert plane is not None
    level = Plane(plane.origin - wall * plane.normal, plane.x, plane.y)
    try:
        pieces = split(whole, flat_cutter(level, box_corners(whole), inside_name(owner, name)))
        for piece in pieces:
            if piece.side > 0 and name in piece.body.face_names:
                hollow = combine(hollow, piece.body, "add").bodies[0]
    except Problem:
        return None
    return Body(whole.name, hollow.shape, hollow.face_names)


def by_kernel_offset(body: Body, how: Hollowing, owner: str) -> Body | None:
    """The hollow body by the kernel's offset; None where it fails or what it gives is not sound."""
    sign = 1.0 if how.outward else -1.0
    tool = BRepOffset_MakeOffset()
    skin, sharp = BRepOffset_Mode.BRepOffset_Skin, GeomAbs_JoinType.GeomAbs_Intersection
    # without all faces being intersected with all (the first True) the kernel has crashed on faces that go on smoothly
    tool.Initialize(body.shape, sign * how.wall, ACCURACY, skin, True, False, sharp, False, False)
    for name in how.opened:
        for face in body.face_of(name):
            tool.AddFace(face)
    for name, wall in how.own.items():
        for face in body.face_of(name):
            tool.SetOffsetOnFace(face, sign * wall)
    try:
        if how.opened:
            tool.MakeThickSolid()
        else:
            tool.MakeOffsetShape()
    except Exception:  # the kernel's own errors, of many kinds; all of them say that it cannot be done
        return None
    if not tool.IsDone():
        return None
    other = tool.Shape()
    if not shells(other):
        return None
    shape = other if how.opened else _with_void(body.shape, other, how.outward)
    made = Body(body.name, shape, _names(tool, body, shape, owner, how.opened))
    if not made.valid() or made.volume() <= 0 or (not how.outward and made.volume() >= body.volume()):
        return None
    # a wall has little more than the area of its faces times its thickness, or else most of the void is missing
    return None if made.volume() > FULL * body.area() * max([how.wall, *how.own.values()]) else made


def _with_void(own: Shape, other: Shape, outward: bool) -> Shape:
    """A solid between two closed shells, one of which is inside the other."""
    outer, inner = (other, own) if outward else (own, other)
    solid = TopoDS_Solid()
    builder.MakeSolid(solid)
    builder.Add(solid, shells(outer)[0])
    builder.Add(solid, shells(inner)[0].Reversed())
    return solid


def _names(tool: BRepOffset_MakeOffset, body: Body, shape: Shape, owner: str, opened: Sequence[str]) -> list[str]:
    names: dict[int, list[tuple[Shape, str]]] = defaultdict(list)
    for face, name in zip(faces(body.shape), body.face_names, strict=True):
        kept = f"{owner}/rim" if name in opened else name
        for image in (face, *tool.Modified(face)):
            names[hash(image)].append((image, kept))
        for image in tool.Generated(face):
            names[hash(image)].append((image, inside_name(owner, name)))
    return [next((n for s, n in names[hash(f)] if s.IsSame(f)), f"{owner}/rim") for f in faces(shape)]

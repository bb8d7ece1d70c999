"""A body: a kernel solid whose faces carry the names of what they came from."""

from __future__ import annotations

import io
import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from OCP.BinTools import BinTools
from OCP.Bnd import Bnd_Box
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Trsf
from OCP.GProp import GProp_GProps
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape

from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array
from leadline.core.solids.kernel import Shape, compound, faces, solids

ACCURACY = 1e-9  # of a volume, as the kernel estimates it; it has been off by 4.5e-6 where it was asked for 1e-7
AREA_ACCURACY = 1e-8
Mass = tuple[float, float, float, float]  # volume, and x, y, z of its middle


@dataclass
class Body:
    """``face_names`` stand in the order of ``kernel.faces(shape)``.

    The geometry of a body never changes once it is made, so that its numbers are kept: ``mass`` is its volume and the
    middle of it, ``surface`` its area, ``checking`` has the meshes that booleans are checked by, by their fineness,
    ``drawn`` the one that it is shown by, which has the names of its faces: what is replaced in a body has it no more.
    """

    name: str
    shape: Shape
    face_names: list[str]
    mass: Mass | None = field(default=None, repr=False, compare=False)
    surface: float | None = field(default=None, repr=False, compare=False)
    checking: dict[float, Any] = field(default_factory=dict, repr=False, compare=False)
    drawn: DisplayMesh | None = field(default=None, init=False, repr=False, compare=False)

    @property
    def sheet(self) -> bool:
        """A surface without thickness."""
        return not solids(self.shape)

    def valid(self) -> bool:
        return bool(BRepCheck_Analyzer(self.shape).IsValid())

    def volume(self) -> float:
        """Volume in mm³ by the kernel's adaptive integration, to a relative 1e-9."""
        return self._mass()[0]

    def centre(self) -> tuple[float, float, float]:
        """The middle of its mass, mm."""
        return self._mass()[1:]

    def area(self) -> float:
        """Surface in mm², to a relative 1e-8."""
        if self.surface is None:
            numbers = GProp_GProps()
            BRepGProp.SurfaceProperties_s(self.shape, numbers, AREA_ACCURACY)
            self.surface = float(numbers.Mass())
        return self.surface

    def _mass(self) -> Mass:
        if self.mass is None:
            numbers = GProp_GProps()
            BRepGProp.VolumeProperties_s(self.shape, numbers, ACCURACY)
            middle = numbers.CentreOfMass()
            self.mass = float(numbers.Mass()), middle.X(), middle.Y(), middle.Z()
        return self.mass

    def moved(self, turn: Array, shift: Array) -> Body:
        """The same geometry at ``turn @ p + shift``; ``turn`` (3, 3) is a rotation."""
        shape = self.shape.Moved(location(turn, shift))
        if self.mass is None:
            return Body(self.name, shape, self.face_names, surface=self.surface)
        x, y, z = (turn @ np.array(self.mass[1:]) + shift).tolist()
        return Body(self.name, shape, self.face_names, (self.mass[0], x, y, z), self.surface)

    def box(self) -> tuple[Array, Array]:
        """The lowest and the highest corner of a box about it, each (3,)."""
        box = Bnd_Box()
        BRepBndLib.Add_s(self.shape, box)
        low, high = box.CornerMin(), box.CornerMax()
        return np.array([low.X(), low.Y(), low.Z()]), np.array([high.X(), high.Y(), high.Z()])

    def face_of(self, name: str) -> list[Shape]:
        """The faces that carry a name."""
        return [f for f, n in zip(faces(self.shape), self.face_names, strict=True) if n == name]


def encloses(solid: Shape) -> bool:
    """Whether a solid has its inside within its faces, and not all that is without them."""
    return rough_volume(solid) > 0


def rough_volume(solid: Shape) -> float:
    """The volume of a solid in mm³, to some thousandths, which is quick; below zero where its inside is all that is
    without its faces.
    """
    numbers = GProp_GProps()
    BRepGProp.VolumeProperties_s(solid, numbers)
    return float(numbers.Mass())


def corners_of(low: Array, high: Array) -> Array:
    """The corners (8, 3) of a box by its lowest and its highest one, each (3,)."""
    return np.array(np.meshgrid(*zip(low, high, strict=True))).reshape(3, -1).T


def boxes_meet(a: tuple[Array, Array], b: tuple[Array, Array]) -> bool:
    """Whether two boxes, each by its lowest and highest corner as ``Body.box`` gives it, meet."""
    return bool((a[0] <= b[1]).all() and (b[0] <= a[1]).all())


def at_places(bodies: Sequence[Body], places: Placements) -> list[Body]:
    """Each of the bodies at each of the places as one of its own, those at the first place first."""
    return [body.moved(turn, shift) for turn, shift in zip(places.turns, places.shifts, strict=True) for body in bodies]


def nothing(name: str) -> Body:
    """A body without any shape."""
    return Body(name, compound([]), [])


def together(bodies: Sequence[Body]) -> Body:
    """Bodies that do not meet as one, their faces named as they were."""
    whole = compound([body.shape for body in bodies])
    names = {hash(f): n for body in bodies for f, n in zip(faces(body.shape), body.face_names, strict=True)}
    return Body(bodies[0].name, whole, [names[hash(f)] for f in faces(whole)])


def location(turn: Array, shift: Array) -> TopLoc_Location:
    """The kernel's word for a rigid move; ``turn`` (3, 3) is a rotation, ``shift`` (3,)."""
    move = gp_Trsf()
    move.SetValues(*(float(v) for v in np.column_stack([turn, shift]).ravel()))
    return TopLoc_Location(move)


def to_bytes(bodies: list[Body]) -> bytes:
    """Bodies as one block of bytes: a JSON line with names, sizes and the numbers that are known, then the kernel's
    binary shapes.
    """
    blocks = []
    for body in bodies:
        stream = io.BytesIO()
        BinTools.Write_s(body.shape, stream)
        blocks.append(stream.getvalue())
    head = [
        {"name": b.name, "faces": b.face_names, "size": len(block), "mass": b.mass, "surface": b.surface}
        for b, block in zip(bodies, blocks, strict=True)
    ]
    return json.dumps(head).encode() + b"\n" + b"".join(blocks)


def from_bytes(data: bytes) -> list[Body]:
    """The inverse of ``to_bytes``."""
    line, _, rest = data.partition(b"\n")
    bodies, at = [], 0
    for head in json.loads(line):
        shape = TopoDS_Shape()
        BinTools.Read_s(shape, io.BytesIO(rest[at : at + head["size"]]))
        at += head["size"]
        mass = None if head["mass"] is None else tuple(head["mass"])
        bodies.append(Body(head["name"], shape, head["faces"], mass, head["surface"]))
    return bodies

"""A body: a kernel solid whose faces carry the names of what they came from."""

from __future__ import annotations

import io
import json
from dataclasses import dataclass

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

from leadline.core.geometry.plane import Array
from leadline.core.solids.kernel import Shape, faces, solids

ACCURACY = 1e-7


@dataclass
class Body:
    """``face_names`` stand in the order of ``kernel.faces(shape)``."""

    name: str
    shape: Shape
    face_names: list[str]

    @property
    def sheet(self) -> bool:
        """A surface without thickness."""
        return not solids(self.shape)

    def valid(self) -> bool:
        return bool(BRepCheck_Analyzer(self.shape).IsValid())

    def volume(self, accuracy: float = ACCURACY) -> float:
        """Volume in mm³ by the kernel's adaptive integration."""
        numbers = GProp_GProps()
        BRepGProp.VolumeProperties_s(self.shape, numbers, accuracy)
        return float(numbers.Mass())

    def area(self, accuracy: float = 1e-6) -> float:
        """Surface in mm²."""
        numbers = GProp_GProps()
        BRepGProp.SurfaceProperties_s(self.shape, numbers, accuracy)
        return float(numbers.Mass())

    def centre(self) -> tuple[float, float, float]:
        numbers = GProp_GProps()
        BRepGProp.VolumeProperties_s(self.shape, numbers, 1e-5)
        p = numbers.CentreOfMass()
        return p.X(), p.Y(), p.Z()

    def moved(self, turn: Array, shift: Array) -> Body:
        """The same geometry at ``turn @ p + shift``; ``turn`` (3, 3) is a rotation."""
        return Body(self.name, self.shape.Moved(location(turn, shift)), self.face_names)

    def box(self) -> tuple[Array, Array]:
        """The lowest and the highest corner of a box about it, each (3,)."""
        box = Bnd_Box()
        BRepBndLib.Add_s(self.shape, box)
        low, high = box.CornerMin(), box.CornerMax()
        return np.array([low.X(), low.Y(), low.Z()]), np.array([high.X(), high.Y(), high.Z()])

    def face_of(self, name: str) -> list[Shape]:
        """The faces that carry a name."""
        return [f for f, n in zip(faces(self.shape), self.face_names, strict=True) if n == name]


def location(turn: Array, shift: Array) -> TopLoc_Location:
    """The kernel's word for a rigid move; ``turn`` (3, 3) is a rotation, ``shift`` (3,)."""
    move = gp_Trsf()
    move.SetValues(*(float(v) for v in np.column_stack([turn, shift]).ravel()))
    return TopLoc_Location(move)


def to_bytes(bodies: list[Body]) -> bytes:
    """Bodies as one block of bytes: a JSON line with names and sizes, then the kernel's binary shapes."""
    blocks = []
    for body in bodies:
        stream = io.BytesIO()
        BinTools.Write_s(body.shape, stream)
        blocks.append(stream.getvalue())
    head = [
        {"name": b.name, "faces": b.face_names, "size": len(block)} for b, block in zip(bodies, blocks, strict=True)
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
        bodies.append(Body(head["name"], shape, head["faces"]))
    return bodies

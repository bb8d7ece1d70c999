"""A body: a kernel solid whose faces carry the names of what they came from."""

from __future__ import annotations

import io
import json
from dataclasses import dataclass

from OCP.BinTools import BinTools
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS_Shape

from leadline.core.solids.kernel import Shape, faces, solids

ACCURACY = 1e-7


@dataclass
class Body:
    """``face_names`` stand in the order of ``kernel.faces(shape)``."""

    name: str
    shape: Shape
    face_names: list[str]

    def valid(self) -> bool:
        return bool(BRepCheck_Analyzer(self.shape).IsValid()) and len(solids(self.shape)) > 0

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

    def face_of(self, name: str) -> list[Shape]:
        """The faces that carry a name."""
        return [f for f, n in zip(faces(self.shape), self.face_names, strict=True) if n == name]


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

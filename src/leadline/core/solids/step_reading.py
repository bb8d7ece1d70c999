"""STEP files (ISO 10303-21) read as named, coloured solids."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from hashlib import blake2s
from pathlib import Path

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepGProp import BRepGProp
from OCP.collections import Sequence_TCollection_AsciiString, Sequence_TDF_Label
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.ShapeFix import ShapeFix_Shape
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_ShapeEnum
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorTool, XCAFDoc_ColorType, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from leadline.core.problems import Problem
from leadline.core.solids.body import Body, encloses
from leadline.core.solids.kernel import Shape, faces, solids
from leadline.core.solids.tessellate import mark_smooth_edges

MADE_UP = ("NAUO", "=>", "Open CASCADE", "SOLID", "COMPOUND")  # names that programs write where nobody gave one
KINDS = {
    GeomAbs_SurfaceType.GeomAbs_Plane: "plane",
    GeomAbs_SurfaceType.GeomAbs_Cylinder: "cylinder",
    GeomAbs_SurfaceType.GeomAbs_Cone: "cone",
    GeomAbs_SurfaceType.GeomAbs_Sphere: "sphere",
    GeomAbs_SurfaceType.GeomAbs_Torus: "torus",
}


@dataclass(frozen=True)
class ReadSolid:
    """A solid of a file, with its name there ("" if it has none) and its colour as "#rrggbb"; whether it had to be
    ``healed``.
    """

    name: str
    shape: Shape
    colour: str | None
    healed: bool


@dataclass(frozen=True)
class ReadFile:
    """The valid solids of a file, its unit of length, and how many pieces were left ``broken`` or have no volume
    (``open``).
    """

    solids: list[ReadSolid]
    unit: str
    broken: int
    open: int


def read_bodies(data: bytes) -> ReadFile:
    """The solids of a STEP file, in mm.

    Raises:
        Problem: it is no STEP file, or holds no solid.
    """
    document = TDocStd_Document(TCollection_ExtendedString("leadline"))
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        path.write_bytes(data)
        if reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone or not reader.Transfer(document):
            raise Problem(
                "not-step",
                "The file is not a readable STEP file.",
                "Save it again where it comes from, as AP214 or AP242.",
                of="file",
            )
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    roots = Sequence_TDF_Label()
    tool.GetFreeShapes(roots)
    found: list[ReadSolid] = []
    broken = unclosed = 0
    for label in _each(roots):
        for shape, name, colour in _leaves(label, TopLoc_Location(), "", None):
            own = solids(shape)
            unclosed += _bare_faces(shape)
            for solid in own:
                sound, healed = sound_solid(solid)
                if sound is None:
                    broken += 1
                else:
                    mark_smooth_edges(sound)
                    found.append(ReadSolid(name, sound, colour, healed))
    if not found:
        what = (
            f"{broken} solids that are not valid"
            if broken
            else f"{unclosed} surfaces without volume"
            if unclosed
            else "nothing"
        )
        raise Problem("no-solids", f"The file holds {what}.", "Save closed solids into it.", of="file")
    return ReadFile(found, _unit(reader), broken, unclosed)


def _unit(reader: STEPCAFControl_Reader) -> str:
    lengths, angles, solid_angles = (Sequence_TCollection_AsciiString() for _ in range(3))
    reader.Reader().FileUnits(lengths, angles, solid_angles)
    return lengths.Value(1).ToCString().lower() if lengths.Length() else "millimetre"


def _each(labels: Sequence_TDF_Label) -> Iterator[TDF_Label]:
    for i in range(1, labels.Length() + 1):
        yield labels.Value(i)


def _leaves(
    label: TDF_Label, at: TopLoc_Location, name: str, colour: str | None
) -> Iterator[tuple[Shape, str, str | None]]:
    """The shapes of a label that are no assemblies, placed, each with its name and colour, or those of what it is part
    of.
    """
    referred = TDF_Label()
    own = _name(label)
    if XCAFDoc_ShapeTool.IsReference_s(label) and XCAFDoc_ShapeTool.GetReferredShape_s(label, referred):
        yield from _leaves(
            referred,
            at.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(label)),
            own or _name(referred) or name,
            _of_label(label) or colour,
        )
        return
    colour = _of_label(label) or colour
    if not XCAFDoc_ShapeTool.IsAssembly_s(label):
        yield XCAFDoc_ShapeTool.GetShape_s(label).Moved(at), name or own, colour or _of_pieces(label)
        return
    components = Sequence_TDF_Label()
    XCAFDoc_ShapeTool.GetComponents_s(label, components, False)
    for component in _each(components):
        yield from _leaves(component, at, name, colour)


def _name(label: TDF_Label) -> str:
    attribute = TDataStd_Name()
    if not label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        return ""
    text = str(attribute.Get().ToExtString()).strip()
    return "" if text.startswith(MADE_UP) else text[:80]


def _of_label(label: TDF_Label) -> str | None:
    found = Quantity_Color()
    for kind in (XCAFDoc_ColorType.XCAFDoc_ColorSurf, XCAFDoc_ColorType.XCAFDoc_ColorGen):
        if XCAFDoc_ColorTool.GetColor_s(label, kind, found):
            return _hex(found)
    return None


def _of_pieces(label: TDF_Label) -> str | None:
    """The colour of the first piece of a label's shape that has one: a file may colour the solid, or its faces, in
    place of the whole.
    """
    pieces = Sequence_TDF_Label()
    XCAFDoc_ShapeTool.GetSubShapes_s(label, pieces)
    return next((colour for piece in _each(pieces) if (colour := _of_label(piece)) is not None), None)


def _hex(colour: Quantity_Color) -> str:
    shares = colour.Values(Quantity_TypeOfColor.Quantity_TOC_sRGB)
    return "#" + "".join(f"{round(255 * share):02x}" for share in shares)


def _bare_faces(shape: Shape) -> int:
    """How many shells and faces of a shape belong to no solid."""
    count = 0
    for kind, avoid in (
        (TopAbs_ShapeEnum.TopAbs_SHELL, TopAbs_ShapeEnum.TopAbs_SOLID),
        (TopAbs_ShapeEnum.TopAbs_FACE, TopAbs_ShapeEnum.TopAbs_SHELL),
    ):
        explorer = TopExp_Explorer(shape, kind, avoid)
        while explorer.More():
            count += 1
            explorer.Next()
    return count


def sound_solid(solid: Shape) -> tuple[Shape | None, bool]:
    """A solid that is valid and of positive volume, and whether it had to be healed for that; None when that failed."""
    if Body("", solid, []).valid() and encloses(solid):
        return solid, False
    fix = ShapeFix_Shape(solid)
    fix.Perform()
    for healed in solids(fix.Shape()):
        if Body("", healed, []).valid():
            return (healed if encloses(healed) else healed.Reversed()), True
    return None, False


def named_faces(shape: Shape, owner: str) -> list[str]:
    """Names for the faces of a solid from elsewhere, ``owner/<kind>/<hash>``: by what kind of surface each is, where it
    lies and how large it is.

    A face that is the same in a newer version of its file keeps its name.
    """
    names: list[str] = []
    for face in faces(shape):
        numbers = GProp_GProps()
        BRepGProp.SurfaceProperties_s(face, numbers)
        place = np.array([*numbers.CentreOfMass().Coord(), numbers.Mass()])
        digest = blake2s(np.round(place, 3).tobytes(), digest_size=5).hexdigest()
        kind = KINDS.get(BRepAdaptor_Surface(face).GetType(), "free")
        name = f"{owner}/{kind}/{digest}"
        names.append(name if name not in names else f"{name}-{len(names)}")
    return names

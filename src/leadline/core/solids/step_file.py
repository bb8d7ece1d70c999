"""STEP (AP242) out, and back in for checks."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_Reader, STEPControl_StepModelType
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool

from leadline.core.colours import red_green_blue
from leadline.core.geometry.placements import Placements
from leadline.core.problems import Problem
from leadline.core.solids.body import Body, location
from leadline.core.solids.kernel import Shape

NOT_ASCII = re.compile(r"[^\x00-\x7f]+")


@dataclass(frozen=True)
class Placed:
    """A body under its own ``name`` in the part, or copies of it at ``places``."""

    body: Body
    places: Placements | None = None
    name: str = ""
    colour: str | None = None
    """As "#rrggbb"."""


def write_step(bodies: Sequence[Placed], path: Path, unit: str = "mm") -> None:
    """Write named bodies to ``path``; copies are components of an assembly, which share one geometry.

    Raises:
        Problem: there is nothing to write, or the kernel fails.
    """
    if not bodies:
        raise Problem("nothing-built", "There is no body to write.", "Build a sweep first.")
    document = TDocStd_Document(TCollection_ExtendedString("leadline"))
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    used: list[Shape] = []
    for placed in bodies:
        name = placed.name or placed.body.name
        label = shapes.AddShape(_own_shape(placed.body.shape, used), False)
        _name(label, name)
        if placed.colour is not None:
            colours.SetColor(label, _rgb(placed.colour), XCAFDoc_ColorType.XCAFDoc_ColorGen)
        if placed.places is not None:
            assembly = shapes.NewShape()
            _name(assembly, f"{name} copies")
            for i, (turn, shift) in enumerate(zip(placed.places.turns, placed.places.shifts, strict=True)):
                _name(shapes.AddComponent(assembly, label, location(turn, shift)), f"{name} {i + 1}")
    shapes.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "INCH" if unit == "in" else "MM")
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    writer.Transfer(document, STEPControl_StepModelType.STEPControl_AsIs)
    if writer.Write(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise Problem("export", "The STEP file could not be written.", "Check the disk, then try again.")
    text = path.read_text(encoding="utf-8")
    if not text.isascii():  # the kernel leaves such letters as they are
        path.write_text(NOT_ASCII.sub(lambda m: encoded(m.group()), text), encoding="ascii")


def encoded(letters: str) -> str:
    r"""Letters beyond ASCII as a STEP file writes them: ``\X2\`` with four hexadecimal digits for each, ``\X4\`` with
    eight where one takes more, to ``\X0\`` (ISO 10303-21, 6.4.3.3).
    """
    wide = any(ord(c) > 0xFFFF for c in letters)
    return ("\\X4\\" if wide else "\\X2\\") + "".join(f"{ord(c):0{8 if wide else 4}X}" for c in letters) + "\\X0\\"


def _own_shape(shape: Shape, used: list[Shape]) -> Shape:
    """The shape, or a twin of it where an earlier body is of the same one: the document has one label for each shape,
    so that the copies of a body which stays itself would take its label and its name.
    """
    own = BRepBuilderAPI_Copy(shape, False, False).Shape() if any(shape.IsPartner(other) for other in used) else shape
    used.append(own)
    return own


def _rgb(colour: str) -> Quantity_Color:
    return Quantity_Color(*red_green_blue(colour), Quantity_TypeOfColor.Quantity_TOC_sRGB)


def _name(label: TDF_Label, name: str) -> None:
    TDataStd_Name.Set_s(label, TCollection_ExtendedString(name, True))


def read_step(path: Path) -> Shape:
    """The one shape (or compound) that a STEP file holds. Raises Problem when it cannot be read."""
    reader = STEPControl_Reader()
    if reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise Problem("import", f"{path.name} is not a readable STEP file.", "Export it again.")
    reader.TransferRoots()
    return reader.OneShape()

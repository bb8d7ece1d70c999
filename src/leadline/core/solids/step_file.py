"""STEP (AP242) out, and back in for checks."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Interface import Interface_Static
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_Reader, STEPControl_StepModelType
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFDoc import XCAFDoc_DocumentTool

from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape


def write_step(bodies: Sequence[Body], path: Path, unit: str = "mm") -> None:
    """Write named bodies to ``path``. Raises Problem when there is nothing to write or the kernel fails."""
    if not bodies:
        raise Problem("nothing-built", "There is no body to write.", "Build a sweep first.")
    document = TDocStd_Document(TCollection_ExtendedString("leadline"))
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    for body in bodies:
        label = shapes.AddShape(body.shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(body.name, True))
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "INCH" if unit == "in" else "MM")
    writer.SetNameMode(True)
    writer.Transfer(document, STEPControl_StepModelType.STEPControl_AsIs)
    if writer.Write(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise Problem("export", "The STEP file could not be written.", "Check the disk, then try again.")


def read_step(path: Path) -> Shape:
    """The one shape (or compound) that a STEP file holds. Raises Problem when it cannot be read."""
    reader = STEPControl_Reader()
    if reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise Problem("import", f"{path.name} is not a readable STEP file.", "Export it again.")
    reader.TransferRoots()
    return reader.OneShape()

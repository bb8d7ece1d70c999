"""What a body from a file takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.recipe.inputs import BaseStep, KeptFile, PlaneRef, PrincipalPlane


class ImportedStep(BaseStep):
    """The solids of a STEP file, or the mesh of an STL file, which is kept by the SHA-256 of what it holds, placed so
    that the file's XY plane comes to lie on ``plane``.

    The numbers of an STL file, which does not say so itself, are of ``unit``.
    """

    kind: Literal["imported"] = "imported"
    file: KeptFile
    title: Annotated[str, Field(max_length=120)] = ""
    plane: PlaneRef = PrincipalPlane(plane="XY")
    unit: Literal["mm", "cm", "m", "in"] = "mm"

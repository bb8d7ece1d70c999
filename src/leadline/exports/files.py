"""Handing over: STEP, STL and glTF of a built part, and the whole headless build to a folder."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Literal

from leadline.core.problems import Problem
from leadline.core.solids.mesh_files import NamedMesh, write_glb, write_stl
from leadline.core.solids.step_file import Placed, write_step
from leadline.core.solids.tessellate import tessellate
from leadline.recipe.build import build
from leadline.recipe.part import Part
from leadline.recipe.results import BuildResult

Format = Literal["step", "stl", "glb"]


def export(result: BuildResult, form: Format, unit: str = "mm") -> bytes:
    """The bodies of a build as the bytes of a file. Raises Problem when nothing was built."""
    if not result.bodies:
        raise Problem("nothing-built", "There is no body to save.", "Build a sweep first, or mend the failed step.")
    if form == "step":
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "part.step"
            write_step([Placed(b.body, b.places, b.name) for b in result.bodies], path, unit)
            return path.read_bytes()
    meshes = [NamedMesh(b.name, b.mesh or tessellate(b.body), b.places) for b in result.bodies]
    return write_glb(meshes, in_metres=True) if form == "glb" else write_stl(meshes)


def build_to_folder(part: Part, folder: Path) -> BuildResult:
    """Write ``part.step``, ``part.glb``, ``part.stl`` and ``report.json``; files only where bodies came out."""
    folder.mkdir(parents=True, exist_ok=True)
    result = build(part)
    report = {"part": part.name, "units": part.units, **result.as_dict()}
    (folder / "report.json").write_text(json.dumps(report, indent=1))
    if result.bodies:
        for form in ("step", "glb", "stl"):
            (folder / f"part.{form}").write_bytes(export(result, form, part.units))
    return result

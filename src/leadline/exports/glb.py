"""glTF in one file: the triangles of each body, by name, in metres as the standard has it."""

from __future__ import annotations

from leadline.core.solids.mesh_files import write_glb
from leadline.core.units import LengthUnit
from leadline.exports.formats import Format, meshes
from leadline.recipe.results import BuildResult


def write(result: BuildResult, unit: LengthUnit) -> bytes:  # noqa: ARG001  # the standard says the unit
    return write_glb(meshes(result))


FORMAT = Format("glTF", "Triangles with named bodies", "model/gltf-binary", write)

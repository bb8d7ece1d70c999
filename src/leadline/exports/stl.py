"""STL: the triangles of all bodies together, mm."""

from __future__ import annotations

from leadline.core.solids.mesh_files import write_stl
from leadline.core.units import LengthUnit
from leadline.exports.formats import Format, meshes
from leadline.recipe.results import BuildResult


def write(result: BuildResult, unit: LengthUnit) -> bytes:  # noqa: ARG001  # the format has no unit: mm, as is usual
    return write_stl(meshes(result))


FORMAT = Format("STL", "Triangles", "model/stl", write)

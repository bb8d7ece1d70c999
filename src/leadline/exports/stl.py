"""STL: the triangles of all bodies together, mm."""

from __future__ import annotations

from leadline.core.solids.mesh_files import write_stl
from leadline.exports.formats import Format, Look
from leadline.exports.meshing import meshes
from leadline.recipe.results import BuildResult


def write(result: BuildResult, look: Look) -> bytes:  # the format has neither unit nor colours: mm, as is usual
    return write_stl(meshes(result.bodies, look.colours, look.fineness))


FORMAT = Format("STL", "Triangles", "model/stl", write, triangles=True)

"""glTF in one file: the triangles of each body, by name, in metres as the standard has it."""

from __future__ import annotations

from leadline.core.solids.mesh_files import write_glb
from leadline.exports.formats import Format, Look
from leadline.exports.meshing import meshes
from leadline.recipe.results import BuildResult


def write(result: BuildResult, look: Look) -> bytes:  # the standard says the unit
    return write_glb(meshes(result.bodies, look.colours, look.fineness))


FORMAT = Format("glTF", "Triangles with named, coloured bodies", "model/gltf-binary", write, triangles=True)

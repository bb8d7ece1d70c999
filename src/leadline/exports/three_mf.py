"""3MF: the triangles of each body, by name and with its colour, in mm, for making by layers."""

from __future__ import annotations

from leadline.core.solids.package_3mf import write_3mf
from leadline.exports.formats import Format, Look
from leadline.exports.meshing import meshes
from leadline.recipe.results import BuildResult


def write(result: BuildResult, look: Look) -> bytes:  # the format's unit is mm, whatever the part's
    return write_3mf(meshes(result.bodies, look.colours, look.fineness), look.title)


FORMAT = Format(
    "3MF",
    "Triangles with named, coloured bodies, for making by layers",
    "model/3mf",
    write,
    triangles=True,
    ending="3mf",
)

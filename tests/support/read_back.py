"""Run as a program: what gmsh, which brings a kernel of its own, finds in a STEP file, as JSON.

By itself, as two kernels in one process get into each other's way.
"""

from __future__ import annotations

import json
import sys

import gmsh  # type: ignore[import-untyped]


def read_back(file: str) -> dict[str, object]:
    """The solids, the faces and those of them that cannot be meshed, volume (mm³) and area (mm²)."""
    gmsh.initialize()
    gmsh.option.setNumber("General.Verbosity", 1)
    gmsh.option.setString("Geometry.OCCTargetUnit", "MM")
    solids = [shape for shape in gmsh.model.occ.importShapes(file) if shape[0] == 3]
    gmsh.model.occ.synchronize()
    faces = gmsh.model.getEntities(2)
    gmsh.option.setNumber("Mesh.MeshSizeFromCurvature", 6)
    gmsh.model.mesh.generate(2)
    found = {
        "solids": len(solids),
        "faces": len(faces),
        "bad": [face for face in faces if not any(len(e) for e in gmsh.model.mesh.getElements(*face)[1])],
        "volume": sum(gmsh.model.occ.getMass(*s) for s in solids),
        "area": sum(gmsh.model.occ.getMass(*f) for f in faces),
    }
    gmsh.finalize()
    return found


if __name__ == "__main__":
    print(json.dumps(read_back(sys.argv[1])))

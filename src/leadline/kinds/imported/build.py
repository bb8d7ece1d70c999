"""The imported step: the solids or the mesh of a file, as it has them."""

from __future__ import annotations

import math
import time

import numpy as np

from leadline.core.geometry.mesh import repeated
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Plane
from leadline.core.problems import Message, Problem
from leadline.core.solids.body import Body, nothing
from leadline.core.solids.step_reading import ReadFile, named_faces, read_bodies
from leadline.core.solids.stl_reading import is_stl, read_stl
from leadline.core.solids.tessellate import tessellate
from leadline.core.units import LENGTH_UNITS
from leadline.kinds.imported.model import ImportedStep
from leadline.kinds.imported.result import ImportedResult
from leadline.recipe.bodies import measured
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report

TOLD = 100
CHORD_SHARE = 1e-3  # of the whole file's size: how finely its bodies are drawn
COARSEST = 0.5
FACETS = ((20, 0.3), (math.inf, 0.5))  # rad between facets of the bodies of files that have up to so many


def build(context: Context, step: ImportedStep, report: Report) -> Product:
    """Raises Problem when the file is not there, or holds neither a solid nor a mesh."""
    plane = context.plane(step.plane)
    if context.quick:
        return Product()
    data = context.file(step.file)
    if data is None:
        raise Problem(
            "file-gone",
            f"The file “{step.title or step.file[:8]}” is not kept here.",
            "Choose the file again.",
            field="file",
        )
    if is_stl(data):
        return _mesh(data, plane, step, report)
    began = time.perf_counter()
    read = read_bodies(data)
    kept = _placed(read, plane, step, report.key)
    context.kernel_seconds += time.perf_counter() - began
    report.messages += _told(read)
    numbers = measured([k.body for k in kept])
    report.data = ImportedResult(
        result=numbers,
        unit=read.unit,
        count=len(kept),
        faces=numbers["faces"],
        bodies=[
            {"name": k.name, "volume": k.body.volume(), "faces": len(k.body.face_names), "healed": s.healed}
            for k, s in zip(kept[:TOLD], read.solids, strict=False)
        ],
    )
    report.figure = f"{len(kept)} {'body' if len(kept) == 1 else 'bodies'} from {step.title or 'a file'}"
    return BodyProduct(None, kept, True)


def _mesh(data: bytes, plane: Plane, step: ImportedStep, report: Report) -> Product:
    read = read_stl(data, LENGTH_UNITS[step.unit], f"{step.id}/mesh")
    place = Placements(np.column_stack([plane.x, plane.y, plane.normal])[None], plane.origin[None])
    kept = KeptBody(f"{report.key}-0", step.name, step.id, nothing(step.name), repeated(read.mesh, place))
    triangles = len(read.mesh.triangles)
    report.data = ImportedResult(
        unit=step.unit,
        count=1,
        triangles=triangles,
        open=read.open,
        bodies=[{"name": step.name, "volume": read.volume or 0.0, "faces": 0, "healed": False}],
    )
    report.figure = f"{triangles:,} triangles from {step.title or 'a file'}"
    report.messages.append(
        Message(
            "note",
            "mesh-alone",
            "It is a mesh: it is seen and measured to, but nothing can be cut, added or rounded with it.",
            "",
            {"field": "file"},
        )
    )
    if read.open:
        report.messages.append(
            Message(
                "note",
                "mesh-open",
                f"{read.open} of its edges are open, so that it has no volume.",
                "",
                {"field": "file"},
            )
        )
    return BodyProduct(None, [kept], True)


def _placed(read: ReadFile, plane: Plane, step: ImportedStep, key: str) -> list[KeptBody]:
    turn = np.column_stack([plane.x, plane.y, plane.normal])
    bodies = []
    for i, solid in enumerate(read.solids):
        owner = step.id if len(read.solids) == 1 else f"{step.id}/{i + 1}"
        name = solid.name or (step.name if len(read.solids) == 1 else f"{step.name} {i + 1}")
        body = Body(name, solid.shape, named_faces(solid.shape, owner)).moved(turn, plane.origin)
        bodies.append((body, solid.colour))
    low = np.min([b.box()[0] for b, _ in bodies], axis=0)
    high = np.max([b.box()[1] for b, _ in bodies], axis=0)
    chord = min(COARSEST, CHORD_SHARE * float(np.linalg.norm(high - low)))
    angle = next(a for most, a in FACETS if len(bodies) <= most)
    return [
        KeptBody(f"{key}-{i}", b.name, step.id, b, tessellate(b, chord, angle), colour=colour)
        for i, (b, colour) in enumerate(bodies)
    ]


def _told(read: ReadFile) -> list[Message]:
    """What a designer should know of what came in."""
    found = []
    healed = sum(s.healed for s in read.solids)
    if healed:
        found.append(
            Message(
                "note",
                "healed",
                f"{healed} of {len(read.solids)} bodies had gaps or faulty edges that were mended.",
                "",
                {"field": "file"},
            )
        )
    if read.broken:
        found.append(
            Message(
                "warning",
                "left-out",
                f"{read.broken} bodies of the file are not valid solids and were left out.",
                "Mend them where the file comes from.",
                {"field": "file"},
            )
        )
    if read.open:
        found.append(
            Message(
                "note",
                "surfaces-left-out",
                f"{read.open} surfaces without volume were left out.",
                "",
                {"field": "file"},
            )
        )
    return found

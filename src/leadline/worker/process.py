"""The process that runs the kernel: it builds parts, and exports and meshes what is built.

After the result of a build comes its picture, as an event, unless it is to stop.
"""

from __future__ import annotations

import hashlib
import json
import os
import time
from collections.abc import Callable
from dataclasses import asdict
from multiprocessing.connection import Connection
from typing import Any

import numpy as np

from leadline.core.geometry.mesh import Fineness
from leadline.core.problems import Problem, told_in
from leadline.core.solids.mesh_files import write_kept_glb
from leadline.core.solids.tessellate import STARTED
from leadline.exports.drawing import drawing
from leadline.exports.formats import Look, export, formats
from leadline.exports.meshing import fineness_of, finest, meshing
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.limits import BUILD_MEMORY
from leadline.recipe.asking import answer as answer_of
from leadline.recipe.build import Memory, build
from leadline.recipe.built_edges import built_edges
from leadline.recipe.built_preview import built_preview
from leadline.recipe.part import Part
from leadline.recipe.results import BuildResult
from leadline.recipe.sheets import as_csv, as_json, drawn_sizes, make_sheet, sheets
from leadline.worker import requests
from leadline.worker.asks import AT_MOST, CHORD, Answer, Built, kept_mesh
from leadline.worker.flag import Flag
from leadline.worker.following import preview_answer
from leadline.worker.link import Link, serve
from leadline.worker.picture import draw_picture

NICE = 10  # what follows a hand goes before builds
MOST_DRAWN = 20  # bodies of a step, in the views of a sheet
PICTURE = 2  # to be another number when pictures are drawn otherwise
FINENESS = {
    "coarse": (4e-3, 0.6),
    "fine": (2e-5, 0.08),
}  # chord as a share of the body's size, and the angle of a facet in rad


def main(pipe: Connection, stop: Flag) -> None:
    """Serve requests until the pipe closes."""
    os.nice(NICE)
    serve(pipe, BUILD_MEMORY, lambda memory, link, request: answer(request, memory, link, stop))


def answer(request: requests.Request[Any], memory: Memory, link: Link, stop: Flag) -> None:
    """Work on one request, and send its answer."""
    part = Part.model_validate_json(request.part)
    memory.store = link
    with told_in(part.units):
        if isinstance(request, requests.BuildAll):
            _build(part, memory, link, stop)
        else:
            link.send("done", _answered(part, request, memory, link, stop))


def _build(part: Part, memory: Memory, link: Link, stop: Flag) -> None:
    """Build a part, then draw its picture."""
    began = time.perf_counter()
    result = _built(part, memory, link, stop)
    result.seconds["worker"] = time.perf_counter() - began
    link.send("done", Built(json.dumps(result.as_dict()).encode(), bool(result.bodies)))
    picture = _picture(result, link, stop.is_set)
    if picture is not None:
        link.send("event", {"event": "picture", "png": picture})


def _built(part: Part, memory: Memory, link: Link, stop: Flag) -> BuildResult:
    return build(part, memory, link, lambda event: link.send("event", event), stop.is_set)


def _answered(part: Part, request: requests.Request[Any], memory: Memory, link: Link, stop: Flag) -> Any:
    """The answer to a request. Raises Problem."""
    match request:
        case requests.Question():
            given = [] if request.given is None else [request.given]
            return answer_of(part, request.step, request.question, memory, *given)
        case requests.EdgesBefore():
            return built_edges(part, request.step, memory, link)
        case requests.PreviewOf():
            return _preview(part, request.step, memory, link)
    return _of_the_built(part, request, _built(part, memory, link, stop), memory, link)


def _of_the_built(part: Part, request: requests.Request[Any], result: BuildResult, memory: Memory, link: Link) -> Any:
    """The answer to a request about what a part was built to. Raises Problem."""
    match request:
        case requests.Export():
            look = Look.of(part, fineness_of(request.chord, request.angle))
            return export(result, request.form, look), formats()[request.form].media_type
        case requests.Meshing():
            return asdict(meshing(result.bodies, fineness_of(request.chord, request.angle)))
        case requests.View():
            cut = None if request.cut is None else (np.array(request.cut[0]), np.array(request.cut[1]))
            return drawing(result, Look.of(part), np.array(request.towards), np.array(request.right), cut)
        case requests.WholeSheet():
            return _sheet(part, request, result, memory, link)
        case requests.MeshOf():
            made = _mesh(result, request.key, request.fineness)
            kept = kept_mesh(request.key, request.fineness)
            if kept is not None:  # whoever asks next finds it
                link.put(kept, made)
            return made
    raise TypeError(f"no process knows {request}")


def _preview(part: Part, step: str, memory: Memory, link: Link) -> Answer:
    began = time.perf_counter()
    answered, mesh = preview_answer(built_preview(part, step, memory, link), part.units)
    return answered, mesh, (time.perf_counter() - began) * 1000


def _sheet(part: Part, request: requests.WholeSheet, result: BuildResult, memory: Memory, link: Link) -> Any:
    """A sheet of a step, the part built whole. Raises Problem."""
    sheet = make_sheet(part, request.step, request.sheet, memory, link, whole=True)
    if request.form == "json":
        return as_json(sheet, request.grade)
    if request.form == "csv":
        return as_csv(sheet, part.units)
    drawn = [k for k in result.bodies if not k.only_mesh]
    own = [k for k in drawn if k.step == request.step] or drawn
    name = next(s.name for s in part.steps if s.id == request.step)
    title = sheets()[request.sheet].title
    heading = Heading(title, part.name, name, request.revision, request.made, request.by, request.grade)
    sizes = drawn_sizes(part, request.step, request.sheet, memory, link)
    return sheet_pdf(sheet, heading, [kept.drawable() for kept in own[:MOST_DRAWN]], part.units, sizes)


def _mesh(result: BuildResult, key: str, fineness: str) -> bytes:
    """A body's display mesh at another fineness, or the "normal" one made again, as GLB compressed by gzip.

    Raises Problem when there is no such body.
    """
    body = next((b for b in result.bodies if b.mesh_key == key), None)
    if body is None:
        raise Problem("no-body", "The part has no such body any more.", "Reload the part.")
    if fineness == "normal" or body.only_mesh:
        return write_kept_glb(body.shown())
    if fineness.startswith(AT_MOST):
        return write_kept_glb(body.at_most(int(fineness.removeprefix(AT_MOST))))
    if fineness.startswith(CHORD):
        halvings, most = (int(n) for n in fineness.removeprefix(CHORD).split("x"))
        return write_kept_glb(finest(body, Fineness(2.0**-halvings, STARTED.angle), most * body.count))
    share, angle = FINENESS[fineness]
    low, high = body.body.box()
    return write_kept_glb(finest(body, Fineness(share * float(np.linalg.norm(high - low)), angle)))


def _picture(result: BuildResult, link: Link, stopped: Callable[[], bool]) -> bytes | None:
    """The picture of the bodies, the one that is kept where the same bodies were drawn before; None when there are
    none, or it is to stop.
    """
    if not result.bodies or stopped():
        return None
    seen = json.dumps([PICTURE, [[b.mesh_key, None if b.places is None else b.places.packed()] for b in result.bodies]])
    key = f"{hashlib.sha256(seen.encode()).hexdigest()}/picture"
    known = link.get(key)
    if known is not None:
        return known
    drawn = _drawn(result, stopped)
    if drawn is not None:
        link.put(key, drawn)
    return drawn


def _drawn(result: BuildResult, stopped: Callable[[], bool]) -> bytes | None:
    meshes = []
    for b in result.bodies:
        if stopped():
            return None
        meshes.append(b.drawable().mesh)
    return draw_picture(meshes, stopped)

"""Builds and what an open editor asks but for what follows a hand, which goes by its line: solve, edit, meshes,
health.
"""

from __future__ import annotations

import json
from typing import Any

from flask import Response

from leadline import __version__
from leadline.core.sketch.model import Sketch
from leadline.recipe.part import Part
from leadline.recipe.registry import described_kinds
from leadline.server.api.blueprint import blueprint
from leadline.server.api.meshes import mesh_answer
from leadline.server.api.models import (
    BodyEdgesBody,
    BodyEdgesView,
    BodyPath,
    BuildView,
    ClipBody,
    CsvPointsView,
    EdgesView,
    EditBody,
    HealthView,
    KindsView,
    PartPath,
    ReadPointsBody,
    ReadSvgBody,
    RenameBody,
    SketchBody,
    SketchView,
    StatusView,
    SvgView,
)
from leadline.server.desk import desk, elsewhere
from leadline.server.services import services

api = blueprint("work", __name__, "/api", 404, 422)


@api.get("/health", responses={200: HealthView})
def health() -> Any:
    """Whether the server can reach its database."""
    services().check()
    return {"state": "ok", "version": __version__}


@api.get("/status", responses={200: StatusView})
def status() -> Any:
    """How many parts are open in how many windows, and what is built."""
    watched = services().broker.watched()
    building, waiting = services().builds.counts()
    return {
        "open_parts": len(watched),
        "open_editors": sum(watched.values()),
        "building": building,
        "waiting": waiting,
        "builders": services().pool.size,
    }


@api.get("/kinds", responses={200: KindsView})
def get_kinds() -> Any:
    """The kinds of step that there are, with their fields."""
    return described_kinds()


@api.get("/parts/<string:part_id>/build", responses={200: BuildView})
def get_build(path: PartPath) -> Any:
    """The newest build of a part and its result so far."""
    told = services().builds.latest(path.part_id)
    result = told.pop("result") or b"null"
    return Response(b'%b, "result": %b}' % (json.dumps(told)[:-1].encode(), result), mimetype="application/json")


@api.post("/parts/<string:part_id>/build/stop", responses={202: None})
def stop_build(path: PartPath) -> Any:
    """Stop the running build."""
    services().builds.cancel(path.part_id)
    return Response(status=202)


@api.get("/bodies/<string:key>/mesh.glb")
def mesh(path: BodyPath) -> Any:
    """The display mesh of a body; its key changes with its geometry, so it may be kept for good."""
    data = services().blobs.get(f"{path.key}/mesh")
    if data is None:
        return Response(status=404)
    answer = mesh_answer(data)
    answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
    return answer


@api.post("/sketch/solve", responses={200: SketchView})
@elsewhere("editors")
def solve(body: SketchBody) -> Any:
    """Solve one sketch of a document as it is being edited."""
    return desk().ask("solve", body.document, body.step, body.added)


@api.post("/sketch/edit", responses={200: SketchView})
@elsewhere("editors")
def edit(body: EditBody) -> Any:
    """Trim, fillet, offset, mirror, copy ...: one operation on a sketch, solved."""
    return desk().ask("edit", body.document, body.step, body.operation)


@api.post("/sketch/edges", responses={200: EdgesView})
@elsewhere("editors")
def edges(body: SketchBody) -> Any:
    """The edges of earlier bodies that can be projected into a sketch, as they are seen from its plane."""
    return desk().ask("edges", body.document, body.step)


@api.post("/rename", responses={200: Part})
@elsewhere("editors")
def rename(body: RenameBody) -> Any:
    """A document in which a value or a step is called by another name, in all expressions as well."""
    return desk().ask("rename", body.document, body.what, body.name, body.to)


@api.post("/edges", responses={200: BodyEdgesView})
@elsewhere("editors")
def edges_in_space(body: BodyEdgesBody) -> Any:
    """The edges of bodies, to be picked in the stage."""
    return desk().ask("edges in space", body.document, body.before)


@api.post("/sketch/clip", responses={200: Sketch})
@elsewhere("editors")
def clip_pieces(body: ClipBody) -> Any:
    """The picked pieces of a sketch with what holds between them, to be pasted."""
    return desk().ask("clip", body.sketch, body.items)


@api.post("/sketch/svg")
@elsewhere("editors")
def svg(body: SketchBody) -> Any:
    """One sketch of a document as an SVG file."""
    return Response(desk().ask("svg", body.document, body.step), mimetype="image/svg+xml")


@api.post("/sketch/read-svg", responses={200: SvgView})
@elsewhere("files")
def read_svg_file(body: ReadSvgBody) -> Any:
    """The curves of an SVG file as a sketch to be pasted."""
    return desk().ask("read svg", body.svg, body.mm_per_unit)


@api.post("/points/read-csv", responses={200: CsvPointsView})
@elsewhere("files")
def read_points_file(body: ReadPointsBody) -> Any:
    """The points of a CSV file: x, y, z and, if given, a bend radius; or the corners that a table of bends makes, from
    the origin along X.
    """
    return desk().ask("read points", body.csv, body.units)

"""Builds and what an open editor asks: solve, drag, preview, meshes, events, health."""

from __future__ import annotations

import base64
import time
from dataclasses import asdict
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from leadline import __version__
from leadline.core.sketch.edits.transforms import clip
from leadline.core.sketch.svg import read_svg
from leadline.core.solids.mesh_files import NamedMesh, write_glb
from leadline.recipe.asking import answer
from leadline.recipe.points_csv import read_points
from leadline.recipe.preview import body_edges, preview_step
from leadline.recipe.registry import described_kinds
from leadline.server.api.models import (
    BodyEdgesBody,
    BodyEdgesView,
    BodyPath,
    BuildView,
    ClipBody,
    CsvPointsView,
    DragBody,
    EdgesView,
    EditBody,
    ErrorView,
    HealthView,
    KindsView,
    PartPath,
    PreviewBody,
    PreviewView,
    ReadPointsBody,
    ReadSvgBody,
    SketchBody,
    SketchView,
    StatusView,
    SvgView,
)
from leadline.server.services import services

api = APIBlueprint("work", __name__, url_prefix="/api", abp_tags=[Tag(name="work")],
                   abp_responses={404: ErrorView, 422: ErrorView})  # fmt: skip


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
        "open_parts": len(watched), "open_editors": sum(watched.values()), "building": building, "waiting": waiting,
        "builders": services().pool.size,
    }  # fmt: skip


@api.get("/kinds", responses={200: KindsView})
def get_kinds() -> Any:
    """The kinds of step that there are, with their fields."""
    return described_kinds()


@api.get("/parts/<string:part_id>/build", responses={200: BuildView})
def get_build(path: PartPath) -> Any:
    """The newest build of a part and its result so far."""
    return services().builds.latest(path.part_id)


@api.post("/parts/<string:part_id>/build/stop", responses={202: None})
def stop_build(path: PartPath) -> Any:
    """Stop the running build."""
    services().builds.cancel(path.part_id)
    return Response(status=202)


@api.get("/parts/<string:part_id>/events")
def events(path: PartPath) -> Any:
    """Server-sent events: "step" and "build" progress, "picture"."""
    stream = services().broker.watch(path.part_id)
    return Response(
        stream, mimetype="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )


@api.get("/bodies/<string:key>/mesh.glb")
def mesh(path: BodyPath) -> Any:
    """The display mesh of a body; its key changes with its geometry, so it may be kept for good."""
    data = services().blobs.get(f"{path.key}/mesh")
    if data is None:
        return Response(status=404)
    return Response(
        data, mimetype="model/gltf-binary", headers={"Cache-Control": "public, max-age=31536000, immutable"}
    )


@api.post("/sketch/solve", responses={200: SketchView})
def solve(body: SketchBody) -> Any:
    """Solve one sketch of a document as it is being edited."""
    with services().editing:
        return answer(body.document, body.step, "solve", services().memory, body.added)


@api.post("/sketch/edit", responses={200: SketchView})
def edit(body: EditBody) -> Any:
    """Trim, fillet, offset, mirror, copy ...: one operation on a sketch, solved."""
    with services().editing:
        return answer(body.document, body.step, "edit", body.operation, services().memory)


@api.post("/sketch/edges", responses={200: EdgesView})
def edges(body: SketchBody) -> Any:
    """The edges of earlier bodies that can be projected into a sketch, as they are seen from its plane."""
    with services().editing:
        return {"edges": answer(body.document, body.step, "edges", services().memory)}


@api.post("/edges", responses={200: BodyEdgesView})
def edges_in_space(body: BodyEdgesBody) -> Any:
    """The edges of bodies, to be picked in the stage."""
    with services().editing:
        return {"edges": body_edges(body.document, body.before, services().memory)}


@api.post("/sketch/clip", responses={200: {"description": "A sketch of the picked pieces alone"}})
def clip_pieces(body: ClipBody) -> Any:
    """The picked pieces of a sketch with what holds between them, to be pasted."""
    return clip(body.sketch, body.items).model_dump(mode="json")


@api.post("/sketch/svg")
def svg(body: SketchBody) -> Any:
    """One sketch of a document as an SVG file."""
    return Response(answer(body.document, body.step, "svg"), mimetype="image/svg+xml")


@api.post("/sketch/read-svg", responses={200: SvgView})
def read_svg_file(body: ReadSvgBody) -> Any:
    """The curves of an SVG file as a sketch to be pasted."""
    drawing = read_svg(body.svg.encode(), body.mm_per_unit)
    return {
        "sketch": drawing.sketch.model_dump(mode="json"), "scale": drawing.scale, "width": drawing.width,
        "height": drawing.height, "skipped": drawing.skipped,
    }  # fmt: skip


@api.post("/points/read-csv", responses={200: CsvPointsView})
def read_points_file(body: ReadPointsBody) -> Any:
    """The points of a CSV file: x, y, z and, if given, a bend radius."""
    return {"points": [asdict(p) for p in read_points(body.csv)]}


@api.post("/sketch/drag", responses={200: SketchView})
def drag(body: DragBody) -> Any:
    """Where a sketch goes when one of its points is pulled; the time that it took goes along as Server-Timing."""
    began = time.perf_counter()
    with services().editing:
        moved = answer(body.document, body.step, "drag", body.item, body.to, services().memory)
    spent = (time.perf_counter() - began) * 1000
    return moved, 200, {"Server-Timing": f"solve;dur={spent:.2f}"}


@api.post("/preview", responses={200: PreviewView})
def preview(body: PreviewBody) -> Any:
    """A step's shape before it is built, straight from the motion."""
    with services().editing:
        shown = preview_step(body.document, body.step, services().memory)
        glb = write_glb([NamedMesh(body.step, shown.mesh)]) if shown.mesh is not None else None
    return {"report": shown.report.as_dict(body.document.units), "mesh": base64.b64encode(glb).decode() if glb else None}

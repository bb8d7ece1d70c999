"""Parts: list, open, save, undo, redo, files."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any, Literal, TypeVar
from urllib.parse import quote

from flask import Response, current_app, request

from leadline.core.problems import Problem
from leadline.recipe.part import Part
from leadline.recipe.part_file import part_from, read_part, write_part
from leadline.server.api.blueprint import blueprint
from leadline.server.api.meshes import mesh_answer
from leadline.server.api.models import (
    AnswerView,
    AskBody,
    BodyEdgesView,
    BuiltEdgesBody,
    ChangeBody,
    DrawingQuery,
    ExportPath,
    FineMeshPath,
    FinenessQuery,
    KeptPartView,
    MeshingView,
    NewBody,
    PartPath,
    PartSummary,
    PartView,
    QuestionPath,
    SaveBody,
    SheetOf,
    SheetPath,
    SheetQuery,
    SheetView,
)
from leadline.server.desk import desk, elsewhere
from leadline.server.editors import WINDOW
from leadline.server.following import Order
from leadline.server.parts import PartState
from leadline.server.services import services
from leadline.worker.asks import kept_mesh
from leadline.worker.pool import WorkFailed
from leadline.worker.requests import EdgesBefore, Export, Meshing, MeshOf, Question, Request, View, WholeSheet

A = TypeVar("A")
Form = Literal["json", "csv", "pdf"]

api = blueprint("parts", __name__, "/api/parts", 404, 409, 422)


def view(state: PartState) -> dict[str, Any]:
    """A part as the browser sees it; on the way its build is asked for, unless that is there already."""
    desk().order(state)
    return {
        "id": state.id,
        "revision": state.revision,
        "label": state.label,
        "document": desk().following.stocked(state.document),
        "can_undo": state.can_undo,
        "can_redo": state.can_redo,
    }


def _changed(state: PartState) -> dict[str, Any]:
    desk().changed.append(state.id)
    return view(state)


@api.get(
    "",
    responses={
        200: {
            "content": {
                "application/json": {"schema": {"type": "array", "items": {"$ref": "#/components/schemas/PartSummary"}}}
            }
        }
    },
)
def list_parts() -> Any:
    """All parts, the newest first, demo parts last."""
    return services().parts.listed()


@api.post("", responses={201: PartView})
@elsewhere("documents")
def new_part(body: NewBody) -> Any:
    """A new, empty part."""
    state = desk().parts.create(Part(name=body.name, units=body.units))
    return view(state), 201


@api.post("/file", responses={201: PartView})
@elsewhere("files")
def open_file() -> Any:
    """A new part from a part file (the request's body is the file)."""
    part = desk().files.taken_from(read_part(request.get_data()))
    return view(desk().parts.create(part, "Opened from a file")), 201


@api.get("/<string:part_id>", responses={200: PartView})
@elsewhere("documents")
def get_part(path: PartPath) -> Any:
    """A part's document at its head, and a build of it."""
    return view(desk().parts.get(path.part_id))


@api.put("/<string:part_id>/document", responses={200: PartView})
@elsewhere("documents")
def save_part(path: PartPath, body: SaveBody) -> Any:
    """Save a change as a new revision; refused with 409 when someone else saved since ``base``."""
    document = desk().files.taken_from(body.document)
    return _changed(desk().parts.save(path.part_id, body.base, document, body.label, body.token))


@api.post("/<string:part_id>/undo", responses={200: PartView})
@elsewhere("documents")
def undo(path: PartPath, body: ChangeBody) -> Any:
    """Back to the revision before; refused with 409 when someone else saved since ``base``."""
    return _changed(desk().parts.undo(path.part_id, body.base, body.token))


@api.post("/<string:part_id>/redo", responses={200: PartView})
@elsewhere("documents")
def redo(path: PartPath, body: ChangeBody) -> Any:
    """Forward to the newest revision made from this one; refused with 409 when someone else saved since ``base``."""
    return _changed(desk().parts.redo(path.part_id, body.base, body.token))


@api.post("/<string:part_id>/kept", responses={201: KeptPartView})
@elsewhere("documents")
def keep_part(path: PartPath) -> Any:
    """Keep a part's document as it is now, for it to be placed in others."""
    digest, title = desk().following.keep(path.part_id)
    return {"digest": digest, "title": title}, 201


@api.delete("/<string:part_id>", responses={204: None})
def delete_part(path: PartPath) -> Any:
    """Delete a part with all its revisions."""
    services().parts.delete(path.part_id)
    services().builds.forget(path.part_id)
    return Response(status=204)


@api.get("/<string:part_id>/picture.png")
def picture(path: PartPath) -> Any:
    """The part's picture for the list; 404 until it has been built once."""
    data = services().parts.picture(path.part_id)
    return Response(data, mimetype="image/png") if data else Response(status=404)


@api.get("/<string:part_id>/part.json")
@elsewhere("documents")
def part_file(path: PartPath) -> Any:
    """The part as a part file; one that this program cannot read, just as it is stored."""
    document = desk().parts.raw(path.part_id)
    try:
        newest, _ = desk().following.newest(document, path.part_id)
        text = write_part(desk().files.packed_into(part_from(newest)))
    except Problem:
        text = json.dumps(document, indent=1, ensure_ascii=False)
    return _download(text.encode(), str(document.get("name", "part")), "json", "application/json")


@api.get("/<string:part_id>/export/<string:form>")
def export(path: ExportPath, query: FinenessQuery) -> Any:
    """The built bodies in one of the formats that there are, meshes within a fineness if one is given."""
    order = services().desks.order(path.part_id)
    data, media_type = _asked(path, Export(order.text, path.form, query.chord, query.angle))
    return _download(data, order.name, path.form, media_type)


@api.get("/<string:part_id>/meshing", responses={200: MeshingView})
def meshing(path: PartPath, query: FinenessQuery) -> Any:
    """What mesh files of the built bodies would be, within a fineness."""
    return _asked(path, Meshing(services().desks.order(path.part_id).text, query.chord, query.angle))


@api.get("/<string:part_id>/drawing.svg")
def drawing(path: PartPath, query: DrawingQuery) -> Any:
    """The bodies as they are seen from somewhere, at full size with hidden lines, cut open if asked."""
    cut = None if query.point is None or query.away is None else (_triple(query.point), _triple(query.away))
    towards, right = _triple(query.towards), _triple(query.right)
    order = services().desks.order(path.part_id)
    data = _asked(path, View(order.text, towards, right, cut))
    return _download(data, f"{order.name} view", "svg", "image/svg+xml")


def _asked(path: PartPath, asked: Request[A]) -> A:
    """What a process with the kernel answers about a part."""
    return services().builds.run(path.part_id, asked)


def _triple(text: str) -> tuple[float, ...]:
    """Raises Problem when these are no numbers."""
    try:
        numbers = tuple(float(n) for n in text.split(","))
    except ValueError:
        raise Problem(
            "no-direction", f"“{text}” are not three numbers.", "Give three, e.g. 0,-1,0.", field="view"
        ) from None
    return numbers


@api.get("/<string:part_id>/bodies/<string:key>/<string:fineness>")
def mesh(path: FineMeshPath) -> Any:
    """The display mesh of a body, coarser or finer than it is built with, or made again when it is kept no more."""
    key = kept_mesh(path.key, path.fineness)
    data = None if key is None else services().blobs.get(key)
    if data is None:  # whoever makes it keeps it, if it is kept
        data = _asked(path, MeshOf(services().desks.order(path.part_id).text, path.key, path.fineness))
    response = mesh_answer(data)
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@api.get("/<string:part_id>/sheets/<string:step>/<string:sheet>", responses={200: SheetView})
def get_sheet(path: SheetPath, query: SheetQuery) -> Any:
    """A sheet of a step; lengths in mm, angles in degrees."""
    order = services().desks.order(path.part_id)
    of = SheetOf(part=order.name, revision=order.revision, made=_now(), by=query.by)
    return {"of": of.model_dump(), **_sheet(path, order, "sheet", "json", query)}


@api.get("/<string:part_id>/sheets/<string:step>/<string:sheet>/csv")
def get_sheet_csv(path: SheetPath) -> Response:
    """The same as a table, lengths in the part's unit."""
    headers = {"Content-Disposition": f'attachment; filename="{path.step}-{path.sheet}.csv"'}
    return Response(
        _sheet(path, services().desks.order(path.part_id), "sheet csv", "csv", SheetQuery()),
        mimetype="text/csv",
        headers=headers,
    )


@api.get("/<string:part_id>/sheets/<string:step>/<string:sheet>/pdf")
def get_sheet_pdf(path: SheetPath, query: SheetQuery) -> Response:
    """The same on A4, with views of what it is of."""
    order = services().desks.order(path.part_id)
    return _download(_built_sheet(path, order, "pdf", query), f"{order.name} {path.sheet}", "pdf", "application/pdf")


def _sheet(path: SheetPath, order: Order, question: str, form: Form, query: SheetQuery) -> Any:
    """A sheet by an editor process, or by one with the kernel if it cannot be known without."""
    try:
        return services().editors.ask(
            request.headers.get(WINDOW, ""), question, order.text, path.step, path.sheet, query.tolerance or None
        )
    except WorkFailed as failed:
        if failed.message["code"] != "not-yet":
            raise
        return _built_sheet(path, order, form, query)


def _now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")


def _built_sheet(path: SheetPath, order: Order, form: Form, query: SheetQuery) -> Any:
    grade = query.tolerance or None
    return _asked(path, WholeSheet(order.text, path.step, path.sheet, form, order.revision, _now(), query.by, grade))


@api.post("/<string:part_id>/edges", responses={200: BodyEdgesView})
def built_edges(path: PartPath, body: BuiltEdgesBody) -> Any:
    """The edges of the bodies before a step, or of all, as they are built, those that booleans have made too."""
    return {"edges": _asked(path, EdgesBefore(services().desks.order(path.part_id).text, body.before))}


@api.post("/<string:part_id>/ask/<string:step>/<string:question>", responses={200: AnswerView})
def ask(path: QuestionPath, body: AskBody) -> Any:
    """What a step answers to a question that takes its time, e.g. for the shortest hose: its kind's room says what
    there is.
    """
    text = services().desks.order(path.part_id).text
    return {"answer": _asked(path, Question(text, path.step, path.question, body.given))}


def _download(data: bytes, name: str, ending: str, mimetype: str) -> Response:
    safe = "".join(c if c.isalnum() and c.isascii() else "-" for c in name).strip("-").lower() or "part"
    response = current_app.response_class(data, mimetype=mimetype)
    whole = (
        "" if name.isascii() else f"; filename*=UTF-8''{quote(f'{name}.{ending}', safe='')}"
    )  # RFC 6266, for letters that the plain name cannot have
    response.headers["Content-Disposition"] = f'attachment; filename="{safe}.{ending}"{whole}'
    return response


SCHEMAS = (PartSummary,)

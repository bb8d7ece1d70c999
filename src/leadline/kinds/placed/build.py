"""The placed step: another part is built as it is by itself, and its bodies are moved to where it stands."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from leadline.core.geometry.mesh import DisplayMesh, repeated
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import PRINCIPAL, Plane, any_square_to, cross
from leadline.core.problems import Message, Problem
from leadline.core.repeat.grids import moved_once
from leadline.core.units import format_angle, format_length
from leadline.kinds.placed.model import OwnValue, PlacedStep
from leadline.kinds.placed.result import OtherPlane, OtherValue, PlacedResult
from leadline.recipe.bodies import measured
from leadline.recipe.colours import colours_of
from leadline.recipe.context import Context
from leadline.recipe.inputs import EndFace, EndPlane
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.names import scope_of
from leadline.recipe.part import Part
from leadline.recipe.part_file import read_part
from leadline.recipe.placing import path_place
from leadline.recipe.products import BodyProduct, HasDrawing, HasPlane, Product
from leadline.recipe.results import BuildResult, Report

XY = PRINCIPAL["XY"]


def build(context: Context, step: PlacedStep, report: Report) -> Product:
    """Raises Problem when the other part is not there, has no such value or plane, or has no body."""
    target = _target(context, step)
    if context.quick:
        return Product()
    data = context.file(step.file)
    if data is None:
        raise Problem(
            "part-gone", f"The part “{step.title or step.file[:8]}” is not kept here.", "Place it again.", field="file"
        )
    part = _with_values(read_part(data), step.values, context)
    products: dict[str, Product] = {}
    built = context.build_other(part, products)
    place = _place(target, _own_plane(step, part, products), step.over)
    kept = [
        _placed(body, place, step, f"{report.key}-{i}", colour)
        for i, (body, colour) in enumerate(_coloured(built, part))
    ]
    report.messages += _told(built, part)
    if not kept:
        raise Problem(
            "no-bodies", f"“{part.name}” has no bodies.", "Give it some, or place another part.", field="file"
        )
    numbers = measured([body for k in kept for body in k.each()])
    report.data = PlacedResult(
        result=numbers,
        title=part.name,
        count=sum(k.count for k in kept),
        faces=numbers["faces"],
        values=_values(part, step),
        planes=_planes(part, products),
    )
    report.figure = part.name + (", as it was" if step.part and not step.follows else "")
    return BodyProduct(None, kept, True)


def _target(context: Context, step: PlacedStep) -> Plane:
    """Where the other part's plane comes to lie, moved and turned as the step says. Raises Problem."""
    at = step.at
    if isinstance(at, EndPlane):
        plane = context.end(at, "at")
    elif isinstance(at, EndFace):
        plane = context.middle_of_face(at.face, "at")
    else:
        point, tangent = path_place(context, at, "the place")
        x = any_square_to(tangent)
        plane = Plane(point, x, cross(tangent, x))
    shift = np.array([context.value(v) for v in (step.x, step.y, step.out)])
    move = moved_once(plane, shift, context.value(step.turn))
    return Plane(move.moved(plane.origin[None])[0, 0], move.turns[0] @ plane.x, move.turns[0] @ plane.y)


def _with_values(part: Part, own: list[OwnValue], context: Context) -> Part:
    """The part with the step's values in place of its own. Raises Problem when it has none of such a name."""
    known = {v.name for v in part.values}
    given = {}
    for value in own:
        if value.name not in known:
            raise Problem(
                "no-such-value",
                f"“{part.name}” has no value called “{value.name}”.",
                f"It has: {', '.join(sorted(known)) or 'none'}.",
                field="values",
            )
        if value.name in given:
            raise Problem(
                "value-twice", f"The value “{value.name}” is given twice.", "Take one of them away.", field="values"
            )
        quantity = context.scope.quantity(value.value)
        if quantity.length == 1 and not quantity.angle:
            given[value.name] = f"{quantity.value!r} mm"
        elif quantity.angle == 1 and not quantity.length:
            given[value.name] = f"{quantity.value!r} rad"
        else:
            given[value.name] = repr(quantity.value)
    values = [v.model_copy(update={"value": given[v.name]}) if v.name in given else v for v in part.values]
    return part.model_copy(update={"values": values})


def _own_plane(step: PlacedStep, part: Part, products: dict[str, Product]) -> Plane:
    """The plane of the other part that comes to lie on the target. Raises Problem."""
    if step.own is None:
        return XY
    plane = _plane_of(products.get(step.own))
    if plane is None:
        raise Problem(
            "no-such-plane",
            f"“{part.name}” has no plane {step.own} any more.",
            "Pick another plane of it.",
            field="own",
        )
    return plane


def _plane_of(product: Product | None) -> Plane | None:
    if product is None:
        return None
    found = product.give(HasPlane) or product.give(HasDrawing)
    return None if found is None else found.plane


def _place(target: Plane, own: Plane, over: bool) -> Placements:
    """The move that brings one plane onto another, normals the same way or, ``over``, against each other."""
    side = -1.0 if over else 1.0
    turn = (
        np.column_stack([target.x, side * target.y, side * target.normal])
        @ np.column_stack([own.x, own.y, own.normal]).T
    )
    return Placements(turn[None], (target.origin - turn @ own.origin)[None])


def _coloured(built: BuildResult, part: Part) -> list[tuple[KeptBody, str | None]]:
    """The solids and meshes of the other part with the colours that they have there; surfaces are left out."""
    colours = colours_of(part)
    return [(k, k.colour or colours.get(k.step)) for k in built.bodies if k.only_mesh or not k.body.sheet]


def _placed(kept: KeptBody, place: Placements, step: PlacedStep, key: str, colour: str | None) -> KeptBody:
    """A body where it stands in this part, its faces named as in its own after the step."""
    names = [f"{step.id}/{name}" for name in kept.body.face_names]
    name = f"{step.name}, {kept.name}" if kept.name != step.name else step.name
    if kept.places is not None:  # many alike: they stay so, each moved
        body, mesh = kept.body, kept.shown()
        own = replace(body, name=name, face_names=names)
        return KeptBody(
            key, name, step.id, own, _named(mesh, step.id), place.of_each(kept.places), kept.mesh_key, colour
        )
    body = replace(kept.body.moved(place.turns[0], place.shifts[0]), name=name, face_names=names)
    return KeptBody(key, name, step.id, body, _named(repeated(kept.shown(), place), step.id), colour=colour)


def _named(mesh: DisplayMesh, step: str) -> DisplayMesh:
    return replace(mesh, names=[f"{step}/{name}" for name in mesh.names])


def _told(built: BuildResult, part: Part) -> list[Message]:
    """What is wrong in the other part."""
    failed = [next(s.name for s in part.steps if s.id == r.id) for r in built.reports.values() if r.state == "failed"]
    if not failed:
        return []
    return [
        Message(
            "warning",
            "other-part-faulty",
            f"In “{part.name}” these steps have no result: {', '.join(failed)}.",
            "Open that part and mend them.",
            {"field": "file"},
        )
    ]


def _values(part: Part, step: PlacedStep) -> list[OtherValue]:
    own = {v.name for v in step.values}
    scope = scope_of(part)
    found: list[OtherValue] = []
    for v in part.values:
        q = scope.values.get(v.name)
        text = (
            str(v.value)
            if q is None
            else f"{q.value:g}"
            if q.bare
            else format_length(q.value, part.units)
            if q.length
            else format_angle(q.value)
        )
        found.append({"name": v.name, "value": text, "note": v.note, "own": v.name in own})
    return found


def _planes(part: Part, products: dict[str, Product]) -> list[OtherPlane]:
    return [{"id": s.id, "name": s.name} for s in part.steps if _plane_of(products.get(s.id)) is not None]

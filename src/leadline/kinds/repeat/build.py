"""The repeat step: copies of bodies along a path, as instances, combined with others, or built anew at each place."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.placements import Placements
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, mm
from leadline.core.repeat.places import Frame, frames_at, home_station, place, plane_frame
from leadline.core.repeat.spacing import Row, Run, Spread, spread_out
from leadline.core.solids.body import at_places
from leadline.core.sweep.orientation import Held, Orientation, Turning, Upright
from leadline.core.units import format_length
from leadline.kinds.repeat.model import RepeatStep
from leadline.kinds.repeat.result import CopiesShown, RepeatResult
from leadline.recipe.bodies import combined
from leadline.recipe.changing import refuse_many
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.placing import up_direction
from leadline.recipe.products import BodyProduct, CanMove, CopiesPlan, HasMotion, Product
from leadline.recipe.registry import kind_of, references
from leadline.recipe.results import Report
from leadline.recipe.rooms import builder_of

SHOWN = 3  # places that a message names


def build(context: Context, step: RepeatStep, report: Report) -> Product:
    """Place the copies, then make them.

    Raises:
        Problem: the source is not a body, the copies do not fit the path, or one cannot be built anew.
    """
    source = context.motion(step.source, "source")
    if source.copies is not None:
        raise Problem(
            "several-starts",
            "What has several starts cannot be repeated.",
            "Repeat a body of one start.",
            field="source",
        )
    path = context.path(step.path)
    runs, spread = _runs(context, step), _spread(context, step)
    row = spread_out(spread, runs, path.length, path.closed)
    if len(row.stations) == 0:
        raise Problem("no-copies", "No copy finds a place on the path.", "Keep less free at its ends.", field="first")
    places = _places(context, step, path, row, runs, source)
    unit = context.scope.unit
    report.figure = f"{len(places)}{' re-fitted' if step.refit else ''} at {format_length(row.spacing, unit)}"
    data = RepeatResult(copies=_shown(row, places, path))
    report.data = data
    if context.quick:
        return CopiesPlan(places)
    return BodyProduct(None, _made(context, step, places, report, data, row), False)


def _shown(row: Row, places: Placements, path: Path) -> CopiesShown:
    return {
        "stations": np.round(row.stations, 6).tolist(),
        "runs": row.run.tolist(),
        "spacing": row.spacing,
        "length": path.length,
        "places": places.packed(),
    }


def _runs(context: Context, step: RepeatStep) -> list[Run]:
    further = [Run(context.value(r.phase), context.value(r.turn)) for r in step.runs]
    for run, asked in zip(further, step.runs, strict=True):
        if not 0 <= run.phase < 1:
            raise Problem(
                "bad-phase",
                f"The phase {run.phase:g} of a run is not a share of the spacing.",
                "Give 0 to under 1.",
                field="runs",
                run=asked.id,
            )
    return [Run(), *further]


def _spread(context: Context, step: RepeatStep) -> Spread:
    count = context.given(step.count)
    if count is not None and abs(count - round(count)) > 1e-9:
        raise Problem("bad-count", f"{count:g} copies cannot be made.", "Give a whole number.", field="count")
    return Spread(
        None if count is None else round(count),
        context.given(step.spacing),
        step.fitted,
        context.value(step.first),
        context.value(step.last),
    )


def _places(context: Context, step: RepeatStep, path: Path, row: Row, runs: list[Run], source: HasMotion) -> Placements:
    orientation = _orientation(context, step, path)
    turn, alternate = context.value(step.turn), context.value(step.alternate)
    return place(path, orientation, row, runs, _seat(context, step, path, orientation, source), turn, alternate)


def _orientation(context: Context, step: RepeatStep, path: Path) -> Orientation:
    if step.orientation == "turning":
        return Turning(path)
    if step.orientation == "upright":
        return Upright(path, up_direction(context, step.up), "the upright direction")
    return Held(np.eye(3) if step.seat is None else plane_frame(context.plane(step.seat))[0])


def _seat(context: Context, step: RepeatStep, path: Path, orientation: Orientation, source: HasMotion) -> Frame:
    """The frame that comes to stand on the path: a plane's, or the path's own where it passes the source."""
    if step.seat is not None:
        return plane_frame(context.plane(step.seat))
    home = home_station(path, source.motion.path)
    axes, origins = frames_at(path, orientation, np.array([home]))
    return axes[0], origins[0]


# -- bodies -----------------------------------------------------------------------------------------


def _made(
    context: Context, step: RepeatStep, places: Placements, report: Report, data: RepeatResult, row: Row
) -> list[KeptBody]:
    """All of the part's bodies after the step."""
    own = [b for b in context.bodies if b.step == step.source and b.places is None]
    rest = context.bodies if step.keep else [b for b in context.bodies if b not in own]
    if not step.refit and step.result == "separate":
        made = [
            _instanced(b, places, step, f"{report.key}-{i}") for i, b in enumerate(own or _tools(context, step, report))
        ]
        _measure_closeness(context, [b.shown() for b in made], places, report, data["copies"])
        data["copies"]["volume"] = sum(b.body.volume() for b in made if not b.body.sheet) * len(places)
        return [*rest, *made]
    refuse_many(len(places), "count")
    began = time.perf_counter()
    if step.refit:
        made = [b for i in range(len(places)) for b in _refitted(context, step, places, i, row)]
        solids = [b.body for b in made]
    else:
        tools = [b.body for b in own] or [b.body for b in _tools(context, step, report)]
        solids = at_places(tools, places)
    context.kernel_seconds += time.perf_counter() - began
    data["copies"]["volume"] = sum(b.volume() for b in solids)
    if step.result == "separate":  # re-fitted, then
        return [*rest, *(replace(b, key=f"{report.key}-{i}", step=step.id) for i, b in enumerate(made))]
    kept, result = combined(context, solids, step.result, report, step, rest)
    if result is not None:
        data["result"] = result
    return kept


def _instanced(source: KeptBody, places: Placements, step: RepeatStep, key: str) -> KeptBody:
    return replace(source, key=key, name=step.name, step=step.id, places=places, shape_key=source.mesh_key)


def _tools(context: Context, step: RepeatStep, report: Report) -> list[KeptBody]:
    """The source's bodies by themselves, when they have been joined to others or cut out of them."""
    source = _source(context, step)
    product = _build_alone(context, source)
    return [replace(b, key=f"{report.key}-s{i}") for i, b in enumerate(product.bodies)]


def _source(context: Context, step: RepeatStep) -> BaseStep:
    source = context.steps[step.source]
    assert kind_of(source).makes_bodies  # only they have a plan
    return source


def _build_alone(context: Context, source: BaseStep) -> BodyProduct:
    alone = source.model_copy(update={"result": "separate"})
    made = builder_of(kind_of(source))(
        replace(context, bodies=[]), alone, Report(source.id, source.kind, "fresh", key="alone")
    )
    assert isinstance(made, BodyProduct)
    return made


def _refitted(context: Context, step: RepeatStep, places: Placements, i: int, row: Row) -> list[KeptBody]:
    """The source's step built where the i-th copy stands. Raises Problem with the copy's station."""
    source = _source(context, step)
    carried = {
        r: _moved(product, places, i) for r in _carried(source) if (product := context.products.get(r)) is not None
    }
    there = replace(context, products={**context.products, **carried}, bodies=[])
    try:
        made = _build_alone(there, source)
    except Problem as problem:
        at = float(row.stations[i])
        raise problem.after(f"The copy at {mm(at)} cannot be built: ", field="refit", station=at) from None
    return [_owned(b, source.id, step.id, f"{step.name} {i + 1}") for b in made.bodies]


def _owned(made: KeptBody, source: str, owner: str, name: str) -> KeptBody:
    """A body that was made by the source's step with the names of its new owner, in its mesh too."""

    def renamed(faces: list[str]) -> list[str]:
        return [face.replace(source, owner, 1) for face in faces]

    mesh = None if made.source is None else replace(made.shown(), names=renamed(made.shown().names))
    return replace(
        made,
        name=name,
        body=replace(made.body, name=name, face_names=renamed(made.body.face_names)),
        mesh=mesh,
        source=None,
    )


def _carried(source: BaseStep) -> list[str]:
    """The steps that move with a re-fitted copy, e.g. its path and profiles.

    Planes that cut it, rails and sides stay where they are.
    """
    return [step for field, step in references(source) if field in kind_of(source).carried]


def _moved(product: Product, places: Placements, i: int) -> Product:
    carried = product.give(CanMove)
    if carried is None:
        raise Problem(
            "no-refit", "What it is swept from cannot be carried along.", "Repeat rigid copies.", field="refit"
        )
    return carried.moved(places.turns[i], places.shifts[i])


# -- how close they come ----------------------------------------------------------------------------


def _measure_closeness(
    context: Context, meshes: Sequence[DisplayMesh], places: Placements, report: Report, copies: CopiesShown
) -> None:
    """Say of copies how far each is from the others, and warn of those that touch."""
    near = clearances(Shape.of(meshes), places)
    touching = np.flatnonzero(near.distance == 0)
    if len(touching):
        pairs = sorted({tuple(sorted((int(i), int(near.other[i])))) for i in touching})
        named = ", ".join(f"{a + 1} and {b + 1}" for a, b in pairs[:SHOWN]) + (" …" if len(pairs) > SHOWN else "")
        report.messages.append(
            Message(
                "warning",
                "copies-touch",
                f"Copies touch or run into each other: {named}.",
                "Give them more room, or turn them.",
                {"station": copies["stations"][int(touching[0])]},
            )
        )
    known = np.isfinite(near.distance)
    least = float(near.distance[known].min()) if known.any() else None
    if least is not None and least > 0:
        report.figure += f", {format_length(least, context.scope.unit)} clear"
    copies["clearance"] = [float(d) if k else None for d, k in zip(np.round(near.distance, 5), known, strict=True)]
    copies["least"] = least
    copies["closest"] = near.at[int(np.argmin(near.distance))].tolist() if known.any() else None

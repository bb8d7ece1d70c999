"""The divided step: bodies cut in pieces by what goes right through them."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from leadline.core.problems import Problem, Remedy
from leadline.core.solids.body import Body, together
from leadline.core.solids.splitting import Piece, box_corners, flat_cutter, split, straight_through
from leadline.kinds.divided.model import DividedStep, DrawnCut, PlaneCut
from leadline.kinds.divided.result import DividedResult, PieceOfBody
from leadline.recipe.bodies import measured
from leadline.recipe.changing import solids_of
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report

SIDES = {"ahead": 1, "behind": -1}


def build(context: Context, step: DividedStep, report: Report) -> Product:
    """Raises Problem when there is no such body, or what is to split it misses it or does not go right through."""
    if context.quick:
        return Product()
    own = solids_of(context, step.body, "body")
    began = time.perf_counter()
    after: list[KeptBody] = []
    fresh: list[KeptBody] = []
    parts: list[PieceOfBody] = []
    for kept in context.bodies:
        if kept not in own:
            after.append(kept)
            continue
        try:
            pieces = split(kept.body, _cutter(context, step, kept.body))
        except Problem as problem:
            raise problem.after("", field="cut") from None
        on_side = _wanted(pieces, step)
        gone = _dropped(context, step, on_side)
        parts += [
            {"volume": p.body.volume(), "centre": p.body.centre(), "kept": i not in gone} for i, p in enumerate(on_side)
        ]
        for piece in (p for i, p in enumerate(on_side) if i not in gone):
            fresh.append(KeptBody(f"{report.key}-{len(fresh)}", piece.body.name, kept.step, piece.body))
            after.append(fresh[-1])
    context.kernel_seconds += time.perf_counter() - began
    report.data = DividedResult(result=measured([k.body for k in fresh]), parts=parts)
    report.figure = f"{len(fresh)} piece{'' if len(fresh) == 1 else 's'}"
    return BodyProduct(None, after, False)


def _wanted(pieces: list[Piece], step: DividedStep) -> list[Piece]:
    if step.keep == "both":
        return pieces
    kept = [p for p in pieces if p.side == SIDES[step.keep]]
    if not kept:
        raise Problem(
            "no-such-side",
            f"No piece lies {step.keep} of what splits the body alone.",
            "Keep the pieces on both sides.",
            field="keep",
        ).mended(Remedy("Keep both sides", {"keep": "both"}))
    return [replace(kept[0], body=replace(kept[0].body, name=_plain(kept[0])))] if len(kept) == 1 else kept


def _dropped(context: Context, step: DividedStep, pieces: list[Piece]) -> set[int]:
    """Which of the pieces are not to stay: for each place that is given the one whose middle is nearest.

    Raises Problem when none is left.
    """
    middles = np.array([p.body.centre() for p in pieces])
    gone = set()
    for place in step.dropped:
        at = np.array([context.value(v) for v in (place.x, place.y, place.z)])
        gone.add(int(np.linalg.norm(middles - at, axis=1).argmin()))
    if len(gone) == len(pieces):
        raise Problem("no-piece-left", "All pieces are dropped.", "Keep one of them.", field="dropped").mended(
            Remedy("Keep all pieces", {"dropped": []})
        )
    return gone


def _plain(piece: Piece) -> str:
    """The name of the only piece that stays, without its number."""
    return piece.body.name.rpartition(" ")[0]


def _cutter(context: Context, step: DividedStep, body: Body) -> Body:
    """What splits a body, as one surface. Raises Problem."""
    name = f"{step.id}/cut"
    if isinstance(step.cut, PlaneCut):
        return flat_cutter(context.plane(step.cut.plane), box_corners(body), name)
    if isinstance(step.cut, DrawnCut):
        plane, outlines = context.profile(step.cut.profile, surface=True)
        return _all_named(straight_through(body, plane, outlines, step.id, step.name), name)
    found = [k.body for k in context.bodies if k.step == step.cut.surface and k.places is None and k.body.sheet]
    if not found:
        said = context.names.get(step.cut.surface, step.cut.surface)
        raise Problem(
            "no-surface",
            f"“{said}” has no surface without thickness.",
            "Pick one that has, or split by a plane.",
            field="cut",
            source=step.cut.surface,
        )
    return _all_named(found, name)


def _all_named(sheets: list[Body], name: str) -> Body:
    whole = together(sheets)
    return replace(whole, face_names=[name] * len(whole.face_names))

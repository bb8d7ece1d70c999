"""The names in a sketch: each thing has one of its own, and what a curve is drawn through is there."""

from __future__ import annotations

import itertools
from collections import Counter

from leadline.core.problems import Problem
from leadline.core.sketch.model import ORIGIN, X_AXIS, Y_AXIS, Entity, Sketch, Smoothed, Spline, entity_points


def check_names(sketch: Sketch) -> None:
    """What a sketch is asked before it is solved, edited or written: without it a curve has no shape.

    Raises:
        Problem: a name stands for two things, a curve uses what is not there, or the knots of a spline do not rise.
    """
    entities, points = {e.id for e in sketch.entities}, {p.id for p in sketch.points} | {ORIGIN}
    _refuse_twice(sketch)
    for entity in sketch.entities:
        missing = [p for p in entity_points(entity) if p not in points]
        if missing:
            raise Problem(
                "unknown-point",
                f"{entity.kind} {entity.id} uses the point {missing[0]}, which is not there.",
                "Delete it or draw it again.",
                items=[entity.id],
            )
        gone = [i for i in entity.of if i not in entities] if isinstance(entity, Smoothed) else []
        if gone:
            raise Problem(
                "deleted-reference",
                f"The smoothed outline {entity.id} used {gone[0]}, which is no longer in the sketch.",
                "Delete it and smooth the outline again.",
                items=[entity.id],
            )
        _refuse_knots(entity)


def _refuse_twice(sketch: Sketch) -> None:
    counts = Counter([p.id for p in sketch.points] + [e.id for e in sketch.entities])
    wrong = sorted(name for name, count in counts.items() if count > 1 or name in (ORIGIN, X_AXIS, Y_AXIS))
    if wrong:
        raise Problem("name-twice", f"The name “{wrong[0]}” stands for two things in the sketch.", "Rename one.")


def _refuse_knots(entity: Entity) -> None:
    if isinstance(entity, Spline) and entity.knots is not None:
        rising = all(b > a for a, b in itertools.pairwise(entity.knots))
        if len(entity.knots) != len(entity.points) or not rising:
            raise Problem("bad-knots", f"The knots of spline {entity.id} do not rise.", "Draw it again.")

"""The edits by name, as the API and the browser ask for them."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from leadline.core.sketch.edits import corners, cutting, outlines, transforms
from leadline.core.sketch.model import Id, Model, Number, Size, Sketch

Place = tuple[Number, Number]
Items = Annotated[list[Id], Field(min_length=1, max_length=2000)]
Count = Annotated[int, Field(ge=2, le=500)]


class Trim(Model):
    op: Literal["trim", "extend", "split"]
    entity: Id
    at: Place


class Corner(Model):
    """``size`` is a radius or a set-back, mm."""

    op: Literal["fillet", "chamfer"]
    point: Id
    size: Size


class Offset(Model):
    """To the left of the chain's direction; negative: to its right."""

    op: Literal["offset"]
    items: Items
    distance: Number
    rounded: bool = True


class Mirror(Model):
    op: Literal["mirror"]
    items: Items
    about: Id
    live: bool = True


class LinearCopies(Model):
    """``count`` with the first; each ``dx, dy`` from the one before."""

    op: Literal["linear_copies"]
    items: Items
    dx: Number
    dy: Number
    count: Count


class CircularCopies(Model):
    """``count`` with the first, spread over ``angle`` degrees (360: all round) about a place."""

    op: Literal["circular_copies"]
    items: Items
    center: Place
    angle: Number = 360.0
    count: Count


class Transform(Model):
    """Move by ``dx, dy``, then turn by ``angle`` degrees and scale by ``factor`` about ``center``."""

    op: Literal["transform"]
    items: Items
    dx: Number = 0.0
    dy: Number = 0.0
    center: Place = (0.0, 0.0)
    angle: Number = 0.0
    factor: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e6)] = 1.0


class Paste(Model):
    op: Literal["paste"]
    clip: Sketch
    at: Place


class Smooth(Model):
    op: Literal["smooth"]
    items: Items
    tolerance: Size


class Handles(Model):
    op: Literal["handles"]
    spline: Id


Operation = Annotated[
    Trim | Corner | Offset | Mirror | LinearCopies | CircularCopies | Transform | Paste | Smooth | Handles,
    Field(discriminator="op"),
]


def apply(sketch: Sketch, operation: Any) -> Sketch:
    """A sketch with one edit done, not yet solved. Raises Problem as the edits do."""
    return APPLY[type(operation)](sketch, operation)


def _cut(sketch: Sketch, o: Trim) -> Sketch:
    edit = {"trim": cutting.trim, "extend": cutting.extend, "split": cutting.split}[o.op]
    return edit(sketch, o.entity, np.array(o.at))


def _corner(sketch: Sketch, o: Corner) -> Sketch:
    return (corners.fillet if o.op == "fillet" else corners.chamfer)(sketch, o.point, o.size)


def _linear(sketch: Sketch, o: LinearCopies) -> Sketch:
    return transforms.copies(sketch, o.items, [transforms.shift_by(k * o.dx, k * o.dy) for k in range(1, o.count)])


def _circular(sketch: Sketch, o: CircularCopies) -> Sketch:
    whole = abs(abs(o.angle) - 360.0) < 1e-9
    step = math.radians(o.angle) / (o.count if whole else o.count - 1)
    center = np.array(o.center)
    return transforms.copies(sketch, o.items, [transforms.turn_about(center, k * step) for k in range(1, o.count)])


def _transform(sketch: Sketch, o: Transform) -> Sketch:
    turn = transforms.turn_about(np.array(o.center), math.radians(o.angle), o.factor)
    shift = turn.matrix @ np.array([o.dx, o.dy]) + turn.shift
    return transforms.transform(sketch, o.items, transforms.Map(turn.matrix, shift))


APPLY: dict[type, Callable[[Sketch, Any], Sketch]] = {
    Trim: _cut,
    Corner: _corner,
    Offset: lambda s, o: outlines.offset(s, o.items, o.distance, o.rounded),
    Mirror: lambda s, o: transforms.mirror(s, o.items, o.about, o.live),
    LinearCopies: _linear,
    CircularCopies: _circular,
    Transform: _transform,
    Paste: lambda s, o: transforms.paste(s, o.clip, np.array(o.at)),
    Smooth: lambda s, o: outlines.smooth(s, o.items, o.tolerance),
    Handles: lambda s, o: outlines.add_handles(s, o.spline),
}

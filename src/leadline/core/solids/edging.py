"""Edges of bodies rounded and chamfered by the kernel; they are named by the two faces that meet there."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.gp import gp_Pnt2d
from OCP.OCP.collections import Array1_gp_Pnt2d

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, edges, faces
from leadline.core.solids.tessellate import edge_points, has_crease, mark_smooth_edges
from leadline.core.sweep.borders import edge_name

HALVINGS = 12  # towards the largest size that works
MEETS = 1e-5  # mm between ends of edges
SAME = 1e-9  # mm, of radii
CLOSE = 0.02  # of it, by which it may be missed


@dataclass(frozen=True)
class Radius:
    """A rounding: radii at shares of the edges' length, in order, smooth between; one alone holds all along."""

    points: Sequence[tuple[float, float]]

    def at(self, share: float) -> float:
        shares, radii = zip(*self.points, strict=True)
        return float(np.interp(share, shares, radii))

    def scaled(self, k: float) -> Radius:
        return Radius([(s, r * k) for s, r in self.points])

    @property
    def most(self) -> float:
        return max(r for _, r in self.points)


@dataclass(frozen=True)
class Chamfer:
    """A chamfer: ``first`` mm on the face that comes first in the edge's name, ``second`` on the other, or at an
    ``angle`` (rad) to the first.
    """

    first: float
    second: float
    angle: float | None = None

    def scaled(self, k: float) -> Chamfer:
        return Chamfer(self.first * k, self.second * k, self.angle)

    @property
    def most(self) -> float:
        return max(self.first, self.second)


Edging = Radius | Chamfer


def faces_at_edges(body: Body) -> dict[int, list[tuple[Shape, str]]]:
    """By the hash of each edge: itself, with the name of each face at it."""
    found: dict[int, list[tuple[Shape, str]]] = defaultdict(list)
    for face, name in zip(faces(body.shape), body.face_names, strict=True):
        for edge in edges(face):
            found[hash(edge)].append((edge, name))
    return found


def sharp_edges(body: Body) -> dict[str, list[Shape]]:
    """The edges of a body at which it has a crease, by their names, ``face&face`` in alphabetical order."""
    mark_smooth_edges(body.shape)
    beside = faces_at_edges(body)
    found: dict[str, list[Shape]] = defaultdict(list)
    for edge in edges(body.shape):
        names = [n for e, n in beside[hash(edge)] if e.IsSame(edge)]
        if len(names) == 2 and has_crease(edge):
            found[edge_name(*names)].append(edge)
    return dict(found)


def edged(body: Body, picked: Mapping[str, Sequence[Shape]], how: Edging, owner: str) -> Body:
    """The body with edges, by their names, rounded or chamfered; new faces are named ``owner/edge/<n>`` by the place of
    their edge among the names.

    Raises:
        Problem: the kernel cannot do it, with the largest size that it can.
    """
    done = _tried(body, picked, how, owner)
    if done is not None:
        return done
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        if high - low < CLOSE * high:
            break
        middle = (low + high) / 2
        if _tried(body, picked, how.scaled(middle), owner) is None:
            high = middle
        else:
            low = middle
    what = "rounding" if isinstance(how, Radius) else "chamfer"
    if low == 0.0:
        raise Problem(
            "no-edging", f"These edges take no {what} of any size.", "Pick fewer edges, or others.", of="edges"
        )
    raise Problem(
        "edging-too-large",
        f"A {what} of {mm(how.most)} does not fit these edges.",
        f"Largest that fits: {mm(how.most * low, 3)}.",
        of="size",
        scale=low,
    )


def _tried(body: Body, picked: Mapping[str, Sequence[Shape]], how: Edging, owner: str) -> Body | None:
    """The edged body; None where the kernel fails or what it gives is not sound."""
    tool = BRepFilletAPI_MakeFillet(body.shape) if isinstance(how, Radius) else BRepFilletAPI_MakeChamfer(body.shape)
    try:
        if isinstance(how, Radius):
            _round(tool, [edge for own in picked.values() for edge in own], how)
        else:
            for name, own in picked.items():
                for edge in own:
                    _chamfer(tool, body, edge, name, how)
        tool.Build()
    except Problem:
        raise
    except Exception:  # the kernel's own errors, of many kinds; all of them say that it cannot be done
        return None
    if not tool.IsDone():
        return None
    return _named(tool, body, picked, owner)


def _chamfer(tool: Shape, body: Body, edge: Shape, name: str, how: Chamfer) -> None:
    face = next(f for f in body.face_of(name.split("&")[0]) if any(e.IsSame(edge) for e in edges(f)))
    if how.angle is None:
        tool.Add(how.first, how.second, edge, face)
    else:
        tool.AddDA(how.first, how.angle, edge, face)


def _round(tool: Shape, chain: Sequence[Shape], how: Radius) -> None:
    if len(how.points) == 1:
        for edge in chain:
            tool.Add(how.points[0][1], edge)
        return
    first, last = how.at(0.0), how.at(1.0)
    if abs(first - last) > SAME and closes(chain):
        raise Problem(
            "radius-jump",
            f"The edges close on themselves, and go from {mm(last)} at their end to {mm(first)} at their start.",
            "Give the same radius at both.",
            of="size",
        )
    for edge, a, b in _shares(chain):
        inner = sorted((s for s, _ in how.points if min(a, b) < s < max(a, b)), reverse=a > b)
        places = [a, *inner, b]
        table = Array1_gp_Pnt2d(1, len(places))
        for i, s in enumerate(places, start=1):
            table.SetValue(i, gp_Pnt2d((s - a) / (b - a), how.at(s)))
        tool.Add(table, edge)


def length_of(chain: Sequence[Shape]) -> float:
    return float(sum(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(e)) for e in chain))


def closes(chain: Sequence[Shape]) -> bool:
    """Whether edges of one chain end where they begin. Raises Problem when they do not follow each other."""
    row = _in_a_row(chain)
    (first, ahead), (last, on) = row[0], row[-1]
    return _meet(_ends(first)[0 if ahead else 1], _ends(last)[1 if on else 0])


def points_along(chain: Sequence[Shape]) -> Array:
    """Points (n, 3) along edges of one chain in its order, for display.

    Raises Problem when they do not follow each other.
    """
    return np.vstack([edge_points(edge) if ahead else edge_points(edge)[::-1] for edge, ahead in _in_a_row(chain)])


def _ends(edge: Shape) -> tuple[Array, Array]:
    curve = BRepAdaptor_Curve(edge)
    first, last = (np.array(curve.Value(t).Coord()) for t in (curve.FirstParameter(), curve.LastParameter()))
    return first, last


def _meet(a: Array, b: Array) -> bool:
    return float(np.linalg.norm(a - b)) < MEETS


def _in_a_row(chain: Sequence[Shape]) -> list[tuple[Shape, bool]]:
    """Edges put end to end, from the first one, or from an end if there is one; each with whether it is passed from its
    own start to its end.

    Raises:
        Problem: they do not follow each other.
    """
    ends = {i: _ends(e) for i, e in enumerate(chain)}
    loose = [
        (i, k)
        for i, own in ends.items()
        for k in (0, 1)
        if not any(_meet(own[k], p) for j, other in ends.items() if j != i for p in other)
    ]
    i, k = loose[0] if loose else (0, 0)
    row, left = [(chain[i], k == 0)], set(ends) - {i}
    tip = ends[i][1 - k]
    while left:
        found = next(((j, k) for j in sorted(left) for k in (0, 1) if _meet(ends[j][k], tip)), None)
        if found is None:
            raise Problem(
                "not-one-chain",
                "The edges do not follow each other, so that nothing says where along them a radius is.",
                "Pick edges of one chain.",
                of="edges",
            )
        j, k = found
        row.append((chain[j], k == 0))
        tip = ends[j][1 - k]
        left.remove(j)
    return row


def _shares(chain: Sequence[Shape]) -> list[tuple[Shape, float, float]]:
    """Edges of one chain, each with the shares of the whole at which it begins and ends, as it runs itself.

    Raises Problem.
    """
    row = _in_a_row(chain)
    gone = np.concatenate([[0.0], np.cumsum([length_of([e]) for e, _ in row])])
    gone /= gone[-1]
    return [
        (e, float(a), float(b)) if ahead else (e, float(b), float(a))
        for (e, ahead), a, b in zip(row, gone, gone[1:], strict=False)
    ]


def _named(tool: Shape, body: Body, picked: Mapping[str, Sequence[Shape]], owner: str) -> Body | None:
    shape = tool.Shape()
    names: dict[int, list[tuple[Shape, str]]] = defaultdict(list)
    for face, name in zip(faces(body.shape), body.face_names, strict=True):
        for image in list(tool.Modified(face)) or ([] if tool.IsDeleted(face) else [face]):
            names[hash(image)].append((image, name))
    for n, own in enumerate(picked.values(), start=1):
        for image in (image for edge in own for image in tool.Generated(edge)):
            names[hash(image)].append((image, f"{owner}/edge/{n}"))
    found = [next((n for s, n in names[hash(f)] if s.IsSame(f)), f"{owner}/corner") for f in faces(shape)]
    result = Body(body.name, shape, found)
    return result if result.valid() and result.volume() > 0 else None

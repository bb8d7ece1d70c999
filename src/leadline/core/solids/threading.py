"""A body with a thread in place of one of its cylinders, built directly: no boolean, so that its time grows with the
turns and not with their square.

The faces of the cylinder are taken out of the body's shell and those of the thread put in. They share edges with each
other, with the circle of an end where the thread fades, and with the flat face of an end that it goes through, which
gets a new border there.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy, BRepBuilderAPI_MakeVertex
from OCP.Geom2d import Geom2d_BSplineCurve
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Wire
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import greville
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import (
    TOLERANCE,
    Shape,
    bspline_curve,
    bspline_curve_2d,
    bspline_surface,
    builder,
    edge_between,
    edges,
    faces,
    oriented,
    parts,
    pnt,
    shells,
)
from leadline.core.solids.round_face import Arc, RoundFace, round_face_at, vertex_at, with_halved_circles
from leadline.core.solids.tessellate import mark_smooth_edges
from leadline.core.solids.thread_corners import anchored, opposite, snapped, with_corners
from leadline.core.trades.thread_groove import Segment
from leadline.core.trades.thread_shape import APART, DEGREE, TURN, Thread, arc_knots, ruled_spline

_HERE = TopLoc_Location()


@dataclass(frozen=True)
class Ribbon:
    """What lies between two lines of a thread: which corners they are of, by how much their θ are shifted, and the
    ``segment`` of the groove, or of the face, from one to the other.
    """

    corners: tuple[int, int]
    shifts: tuple[float, float]
    segment: Segment
    name: str


@dataclass(frozen=True)
class Border:
    """An edge along a side of a face: where in the face's parameters it ``begins`` and ``ends`` by its own way, and
    whether that is the side's (``own``).

    It goes straight between them, evenly with its parameter, or, as a spline on the same ``knots`` as in space, by the
    ``shares`` that its control points have.
    """

    edge: Shape
    begins: tuple[float, float]
    ends: tuple[float, float]
    own: bool = True
    shares: Array | None = None
    knots: Array | None = None


Borders = list[Border]


def threaded(
    body: Body, face: str, thread: Thread, owner: str, flipped: bool = False, near: Array | None = None
) -> tuple[Body, float]:
    """A body with a thread in place of the cylinder that a face lies on, as ``round_face_at`` gives it; and how much
    the thread took away (mm³), as it was cut.

    Faces are named ``owner/root|flank|round|crest`` with their numbers, and ``owner/shoulder`` beside where it fades.

    Raises:
        Problem: the face is no full cylinder, the thread does not fit it, or an end that it goes through is not flat.
    """

    def at(one: Body) -> RoundFace:
        return round_face_at(one, face, flipped, near)

    copied = Body(body.name, BRepBuilderAPI_Copy(body.shape).Shape(), body.face_names)
    if any(len(arcs) == 1 for arcs in at(copied).ends):
        copied = with_halved_circles(copied, at(copied))
    thread = snapped(thread, at(copied))
    copied = with_corners(copied, thread, at)
    work = _Threading(copied, at(copied), thread, owner)
    return work.body(), work.thread.groove_volume()


class _Threading:
    def __init__(self, body: Body, round_face: RoundFace, thread: Thread, owner: str) -> None:
        self.whole, self.round_face, self.owner = body, round_face, owner
        self.thread = anchored(thread, round_face)
        base = round_face.base
        self._axes = np.stack([base.x, base.y, base.normal])
        self._vertices: dict[tuple[int, int], Shape] = {}
        self._cross: dict[tuple[int, int], Shape] = {}
        self._slanted: dict[tuple[int, int], Shape] = {}
        self._lines = [self._line(i) for i in range(len(thread.groove.corners))]
        self.reversed = thread.hand * (1 if thread.side == "outside" else -1) < 0
        self.made: list[Shape] = []
        self.names: list[str] = []

    def body(self) -> Body:
        for ribbon in self._ribbons():
            self._ribbon(ribbon)
        replaced: list[tuple[Shape, Shape]] = []
        for k, fading in enumerate((self.thread.start, self.thread.end)):
            if fading is None:
                replaced.append(self._cap(k))
            else:
                self._shoulder(k)
        kept = []
        names = []
        for f, name in zip(faces(self.whole.shape), self.whole.face_names, strict=True):
            if any(f.IsSame(own) for own in self.round_face.faces):
                continue
            kept.append(next((new for old, new in replaced if f.IsSame(old)), f))
            names.append(name)
        shape = self._solid([*kept, *self.made])
        mark_smooth_edges(shape)
        return Body(self.whole.name, shape, [*names, *self.names])

    # -- lines, vertices and edges ------------------------------------------------------------------

    def _space(self, local: Array) -> Array:
        return np.asarray(self.round_face.base.origin + local @ self._axes)

    def _vertex(self, corner: int, theta: float) -> Shape:
        key = corner, round(theta / APART)
        if key not in self._vertices:
            u, depth = self.thread.groove.corners[corner]
            place = self._space(self.thread.point(np.array(theta), np.array(u), np.array(depth)))
            self._vertices[key] = BRepBuilderAPI_MakeVertex(pnt(place)).Vertex()
        return self._vertices[key]

    def _line(self, corner: int) -> list[tuple[Shape, float, float]]:
        """The edges of a corner's line, each with the θ of its ends."""
        u, depth = self.thread.groove.corners[corner]
        cuts = self.thread.line_cuts(corner)
        found = []
        for a, b in itertools.pairwise(cuts):
            net, knots = ruled_spline(self.thread, (a, b), (u, u), (depth, depth))
            curve = bspline_curve(self._space(net[:, 0]), knots, DEGREE)
            found.append((edge_between(curve, a, b, self._vertex(corner, a), self._vertex(corner, b)), a, b))
        return found

    def _across(self, ribbon: Ribbon, theta: float) -> Shape:
        """The edge between both lines of a ribbon at one of its θ."""
        (low, high), (below, above) = ribbon.corners, ribbon.shifts
        key = low, round((theta - below) / APART)
        if key not in self._cross:
            a, b = self._vertex(low, theta - below), self._vertex(high, theta - above)
            if ribbon.segment.straight:
                self._cross[key] = _straight(a, b)
            else:
                knots = arc_knots(ribbon.segment)
                w = greville(knots, DEGREE)
                control = make_interp_spline(
                    w, self.thread.point(np.array(theta), *ribbon.segment.at(w)), k=DEGREE, t=knots
                ).c
                self._cross[key] = edge_between(bspline_curve(self._space(control), knots, DEGREE), 0.0, 1.0, a, b)
        return self._cross[key]

    def _along(
        self, corner: int, shift: float, a: float, b: float, where: Callable[[float], tuple[float, float]]
    ) -> Borders:
        """A line's edges over θ from a to b of its ribbon; ``where`` gives the face's parameters there."""
        return [
            Border(edge, where(p + shift), where(q + shift))
            for edge, p, q in self._lines[corner]
            if p + shift > a - APART and q + shift < b + APART
        ]

    # -- ribbons ---------------------------------------------------------------------------------------

    def _ribbons(self) -> list[Ribbon]:
        thread, m = self.thread, self.thread.last
        found = []
        for i, segment in enumerate(thread.groove.segments):
            p, q = segment.begin[1], segment.end[1]
            what = "round" if not segment.straight else "flank" if abs(p - q) > 1e-9 else "root" if p > 0 else "crest"
            found.append(Ribbon((i, i + 1), (0.0, 0.0), segment, f"{what}/{i}"))
        found.append(Ribbon((m, 0), (TURN, 0.0), Segment((thread.width - thread.lead, 0.0), (0.0, 0.0)), f"crest/{m}"))
        return found

    def _ribbon(self, ribbon: Ribbon) -> None:
        thread = self.thread
        u = np.array([ribbon.segment.begin[0], ribbon.segment.end[0]])
        late = ribbon.shifts[0] if thread.start is not None else 0.0  # the crest begins a turn after the groove
        begins, ends = thread.starts(u) + late, thread.ends(u)
        cuts = thread.cuts(float(begins.max()), float(ends.min()))
        if not cuts:
            raise Problem("thread-too-short", "The thread is too short.", "Make it longer.", of="length")
        places: list[float | None] = [
            None if thread.start is None else float(begins[0]),
            *cuts,
            None if thread.end is None else float(ends[0]),
        ]
        for a, b in itertools.pairwise(places):
            if a is None or b is None:
                self._slanted_patch(ribbon, a, b)
            else:
                self._plain_patch(ribbon, a, b)

    def _plain_patch(self, ribbon: Ribbon, a: float, b: float) -> None:
        segment = ribbon.segment
        if segment.straight:
            (u, p), (v, q) = segment.begin, segment.end
            net, knots = ruled_spline(self.thread, (a, b), (u, v), (p, q))
            surface = bspline_surface(self._space(net), knots, np.array([0.0, 0.0, 1.0, 1.0]), (DEGREE, 1))
        else:
            knots, across = self.thread.knots(a, b), arc_knots(segment)
            net = self._net(segment, lambda t, _: t, knots, across)
            surface = bspline_surface(self._space(net), knots, across, (DEGREE, DEGREE))
        below, above = ribbon.shifts
        low, high = ribbon.corners
        self._face(
            surface,
            self._along(low, below, a, b, lambda t: (t, 0.0)),
            [Border(self._across(ribbon, b), (b, 0.0), (b, 1.0))],
            self._along(high, above, a, b, lambda t: (t, 1.0)),
            [Border(self._across(ribbon, a), (a, 0.0), (a, 1.0))],
            ribbon.name,
        )

    def _net(self, segment: Segment, theta: Callable[[Array, Array], Array], knots: Array, across: Array) -> Array:
        """Control points (n, m, 3), on the cylinder's axes, of a patch over shares t of its length and w of its width,
        whose places are at θ(t, w).
        """
        t, w = greville(knots, DEGREE), greville(across, DEGREE)
        places = self.thread.point(theta(t[:, None], w[None, :]), *segment.at(w))
        half = make_interp_spline(t, places.reshape(len(t), -1), k=DEGREE, t=knots).c.reshape(len(t), len(w), 3)
        net = make_interp_spline(w, np.moveaxis(half, 1, 0).reshape(len(w), -1), k=DEGREE, t=across).c.reshape(
            len(w), len(t), 3
        )
        return np.moveaxis(net, 0, 1)

    def _slanted_patch(self, ribbon: Ribbon, a: float | None, b: float | None) -> None:
        """A patch that begins (ends) in the plane of an end, where its θ are not the same all across; at the other end
        it does at one θ.
        """
        thread, segment = self.thread, ribbon.segment

        def theta(t: Array, w: Array) -> Array:
            at = segment.at(w)[0]
            begin = thread.starts(at) if a is None else np.full(np.shape(w), a)
            end = thread.ends(at) if b is None else np.full(np.shape(w), b)
            return begin + (end - begin) * t

        wide = abs(segment.end[0] - segment.begin[0]) * TURN / thread.lead
        long = max(float(np.ptp(theta(np.array([0.0, 1.0]), np.array([w, w])))) for w in (0.0, 1.0))
        knots, across = thread.knots(0.0, 1.0, long), thread.knots(0.0, 1.0, wide)
        if not segment.straight:
            across = max(across, arc_knots(segment), key=len)
        net = self._net(segment, theta, knots, across)
        surface = bspline_surface(self._space(net), knots, across, (DEGREE, DEGREE))
        (low, high), (below, above) = ribbon.corners, ribbon.shifts

        def side(corner: int, shift: float, w: float) -> Borders:
            first, last = (float(theta(np.array(v), np.array(w))) for v in (0.0, 1.0))
            return self._along(corner, shift, first, last, lambda v: ((v - first) / (last - first), w))

        def end(at: float, fixed: float | None, k: int) -> Borders:
            rim = (
                self._rim(ribbon, k, self._space(net[0 if k == 0 else -1]), across)
                if fixed is None
                else self._across(ribbon, fixed)
            )
            return [Border(rim, (at, 0.0), (at, 1.0))]

        self._face(surface, side(low, below, 0.0), end(1.0, b, 1), side(high, above, 1.0), end(0.0, a, 0), ribbon.name)

    def _rim(self, ribbon: Ribbon, k: int, control: Array, knots: Array) -> Shape:
        """The edge of a ribbon in the plane of an end; its control points are those of the patch there."""
        key = ribbon.corners[0], k
        if key not in self._slanted:
            ends = [self._lines[c][-1][2] if k else self._lines[c][0][1] for c in ribbon.corners]
            a, b = (self._vertex(c, t) for c, t in zip(ribbon.corners, ends, strict=True))
            self._slanted[key] = edge_between(bspline_curve(control, knots, DEGREE), 0.0, 1.0, a, b)
        return self._slanted[key]

    # -- where it fades, and where it goes through an end --------------------------------------------------

    def _shoulder(self, k: int) -> None:
        """The cylinder between the end of a thread that fades and the circle of that end, in two halves."""
        thread, arcs = self.thread, self.round_face.ends[k]
        corner = 0 if k == 0 else thread.last
        first = thread.first if k == 0 else thread.final - TURN
        middle = opposite(thread, first, arcs)
        seam = self._seam(k)
        for a, b in ((first, middle), (middle, first + TURN)):
            knots = thread.knots(a, b)
            at = greville(knots, DEGREE)
            u = thread.groove.corners[corner][0]
            line = thread.point(at, np.array(u), np.array(0.0))
            circle = thread.circle(at, 0.0 if k == 0 else thread.height)
            pair = (circle, line) if k == 0 else (line, circle)
            net = make_interp_spline(at, np.stack(pair, axis=1).reshape(len(at), 6), k=DEGREE, t=knots).c.reshape(
                -1, 2, 3
            )
            surface = bspline_surface(self._space(net), knots, np.array([0.0, 0.0, 1.0, 1.0]), (DEGREE, 1))
            own = self._along(corner, 0.0, a, b, lambda t: (t, 1.0 if k == 0 else 0.0))
            round_ = self._circle(arcs, a, b, 0.0 if k == 0 else 1.0)
            left, right = self._upright(k, a, first, seam), self._upright(k, b, first, seam)
            bottom, top = (round_, own) if k == 0 else (own, round_)
            self._face(surface, bottom, right, top, left, f"shoulder/{'start' if k == 0 else 'end'}")

    def _seam(self, k: int) -> Shape:
        """The straight edge from the thread's end to the circle."""
        thread = self.thread
        corner, theta = (0, thread.first) if k == 0 else (thread.last, thread.final)
        at = self._vertex(corner, theta)
        other = vertex_at(self.round_face.ends[k], thread.hand * theta + thread.phase)
        return _straight(at, other) if k else _straight(other, at)

    def _upright(self, k: int, theta: float, first: float, seam: Shape) -> Borders:
        """The edges up along the axis at one θ of a shoulder: the seam, at its far end with those in which groove and
        crest end, or a cut of its own.
        """
        thread, m = self.thread, self.thread.last
        if abs(theta - first) > APART and abs(theta - first - TURN) > APART:
            key = -2 - k, round(theta / APART)
            if key not in self._cross:
                corner = 0 if k == 0 else m
                own, other = (
                    self._vertex(corner, theta),
                    vertex_at(self.round_face.ends[k], thread.hand * theta + thread.phase),
                )
                self._cross[key] = _straight(own, other) if k else _straight(other, own)
            return [Border(self._cross[key], (theta, 0.0), (theta, 1.0))]
        only_seam = (k == 0) == (abs(theta - first) < APART)
        if only_seam:
            return [Border(seam, (theta, 0.0), (theta, 1.0))]
        at = first if k == 0 else first + TURN
        *groove, crest = self._ribbons()
        crossed = [(self._across(r, at), None if r.segment.straight else arc_knots(r.segment)) for r in groove]
        beyond = self._across(crest, at + TURN if k == 0 else at), None
        chain = [(seam, None), *crossed, beyond] if k == 0 else [beyond, *crossed, (seam, None)]
        rises = [self._heights(edge) for edge, _ in chain]
        low, high = rises[0][0], rises[-1][-1]
        return [
            Border(
                edge,
                (theta, (rise[0] - low) / (high - low)),
                (theta, (rise[-1] - low) / (high - low)),
                shares=None if knots is None else (rise - rise[0]) / (rise[-1] - rise[0]),
                knots=knots,
            )
            for (edge, knots), rise in zip(chain, rises, strict=True)
        ]

    def _heights(self, edge: Shape) -> Array:
        """How far along the axis the control points of an edge are."""
        curve = BRep_Tool.Curve_s(edge, 0.0, 1.0)
        return self.round_face.base.height(np.array([curve.Pole(i + 1).Coord() for i in range(curve.NbPoles())]))

    def _circle(self, arcs: Sequence[Arc], a: float, b: float, v: float) -> Borders:
        """The arcs of an end's circle over θ from a to b, in order."""
        thread, found = self.thread, []
        for arc in arcs:
            ends = [(angle - thread.phase) * thread.hand for angle in arc.angles]
            shift = TURN * math.floor((min(ends) - a + APART) / TURN)
            p, q = ends[0] - shift, ends[1] - shift
            if min(p, q) > a - APART and max(p, q) < b + APART:
                found.append((min(p, q), Border(arc.edge, (p, v), (q, v), p < q)))
        return [side for _, side in sorted(found, key=lambda f: f[0])]

    def _cap(self, k: int) -> tuple[Shape, Shape]:
        """The flat face of an end that the thread goes through: as it was, and with the thread's rim.

        Raises Problem.
        """
        arcs = self.round_face.ends[k]
        old = next(
            (
                f
                for f in faces(self.whole.shape)
                if not any(f.IsSame(c) for c in self.round_face.faces) and all(_has(f, a.edge) for a in arcs)
            ),
            None,
        )
        if old is None or BRepAdaptor_Surface(old).GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
            raise Problem(
                "end-not-flat",
                "The end that the thread is to go through is not flat.",
                "Let the thread run out before it, or cut the end flat.",
                of="start" if k == 0 else "end",
            )
        face = TopoDS_Face()
        builder.MakeFace(face, BRep_Tool.Surface_s(old), _HERE, TOLERANCE)
        for wire in parts(old.Oriented(TopAbs_Orientation.TopAbs_FORWARD), TopAbs_ShapeEnum.TopAbs_WIRE):
            if not _has(wire, arcs[0].edge):
                builder.Add(face, wire)
        turned = old.Orientation() == TopAbs_Orientation.TopAbs_REVERSED
        used = (k == 1) != self.reversed  # how the thread's faces go along the rim
        ribbons = self._ribbons()
        rim = TopoDS_Wire()
        builder.MakeWire(rim)
        order = [r.corners[0] for r in ribbons]
        forward = used == turned
        for corner in order if forward else order[::-1]:
            builder.Add(rim, oriented(self._slanted[corner, k], forward))
        rim.Closed(True)
        builder.Add(face, rim)
        return old, face.Oriented(old.Orientation())

    # -- faces --------------------------------------------------------------------------------------------

    def _face(self, surface: Shape, bottom: Borders, right: Borders, top: Borders, left: Borders, name: str) -> None:
        face = TopoDS_Face()
        builder.MakeFace(face, surface, _HERE, TOLERANCE)
        wire = TopoDS_Wire()
        builder.MakeWire(wire)
        for sides, ahead in ((bottom, True), (right, True), (top, False), (left, False)):
            for border in sides if ahead else sides[::-1]:
                builder.UpdateEdge(border.edge, _in_parameters(border), face, TOLERANCE)
                builder.Add(wire, oriented(border.edge, border.own == ahead))
        wire.Closed(True)
        builder.Add(face, wire)
        self.made.append(face.Reversed() if self.reversed else face)
        self.names.append(f"{self.owner}/{name}")

    def _solid(self, own: Sequence[Shape]) -> Shape:
        """The body with its faces replaced: those of the shell that the cylinder was in, and its other shells as they
        are.
        """
        solid = TopoDS_Solid()
        builder.MakeSolid(solid)
        others = [s for s in shells(self.whole.shape) if not any(f.IsSame(self.round_face.faces[0]) for f in faces(s))]
        elsewhere = [f for s in others for f in faces(s)]
        shell = TopoDS_Shell()
        builder.MakeShell(shell)
        for face in own:
            if not any(face.IsSame(f) for f in elsewhere):
                builder.Add(shell, face)
        shell.Closed(True)
        builder.Add(solid, shell)
        for other in others:
            builder.Add(solid, other)
        return solid


def _straight(a: Shape, b: Shape) -> Shape:
    """The straight edge from one vertex to another."""
    ends = np.array([BRep_Tool.Pnt_s(v).Coord() for v in (a, b)])
    return edge_between(bspline_curve(ends, np.array([0.0, 0.0, 1.0, 1.0]), 1), 0.0, 1.0, a, b)


def _has(shape: Shape, edge: Shape) -> bool:
    return any(e.IsSame(edge) for e in edges(shape))


def _in_parameters(border: Border) -> Geom2d_BSplineCurve:
    """The line in a face's parameters of an edge along one of its sides, over the range of the edge."""
    begins, ends = np.array(border.begins), np.array(border.ends)
    if border.shares is not None and border.knots is not None:
        return bspline_curve_2d(begins + border.shares[:, None] * (ends - begins), border.knots, DEGREE)
    first, last = BRep_Tool.Range_s(border.edge)
    return bspline_curve_2d(np.array([begins, ends]), np.array([first, first, last, last]), 1)

"""Sketches as SVG: exact lines, arcs, ellipses and Bézier curves, out and in. Millimetres; y points up in a sketch."""

from __future__ import annotations

import io
import itertools
import math
import re
from dataclasses import dataclass, field
from xml.etree.ElementTree import ParseError

import defusedxml.ElementTree
import numpy as np
import svgelements
from defusedxml.common import DefusedXmlException
from scipy.interpolate import BSpline

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.model import Arc, Circle, ControlSpline, Ellipse, Entity, Line, Sketch, Smoothed
from leadline.core.sketch.outline import (
    Chain,
    arc_numbers,
    chains,
    coordinates,
    ellipse_numbers,
    entity_edges,
    smooth_outline,
    spline_curve,
)
from leadline.core.sketch.splines import stretch
from leadline.limits import SKETCH_POINTS, SVG_BYTES, SVG_COMMANDS, SVG_CURVES, SVG_ELEMENTS, SVG_TRANSFORM

PHYSICAL = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6}
PX = 25.4 / 96
SAME = 1e-9
UNSAFE = ("script", "foreignObject")
GEOMETRY = frozenset(
    [
        "d",
        "points",
        "viewBox",
        "transform",
        "x",
        "y",
        "x1",
        "y1",
        "x2",
        "y2",
        "cx",
        "cy",
        "r",
        "rx",
        "ry",
        "width",
        "height",
    ]
)
NO_NUMBER = re.compile(r"(?i)\b(nan|inf|infinity)\b")
COMMAND = re.compile("[A-DF-Za-df-z]")  # of a path; an e belongs to a number
NUMBER = re.compile("[0-9.]+")
MOST_NUMBERS = 7 * SVG_COMMANDS  # as an arc has
CLOSED_AGAIN = re.compile(r"(?<=[zZ])[\s,]*[zZ]")
NOT_DRAWN = ("text", "image", "use")


# -- out --------------------------------------------------------------------------------------------


def write_svg(sketch: Sketch) -> str:
    """The drawn curves, one path per chain, the construction ones dashed."""
    at = coordinates(sketch)
    shapes, low, high = [], np.full(2, np.inf), np.full(2, -np.inf)
    for construction in (False, True):
        part = sketch.model_copy(update={"entities": [e for e in sketch.entities if e.construction == construction]})
        for chain in _chains(part):
            shapes.append(_shape(chain, at, sketch, construction))
            for entity in chain.entities:
                p = _extent(entity, at, sketch)
                low, high = np.minimum(low, p.min(axis=0)), np.maximum(high, p.max(axis=0))
    if not shapes:
        low, high = np.zeros(2), np.ones(2)
    (w, h), margin = high - low, 0.02 * float((high - low).max()) + 0.5
    box = [low[0] - margin, -high[1] - margin, w + 2 * margin, h + 2 * margin]
    style = f'fill="none" stroke="#1e2b38" stroke-width="{margin / 8:.4g}"'
    size = f'width="{box[2]:.6f}mm" height="{box[3]:.6f}mm" viewBox="{" ".join(f"{v:.6f}" for v in box)}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} {style}>\n' + "\n".join(shapes) + "\n</svg>\n"


def _chains(part: Sketch) -> list[Chain]:
    try:
        return chains(
            part.model_copy(update={"entities": [e.model_copy(update={"construction": False}) for e in part.entities]})
        )
    except Problem:  # curves that branch are written one by one
        return [Chain((e,), (True,), False) for e in part.entities]


def _extent(entity: Entity, at: dict[str, Array], sketch: Sketch) -> Array:
    return np.vstack([e.point(np.linspace(*e.domain, 24)) for e in entity_edges(entity, at, sketch)])


def _shape(chain: Chain, at: dict[str, Array], sketch: Sketch, construction: bool) -> str:
    style = ' stroke-dasharray="9 4 2 4" data-construction="true"' if construction else ""
    first = chain.entities[0]
    if isinstance(first, Circle):
        return f'<circle cx="{_n(at[first.center][0])}" cy="{_n(-at[first.center][1])}" r="{_n(first.radius)}"{style}/>'
    if isinstance(first, Ellipse) and first.start is None:
        m = at[first.major] - at[first.center]
        turn = f'transform="rotate({_n(-math.degrees(math.atan2(m[1], m[0])))} {_p(at[first.center])})"'
        c = at[first.center]
        return (
            f'<ellipse cx="{_n(c[0])}" cy="{_n(-c[1])}" rx="{_n(float(np.hypot(*m)))}" ry="{_n(first.minor)}" '
            f"{turn}{style}/>"
        )
    d, started = [], False
    for entity, forward in zip(chain.entities, chain.forward, strict=True):
        start, commands = _commands(entity, forward, at, sketch)
        d += [*([] if started else [f"M{_p(start)}"]), *commands]
        started = True
    return f'<path d="{" ".join(d)}{" Z" if chain.closed else ""}"{style}/>'


def _commands(entity: Entity, forward: bool, at: dict[str, Array], sketch: Sketch) -> tuple[Array, list[str]]:
    """Where an entity starts as travelled, and its path commands."""
    if isinstance(entity, Line):
        a, b = (entity.start, entity.end) if forward else (entity.end, entity.start)
        return at[a], [f"L{_p(at[b])}"]
    if isinstance(entity, Arc | Ellipse):
        assert entity.start is not None
        assert entity.end is not None
        a, b = (entity.start, entity.end) if forward else (entity.end, entity.start)
        if isinstance(entity, Arc):
            _, sweep, rx = arc_numbers(entity, at)
            ry, turn = rx, 0.0
        else:
            m = at[entity.major] - at[entity.center]
            rx, ry, turn = float(np.hypot(*m)), entity.minor, -math.degrees(math.atan2(m[1], m[0]))
            sweep = ellipse_numbers(entity, at)[1]
        flags = f"{int(sweep > math.pi)} {int(not forward)}"
        return at[a], [f"A{_n(rx)} {_n(ry)} {_n(turn)} {flags} {_p(at[b])}"]
    assert not isinstance(entity, Circle)
    curve = smooth_outline(entity, at, sketch)[0] if isinstance(entity, Smoothed) else spline_curve(entity, at)
    if not forward:
        curve = BSpline(curve.t[0] + curve.t[-1] - curve.t[::-1], curve.c[::-1], curve.k)
    letter = {1: "L", 2: "Q", 3: "C"}[curve.k]
    spans = itertools.pairwise(np.unique(curve.t))
    pieces = [stretch(curve, float(a), float(b)).c for a, b in spans]
    return np.asarray(curve.c[0]), [letter + " ".join(_p(p) for p in control[1:]) for control in pieces]


def _n(value: float) -> str:
    return f"{float(value):.9g}"


def _p(p: Array) -> str:
    return f"{_n(p[0])} {_n(-p[1])}"


# -- in ---------------------------------------------------------------------------------------------


@dataclass
class Drawing:
    """What an SVG holds. ``scale`` is mm per user unit as the file says, or None when it does not."""

    sketch: Sketch
    scale: float | None
    width: float
    height: float
    skipped: list[str] = field(default_factory=list)


def read_svg(data: bytes, mm_per_unit: float | None = None) -> Drawing:
    """Curves of an SVG file as sketch entities, its middle at the origin.

    ``mm_per_unit`` sets the scale of a file without a physical size (else 1 mm), or overrules it.

    Raises:
        Problem: it is not SVG, has scripts or entities, numbers that are none, or more than 3000 elements.
    """
    if len(data) > SVG_BYTES:
        raise _refused(f"is larger than {SVG_BYTES >> 20} MB", "Take out what is not the outline.")
    if mm_per_unit is not None and not (math.isfinite(mm_per_unit) and 1e-6 <= mm_per_unit <= 1e6):
        raise Problem("bad-size", "The scale is not a size above zero.", "Give the mm of one unit.", of="mm_per_unit")
    root, skipped = _checked(data)
    try:
        box = [float(v) for v in re.findall(r"[-+.\deE]+", root.get("viewBox", ""))]
        said = _physical_scale(root, box)
        scale = mm_per_unit or said or 1.0
        width, height = (box[2], box[3]) if len(box) == 4 else (100.0, 100.0)
        for element in root.iter():
            if (
                "d" in element.attrib
            ):  # what is closed is closed once: the package looks through the whole path for each further time
                element.set("d", CLOSED_AGAIN.sub("", element.get("d")))
        for name in ("width", "height"):  # user units in, user units out: the scale is ours
            root.attrib.pop(name, None)
        plain = io.BytesIO(defusedxml.ElementTree.tostring(root))
        document = svgelements.SVG.parse(plain, reify=True, width=width, height=height)
        reader = _Reader(scale)
        for element in document.elements():
            reader.take(element)
    except (
        ValueError,
        TypeError,
        ArithmeticError,
        AttributeError,
        LookupError,
        RecursionError,
    ) as error:  # whatever the reader trips over
        raise _refused(f"has a number or a path that cannot be read ({error})", "Save it again as plain SVG.") from None
    sketch = reader.centred()
    if not sketch.entities:
        raise _refused("holds no lines, arcs or curves", "Turn texts and symbols into paths first.")
    return Drawing(sketch, said, width * scale, height * scale, skipped)


def _refused(why: str, way_out: str) -> Problem:
    return Problem("bad-svg", f"The SVG file {why}.", way_out, of="svg")


TOO_MANY_POINTS = _refused(f"has more than {SKETCH_POINTS} points", "Simplify its paths, or keep only the outline.")


class _Census:
    """What there is in a file, counted element by element before anything is worked out of it."""

    def __init__(self) -> None:
        self.elements = self.commands = self.numbers = 0
        self.around = [0]  # characters of the transforms of the element that is read and of each that it stands in
        self.skipped: dict[str, int] = {}

    def enter(self, element: defusedxml.ElementTree.Element) -> None:
        """Raises Problem at one that cannot be, or is one too many."""
        name = element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""
        self.elements += 1
        self.around.append(self.around[-1] + len(element.get("transform", "")))
        self.commands += len(COMMAND.findall(element.get("d", "")))
        self.numbers += sum(len(NUMBER.findall(element.get(k, ""))) for k in ("d", "points"))
        if self.elements > SVG_ELEMENTS:
            raise _refused(f"has more than {SVG_ELEMENTS} elements", "Keep only the outline.")
        if self.around[-1] > SVG_TRANSFORM:
            raise _refused(
                f"moves a {name} by transforms of more than {SVG_TRANSFORM} characters",
                "Save it with its transforms applied.",
            )
        if self.commands > SVG_COMMANDS or self.numbers > MOST_NUMBERS:
            raise _refused(
                f"has more than {SVG_COMMANDS} commands in its paths", "Simplify its paths, or keep only the outline."
            )
        if name in UNSAFE:
            raise _refused(f"contains a {name}", "Save it as plain SVG without scripts.")
        if any(NO_NUMBER.search(v) for k, v in element.attrib.items() if k in GEOMETRY):
            raise _refused(f"has a number in a {name} that is none", "Save it again as plain SVG.")
        if name in NOT_DRAWN:
            self.skipped[name] = self.skipped.get(name, 0) + 1

    def leave(self) -> None:
        self.around.pop()


def _checked(data: bytes) -> tuple[defusedxml.ElementTree.Element, list[str]]:
    """The root, after a look at every element."""
    root, census = None, _Census()
    try:
        for what, element in defusedxml.ElementTree.iterparse(io.BytesIO(data), events=("start", "end")):
            if what == "end":
                census.leave()
                continue
            root = element if root is None else root
            census.enter(element)
    except (ParseError, DefusedXmlException, ValueError) as error:
        unsafe = isinstance(error, DefusedXmlException)
        why = "defines entities or outside references" if unsafe else f"is not well-formed ({error})"
        raise _refused(why, "Save it again as plain SVG.") from None
    if root is None or root.tag.rpartition("}")[2] != "svg":
        raise _refused("is not SVG", "Choose an SVG file.")
    return root, [f"{n} × {name}" for name, n in census.skipped.items()]


def _physical_scale(root: defusedxml.ElementTree.Element, box: list[float]) -> float | None:
    match = re.fullmatch(r"\s*([-+.\deE]+)\s*(mm|cm|in|pt|pc)\s*", root.get("width", ""))
    if match is None:
        return None
    width = float(match[1]) * PHYSICAL[match[2]]
    if len(box) != 4:
        return PX
    return width / box[2] if box[2] > 0 and width > 0 else None


class _Reader:
    """Collects entities; y is turned up and everything scaled."""

    def __init__(self, scale: float) -> None:
        self.draft, self.scale = Draft(Sketch()), scale
        self.places: dict[tuple[float, float], str] = {}

    def take(self, element: object) -> None:
        construction = getattr(element, "values", {}).get("data-construction") == "true"
        if isinstance(element, svgelements.Circle | svgelements.Ellipse):
            self._round(element, construction)
        elif isinstance(element, svgelements.Shape):
            path = element if isinstance(element, svgelements.Path) else svgelements.Path(element)
            self.places = {}
            for segment in path.segments(transformed=True):
                self._segment(segment, construction)

    def _at(self, p: svgelements.Point) -> Array:
        xy = np.array([p.x, -p.y]) * self.scale
        if not np.isfinite(xy).all() or np.abs(xy).max() > 1e7:
            raise ValueError(f"a point at {p.x}, {p.y}")
        return xy

    def _point(self, p: svgelements.Point) -> str:
        """Segments of one path share the points at which they meet."""
        xy = self._at(p)
        key = (round(float(xy[0]), 7), round(float(xy[1]), 7))
        if key not in self.places:
            self.places[key] = self.draft.add_point(xy)
        return self.places[key]

    def _segment(self, s: object, construction: bool) -> None:
        if len(self.draft.points) > SKETCH_POINTS:
            raise TOO_MANY_POINTS
        if len(self.draft.entities) >= SVG_CURVES:
            raise _refused(
                f"has more than {SVG_CURVES} lines, arcs and curves", "Simplify its paths, or keep only the outline."
            )
        ends = (s.start, s.end)  # type: ignore[attr-defined]  # the package has no types
        if isinstance(s, svgelements.Move) or any(end is None for end in ends):
            return
        more = {"id": "x", "construction": construction}
        if isinstance(s, svgelements.Line | svgelements.Close):
            if np.abs(self._at(s.start) - self._at(s.end)).max() > SAME * max(1.0, self.scale):
                self.draft.add(Line(start=self._point(s.start), end=self._point(s.end), **more))
        elif isinstance(s, svgelements.Arc):
            self._arc(s, construction)
        elif isinstance(s, svgelements.CubicBezier):
            points = [
                self._point(s.start),
                *(self.draft.add_point(self._at(c)) for c in (s.control1, s.control2)),
                self._point(s.end),
            ]
            self.draft.add(ControlSpline(points=points, **more))
        elif isinstance(s, svgelements.QuadraticBezier):
            points = [self._point(s.start), self.draft.add_point(self._at(s.control)), self._point(s.end)]
            self.draft.add(ControlSpline(points=points, **more))

    def _arc(self, s: svgelements.Arc, construction: bool) -> None:
        if abs(s.sweep) < 1e-12:
            return
        start, end = self._point(s.start), self._point(s.end)
        if s.sweep > 0:  # clockwise to the eye, as angles run where y points down
            start, end = end, start
        self._add_round(s, construction, start, end)

    def _round(self, e: object, construction: bool) -> None:
        self._add_round(svgelements.Path(e).segments(transformed=True)[1], construction, None, None)

    def _add_round(self, s: svgelements.Arc, construction: bool, start: str | None, end: str | None) -> None:
        center = self._at(s.center)
        prx, pry = (self._at(p) - center for p in (s.prx, s.pry))
        a, b = float(np.hypot(*prx)), float(np.hypot(*pry))
        if not (a > 0 and b > 0):
            raise ValueError("a radius of zero")
        c = self.draft.add_point(center)
        if abs(a - b) <= 1e-9 * max(a, b):
            if start is not None and end is not None:
                self.draft.add(Arc(id="x", center=c, start=start, end=end, construction=construction))
            else:
                self.draft.add(Circle(id="x", center=c, radius=a, construction=construction))
            return
        major, minor = (prx, b) if a >= b else (pry, a)
        tip = self.draft.add_point(center + major)
        self.draft.add(
            Ellipse(id="x", center=c, major=tip, minor=minor, start=start, end=end, construction=construction)
        )

    def centred(self) -> Sketch:
        """The middle of all points brought to the origin."""
        if len(self.draft.points) > SKETCH_POINTS:
            raise TOO_MANY_POINTS
        points = np.array([*self.draft.points.values()] or [np.zeros(2)])
        middle = (points.min(axis=0) + points.max(axis=0)) / 2
        for p in self.draft.points:
            self.draft.points[p] = self.draft.points[p] - middle
        return self.draft.sketch()

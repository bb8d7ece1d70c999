"""Where the sizes of a view are written: pure layout on paper, in points, x to the right and y up.

Lines and numbers as ISO 129-1 has them: spans beside the view with lines out to them, the shorter ones nearer to it;
notes at the end of a line. Nothing is written over something else: of what finds no free place the number stands in the
sheet's tables alone.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from leadline.core.geometry.dimensions import Dimension, Span
from leadline.core.geometry.plane import Array
from leadline.core.units import LENGTH_UNITS, LengthUnit, format_length

TRUE = 1e-6  # how nearly a span has to lie in the plane of a view, of its length, to be seen at its full size there
DECIMALS = {"mm": 3, "in": 4}  # after the point
TEXT = 7.0  # points, the height of the letters
LANE = 15.0  # points from one line of spans to the next
FIRST = 11.0  # points from the view to the first of them
ARROW = 3.4
REACH = (12.0, 20.0, 30.0)  # points from a place to the note about it
TURNS = tuple(math.radians(a) for a in (0, 35, -35, 70, -70, 110, -110, 180))
WHOLE = 1e-3  # of how far all reaches, by which a size may be less and still tell it
PAD = 1.5  # points of free room about letters
STEP = 2.0  # points between the places of a view's lines that letters keep clear of

Width = Callable[[str], float]


@dataclass(frozen=True)
class Text:
    """Words whose baseline begins halfway at ``at`` (2,), turned by ``angle`` (rad)."""

    at: Array
    words: str
    angle: float = 0.0


@dataclass
class Drawn:
    """What is drawn of the sizes of a view: lines (n, 2), arrow heads (3, 2), and words."""

    lines: list[Array] = field(default_factory=list)
    arrows: list[Array] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)


@dataclass(frozen=True)
class _Flat:
    """A span as it is seen in a view: its ends (2,) in mm and what is written beside it."""

    a: Array
    b: Array
    words: str
    outermost: bool

    @property
    def way(self) -> int | None:
        """0 of one that lies level, 1 of one that is upright; None of one that is slanted."""
        off = np.abs(self.b - self.a)
        return next((i for i in (0, 1) if off[1 - i] <= TRUE * off[i]), None)


@dataclass(frozen=True)
class _Label:
    """A note as it is seen: the place (2,) in mm, the direction (2,) in which it stands off, and its words."""

    at: Array
    away: Array
    words: str


@dataclass(frozen=True)
class Seen:
    """The sizes that one view shows, and how far the bodies reach in it: its lowest and highest corner (2,), mm."""

    spans: list[_Flat]
    labels: list[_Label]
    low: Array
    high: Array

    def lanes(self, scale: float, width: Width) -> tuple[int, int]:
        """How many lines of spans lie below the view and to its left, at so many points for each mm."""
        below, left = (_in_lanes([s for s in self.spans if s.way == way], way, scale, width) for way in (0, 1))
        return len(below), len(left)


def shared_out(
    sizes: Sequence[Dimension],
    eyes: Mapping[str, tuple[Array, Array]],
    boxes: Mapping[str, tuple[Array, Array]],
    unit: LengthUnit,
) -> dict[str, Seen]:
    """Each size to a view that shows it in full: to one where it lies level or upright, and of these to that which
    shows the most sizes; and how far all reaches.

    ``eyes`` are of each view the direction (3,) towards the eye and the one (3,) to the right; ``boxes`` its lowest and
    highest corner (2,), mm.
    """
    axes = {name: np.stack([right, np.cross(towards, right)]) for name, (towards, right) in eyes.items()}
    seen = {name: Seen([], [], *boxes[name]) for name in eyes}
    shown = {name: [size for size in sizes if _true(size, towards)] for name, (towards, _) in eyes.items()}
    first = sorted(eyes, key=lambda name: -len(shown[name]))
    for size in sizes:
        views = [name for name in first if any(size is s for s in shown[name])]
        if isinstance(size, Span):
            flat = {
                name: _Flat(axes[name] @ size.a, axes[name] @ size.b, _words(size, unit), size.outermost)
                for name in views
            }
            best = min(flat, key=lambda name: flat[name].way is None, default=None)
            if best is not None:
                _add(seen[best].spans, flat[best])
        elif views:
            _add_label(
                seen[views[0]].labels, _Label(axes[views[0]] @ size.at, axes[views[0]] @ size.away, _words(size, unit))
            )
    _add_wholes(seen, axes, unit)
    return seen


def laid_out(
    seen: Seen,
    place: Callable[[Array], Array],
    scale: float,
    lines: Sequence[Array],
    room: tuple[Array, Array],
    width: Width,
) -> Drawn:
    """The sizes of a view on paper.

    ``place`` takes mm in the view (n, 2) to points on paper, ``lines`` (n, 2) are the view's own ones there, and
    ``room`` are the corners (2,) between which notes and slanted spans may be written.
    """
    drawn = Drawn()
    taken: list[tuple[Array, Array]] = []
    low, high = place(seen.low), place(seen.high)
    beyond = np.array(
        [min([low[i], *(float(place(p)[i]) for s in seen.spans if s.way == 1 - i for p in (s.a, s.b))]) for i in (0, 1)]
    )
    for way in (0, 1):
        for i, lane in enumerate(_in_lanes([s for s in seen.spans if s.way == way], way, scale, width)):
            for span in lane:
                at = beyond[1 - way] - FIRST - i * LANE
                a, b = place(span.a), place(span.b)
                ends = [_on(p, way, float(low[1 - way])) if span.outermost else p for p in (a, b)]
                _span(drawn, taken, (ends[0], ends[1]), (_on(a, way, at), _on(b, way, at)), span.words, width)
    crowd = _dense([*lines, *drawn.lines])

    def fits(box: tuple[Array, Array]) -> bool:
        return bool(np.all(box[0] >= room[0]) and np.all(box[1] <= room[1])) and _free(box, taken, crowd)

    for span in (s for s in seen.spans if s.way is None):
        a, b = place(span.a), place(span.b)
        across = np.array([-(b - a)[1], (b - a)[0]]) / np.linalg.norm(b - a)
        side = across if float(((a + b) / 2 - (low + high) / 2) @ across) > 0 else -across
        for off in (FIRST + i * LANE / 2 for i in range(4)):
            box = _box_of((a + b) / 2 + (off + TEXT) * side, span.words, math.atan2(*(b - a)[::-1]), width)
            if fits(box):
                _span(drawn, taken, (a, b), (a + off * side, b + off * side), span.words, width)
                break
    for label in seen.labels:
        taken += _noted(drawn, place(label.at), label, fits, width)
    return drawn


def _true(size: Dimension, towards: Array) -> bool:
    """Whether a size is seen in full from a direction (3,)."""
    if isinstance(size, Span):
        return size.size > 0 and abs(float((size.b - size.a) @ towards)) <= TRUE * size.size
    return size.facing is None or float(np.linalg.norm(np.cross(size.facing, towards))) <= TRUE


def _words(size: Dimension, unit: LengthUnit) -> str:
    if isinstance(size, Span):
        return size.said or f"{size.before}{number(size.size, unit)}"
    return f"{size.before}{number(size.size, unit)}{size.after}"


def number(length: float, unit: LengthUnit) -> str:
    """A length (mm) as it stands on a drawing or in a table, whose unit is said once for all."""
    return f"{length / LENGTH_UNITS[unit]:.{DECIMALS[unit]}f}".rstrip("0").rstrip(".")


def _add(spans: list[_Flat], new: _Flat) -> None:
    """One that tells the same between the same heights, or widths, as another one tells nothing."""
    way = new.way
    for old in spans:
        if (
            way is not None
            and old.way == way
            and old.words == new.words
            and np.allclose(sorted((old.a[way], old.b[way])), sorted((new.a[way], new.b[way])), atol=1e-6)
        ):
            return
    spans.append(new)


def _add_label(labels: list[_Label], new: _Label) -> None:
    if all(old.words != new.words for old in labels):  # all that are alike are told by one
        labels.append(new)


def _add_wholes(seen: Mapping[str, Seen], axes: Mapping[str, Array], unit: LengthUnit) -> None:
    """How far all reaches in each direction, in the first view that shows it, unless a size tells so much already."""
    told: list[Array] = []
    outside = [float(np.linalg.norm(s.b - s.a)) for view in seen.values() for s in view.spans if s.outermost]
    for name, view in seen.items():
        for way in (0, 1):
            size, along = float(view.high[way] - view.low[way]), axes[name][way]
            known = any(abs(float(other @ along)) > 1 - TRUE for other in told)
            told.append(along)
            spans = [abs(float(s.b[way] - s.a[way])) for s in view.spans if s.way == way]
            if (
                not known
                and max(spans, default=0.0) < size * (1 - WHOLE)
                and all(abs(own - size) > WHOLE * size for own in outside)
            ):
                end = view.low.copy()
                end[way] += size
                view.spans.append(
                    _Flat(view.low, end, format_length(size, unit).split()[0], outermost=True)
                )  # by the mesh of the view: no more digits than that has


def _in_lanes(spans: list[_Flat], way: int, scale: float, width: Width) -> list[list[_Flat]]:
    """Spans of one way in lines in which none is written over another, the shorter ones first."""
    lanes: list[list[_Flat]] = []
    rooms: list[list[tuple[float, float]]] = []
    for span in sorted(spans, key=lambda s: abs(float(s.b[way] - s.a[way]))):
        low, high = sorted((float(span.a[way]) * scale, float(span.b[way]) * scale))
        half = max(high - low, width(span.words)) / 2
        room = (low + high) / 2 - half - PAD, (low + high) / 2 + half + PAD
        after = (
            next(
                (
                    i
                    for i, taken in reversed(list(enumerate(rooms)))
                    if any(room[0] < t[1] and t[0] < room[1] for t in taken)
                ),
                -1,
            )
            + 1
        )
        if after == len(lanes):
            lanes.append([])
            rooms.append([])
        lanes[after].append(span)
        rooms[after].append((room[0] + PAD, room[1] - PAD))
    return lanes


def _on(place: Array, way: int, at: float) -> Array:
    """A place carried square to a level (0) or upright (1) line to that line."""
    out = place.copy()
    out[1 - way] = at
    return out


def _span(
    drawn: Drawn,
    taken: list[tuple[Array, Array]],
    ends: tuple[Array, Array],
    on: tuple[Array, Array],
    words: str,
    width: Width,
) -> None:
    """A span: lines from its ends to their places on its line and a little over it, arrows, and the number on the far
    side of the line.
    """
    (a, b), (on_a, on_b) = ends, on
    if on_a[0] > on_b[0] + 1e-9 or (
        abs(on_a[0] - on_b[0]) <= 1e-9 and on_a[1] > on_b[1]
    ):  # so that it reads from below or from the right
        a, b, on_a, on_b = b, a, on_b, on_a
    along = (on_b - on_a) / np.linalg.norm(on_b - on_a)
    left = np.array([-along[1], along[0]])
    for end, to in ((a, on_a), (b, on_b)):
        reach = float(np.linalg.norm(to - end))
        if reach > 2 * PAD:
            out = (to - end) / reach
            drawn.lines.append(np.stack([end + PAD * out, to + PAD * out]))
    room = float(np.linalg.norm(on_b - on_a))
    inside = room > 2.5 * ARROW
    over = 0.0 if inside else 2 * ARROW
    drawn.lines.append(np.stack([on_a - over * along, on_b + over * along]))
    for tip, way in ((on_a, along), (on_b, -along)):
        drawn.arrows.append(_arrow(tip, way if inside else -way))
    middle, angle = (on_a + on_b) / 2, math.atan2(along[1], along[0])
    far = left if float((on_a - a) @ left) > 0 else -left
    base = middle + far * (2.0 if far is left else TEXT)
    drawn.texts.append(Text(base, words, angle))
    taken.append(_box_of(base + left * TEXT / 3, words, angle, width))


def _noted(
    drawn: Drawn, at: Array, label: _Label, fits: Callable[[tuple[Array, Array]], bool], width: Width
) -> list[tuple[Array, Array]]:
    """A note where it finds room, as near as can be to where it is wanted; and the room that it takes."""
    size = float(np.linalg.norm(label.away))
    away = label.away / size if size > TRUE else np.array([0.0, 1.0])
    for reach in REACH:
        for turn in TURNS:
            c, s = math.cos(turn), math.sin(turn)
            end = at + reach * (np.array([[c, -s], [s, c]]) @ away)
            way = 1.0 if end[0] >= at[0] else -1.0
            middle = end + np.array([way * (width(label.words) / 2 + PAD), 0.0])
            box = _box_of(middle, label.words, 0.0, width)
            if fits(box):
                drawn.lines.append(np.stack([at, end]))
                drawn.arrows.append(_arrow(at, (end - at) / reach))
                drawn.texts.append(Text(middle - np.array([0.0, TEXT / 3]), label.words))
                return [box]
    return []


def _arrow(tip: Array, back: Array) -> Array:
    """An arrow head (3, 2) whose shaft goes from its tip in the unit direction ``back`` (2,)."""
    left = np.array([-back[1], back[0]])
    return np.stack([tip + ARROW * back + ARROW / 3 * left, tip, tip + ARROW * back - ARROW / 3 * left])


def _box_of(middle: Array, words: str, angle: float, width: Width) -> tuple[Array, Array]:
    """The lowest and the highest corner (2,) of words about a place."""
    half = np.array([width(words) / 2, TEXT / 2])
    c, s = abs(math.cos(angle)), abs(math.sin(angle))
    reach = np.array([c * half[0] + s * half[1], s * half[0] + c * half[1]])
    return middle - reach, middle + reach


def _free(box: tuple[Array, Array], taken: Sequence[tuple[Array, Array]], crowd: Array) -> bool:
    low, high = box[0] - PAD, box[1] + PAD
    if any(bool(np.all(low < other[1]) and np.all(other[0] < high)) for other in taken):
        return False
    return not bool(np.any(np.all((crowd > low) & (crowd < high), axis=1)))


def _dense(lines: Sequence[Array]) -> Array:
    """Places (n, 2) along lines, so near to each other that letters do not fit between them."""
    found = [np.zeros((0, 2))]
    for line in lines:
        steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
        at = np.concatenate([[0.0], np.cumsum(steps)])
        s = np.linspace(0.0, at[-1], max(2, math.ceil(at[-1] / STEP) + 1))
        found.append(np.column_stack([np.interp(s, at, line[:, i]) for i in (0, 1)]))
    return np.vstack(found)

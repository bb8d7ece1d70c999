"""The three views of a sheet on paper, with the sizes that matter."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np
from reportlab.graphics.shapes import Drawing, Group, Path, PolyLine, String
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth

from leadline.core.geometry.dimensions import Dimension
from leadline.core.geometry.hidden_lines import Drawable
from leadline.core.geometry.plane import Array
from leadline.core.geometry.views import View, views_of
from leadline.core.units import LengthUnit
from leadline.exports.dimensioning import FIRST, LANE, TEXT, Drawn, Seen, laid_out, shared_out
from leadline.exports.svg import VIEWS

INK, SOFT = HexColor("#1e2b38"), HexColor("#5b6672")
SHOWN = ("front", "left", "top")
HEIGHT = 76 * mm  # of all views, with their sizes
APART = 7 * mm  # from one view, with its sizes, to the next
ABOVE = 6 * mm  # of a view, and to its right where there is something written about it
NOTED = 12 * mm
WIDE, NARROW = 0.35 * mm, 0.18 * mm
FONT = "Vera"


def sheet_views(drawn: Sequence[Drawable], sizes: Sequence[Dimension], width: float, unit: LengthUnit) -> Drawing:
    """Bodies seen from the front, the left and above, side by side at one scale in so many points of ``width``, hidden
    lines dashed; a size stands in a view that shows it in full.
    """
    eyes = {name: VIEWS[name] for name in SHOWN}
    views = views_of(drawn, eyes)
    seen = shared_out(sizes, eyes, _boxes(drawn), unit)
    margins, scale = _fitted(seen, width)
    spans = {name: (view.high - view.low) * scale for name, view in seen.items()}
    below = max(m[1] for m in margins.values())  # of all alike, so that the views stand on one line
    height = below + max(float(span[1]) for span in spans.values()) + ABOVE
    drawing = Drawing(width, height)
    drawing.add(
        String(width, height - TEXT, f"Sizes in {unit}", fontName=FONT, fontSize=TEXT, fillColor=SOFT, textAnchor="end")
    )
    left = 0.0
    for name, view in views.items():
        before, _, after = margins[name]
        right = left + before + float(spans[name][0]) + after
        base = np.array([left + before, below]) - seen[name].low * scale
        drawing.add(_drawn(view, seen[name], base, scale, (np.array([left, 0.0]), np.array([right, height]))))
        left = right + APART
    return drawing


def _boxes(drawn: Sequence[Drawable]) -> dict[str, tuple[Array, Array]]:
    """How far bodies reach in each view, its lowest and highest corner (2,) in mm, by the points of their meshes."""
    points = np.vstack([one.mesh.points for one in drawn])
    found = {}
    for name in SHOWN:
        towards, right = VIEWS[name]
        flat = points @ np.stack([right, np.cross(towards, right)]).T
        low = flat.min(axis=0)
        found[name] = low, np.maximum(flat.max(axis=0), low + 1e-6)
    return found


def _fitted(seen: Mapping[str, Seen], width: float) -> tuple[dict[str, tuple[float, float, float]], float]:
    """The room left of each view, below it and to its right, in points, and how many points a mm has: the more, the
    fewer lines of sizes.
    """
    scale = math.inf
    margins: dict[str, tuple[float, float, float]] = dict.fromkeys(seen, (0.0, 0.0, 0.0))
    for _ in range(3):  # a smaller scale may need more lines, and those more room
        across = width - sum(m[0] + m[2] for m in margins.values()) - APART * (len(seen) - 1)
        down = HEIGHT - max(m[1] for m in margins.values()) - ABOVE
        sizes = {name: view.high - view.low for name, view in seen.items()}
        scale = min(
            scale, across / sum(float(s[0]) for s in sizes.values()), down / max(float(s[1]) for s in sizes.values())
        )
        for name, view in seen.items():
            below, left = view.lanes(scale, _width)
            noted = NOTED if view.labels or any(s.way is None for s in view.spans) else 0.0
            margins[name] = FIRST + left * LANE, FIRST + below * LANE, noted
    return margins, scale


def _drawn(view: View, seen: Seen, base: Array, scale: float, room: tuple[Array, Array]) -> Group:
    """A view and its sizes between two corners (2,) of the paper, the view's origin at ``base``."""
    group = Group()
    for lines, wide, dash in ((view.hidden, NARROW, [2, 1.5]), (view.visible, WIDE, None)):
        drawn = Path(strokeColor=INK, strokeWidth=wide, strokeDashArray=dash, fillColor=None)
        for line in lines:
            first, *others = (base + line * scale).tolist()
            drawn.moveTo(*first)
            for place in others:
                drawn.lineTo(*place)
        group.add(drawn)
    own = [base + line * scale for line in (*view.visible, *view.hidden)]
    _written(group, laid_out(seen, lambda p: base + p * scale, scale, own, room, _width))
    return group


def _written(group: Group, sizes: Drawn) -> None:
    for line in (*sizes.lines, *sizes.arrows):
        group.add(PolyLine(line.ravel().tolist(), strokeColor=SOFT, strokeWidth=NARROW))
    for text in sizes.texts:
        words = Group(String(0, 0, text.words, fontName=FONT, fontSize=TEXT, fillColor=INK, textAnchor="middle"))
        words.translate(*text.at)
        words.rotate(math.degrees(text.angle))
        group.add(words)


def _width(words: str) -> float:
    """Points that words are wide."""
    return float(stringWidth(words, FONT, TEXT))

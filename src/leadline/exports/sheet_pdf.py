"""A sheet as PDF: A4, with the views of what it is of, its rows and its figures."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

import numpy as np
from pydantic import BaseModel
from reportlab.graphics.shapes import Drawing, Group, Line, Path, PolyLine, String
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from leadline.core.geometry.plane import Array
from leadline.core.solids.body import Body
from leadline.core.solids.tessellate import mesh_points
from leadline.core.solids.views import View, views_of
from leadline.core.trades.general_tolerance import Grade
from leadline.core.units import LENGTH_UNITS, LengthUnit, format_length
from leadline.exports.svg import VIEWS, box_of
from leadline.recipe.sheets import columns_of, figures_of, tolerances_of

INK, SOFT, RULE = HexColor("#1e2b38"), HexColor("#5b6672"), HexColor("#cfc7b4")
SHOWN = ("front", "left", "top")
VIEW_HEIGHT = 62 * mm
ARROW = 1.2 * mm
WIDE, NARROW = 0.35 * mm, 0.18 * mm
DIGITS, DECIMALS = 5, {"mm": 3, "in": 4}  # of plain numbers in all, of lengths after the point
CHORD_SHARE, ANGLE = 2e-3, 0.45  # of the views: they are drawn small


@dataclass(frozen=True)
class Heading:
    """Whose sheet it is: its ``title``, the ``part`` and its ``step``, which ``revision`` it tells of, when it was made (ISO 8601) and by whom, "" if that is not said; general tolerances are of the ``grade``."""

    title: str
    part: str
    step: str
    revision: int
    made: str
    by: str = ""
    grade: Grade | None = None


def sheet_pdf(sheet: BaseModel, heading: Heading, bodies: Sequence[Body], unit: LengthUnit) -> bytes:
    """A sheet on A4 with three views of bodies, hidden lines dashed, and their sizes."""
    _fonts()
    out = io.BytesIO()
    text = ParagraphStyle("text", fontName="Vera", fontSize=8.5, leading=11, textColor=INK)
    head = ParagraphStyle("head", parent=text, fontName="VeraBd", fontSize=15, leading=20)
    soft = ParagraphStyle("soft", parent=text, textColor=SOFT)
    flow: list[Any] = [Paragraph(escape(f"{heading.title} sheet: {heading.step}"), head), Paragraph(escape(_whose(heading)), soft), Spacer(1, 4 * mm)]
    width = A4[0] - 36 * mm
    if bodies:
        views = views_of(bodies, {name: VIEWS[name] for name in SHOWN}, CHORD_SHARE, ANGLE)
        flow += [_drawn(views, _sizes(bodies), width, unit), Spacer(1, 4 * mm)]
    flow += [_rows(sheet, unit, width, heading.grade), Spacer(1, 4 * mm), _figures(sheet, unit, width, heading.grade)]
    page = SimpleDocTemplate(out, pagesize=A4, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=16 * mm, bottomMargin=16 * mm, title=f"{heading.title} of {heading.step}", author=heading.by or "Lead Line")
    page.build(flow)
    return out.getvalue()


def _whose(heading: Heading) -> str:
    said = f"Part “{heading.part}”, revision {heading.revision}, {heading.made}"
    said = f"{said}, made by {heading.by}" if heading.by else said
    return f"{said}. General tolerances ISO 2768-{heading.grade}" if heading.grade else said


def _fonts() -> None:
    for name, file in (("Vera", "Vera.ttf"), ("VeraBd", "VeraBd.ttf")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, file))


def _rows(sheet: BaseModel, unit: LengthUnit, width: float, grade: Grade | None) -> Table | Spacer:
    rows: list[Any] = sheet.rows  # type: ignore[attr-defined]  # every sheet has them
    columns = {k: f for k, f in columns_of(sheet).items() if any(getattr(row, k) is not None for row in rows)}
    if not rows:
        return Spacer(1, 0)
    cell = ParagraphStyle("cell", fontName="VeraBd", fontSize=7.5, leading=9, textColor=SOFT, alignment=2)
    table: list[list[Any]] = [[Paragraph(escape(_titled(f, unit)), cell) for f in columns.values()]]
    for row in rows:
        off = tolerances_of(row, grade)
        table.append([_written(getattr(row, k), f, unit) + _off(off.get(k), f, unit, "\n") for k, f in columns.items()])
    made = Table(table, colWidths=[width / len(columns)] * len(columns), repeatRows=1)
    made.setStyle(TableStyle([*_plain(), ("ALIGN", (0, 0), (-1, -1), "RIGHT")]))
    return made


def _figures(sheet: BaseModel, unit: LengthUnit, width: float, grade: Grade | None) -> Table:
    off = tolerances_of(sheet, grade)
    known = [(f["title"] or k, _written(getattr(sheet, k), f, unit) + _off(off.get(k), f, unit) + _unit_of(f, unit)) for k, f in figures_of(sheet).items() if getattr(sheet, k) not in (None, "")]
    half = (len(known) + 1) // 2
    left, right = known[:half], known[half:]
    right += [("", "")] * (half - len(right))
    table = Table([[*a, "", *b] for a, b in zip(left, right, strict=True)], colWidths=[width * share for share in (0.3, 0.175, 0.05, 0.3, 0.175)])
    table.setStyle(TableStyle([*_plain(), ("ALIGN", (1, 0), (1, -1), "RIGHT"), ("ALIGN", (4, 0), (4, -1), "RIGHT"), ("TEXTCOLOR", (0, 0), (0, -1), SOFT), ("TEXTCOLOR", (3, 0), (3, -1), SOFT)]))
    return table


def _plain() -> list[Any]:
    return [
        ("FONT", (0, 0), (-1, -1), "Vera", 8), ("TEXTCOLOR", (0, 0), (-1, -1), INK), ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
        ("TOPPADDING", (0, 0), (-1, -1), 2.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5), ("LEFTPADDING", (0, 0), (-1, -1), 2), ("RIGHTPADDING", (0, 0), (-1, -1), 2),
    ]  # fmt: skip


def _titled(field: Mapping[str, str | None], unit: LengthUnit) -> str:
    return f"{field['title']}{ {'length': f' ({unit})', 'angle': ' (°)'}.get(field['measure'] or '', '')}"


def _unit_of(field: Mapping[str, str | None], unit: LengthUnit) -> str:
    return {"length": f" {unit}", "angle": "°"}.get(field["measure"] or "", "")


def _off(tolerance: float | None, field: Mapping[str, str | None], unit: LengthUnit, apart: str = " ") -> str:
    if tolerance is None:
        return ""
    if field["measure"] != "angle":
        return f"{apart}±{tolerance / (LENGTH_UNITS[unit] if field['measure'] == 'length' else 1):.3g}"
    degrees, minutes = divmod(round(60 * tolerance), 60)
    return f"{apart}±{degrees}°" + (f"{minutes}'" if minutes else "")


def _written(value: object, field: Mapping[str, str | None], unit: LengthUnit) -> str:
    if isinstance(value, bool) or not isinstance(value, int | float):
        return "" if value is None else ("yes" if value else "no") if isinstance(value, bool) else str(value)
    number = value / LENGTH_UNITS[unit] if field["measure"] == "length" else value
    if field["measure"] == "length":
        return f"{number:.{DECIMALS[unit]}f}".rstrip("0").rstrip(".")
    return f"{number:.{DIGITS}g}"


def _sizes(bodies: Sequence[Body]) -> dict[str, Array]:
    """How wide and how high bodies are in each view, mm (2,), by the points of the meshes that they have been drawn by."""
    points = np.vstack([mesh_points(body) for body in bodies])
    axes = {name: np.stack([right, np.cross(towards, right)]) for name, (towards, right) in VIEWS.items() if name in SHOWN}
    return {name: np.maximum(np.ptp(points @ pair.T, axis=0), 1e-6) for name, pair in axes.items()}


def _drawn(views: Mapping[str, View], sizes: Mapping[str, Array], width: float, unit: LengthUnit) -> Drawing:
    """The views side by side at one scale, each with how wide and how high it is."""
    boxes = {name: box_of(view) for name, view in views.items()}
    room = width - 14 * mm * len(views)
    scale = min(room / sum(float(s[0]) for s in sizes.values()), (VIEW_HEIGHT - 12 * mm) / max(float(s[1]) for s in sizes.values()))
    drawing = Drawing(width, VIEW_HEIGHT)
    left = 0.0
    for name, view in views.items():
        low, size = boxes[name][0], sizes[name] * scale
        group = Group()
        base = np.array([left + 10 * mm, 9 * mm])
        for lines, wide, dash in ((view.hidden, NARROW, [2, 1.5]), (view.visible, WIDE, None)):
            drawn = Path(strokeColor=INK, strokeWidth=wide, strokeDashArray=dash, fillColor=None)
            for line in lines:
                first, *others = (base + (line - low) * scale).tolist()
                drawn.moveTo(*first)
                for place in others:
                    drawn.lineTo(*place)
            group.add(drawn)
        _sized(group, base, size, sizes[name], unit)
        drawing.add(group)
        left += float(size[0]) + 14 * mm
    return drawing


def _sized(group: Group, base: Array, size: Array, real: Array, unit: LengthUnit) -> None:
    """How wide and how high a view is, beside it with arrows."""
    x0, y0, x1, y1 = base[0], base[1], base[0] + size[0], base[1] + size[1]
    low, left = y0 - 4 * mm, x0 - 4 * mm
    for a, b in (((x0, low), (x1, low)), ((left, y0), (left, y1))):
        group.add(Line(*a, *b, strokeColor=SOFT, strokeWidth=NARROW))
    for x, way in ((x0, 1), (x1, -1)):
        group.add(PolyLine([x + way * ARROW, low + ARROW / 3, x, low, x + way * ARROW, low - ARROW / 3], strokeColor=SOFT, strokeWidth=NARROW))
    for y, way in ((y0, 1), (y1, -1)):
        group.add(PolyLine([left - ARROW / 3, y + way * ARROW, left, y, left + ARROW / 3, y + way * ARROW], strokeColor=SOFT, strokeWidth=NARROW))
    group.add(String((x0 + x1) / 2, low - 3.2 * mm, format_length(float(real[0]), unit), fontName="Vera", fontSize=7, fillColor=INK, textAnchor="middle"))
    upright = Group(String(0, 0, format_length(float(real[1]), unit), fontName="Vera", fontSize=7, fillColor=INK, textAnchor="middle"))
    upright.translate(left - 1 * mm, (y0 + y1) / 2)
    upright.rotate(90)
    group.add(upright)

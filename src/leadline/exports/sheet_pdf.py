"""A sheet as PDF: A4, with the views of what it is of, its rows and its figures."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

from pydantic import BaseModel
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from leadline.core.geometry.dimensions import Dimension
from leadline.core.geometry.hidden_lines import Drawable
from leadline.core.trades.general_tolerance import Grade
from leadline.core.units import LENGTH_UNITS, LengthUnit
from leadline.exports.dimensioning import number
from leadline.exports.sheet_views import INK, SOFT, sheet_views
from leadline.recipe.sheets import columns_of, figures_of, tolerances_of

RULE = HexColor("#cfc7b4")
DIGITS = 5  # of plain numbers


@dataclass(frozen=True)
class Heading:
    """Whose sheet it is: its ``title``, the ``part`` and its ``step``, which ``revision`` it tells of, when it was made
    (ISO 8601) and by whom, "" if that is not said; general tolerances are of the ``grade``.
    """

    title: str
    part: str
    step: str
    revision: int
    made: str
    by: str = ""
    grade: Grade | None = None


def sheet_pdf(
    sheet: BaseModel, heading: Heading, drawn: Sequence[Drawable], unit: LengthUnit, sizes: Sequence[Dimension] = ()
) -> bytes:
    """A sheet on A4 with three views of bodies, hidden lines dashed, and the ``sizes`` that matter in them."""
    _fonts()
    out = io.BytesIO()
    text = ParagraphStyle("text", fontName="Vera", fontSize=8.5, leading=11, textColor=INK)
    head = ParagraphStyle("head", parent=text, fontName="VeraBd", fontSize=15, leading=20)
    soft = ParagraphStyle("soft", parent=text, textColor=SOFT)
    flow: list[Any] = [
        Paragraph(escape(f"{heading.title} sheet: {heading.step}"), head),
        Paragraph(escape(_whose(heading)), soft),
        Spacer(1, 4 * mm),
    ]
    width = A4[0] - 36 * mm
    if drawn:
        flow += [sheet_views(drawn, sizes, width, unit), Spacer(1, 4 * mm)]
    flow += [_rows(sheet, unit, width, heading.grade), Spacer(1, 4 * mm), _figures(sheet, unit, width, heading.grade)]
    page = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=16 * mm,
        bottomMargin=16 * mm,
        title=f"{heading.title} of {heading.step}",
        author=heading.by or "Lead Line",
    )
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
    known = [
        (f["title"] or k, _written(getattr(sheet, k), f, unit) + _off(off.get(k), f, unit) + _unit_of(f, unit))
        for k, f in figures_of(sheet).items()
        if getattr(sheet, k) not in (None, "")
    ]
    half = (len(known) + 1) // 2
    left, right = known[:half], known[half:]
    right += [("", "")] * (half - len(right))
    table = Table(
        [[*a, "", *b] for a, b in zip(left, right, strict=True)],
        colWidths=[width * share for share in (0.3, 0.175, 0.05, 0.3, 0.175)],
    )
    table.setStyle(
        TableStyle(
            [
                *_plain(),
                ("ALIGN", (1, 0), (1, -1), "RIGHT"),
                ("ALIGN", (4, 0), (4, -1), "RIGHT"),
                ("TEXTCOLOR", (0, 0), (0, -1), SOFT),
                ("TEXTCOLOR", (3, 0), (3, -1), SOFT),
            ]
        )
    )
    return table


def _plain() -> list[Any]:
    return [
        ("FONT", (0, 0), (-1, -1), "Vera", 8),
        ("TEXTCOLOR", (0, 0), (-1, -1), INK),
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
        ("TOPPADDING", (0, 0), (-1, -1), 2.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
        ("LEFTPADDING", (0, 0), (-1, -1), 2),
        ("RIGHTPADDING", (0, 0), (-1, -1), 2),
    ]


def _titled(field: Mapping[str, str | None], unit: LengthUnit) -> str:
    return f"{field['title']}{ {'length': f' ({unit})', 'angle': ' (°)'}.get(field['measure'] or '', '') }"


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
    return number(value, unit) if field["measure"] == "length" else f"{value:.{DIGITS}g}"

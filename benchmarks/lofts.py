"""A loft through six sections along a bent centreline, with four rails, beside the kernel's own builder through the
same sections.
"""

from __future__ import annotations

import math

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakePolygon
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections

from benchmarks.timing import best, table, verdict
from leadline.core.geometry.quick import rectangle_section, round_section
from leadline.core.loft.lofted import Lofted, Station, lofted
from leadline.core.loft.outline import Outline
from leadline.core.loft.shares import End
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import pnt
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.mass import measure
from tests.support.loft_sections import along_spine, at

TARGET = 1.0  # of the kernel's time
EXACT = 1e-9  # mm


def report() -> str:
    spine, sections, rails = along_spine(6, 2)
    own, made = best(lambda: _body(lofted(sections, End(), End(), spine, rails)))
    bare, _ = best(lambda: _body(lofted(sections, End(), End(), spine)))
    kernel, _ = best(lambda: _through(sections))
    shape = lofted(sections, End(), End(), spine, rails)
    body = _body(shape)
    volume = measure(shape.motion, [shape.region]).volume
    frustum = lofted([at(0, round_section(20)), at(30, round_section(10))], End(), End())
    pyramid = lofted([at(0, rectangle_section(20, 20)), at(30, rectangle_section(10, 10))], End(), End())
    rows = [
        [
            "six sections, four rails: ms; as a share of the kernel's without rails",
            f"{own * 1e3:.0f}; {own / kernel:.2f}",
            f"{TARGET:g}",
            verdict(own <= TARGET * kernel),
        ],
        ["the same without rails", f"{bare * 1e3:.0f}; {bare / kernel:.2f}", "", ""],
        [
            "… valid, volume off its quadrature by",
            f"{abs(made.volume() / volume - 1):.1e}",
            "1e-06",
            verdict(body.valid() and abs(body.volume() / volume - 1) < 1e-6),
        ],
        [
            "… end sections off by, mm",
            f"{_ends_off(shape, sections):.1e}",
            f"{EXACT:g}",
            verdict(_ends_off(shape, sections) < EXACT),
        ],
        ["… rails missed by, mm", f"{_rails_off(shape):.1e}", "0.0001", verdict(_rails_off(shape) < 1e-4)],
        [
            "cone frustum, volume off by",
            f"{_off(frustum, math.pi * 10 * 175):.1e}",
            "1e-06",
            verdict(_off(frustum, math.pi * 10 * 175) < 1e-6),
        ],
        [
            "pyramid frustum, volume off by",
            f"{_off(pyramid, 7000.0):.1e}",
            "1e-06",
            verdict(_off(pyramid, 7000.0) < 1e-6),
        ],
    ]
    return table("Lofts", ["what", "reached", "target", ""], rows)


def _body(shape: Lofted) -> Body:
    (body,) = sweep_bodies(shape.motion, [shape.region], "loft", "Loft")
    return body


def _through(sections: list[Station]) -> object:
    builder = BRepOffsetAPI_ThruSections(True, False, 1e-6)
    for section in sections:
        assert section.plane is not None
        assert section.region is not None
        wire = BRepBuilderAPI_MakePolygon()
        for edge in section.region.outer.edges:
            wire.Add(pnt(section.plane.to_space(edge.start)))
        wire.Close()
        builder.AddWire(wire.Wire())
    builder.Build()
    return builder.Shape()


def _off(shape: Lofted, exact: float) -> float:
    return abs(measure(shape.motion, [shape.region]).volume / exact - 1)


def _ends_off(shape: Lofted, sections: list[Station]) -> float:
    points = np.vstack([e.point(np.linspace(*e.domain, 9)) for e in shape.region.outer.edges])
    there = shape.motion.frames(shape.stations[[0, -1]]).at(points)
    off = 0.0
    for section, places in zip((sections[0], sections[-1]), there, strict=True):
        assert section.plane is not None
        assert section.region is not None
        outline = Outline(section.region.outer)
        off = max(
            off,
            float(np.abs(section.plane.height(places)).max()),
            *(outline.nearest(p)[1] for p in section.plane.to_plane(places)),
        )
    return off


def _rails_off(shape: Lofted) -> float:
    s = np.linspace(0, shape.motion.length, 301)
    frames, blend = shape.motion.frames(s), shape.motion.blend
    assert blend is not None
    off = 0.0
    for rail, anchor in zip(blend.rails, blend.anchors, strict=True):
        held = next(e.start for e in shape.region.outer.edges if np.allclose(e.start[: len(anchor)], anchor))
        off = max(off, float(np.abs(frames.at(held[None])[:, 0] - rail.points(s, frames)[0]).max()))
    return off

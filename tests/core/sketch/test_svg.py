"""SVG out and in: the same shapes come back, and what is no honest drawing is refused."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.outline import coordinates, entity_edges, regions
from leadline.core.sketch.svg import read_svg, write_svg
from tests.support.shapes import Draw, filleted_rectangle, slot

NUMBERS = st.floats(-200, 200).map(lambda v: round(v, 3))


def outline_points(sketch: Sketch) -> np.ndarray:
    """Points all along the drawn curves, the middle of the drawing at the origin."""
    at = coordinates(sketch)
    p = np.vstack([e.point(np.linspace(*e.domain, 40)) for x in sketch.entities for e in entity_edges(x, at, sketch)])
    return p


def same_shape(a: Sketch, b: Sketch) -> None:
    p, q = outline_points(a), outline_points(b)
    size = np.ptp(p, axis=0).max()
    shift = (p.min(axis=0) + p.max(axis=0) - q.min(axis=0) - q.max(axis=0)) / 2
    q = q + shift
    gaps = np.linalg.norm(p[:, None] - q[None], axis=2)
    step = max(np.linalg.norm(np.diff(p, axis=0), axis=1).max(), 1e-6)
    assert max(gaps.min(axis=0).max(), gaps.min(axis=1).max()) < max(0.6 * min(step, size), 1e-4 * size)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(NUMBERS, NUMBERS), min_size=3, max_size=8, unique=True), st.floats(0.5, 80), st.floats(0.05, 6.2)
)
def test_lines_arcs_and_splines_come_back(corners, radius, sweep):
    d = Draw()
    for i, (x, y) in enumerate(corners):
        d.point(f"p{i}", x, y)
    for i in range(len(corners) - 1):
        d.line(f"l{i}", f"p{i}", f"p{i + 1}")
    far = 1000
    d.point("c", far, 0)
    d.point("s", far + radius, 0)
    d.point("e", far + radius * math.cos(sweep), radius * math.sin(sweep))
    d.arc("arc", "c", "s", "e")
    for i, (x, y) in enumerate(corners):
        d.point(f"q{i}", x, y + 2000)
    d.spline("sp", *(f"q{i}" for i in range(len(corners))))
    back = read_svg(write_svg(d.sketch()).encode())
    assert back.scale == pytest.approx(1, rel=1e-6)
    at, (arc,) = coordinates(back.sketch), [e for e in back.sketch.entities if e.kind == "arc"]
    assert np.hypot(*(at[arc.start] - at[arc.center])) == pytest.approx(radius, rel=1e-5)
    u, v = at[arc.start] - at[arc.center], at[arc.end] - at[arc.center]
    turn = (math.atan2(v[1], v[0]) - math.atan2(u[1], u[0])) % (2 * math.pi)
    assert turn == pytest.approx(sweep, abs=1e-4)
    splines = [e for e in back.sketch.entities if e.kind == "control_spline"]
    assert len(splines) == len(corners) - 1
    lines = [e for e in back.sketch.entities if e.kind == "line"]
    lengths = [math.dist(a, b) for a, b in itertools.pairwise(corners)]
    assert [math.dist(at[e.start], at[e.end]) for e in lines] == pytest.approx(lengths, rel=1e-5, abs=1e-5)


@pytest.mark.parametrize("draw", [slot, filleted_rectangle])
def test_closed_outlines_come_back_as_regions(draw):
    sketch = draw().sketch()
    back = read_svg(write_svg(sketch).encode()).sketch
    assert regions(back)[0].area == pytest.approx(regions(sketch)[0].area, rel=1e-6)
    same_shape(sketch, back)


@given(st.floats(1, 90), st.floats(0.2, 0.95), st.floats(0, 6.2), st.one_of(st.none(), st.floats(0.2, 6.0)))
def test_ellipses_and_their_arcs_come_back(major, ratio, turn, sweep):
    d = Draw()
    u = np.array([math.cos(turn), math.sin(turn)])
    v = np.array([-u[1], u[0]])
    d.point("c", 3, 4)
    d.point("m", *(np.array([3, 4]) + major * u))
    ends = []
    if sweep is not None:
        d.point("s", *(np.array([3, 4]) + major * u))
        d.point("e", *(np.array([3, 4]) + major * math.cos(sweep) * u + ratio * major * math.sin(sweep) * v))
        ends = ["s", "e"]
    d.ellipse("el", "c", "m", ratio * major, *ends)
    back = read_svg(write_svg(d.sketch()).encode()).sketch
    (el,) = back.entities
    at = coordinates(back)
    assert np.hypot(*(at[el.major] - at[el.center])) == pytest.approx(major, rel=1e-5)
    assert el.minor == pytest.approx(ratio * major, rel=1e-5)
    same_shape(d.sketch(), back)


@pytest.mark.parametrize(
    ("head", "answer", "side"),
    [
        ('width="50mm" viewBox="0 0 100 100"', None, 10),
        ('width="2in" viewBox="0 0 2 2"', None, 25.4 * 20),
        ('viewBox="0 0 100 100"', None, 20),
        ('viewBox="0 0 100 100"', 25.4 / 96, 20 * 25.4 / 96),
        ('width="96" height="96"', None, 20),
    ],
)
def test_units_come_from_the_box_or_from_an_answer(head, answer, side):
    text = (
        f'<svg xmlns="http://www.w3.org/2000/svg" {head}><g transform="translate(5 5)"><rect width="20" '
        'height="20"/></g></svg>'
    )
    drawing = read_svg(text.encode(), answer)
    assert regions(drawing.sketch)[0].area == pytest.approx(side * side)
    assert (drawing.scale is None) == ("mm" not in head and "in" not in head.replace("viewBox", ""))


def test_shapes_of_svg_are_read_and_texts_left_out():
    text = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><polygon points="0,0 40,0 40,30"/>
    <circle cx="60" cy="60" r="9"/><ellipse cx="20" cy="70" rx="5" ry="8" transform="rotate(20 20 70)"/>
    <path d="M50 10 q 10 10 20 0 t 20 0"/><text x="1" y="1">no</text></svg>"""
    drawing = read_svg(text.encode())
    assert sorted(e.kind for e in drawing.sketch.entities) == [
        "circle",
        "control_spline",
        "control_spline",
        "ellipse",
        "line",
        "line",
        "line",
    ]
    assert drawing.skipped == ["1 × text"]


BOMB = """<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>
<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0 L1 1"/><text>&b;</text></svg>"""
SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">{}</svg>'


@pytest.mark.parametrize(
    ("text", "why"),
    [
        (BOMB, "entities"),
        ('<!DOCTYPE svg SYSTEM "file:///etc/passwd"><svg/>', "holds no|entities|not well-formed"),
        (SVG.format("<script>alert(1)</script>"), "script"),
        (SVG.format('<path d="M0 0 L NaN 1"/>'), "that is none"),
        (SVG.format('<circle cx="nan" cy="0" r="1"/>'), "that is none"),
        (SVG.format('<path d="M0 0 L 1e300 1"/>'), "cannot be read"),
        (SVG.format('<path d="M0 0 L1 1"/>' * 100_000), "more than 3000|larger than"),
        (SVG.format("<text>a</text>"), "holds no"),
        ("<html><body/></html>", "is not SVG"),
        ("<svg", "not well-formed"),
        ("", "not well-formed"),
        (SVG.format(f'<path transform="{"rotate(" * 500}" d="M0 0 L1 1"/>'), "transforms of more than 1000 characters"),
        (
            SVG.format('<g transform="scale(1)">' * 200 + '<path d="M0 0 L1 1"/>' + "</g>" * 200),
            "transforms of more than 1000 characters",
        ),
        (SVG.format(f'<path d="M0 0{"L1 1z" * 4000}"/>'), "more than 7500 commands"),
        (SVG.format(f'<path d="M0 0 {"1 2 " * 30_000}"/>'), "more than 7500 commands"),
        (SVG.format(f'<polyline points="{"1 2 " * 30_000}"/>'), "more than 7500 commands"),
        (
            SVG.format(f'<path d="M0 0{"".join(f"C{i} 1 {i} 2 {i} 3" for i in range(1, 1100))}"/>'),
            "more than 3000 points",
        ),
    ],
)
def test_bad_svg_is_refused_with_a_reason(text, why):
    with pytest.raises(Problem, match=why) as caught:
        read_svg(text.encode())
    assert caught.value.message.way_out
    assert caught.value.message.code == "bad-svg"


def test_what_is_closed_again_and_again_is_closed_once():
    """Each further time was looked for through the whole path: 8,000 times took twelve seconds."""
    drawing = read_svg(SVG.format(f'<path d="M0 0h3v3h-3z{" z Z" * 3500}"/>').encode())
    assert [e.kind for e in drawing.sketch.entities] == ["line"] * 4

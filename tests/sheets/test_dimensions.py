"""The sizes on the drawings of sheets: what they are, that each is written at its true place, and that nothing is
written over anything else.
"""

import io
import math
from itertools import combinations, pairwise

import numpy as np
import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.dimensions import Note, Span
from leadline.core.paths.path import Path
from leadline.core.paths.path_dimensions import path_dimensions
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.paths.route import through_points
from leadline.exports.dimensioning import TEXT, laid_out, number, shared_out
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.exports.svg import VIEWS
from leadline.recipe.build import Memory, build
from leadline.recipe.sheets import drawn_sizes, make_sheet
from tests.support import springs, threads, tubes

EYES = {name: VIEWS[name] for name in ("front", "left", "top")}
CASE = np.array([[0, 0, 0], [0, 0, 200], [150, 0, 200], [150, 120, 200.0]])
coordinate = st.floats(-90, 90)


def wide(words: str) -> float:
    return 4.2 * len(words)


# -- what a path is drawn with ---------------------------------------------------------------------------


def test_the_check_case_is_drawn_from_corner_to_corner():
    sizes = path_dimensions(through_points(CASE, [40.0] * 4).path)
    spans, notes = [s for s in sizes if isinstance(s, Span)], [s for s in sizes if isinstance(s, Note)]
    assert np.array([[s.a, s.b] for s in spans]) == pytest.approx(np.array(list(pairwise(CASE))), abs=1e-9)
    assert [(n.before, n.size, n.after) for n in notes] == [("R", pytest.approx(40), "")] * 2
    assert [abs(float(n.facing @ way)) for n, way in zip(notes, ([0, 1, 0], [0, 0, 1]), strict=True)] == pytest.approx(
        [1, 1]
    )


@given(st.lists(st.tuples(coordinate, coordinate, coordinate), min_size=3, max_size=6), st.floats(0.05, 0.4))
def test_the_corners_of_any_route_are_found_again_from_its_bends(points, share):
    corners = np.array(points)
    legs = np.diff(corners, axis=0)
    lengths = np.linalg.norm(legs, axis=1)
    if lengths.min() < 5:
        return
    turns = [
        math.acos(float(np.clip(a @ b / (m * n), -1, 1)))
        for (a, m), (b, n) in pairwise(zip(legs, lengths, strict=True))
    ]
    if min(turns) < 0.05 or max(turns) > math.radians(145):
        return
    radii = [share * min(m, n) / math.tan(turn / 2) for (m, n), turn in zip(pairwise(lengths), turns, strict=True)]
    sizes = path_dimensions(through_points(corners, [0.0, *radii, 0.0]).path)
    assert [s.size for s in sizes if isinstance(s, Span)] == pytest.approx(lengths.tolist(), rel=1e-9)
    notes = [s for s in sizes if isinstance(s, Note)]
    assert [n.size for n in notes] == pytest.approx(radii, rel=1e-9)
    said = [90.0 if n.after == "" else float(n.after.strip(", °")) for n in notes]
    assert said == pytest.approx(np.degrees(turns).tolist(), abs=1e-3)


def test_a_bend_back_has_no_corner_and_sharp_corners_have():
    x, y, z = np.eye(3)
    back = Path(
        [
            LinePiece(0 * x, 30 * x, "a"),
            ArcPiece(30 * x + 10 * y, -y, x, 10.0, math.pi),
            LinePiece(30 * x + 20 * y, 20 * y, "b"),
        ]
    )
    assert [(s.a.tolist(), s.b.tolist()) for s in path_dimensions(back) if isinstance(s, Span)] == [
        ([0, 0, 0], [30, 0, 0]),
        (pytest.approx([30, 20, 0]), pytest.approx([0, 20, 0])),
    ]
    kinked = Path([LinePiece(0 * x, 30 * x, "a"), LinePiece(30 * x, 30 * x + 5 * z, "b")])
    assert [s.size for s in path_dimensions(kinked)] == [30, 5]


# -- where they are written ------------------------------------------------------------------------------


def box_of(text):
    """The letters of a text as four corners."""
    along, up = (
        np.array([math.cos(text.angle), math.sin(text.angle)]),
        np.array([-math.sin(text.angle), math.cos(text.angle)]),
    )
    half = wide(text.words) / 2
    return np.array([text.at + a * along + b * up for a in (-half, half) for b in (0, TEXT * 0.7)]), along, up


def overlap(first, second):
    """Whether two turned boxes share room: no axis of theirs parts them."""
    (a, *axes_a), (b, *axes_b) = first, second
    return all(min((a @ n).max(), (b @ n).max()) - max((a @ n).min(), (b @ n).min()) > 0.1 for n in (*axes_a, *axes_b))


place = st.tuples(coordinate, coordinate, coordinate).map(lambda p: np.round(np.array(p), 1))
spans = st.builds(lambda a, b, way: Span(a, np.where(np.eye(3)[way] > 0, b, a)), place, place, st.integers(0, 2))
slanted = st.builds(lambda a, b, way: Span(a, np.where(np.eye(3)[way] > 0, a, b)), place, place, st.integers(0, 2))
notes = st.builds(
    lambda at, away, size: Note(at, away / max(float(np.linalg.norm(away)), 1.0), size, before="R"),
    place,
    place,
    st.floats(1, 99),
)


@settings(max_examples=60)
@given(
    st.lists(st.one_of(spans, slanted, notes), min_size=1, max_size=9),
    st.floats(0.6, 2.5),
    st.sampled_from(["mm", "in"]),
)
def test_sizes_are_written_once_at_their_places_and_never_over_each_other(sizes, scale, unit):
    boxes = {name: (np.array([-100.0, -100]), np.array([100.0, 100])) for name in EYES}
    seen = shared_out(sizes, EYES, boxes, unit)
    expected = {number(s.size, unit) for s in sizes if isinstance(s, Span) and s.size > 0}
    found = set()
    for name, view in seen.items():
        base, room = np.array([400.0, 400]), (np.array([-500.0, -500]), np.array([1500.0, 1500]))
        drawn = laid_out(
            view,
            lambda p, base=base: base + p * scale,
            scale,
            [base + np.array([[-100, -100], [100, 100.0]]) * scale],
            room,
            wide,
        )
        letters = [box_of(t) for t in drawn.texts]
        assert not any(overlap(a, b) for a, b in combinations(letters, 2)), name
        found |= {t.words for t in drawn.texts}
        tips = [arrow[1] for arrow in drawn.arrows]
        true = {t.words: t for t in drawn.texts if not t.words.startswith("R")}
        apart = [float(np.linalg.norm(a - b)) / scale for a, b in combinations(tips, 2)]
        for words in true.keys() & expected:
            mm = float(words) * {"mm": 1, "in": 25.4}[unit]
            assert min(abs(d - mm) for d in apart) < {"mm": 6e-4, "in": 2e-3}[unit]
    level = {
        number(s.size, unit) for s in sizes if isinstance(s, Span) and s.size > 0 and np.count_nonzero(s.b - s.a) == 1
    }
    assert level <= found  # those beside the view always find a place
    assert "200" in found or number(200, unit) in found or "7.874" in found  # how far all reaches


# -- on the sheets ---------------------------------------------------------------------------------------


def drawn_text(asked, step, name, follows):
    """What is read back from the drawing of a sheet's PDF, up to the word that follows it, and its sizes."""
    memory = Memory()
    made, sizes = make_sheet(asked, step, name, memory, whole=True), drawn_sizes(asked, step, name, memory)
    bodies = [b.drawable() for b in build(asked, memory).bodies]
    pdf = sheet_pdf(made, Heading("Sheet", "P", "S", 1, "2031-04-02"), bodies, "mm", sizes)
    return pypdf.PdfReader(io.BytesIO(pdf)).pages[0].extract_text().split("Sizes in mm")[1].split(follows)[
        0
    ].split(), sizes


def test_a_tube_is_drawn_with_its_corners_bends_and_section():
    words, _ = drawn_text(tubes.document(), "bend", "tube", "Bend")
    assert {"200", "150", "120", "R40", "Ø20"} <= set(words)
    words, _ = drawn_text(tubes.document(), "way", "bends", "Bend")
    assert {"200", "150", "120", "R40"} <= set(words)


@pytest.mark.parametrize(
    "fields", [{}, {"ends": "ground"}, {"loads": [{"id": "a", "by": "length", "length": 30}], "shown_under": "a"}]
)
def test_a_pressed_spring_is_drawn_with_the_length_that_its_solid_has(fields):
    result = build(springs.document(springs.spring(**fields)))
    words, sizes = drawn_text(springs.document(springs.spring(**fields)), "s", "spring", "Kind")
    low, high = result.bodies[0].box()
    (length,) = [s for s in sizes if isinstance(s, Span) and s.outermost and not s.before]
    (across,) = [s for s in sizes if isinstance(s, Span) and s.before]
    assert length.size == pytest.approx(30 if fields.get("loads") else 42, abs=1e-3)
    assert (length.size, across.size) == pytest.approx((high[2] - low[2], high[0] - low[0]), abs=0.02)
    assert {number(length.size, "mm"), f"Ø{number(across.size, 'mm')}", "Ø2"} <= set(words)


def test_springs_that_are_pulled_and_turned_are_drawn_with_their_loops_and_legs():
    pulled = {"duty": "extension", "loop_start": "full", "loop_end": "full"}
    words, _ = drawn_text(springs.document(springs.spring(**pulled)), "s", "spring", "Kind")
    told = make_sheet(springs.document(springs.spring(**pulled)), "s", "spring", Memory())
    assert number(told.free, "mm") in words
    turned = {"duty": "torsion", "leg_start": 25, "leg_end": 31}
    words, sizes = drawn_text(springs.document(springs.spring(**turned)), "s", "spring", "Kind")
    assert sorted(s.size for s in sizes if isinstance(s, Span) and not s.outermost) == pytest.approx([25, 31])
    assert {"Ø18", "Ø2"} <= set(words)


def test_a_thread_is_drawn_with_its_length_and_what_it_is_called():
    asked = threads.document(threads.axis(), threads.rod(), threads.on(length=20, tolerance="6g"))
    words, _ = drawn_text(asked, "t", "thread", "Diameter")
    assert "M10 × 1.5 - 6g" in " ".join(words)
    assert "20" in words

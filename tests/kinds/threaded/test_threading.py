"""Threads on bodies: sound solids whose volume is that of the quadrature, what is refused, what is drawn only, and
their sheet.
"""

import io
import math
from itertools import pairwise

import numpy as np
import pypdf
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from leadline.core.geometry.mesh_booleans import as_manifold, closed, combined
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.solids.body import Body
from leadline.core.solids.round_face import round_face_at
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate, triangulated
from leadline.core.solids.threading import threaded
from leadline.core.sweep.motion import Motion
from leadline.core.trades.thread_forms import sizes, tooth
from leadline.core.trades.thread_groove import groove_of
from leadline.core.trades.thread_shape import TURN, Fading, thread
from leadline.exports.sheet_pdf import Heading, sheet_pdf
from leadline.recipe.build import Memory, build
from leadline.recipe.sheets import as_json, make_sheet
from tests.support.parts import XY, XZ, part, polyline, sketch
from tests.support.shapes import Draw, X, Z, disc, ring
from tests.support.threads import axis, document, on, rod

FORMS = ["metric", "trapezoidal", "pipe", "buttress", "square", "knuckle"]


def bar(radius: float, length: float, bore: float | None = None) -> Body:
    path = Path([LinePiece(np.zeros(3), length * Z, "line")], up=X)
    return sweep_bodies(Motion(path), [disc(radius) if bore is None else ring(radius, bore)], "bar", "Bar")[0]


def side_of(body: Body, inside: bool = False) -> str:
    return next(
        n
        for n in body.face_names
        if "/side/" in n and round_face_at(body, n).side == ("inside" if inside else "outside")
    )


def cut(
    body: Body, form: str, pitch: float, start, end, *, left=False, starts=1, major=None, flipped=False, rounded=False
) -> tuple[Body, float]:
    face = side_of(body, major is not None)
    round_face = round_face_at(body, face, flipped)
    made = tooth(
        form,
        round_face.side,
        2 * round_face.radius if major is None else major,
        pitch,
        round_face.radius,
        rounded=rounded,
    )
    shape = thread(
        (round_face.radius, round_face.height),
        round_face.side,
        groove_of(made, round_face.side),
        pitch,
        start,
        end,
        left,
        starts,
    )
    return threaded(body, face, shape, "thread", flipped)


# -- the solid -----------------------------------------------------------------------------------------


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    form=st.sampled_from(FORMS),
    radius=st.floats(3, 40),
    share=st.floats(0.08, 0.2),
    starts=st.integers(1, 3),
    left=st.booleans(),
    rounded=st.booleans(),
    flipped=st.booleans(),
    open_start=st.booleans(),
    open_end=st.booleans(),
    run_out=st.floats(0.3, 2),
    turns=st.floats(4.2, 6),
)
def test_any_thread_on_a_bar_is_sound_and_takes_what_the_quadrature_says(
    form, radius, share, starts, left, rounded, flipped, open_start, open_end, run_out, turns
):
    pitch = max(share * radius, 1.6 if form == "trapezoidal" else 0.0)
    lead = pitch * starts
    length = (turns + 2) * lead
    start = None if open_start else Fading(0.6 * lead, run_out)
    end = None if open_end else Fading(length - 0.4 * lead, run_out)
    body = bar(radius, length)
    made, took = cut(body, form, pitch, start, end, left=left, starts=starts, flipped=flipped, rounded=rounded)
    assert made.valid()
    assert body.volume() - made.volume() == pytest.approx(took, rel=1e-6, abs=2e-7 * body.volume())


@pytest.mark.parametrize(
    ("form", "start", "end", "left"),
    [
        ("metric", None, None, False),
        ("metric", None, Fading(24, 1), True),
        ("knuckle", Fading(4, 0.5), Fading(25, 1.5), False),
    ],
)
def test_a_nut_is_sound_and_loses_what_the_quadrature_says(form, start, end, left):
    body = bar(12, 30, sizes(form, 16, 2).minor_nut / 2)
    made, took = cut(body, form, 2, start, end, left=left, major=16)
    assert made.valid()
    assert body.volume() - made.volume() == pytest.approx(took, rel=1e-6)


def test_a_through_thread_takes_its_groove_and_ends_flat():
    """Carried round, what is d deep takes d (R - d/2) for each mm across and each radian; d changes straight between
    corners.
    """
    body = bar(10, 30)
    made, took = cut(body, "metric", 2, None, None)
    corners = groove_of(tooth("metric", "outside", 20, 2), "outside").corners
    area = sum((b - a) * (p + q) / 2 for (a, p), (b, q) in pairwise(corners))
    squares = sum((b - a) * (p * p + p * q + q * q) / 3 for (a, p), (b, q) in pairwise(corners))
    assert took == pytest.approx((10 * area - squares / 2) * 2 * math.pi * 15, rel=1e-12)
    z = tessellate(made).points[:, 2]
    assert (z.min(), z.max()) == pytest.approx((0, 30), abs=1e-9)


def test_a_rounded_root_leaves_what_its_corners_would_have_taken():
    """Of a corner that turns by τ an arc of radius r leaves r² (tan τ/2 - τ/2); carried round, at the radius of the
    root and a little more.
    """
    body = bar(10, 30)
    (_, sharp), (_, rounded) = (cut(body, "metric", 2, None, None, rounded=r) for r in (False, True))
    radius, turn, root = 0.144337567 * 2, math.radians(60), 10 - 0.613434 * 2
    left = 2 * radius**2 * (math.tan(turn / 2) - turn / 2) * 2 * math.pi * 15
    assert left * root < sharp - rounded < left * (root + radius / 8)


@pytest.mark.parametrize(("form", "lowest"), [("metric", 10 - 0.613434 * 2), ("knuckle", 9)])
def test_every_place_of_the_mesh_is_on_a_rounded_thread(form, lowest):
    body = bar(10, 8)
    base = round_face_at(body, side_of(body)).base
    made, _ = cut(body, form, 2, None, None, rounded=True)
    groove = groove_of(tooth(form, "outside", 20, 2, rounded=True), "outside")
    points = tessellate(made, 0.02).points
    inner = points[(points[:, 2] > 1e-6) & (points[:, 2] < 8 - 1e-6)]
    at = (inner[:, 2] - 2 * np.arctan2(inner @ base.y, inner @ base.x) / TURN) % 2
    at[at > 2 - 1e-9] = 0.0
    radii = np.hypot(inner[:, 0], inner[:, 1])
    assert radii == pytest.approx(10 - groove.depth(at), abs=2e-6)
    assert radii.min() == pytest.approx(lowest, abs=1e-5)


def test_every_place_of_the_mesh_is_on_the_thread():
    """Of an axial section the radius is that of the tooth, wherever it is cut."""
    body = bar(10, 30)
    base = round_face_at(body, side_of(body)).base
    made, _ = cut(body, "metric", 2, None, None)
    profile = tooth("metric", "outside", 20, 2)
    z, r = np.array(profile.corners).T
    points = tessellate(made, 0.02).points
    inner = points[(points[:, 2] > 1e-6) & (points[:, 2] < 30 - 1e-6)]
    angle = np.arctan2(inner @ base.y, inner @ base.x)
    at = (inner[:, 2] - 2 * angle / TURN + profile.corners[2][0]) % 2  # the groove begins at the tooth's third corner
    expected = np.interp(at, np.concatenate([z - 2, z, z + 2]), np.tile(r, 3))
    assert np.hypot(inner[:, 0], inner[:, 1]) == pytest.approx(expected, abs=1e-6)


def test_time_grows_with_the_turns_by_faces_alone():
    few, many = (cut(bar(10, n * 2 + 6), "metric", 2, None, Fading(n * 2 + 2, 1))[0] for n in (6, 24))
    assert len(many.face_names) / len(few.face_names) < 24 / 6
    assert as_manifold(tessellate(many)) is not None


# -- the step ------------------------------------------------------------------------------------------


V = [{"along": 0, "deep": 0}, {"along": 1, "deep": 1}, {"along": 2, "deep": 0}]


def test_the_size_is_found_from_the_face_and_told_with_its_limits():
    result = build(document(axis(), rod(), on(length=20, tolerance="6g")))
    report = result.reports["t"]
    assert report.state == "fresh", report.messages
    assert report.figure == "M10 × 1.5 - 6g, 20 mm"
    assert report.data["thread"]["took"] == pytest.approx(math.pi * 30 * 25 - result.bodies[0].body.volume(), rel=1e-5)
    both = build(
        document(axis(), rod(), on(offset=4.1, length=20))
    )  # its start is moved to a corner of the circle, and what is told is of the thread as it was cut
    assert both.reports["t"].data["thread"]["took"] == pytest.approx(
        math.pi * 30 * 25 - both.bodies[0].body.volume(), rel=1e-5
    )
    nut = build(document(axis(12), rod(20, quick="ring", wall=(20 - 8.376) / 2), on("side/bore/q0-q1", tolerance="6H")))
    assert nut.reports["t"].figure == "M10 × 1.5 - 6H, 12 mm"
    mean = build(document(axis(), rod(), on(length=20, tolerance="6g", made="mean"))).reports["t"].data["thread"]
    assert report.data["thread"]["minor"] - mean["minor"] == pytest.approx(9.0257 - 8.928, abs=1e-3)


@pytest.mark.parametrize(
    ("own", "mate", "least", "most"), [("6g", "", 0.032, 0.344), ("6g", "6H", 0.032, 0.344), ("6h", "6H", 0.0, 0.312)]
)
def test_the_clearance_of_a_pair_is_that_of_its_limits(own, mate, least, most):
    """M10: a nut 6H of 9.026 to 9.206 on a bolt 6g of 8.862 to 8.994; at h the bolt begins at 9.026."""
    told = (
        build(document(axis(), rod(), on(length=20, tolerance=own, mate=mate, real=False))).reports["t"].data["thread"]
    )
    assert (told["mate"], told["clearance"]) == ("6H", pytest.approx((least, most), abs=1e-9))


def test_drawn_only_leaves_the_body_and_shows_two_lines():
    result = build(document(axis(), rod(), on(length=20, real=False)))
    assert result.bodies[0].body.volume() == pytest.approx(math.pi * 25 * 30)
    crest, root = (np.array(line) for line in result.reports["t"].data["thread"]["lines"])
    assert np.hypot(*crest[:, :2].T) == pytest.approx(5, abs=1e-4)
    assert np.hypot(*root[0, :2]) == pytest.approx(8.1597 / 2, abs=1e-3)
    assert np.hypot(*root[-1, :2]) == pytest.approx(5, abs=1e-4)  # run out
    assert "rod/side/round/q0-q1" in result.bodies[0].body.face_names


def test_a_chamfer_takes_the_edge_off():
    plain, bevelled = (build(document(axis(), rod(), on(length=20, chamfer=c))).bodies[0].body for c in (0, 1))
    assert bevelled.valid()
    assert 0 < plain.volume() - bevelled.volume() < math.pi * 10 / 2  # less than of the full bar
    points = tessellate(bevelled).points
    tip = points[points[:, 2] < 1e-6]
    assert np.hypot(*tip[:, :2].T).max() <= 4 + 1e-6


@pytest.mark.parametrize(("flipped", "inside"), [(False, False), (True, False), (False, True)])
def test_a_thread_runs_out_into_a_relief_groove(flipped, inside):
    """Of which the rings, and the thread that goes through to it, are taken away."""
    axis_, bar_ = axis(20), rod(20, quick="ring", wall=(20 - 8.376) / 2) if inside else rod()
    face = "side/bore/q0-q1" if inside else "side/round/q0-q1"
    result = build(document(axis_, bar_, on(face, length=12, relief=3, relief_depth=1.2, flipped=flipped)))
    report, (kept,) = result.reports["t"], result.bodies
    assert report.state == "fresh", report.messages
    assert kept.body.valid()
    plain = build(document(axis_, bar_)).bodies[0].body.volume()
    radius, sign = (8.376 / 2, 1) if inside else (5.0, -1)
    ring = abs(math.pi * ((radius + sign * 1.2) ** 2 - radius**2) * 3)
    told = report.data["thread"]
    assert told["length"] == pytest.approx(12)
    assert plain - kept.body.volume() == pytest.approx(ring + told["took"], rel=1e-6)
    bottom = tessellate(Body("", kept.body.face_of("t/relief/bottom")[0], ["bottom"])).points
    assert sorted({round(float(z), 6) for z in bottom[:, 2]})[
        :: len({round(float(z), 6) for z in bottom[:, 2]}) - 1
    ] == ([5, 8] if flipped else [12, 15])
    deeper = build(document(axis_, bar_, on(face, length=12, relief=3, flipped=flipped))).bodies[0].body
    away = tessellate(Body("", deeper.face_of("t/relief/bottom")[0], ["bottom"])).points
    assert abs(np.hypot(away[:, 0], away[:, 1]) - radius) == pytest.approx(
        np.full(len(away), told_depth(told, inside) + 0.15 * 1.5), abs=1e-6
    )


R_HALF = (20.955 - 8.2 / 16) / 2  # mm, of the thin end of a bar for R 1/2: Ø20.955 at the gauge plane, 8.2 mm in


def cone(first: float, last: float, height: float) -> list[dict]:
    """Turned about the z axis, so wide at its foot and at its top."""
    return [
        sketch("shape", XZ, polyline((0, 0), (first, 0), (last, height), (0, height), closed=True)),
        {"kind": "revolve", "id": "rod", "name": "Plug", "profile": {"step": "shape"}},
    ]


@pytest.mark.parametrize(
    ("fields", "left"), [({"length": 15}, False), ({}, True), ({"offset": 3.7, "length": 14, "flipped": True}, False)]
)
def test_a_taper_pipe_thread_is_as_deep_everywhere(fields, left):
    """Each place of its mesh lies on a cone of 1:16, or as far below it as the groove is deep there; and it takes what
    the quadrature says.
    """
    steps = cone(R_HALF, R_HALF + 20 / 32, 20)
    plain = build(document(*steps)).bodies[0].body
    result = build(
        document(
            *steps, on("side/e1/0", form="taper", pitch=1.814, rounded=True, hand="left" if left else "right", **fields)
        )
    )
    report = result.reports["t"]
    assert report.state == "fresh", report.messages
    made = result.bodies[0].body
    assert made.valid()
    assert plain.volume() - made.volume() == pytest.approx(report.data["thread"]["took"], rel=1e-6)
    mesh = tessellate(made, 0.05)
    points = mesh.points[np.unique(mesh.triangles[np.array([n.startswith("t/") for n in mesh.names])[mesh.face]])]
    below = R_HALF + points[:, 2] / 32 - np.hypot(points[:, 0], points[:, 1])
    depth = 0.640327 * 1.814
    assert below.min() > -1e-6
    assert below.max() == pytest.approx(depth, abs=1e-5)
    flat = np.array([n.startswith(("t/crest", "t/shoulder")) for n in mesh.names])[mesh.face]
    assert below[
        np.isin(
            np.unique(mesh.triangles[np.array([n.startswith("t/") for n in mesh.names])[mesh.face]]),
            mesh.triangles[flat],
        )
    ] == pytest.approx(0, abs=1e-6)


def test_a_thread_on_a_cone_is_relieved_and_bevelled():
    plain = build(document(*cone(10, 11, 20))).bodies[0].body
    result = build(
        document(*cone(10, 11, 20), on("side/e1/0", pitch=1.5, length=12, relief=3, relief_depth=1.2, chamfer=0.8))
    )
    assert result.reports["t"].state == "fresh", result.reports["t"].messages
    first, last, bottom = 10 + 12 / 20, 10 + 15 / 20, 10 + 12 / 20 - 1.2
    ring = math.pi * 3 * ((first**2 + first * last + last**2) / 3 - bottom**2)
    gone = plain.volume() - result.bodies[0].body.volume()
    took = result.reports["t"].data["thread"]["took"]
    assert ring + took < gone < ring + took + math.pi * 10 * 0.8**2


def told_depth(told: dict, inside: bool) -> float:
    """Of the thread M10: H/2 + H/8 and so on of the standard, as its diameters say."""
    return (told["major"] - 8.376) / 2 if inside else (told["major"] - told["minor"]) / 2


def test_a_groove_is_cut_as_drawn_in_a_sketch():
    shape = polyline((0, 0), (0.6, -1), (1.4, -1), (2, 0))
    for own in (
        {"drawn": {"step": "tooth"}},
        {"own": [{"along": a, "deep": d} for a, d in ((0, 0), (0.6, 1), (1.4, 1), (2, 0))]},
    ):
        result = build(document(axis(), rod(), sketch("tooth", XZ, shape), on(form="own", pitch=3, length=20, **own)))
        assert result.reports["t"].state == "fresh", result.reports["t"].messages
        volumes = result.bodies[0].body.volume()
        took = result.reports["t"].data["thread"]["took"]
        assert math.pi * 25 * 30 - volumes == pytest.approx(took, rel=1e-5)
        assert took == pytest.approx(1.4 * 2 * math.pi * 4.5 * 6, rel=0.1)


@pytest.mark.parametrize(
    ("code", "field", "steps"),
    [
        ("no-cylinder", "face", [rod(), on("cap/start")]),
        ("no-full-cylinder", "face", [{**rod(), "cut_end": {"kind": "step", "step": "slant"}}, on()]),
        ("deleted-reference", "face", [rod(), on("side/gone/q0-q1")]),
        ("no-size", "size", [rod(10.6), on()]),
        ("size-does-not-fit", "size", [rod(), on(size=12)]),
        ("size-does-not-fit", "size", [rod(), on(size=8, pitch=1)]),
        ("no-pitch", "pitch", [rod(), on(form="trapezoidal")]),
        ("no-pitch", "pitch", [rod(), on(size=13)]),
        ("no-pitch", "pitch", [rod(), on(form="own", own=V)]),
        ("pitch-too-large", "pitch", [rod(), on(pitch=8)]),
        ("bad-tooth", "form", [rod(), on(form="trapezoidal", pitch=0.2)]),
        ("bad-tooth", "own", [rod(), on(form="own", pitch=3)]),
        ("thread-folds", "pitch", [rod(), on(form="own", pitch=1.9, own=V)]),
        ("too-deep", "pitch", [rod(), on(form="own", pitch=3, own=[V[0], {"along": 1, "deep": 6}, V[2]])]),
        ("run-out-too-long", "length", [rod(), on(length=6, run_out=5)]),
        ("too-long", "length", [rod(), on(length=40)]),
        ("bad-size", "run_out", [rod(), on(length=20, run_out=0)]),
        ("bad-size", "offset", [rod(), on(offset=-1)]),
        ("bad-tooth", "drawn", [rod(), on(form="own", pitch=3, drawn={"step": "axis"})]),
        ("no-taper", "form", [rod(), on(form="taper", pitch=0.907)]),
        ("no-length", "length", [rod(), on(relief=2)]),
        ("too-long", "relief", [rod(), on(length=28, relief=3)]),
        ("too-deep", "relief_depth", [rod(), on(length=20, relief=3, relief_depth=5)]),
        ("bad-size", "chamfer", [rod(), on(chamfer=-1)]),
        ("bad-size", "chamfer", [rod(), on(chamfer=4)]),
        ("bad-class", "tolerance", [rod(), on(tolerance="6H")]),
        ("bad-class", "tolerance", [rod(), on(tolerance="six")]),
        ("bad-class", "mate", [rod(), on(tolerance="6g", mate="6g")]),
        ("no-tolerances", "tolerance", [rod(20), on(form="buttress", pitch=3, tolerance="6g")]),
        ("no-class", "tolerance", [rod(), on(made="mean")]),
    ],
)
def test_what_cannot_be_threaded_is_refused_with_its_field(code, field, steps):
    slant = {"kind": "datum", "id": "slant", "name": "Slant", "how": {"by": "normal", "z": 24, "normal": [0.3, 0, 1]}}
    first = [axis(), slant] if any("cut_end" in s for s in steps) else [axis()]
    report = build(document(*first, *steps)).reports["t"]
    assert report.state == "failed"
    (message,) = report.messages
    assert (message.code, message.place.get("field")) == (code, field)


# -- the sheet ------------------------------------------------------------------------------------------


def test_the_sheet_says_what_a_shop_asks_and_is_read_back_as_pdf():
    asked = document(axis(), rod(), on(length=20, tolerance="6g"))
    made = make_sheet(asked, "t", "thread", Memory(), whole=True)
    sheet = as_json(made)
    assert [(row["name"], row["most"], row["least"]) for row in sheet["rows"]][:2] == [
        ("major d", 9.968, 9.732),
        ("pitch d2", 8.994, 8.862),
    ]
    assert sheet["stress_area"] == pytest.approx(57.99, abs=0.01)
    assert sheet["over_wires"] == pytest.approx(8.928 + 3 * sheet["wire"] - 0.866025 * 1.5, abs=1e-4)
    assert sheet["locks_itself"] == "yes (µ 0.14)"
    bodies = [b.drawable() for b in build(asked).bodies]
    pdf = sheet_pdf(made, Heading("Thread", "Drain", "Plug ≥ “1”", 3, "2026-11-28 10:00 UTC"), bodies, "mm")
    (page,) = pypdf.PdfReader(io.BytesIO(pdf)).pages
    assert [round(float(v)) for v in page.mediabox[2:]] == [595, 842]
    text = page.extract_text()
    for words in (
        "Thread sheet: Plug ≥ “1”",
        "Part “Drain”, revision 3, 2026-11-28 10:00",
        "8.994",
        "57.99",
        "M10 × 1.5 - 6g",
    ):
        assert words in text
    assert sorted(text.split("Sizes in mm")[1].split("Diameter")[0].split()) == [
        "10",
        "10",
        "30",
    ]  # how far it reaches each way


# -- threads that go into each other ------------------------------------------------------------------


def rod_from(radius, low, high, name="rod", bore=None):
    """A bar about the z axis, or a ring with a bore, from one height to another."""
    draw = Draw()
    draw.point("c", 0, 0)
    draw.circle("outer", "c", radius)
    if bore is not None:
        draw.circle("bore", "c", bore)
    level = {
        "kind": "datum",
        "id": f"{name}_level",
        "name": "Level",
        "how": {"by": "offset", "plane": XY, "distance": low},
    }
    return [
        level,
        sketch(f"{name}_plan", {"kind": "step", "step": f"{name}_level"}, draw),
        {
            "kind": "extrude",
            "id": name,
            "name": name.capitalize(),
            "profile": {"step": f"{name}_plan"},
            "length": high - low,
        },
    ]


def thread_on(name, body, face, **fields):
    return {
        "kind": "threaded",
        "id": name,
        "name": name,
        "face": {"step": body, "face": f"{body}/side/{face}/0"},
        **fields,
    }


@settings(max_examples=5, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    form=st.sampled_from(["metric", "unified", "trapezoidal", "buttress", "square", "pipe"]),
    low=st.floats(5, 14),
    starts=st.integers(1, 2),
    left=st.booleans(),
    flipped=st.booleans(),
    faded=st.booleans(),
    pitch=st.sampled_from([1.0, 1.5, 2.0]),
    angle=st.floats(0, 360),
)
def test_a_bolt_and_its_nut_in_place_do_not_overlap(form, low, starts, left, flipped, faded, pitch, angle):
    """Cut to the basic size their flanks touch: what their meshes have in common is as thin as these are coarse."""
    size = sizes(form, 10, pitch)
    both = {
        "form": form,
        "size": 10,
        "pitch": pitch,
        "starts": starts,
        "hand": "left" if left else "right",
        "start_angle": angle,
    }
    ends = {"offset": 0.7, "length": 34} if faded else {}
    turned = {"flipped": flipped and form != "buttress"}  # its flanks lean one way
    steps = [
        *rod_from(5, 0, 40, "bolt"),
        *rod_from(9, low, low + 9, "nut", size.minor_nut / 2),
        thread_on("tb", "bolt", "outer", **both, **ends),
        thread_on("tn", "nut", "bore", **both, **turned),
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Pair", "units": "mm", "steps": steps}))
    assert [result.reports[t].state for t in ("tb", "tn")] == ["fresh", "fresh"], [
        result.reports[t].messages for t in ("tb", "tn")
    ]
    bolt, nut = (closed(*triangulated(k.body, 0.01)) for k in result.bodies)
    assert bolt is not None
    assert nut is not None
    assert combined(bolt, nut, "common").volume() < 0.5
    turned_bolt = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "Pair",
                "units": "mm",
                "steps": [*steps[:-2], {**steps[-2], "start_angle": angle + 180.0 / starts}, steps[-1]],
            }
        )
    )
    out_of_step, _ = (closed(*triangulated(k.body, 0.01)) for k in turned_bolt.bodies)
    assert out_of_step is not None
    assert combined(out_of_step, nut, "common").volume() > 10


@pytest.mark.parametrize(
    ("diameter", "side", "tolerance", "said"),
    [
        (10.0, "outside", "6g", True),
        (9.85, "outside", "6g", False),
        (9.71, "outside", "6g", True),
        (8.80, "inside", "6H", True),
        (8.5, "inside", "6H", False),
        (8.376, "inside", "6H", False),
    ],
)
def test_a_bar_or_a_hole_is_compared_with_the_class_of_its_thread(diameter, side, tolerance, said):
    steps = rod_from(diameter / 2, 0, 20, "b") if side == "outside" else rod_from(12, 0, 20, "b", diameter / 2)
    thread_step = thread_on(
        "t", "b", "outer" if side == "outside" else "bore", size=10, pitch=1.5, tolerance=tolerance, real=False
    )
    report = build(document(*steps, thread_step)).reports["t"]
    assert report.state == "fresh", report.messages
    assert [m.code for m in report.messages] == (["off-class"] if said else [])


def test_a_taper_thread_is_on_a_cone_whose_gauge_plane_is_where_its_standard_has_it():
    right = build(
        document(*cone(R_HALF, R_HALF + 20 / 32, 20), on("side/e1/0", form="taper", size=20.955, pitch=1.814))
    ).reports["t"]
    assert right.state == "fresh", right.messages
    assert right.figure.startswith("R 1/2")
    wrong = build(document(*cone(10.4775, 10.4775 + 20 / 32, 20), on("side/e1/0", form="taper", pitch=1.814))).reports[
        "t"
    ]  # Ø20.955 at its thin end
    assert [m.code for m in wrong.messages] == ["size-does-not-fit"]


@pytest.mark.parametrize(
    ("fields", "title"),
    [
        ({"form": "unified", "size": 12.7, "pitch": 25.4 / 13}, "1/2-13 UNC"),
        ({"form": "unified", "size": 12.7, "pitch": 1.27, "tolerance": "2A"}, "1/2-20 UNF-2A"),
        ({"form": "pipe", "size": 20.955, "pitch": 1.814}, "G 1/2"),
        ({"form": "pipe"}, "G 1/2"),
        ({"form": "metric", "size": 7, "hand": "left"}, "M7 × 1 LH"),
        ({"form": "metric", "size": 68}, "M68 × 6"),
    ],
)
def test_threads_are_called_as_the_trade_has_it(fields, title):
    radius = (fields.get("size") or 20.955) / 2
    report = build(document(*rod_from(radius, 0, 60, "b"), thread_on("t", "b", "outer", real=False, **fields))).reports[
        "t"
    ]
    assert report.state == "fresh", report.messages
    assert report.data["thread"]["title"] == title


@pytest.mark.parametrize(
    ("fields", "field"),
    [
        ({"friction": -1}, "friction"),
        ({"bolt_strength": 0}, "bolt_strength"),
        ({"nut_strength": -5}, "nut_strength"),
        ({"real": False, "chamfer": -3}, "chamfer"),
        ({"offset": 50}, "offset"),
        ({"form": "unified", "pitch": 1.27, "tolerance": "6g"}, "tolerance"),
        ({"real": False, "chamfer": "no such"}, "chamfer"),
    ],
)
def test_nonsense_is_refused_at_its_field(fields, field):
    (message,) = build(document(*rod_from(5, 0, 20, "b"), thread_on("t", "b", "outer", **fields))).reports["t"].messages
    assert (message.level, message.place["field"]) == ("error", field)

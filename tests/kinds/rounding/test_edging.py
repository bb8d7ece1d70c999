"""Rounded and chamfered edges: volumes against closed forms, names, and what is refused."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.solids.edging import sharp_edges
from leadline.recipe.build import Memory, build
from leadline.recipe.built_edges import built_edges
from leadline.recipe.built_preview import built_preview
from tests.support.blocks import BOX, RIM, ROD
from tests.support.parts import XY, circle, part, sketch

TOP = [f"b/cap/end&b/side/e{k}/0" for k in range(4)]


def made(steps, edges, how, *more):
    refs = [{"step": e.split("/")[0], "edge": e} for e in edges]
    whole = [*steps, {"kind": "rounding", "id": "r", "name": "Rounding", "edges": refs, "how": how}, *more]
    return build(part({"format": "leadline-part", "version": 1, "name": "Edges", "units": "mm", "steps": whole}))


def even(radius):
    return {"by": "even", "radius": radius}


def body_of(result):
    assert result.reports["r"].state == "fresh", result.reports["r"].messages
    (kept,) = result.bodies
    assert kept.body.valid()
    return kept.body


def rim(r, R=10.0):
    """What a rounding of r takes off the rim of a rod of R, for each rad round it (Pappus)."""
    return r * r * (R - r / 2) - math.pi * r * r / 4 * (R - r + 4 * r / (3 * math.pi))


@settings(max_examples=8, deadline=None)
@given(st.floats(0.2, 9))
def test_one_edge_of_a_block_and_the_rim_of_a_rod(r):
    block = body_of(made(BOX, ["b/side/e0/0&b/side/e1/0"], even(r)))
    assert 24000 - block.volume() == pytest.approx((1 - math.pi / 4) * r * r * 30, rel=1e-6)
    assert "r/edge/1" in block.face_names
    rod = body_of(made(ROD, [RIM], even(r)))
    assert 3000 * math.pi - rod.volume() == pytest.approx(2 * math.pi * rim(r), rel=1e-6)


def test_all_edges_of_a_block():
    a, b, c, r = 40 - 6, 20 - 6, 30 - 6, 3
    exact = a * b * c + 2 * r * (a * b + b * c + a * c) + math.pi * r * r * (a + b + c) + 4 / 3 * math.pi * r**3
    (kept,) = build(part({"format": "leadline-part", "version": 1, "name": "B", "units": "mm", "steps": BOX})).bodies
    assert body_of(made(BOX, sorted(sharp_edges(kept.body)), even(r))).volume() == pytest.approx(exact, rel=1e-9)


def test_a_radius_varies_round_a_rim():
    """At the places of the table it has their radii; between them it is no less than the least and no more than the
    most.
    """
    points = [{"at": "0%", "value": 1}, {"at": "50%", "value": 4}, {"at": "100%", "value": 1}]
    body = body_of(made(ROD, [RIM], {"by": "table", "points": points}))
    loop = np.vstack([p for f in body.face_of("b/cap/end") for p in outline(f)])
    radii = 10 - np.hypot(loop[:, 0], loop[:, 1])
    assert (radii.min(), radii.max()) == pytest.approx((1, 4), abs=0.01)
    assert 2 * math.pi * rim(1) < 3000 * math.pi - body.volume() < 2 * math.pi * rim(4)
    figure = made(ROD, [RIM], {"by": "table", "points": points}).reports["r"].figure
    assert figure == "R 1 mm to 4 mm, 1 edge, 62.83 mm"


def outline(face):
    from leadline.core.solids.kernel import edges
    from leadline.core.solids.tessellate import edge_points

    return [edge_points(e, 0.001) for e in edges(face)]


def test_chamfers_with_one_size_and_with_two():
    assert 24000 - body_of(made(BOX, TOP[:1], {"by": "chamfer", "first": 2})).volume() == pytest.approx(
        40 * 2, rel=1e-9
    )
    uneven = body_of(made(BOX, TOP[:1], {"by": "chamfer", "first": 2, "second": 5}))
    assert 24000 - uneven.volume() == pytest.approx(40 * 5, rel=1e-9)
    top = [p for f in uneven.face_of("b/cap/end") for line in outline(f) for p in line]
    assert min(p[1] for p in top) == pytest.approx(2)  # the first of the edge's faces in its name


def test_edges_of_a_boolean_are_rounded_and_what_is_asked_for_them_is_named():
    """A post on a block: the foot of the post is an edge between the faces of two steps."""
    post = [
        sketch("c", XY, circle(5, 20, 10)),
        {"kind": "extrude", "id": "p", "name": "Post", "profile": {"step": "c"}, "length": 50, "result": "add"},
    ]
    steps = [*BOX, *post]
    foot = "b/cap/end&p/side/ring/0"
    whole = [*steps, {"kind": "rounding", "id": "r", "name": "Rounding", "how": even(3)}]
    document = part({"format": "leadline-part", "version": 1, "name": "Post", "units": "mm", "steps": whole})
    offered = built_edges(document, "r", Memory())
    assert {e["item"]: e["source"] for e in offered}[foot] == "p"  # where it came to be
    with pytest.raises(Problem, match="no step"):
        built_edges(document, "gone", Memory())
    (line,) = [e["lines"] for e in offered if e["item"] == foot]
    ring = np.vstack(line)
    assert np.hypot(ring[:, 0] - 20, ring[:, 1] - 10) == pytest.approx(np.full(len(ring), 5), abs=1e-4)
    body = body_of(made(steps, [foot], even(3)))
    added = 2 * math.pi * (9 * (5 + 1.5) - math.pi * 9 / 4 * (5 + 3 - 4 * 3 / (3 * math.pi)))
    assert body.volume() == pytest.approx(24000 + math.pi * 25 * 20 + added, rel=1e-6)
    later = {"kind": "rounding", "id": "r2", "name": "Again", "edges": [{"step": "b", "edge": TOP[0]}], "how": even(1)}
    again = made(steps, [foot], even(3), later)
    assert again.reports["r2"].state == "fresh"  # names hold through the first rounding


def test_an_edge_holds_through_edits_of_what_is_before():
    for length in (25, 45, 80):
        steps = [BOX[0], {**BOX[1], "length": length}]
        assert body_of(made(steps, TOP[:2], even(2))).volume() < 800 * length


@pytest.mark.parametrize("radius", [6.0, 14.0])
def test_a_table_round_a_closed_edge_ends_as_it_begins(radius):
    """Else there would be a step in the rounding; the way out makes one of even radius here, whose volume
    Pappus tells.
    """
    rod = [
        sketch("disk", XY, circle(radius)),
        {"kind": "extrude", "id": "b", "name": "Rod", "profile": {"step": "disk"}, "length": 20},
    ]
    edges = ["b/cap/end&b/side/ring/0"]
    points = [{"at": "100%", "value": 1}, {"at": 0, "value": 2}]
    told = made(rod, edges, {"by": "table", "points": points}).reports["r"].messages[-1]
    assert told.code == "radius-jump"
    how = told.remedies[0].change["how"]
    assert [p["value"] for p in how["points"]] == [2, 2]
    # a square of 2 mm, its middle at radius - 1, less a quarter of a disk, whose middle is 8 / (3 pi) from its straight
    # sides
    corner = 2 * math.pi * (4 * (radius - 1) - math.pi * (radius - 2 + 8 / (3 * math.pi)))
    assert body_of(made(rod, edges, how)).volume() == pytest.approx(math.pi * radius**2 * 20 - corner, rel=1e-5)


def test_a_table_that_stops_before_the_end_of_a_closed_edge_keeps_its_rows():
    """Its way out goes back to the first radius at the end, instead of making it even."""
    points = [{"at": 0, "value": 2}, {"at": "50%", "value": 1}]
    told = made(ROD, [RIM], {"by": "table", "points": points}).reports["r"].messages[-1]
    assert told.code == "radius-jump"
    how = told.remedies[0].change["how"]
    assert [(p["at"], p["value"]) for p in how["points"]] == [(0, 2), ("50%", 1), ("100%", 2)]
    whole = math.pi * 100 * 30
    most, least = (whole - body_of(made(ROD, [RIM], even(r))).volume() for r in (2, 1))
    assert least < whole - body_of(made(ROD, [RIM], how)).volume() < most


@pytest.mark.parametrize(
    ("edges", "how", "code", "field"),
    [
        ([], even(2), "no-edges", "edges"),
        (["b/cap/end&b/side/e9/0"], even(2), "deleted-reference", "edges"),
        (TOP[:1], even(0), "bad-size", "how"),
        (TOP[:1], even(25), "edging-too-large", "how"),
        (
            [TOP[0], "b/cap/start&b/side/e2/0"],
            {"by": "table", "points": [{"at": 0, "value": 1}, {"at": 9, "value": 2}]},
            "not-one-chain",
            "edges",
        ),
        (TOP[:1], {"by": "table", "points": [{"at": 0, "value": 1}, {"at": 90, "value": 2}]}, "off-path", "how"),
    ],
)
def test_what_cannot_be_is_said(edges, how, code, field):
    result = made(BOX, edges, how)
    (message,) = result.reports["r"].messages
    assert (message.code, message.place["field"]) == (code, field)
    assert message.way_out
    assert len(result.bodies) == 1  # as it was


def test_the_largest_that_fits_is_said():
    (message,) = made(ROD, [RIM], even(14)).reports["r"].messages
    largest = float(message.way_out.split("fits: ")[1].split(" mm")[0])
    assert 9.5 < largest <= 10.001
    assert made(ROD, [RIM], even(largest * 0.99)).reports["r"].state == "fresh"


@settings(max_examples=8, deadline=None)
@given(st.floats(0.5, 4), st.floats(5, 65))
def test_a_chamfer_by_its_angle_takes_a_wedge(first, angle):
    how = {"by": "chamfer", "first": first, "angle": angle}
    body = body_of(made(BOX, ["b/side/e0/0&b/side/e1/0"], how))
    assert 24000 - body.volume() == pytest.approx(first * first * math.tan(math.radians(angle)) / 2 * 30, rel=1e-6)
    for wrong in (0.5, 89.5):
        (message,) = made(BOX, ["b/side/e0/0&b/side/e1/0"], how | {"angle": wrong}).reports["r"].messages
        assert (message.code, message.place["field"]) == ("bad-size", "how")


def test_where_radii_vary_the_chain_is_told_from_its_start_to_its_end():
    names = [TOP[0], "b/side/e0/0&b/side/e1/0"]
    how = {"by": "table", "points": [{"at": 0, "value": 1}, {"at": "100%", "value": 2}]}
    report = made(BOX, names, how).reports["r"]
    chain = np.array(report.data["chain"])
    assert np.linalg.norm(np.diff(chain, axis=0), axis=1).sum() == pytest.approx(report.data["length"], rel=1e-4)
    assert np.linalg.norm(np.diff(chain, axis=0), axis=1).max() <= 40 + 1e-6  # it does not jump
    assert "chain" not in made(BOX, names, even(1)).reports["r"].data


PREVIEWED = {
    "rounded": (
        {"kind": "rounding", "edges": [{"step": "b", "edge": RIM}], "how": even(2)},
        3000 * math.pi - 2 * math.pi * rim(2),
    ),
    "hollow": (
        {"kind": "hollow", "body": "b", "wall": 2, "opened": [{"step": "b", "face": "b/cap/end"}]},
        3000 * math.pi - 64 * math.pi * 28,
    ),
    "copied": (
        {
            "kind": "arranged",
            "source": "b",
            "plane": XY,
            "how": {"by": "move", "x": 50, "keep": True},
            "result": "separate",
        },
        3000 * math.pi,
    ),
}


@pytest.mark.parametrize(("step", "volume"), PREVIEWED.values(), ids=PREVIEWED)
def test_what_only_the_kernel_can_tell_is_previewed_as_it_is_built(step, volume):
    """Nothing of a preview is kept in the store, but for what is built before it, and to build it for good takes what
    is remembered.
    """
    kept: dict[str, bytes] = {}

    class Kept:
        def get(self, key):
            return kept.get(key)

        def put(self, key, data):
            kept[key] = data

    memory = Memory()
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "units": "mm",
        "steps": [*ROD, {"id": "x", "name": "X", **step}],
    }
    shown = built_preview(part(document), "x", memory, Kept())
    assert shown.report.state == "fresh", shown.report.messages
    assert shown.mesh is not None
    assert shown.mesh.volume() == pytest.approx(volume, rel=5e-3)
    assert shown.mesh.lines
    assert shown.replaces == (["x"] if step["kind"] == "arranged" else ["b", "x"])
    assert not any(key.endswith("/mesh") for key in kept)
    result = build(part(document), memory, Kept())
    assert result.seconds["kernel"] == 0.0
    assert {b.mesh_key for b in result.bodies} == {key.removesuffix("/mesh") for key in kept if key.endswith("/mesh")}


def test_a_preview_that_fails_says_why_and_shows_nothing():
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "units": "mm",
        "steps": [
            *ROD,
            {"kind": "rounding", "id": "x", "name": "X", "edges": [{"step": "b", "edge": RIM}], "how": even(40)},
        ],
    }
    shown = built_preview(part(document), "x", Memory())
    assert shown.mesh is None
    assert shown.report.state == "failed"
    assert shown.report.messages
    with pytest.raises(Problem, match="no step"):
        built_preview(part(document), "none", Memory())

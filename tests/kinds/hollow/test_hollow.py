"""Hollow bodies: volumes against closed forms, walls as measured, and what is refused."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from scipy.integrate import quad

from leadline.core.clearance.shape import Shape
from leadline.core.solids.face_distance import FacesNear
from leadline.core.solids.kernel import compound, faces, pnt
from leadline.core.solids.tessellate import tessellate
from leadline.recipe.build import build
from tests.support.blocks import BOX, RIM, ROD
from tests.support.loft_steps import ABOVE, BESIDE, loft, quick
from tests.support.parts import XY, XZ, circle, curve, demo, part, polyline, sketch
from tests.support.shapes import Draw


def face(name):
    return {"step": name.split("/")[0], "face": name}


def made(steps, wall, opened=(), body="b", **more):
    step = {
        "kind": "hollow",
        "id": "h",
        "name": "Hollow",
        "body": body,
        "wall": wall,
        "opened": [face(n) for n in opened],
        **more,
    }
    return build(
        part({"format": "leadline-part", "version": 1, "name": "Hollow", "units": "mm", "steps": [*steps, step]})
    )


def built(*given_, **more):
    result = made(*given_, **more)
    report = result.reports["h"]
    assert report.state == "fresh", report.messages
    (kept,) = result.bodies
    assert kept.body.valid()
    return kept.body, report.data["walls"]


@settings(max_examples=10, deadline=None)
@given(st.floats(0.3, 8), st.booleans(), st.booleans())
def test_a_block_open_above_or_closed_inward_or_outward(t, outward, opened):
    body, walls = built(BOX, t, ["b/cap/end"] if opened else [], side="outward" if outward else "inward")
    sizes = [s + (2 if outward else -2) * t for s in (40, 20)] + [30 + (1 if opened else 2) * (t if outward else -t)]
    assert body.volume() == pytest.approx(abs(24000 - math.prod(sizes)), rel=1e-9)
    assert walls["least"] == pytest.approx(t, rel=1e-9)
    assert walls["most"] <= t * math.sqrt(3) * (1 + 1e-9)


def test_walls_of_two_thicknesses():
    body, walls = built(BOX, 2, ["b/cap/end"], walls=[{"face": face("b/side/e0/0"), "wall": 5}])
    assert body.volume() == pytest.approx(24000 - 36 * 13 * 28, rel=1e-9)
    assert walls["least"] == pytest.approx(2)
    assert walls["most"] >= 5


@settings(max_examples=10, deadline=None)
@given(st.floats(0.5, 6), st.floats(1.1, 4), st.floats(12, 60), st.floats(12, 60))
def test_the_thickest_wall_is_found_in_the_middle_of_an_end(t, times, x, y):
    """From the middle of an end that is thicker than the box is wide, the sides are nearer than the end."""
    t = min(t, 0.4 * x, 0.4 * y)
    end = min(times * t, 28)
    plan = polyline((-x / 2, -y / 2), (x / 2, -y / 2), (x / 2, y / 2), (-x / 2, y / 2), closed=True)
    box = [
        sketch("s", XY, plan),
        {"kind": "extrude", "id": "b", "name": "Box", "profile": {"step": "s"}, "length": 30},
    ]
    body, walls = built(box, t, ["b/cap/start"], walls=[{"face": face("b/cap/end"), "wall": end}])
    assert body.volume() == pytest.approx(30 * x * y - (x - 2 * t) * (y - 2 * t) * (30 - end), rel=1e-9)
    assert (walls["least"], walls["most"]) == pytest.approx((t, min(end, x / 2, y / 2)), rel=1e-6)


@settings(max_examples=8, deadline=None)
@given(st.floats(5, 20), st.floats(0.5, 2), st.floats(1.2, 3), st.floats(0.2, 0.9))
def test_a_thicker_end_swallows_the_rounding_beside_it(radius, wall, times, share):
    """A rod whose rounded end gets a wall of its own, beyond the depth of the rounding: the inside is a plain rod."""
    end = times * wall
    rounding = wall + share * (min(end, radius / 2) - wall)
    drawn = [
        sketch("s", XY, circle(radius)),
        {"kind": "extrude", "id": "b", "name": "Rod", "profile": {"step": "s"}, "length": 40},
    ]
    rounded = [
        *drawn,
        {
            "kind": "rounding",
            "id": "r",
            "name": "R",
            "edges": [{"step": "b", "edge": "b/cap/end&b/side/ring/0"}],
            "how": {"by": "even", "radius": rounding},
        },
    ]
    solid = (
        build(part({"format": "leadline-part", "version": 1, "name": "Rod", "units": "mm", "steps": rounded}))
        .bodies[0]
        .body.volume()
    )
    body, walls = built(rounded, wall, ["b/cap/start"], walls=[{"face": face("b/cap/end"), "wall": end}])
    assert body.volume() == pytest.approx(solid - math.pi * (radius - wall) ** 2 * (40 - end), rel=1e-7)
    # the middle of the inner end is as near to the rod's side as to its end where the rod is thinner than that wall
    assert (walls["least"], walls["most"]) == pytest.approx((wall, min(end, radius)), rel=1e-6)


def test_a_rod_with_a_rounded_end_is_a_test_tube():
    """A rounding of 6 on a rod of R 10, hollowed by 2: the inside is a rod of R 8 whose end is rounded by 4."""
    rounded = [
        *ROD,
        {
            "kind": "rounding",
            "id": "r",
            "name": "R",
            "edges": [{"step": "b", "edge": RIM}],
            "how": {"by": "even", "radius": 6},
        },
    ]
    body, walls = built(rounded, 2, ["b/cap/start"])

    def rod(radius, length, r):
        off = r * r * (radius - r / 2) - math.pi * r * r / 4 * (radius - r + 4 * r / (3 * math.pi))
        return math.pi * radius**2 * length - 2 * math.pi * off

    assert body.volume() == pytest.approx(rod(10, 30, 6) - rod(8, 28, 4), rel=1e-5)
    assert walls["least"] == pytest.approx(2, abs=0.001)
    assert "h/rim" in body.face_names
    assert any(n.startswith("h/inside/b:side:ring") for n in body.face_names)


def test_a_loft_has_walls_of_true_thickness():
    """A cone frustum open at both ends: the wall is measured square to the cone, not in its sections."""
    body, walls = built(
        [BESIDE, loft(quick("round", 40), quick("round", 20, plane=ABOVE))],
        2,
        ["loft/cap/start", "loft/cap/end"],
        body="loft",
    )
    lean = 2 * math.hypot(40, 10) / 40  # the wall as it stands in a section
    frustum = lambda a, b: math.pi * 40 / 3 * (a * a + a * b + b * b)  # noqa: E731
    assert body.volume() == pytest.approx(frustum(20, 10) - frustum(20 - lean, 10 - lean), rel=1e-4)
    assert walls["least"] == pytest.approx(2, abs=0.001)
    assert walls["most"] < 2.1


@pytest.mark.parametrize(
    ("more", "code", "field"),
    [
        ({"wall": 0}, "bad-size", "wall"),
        ({"wall": 11}, "wall-too-thick", "wall"),
        (
            {"wall": 2, "opened": ["b/cap/end", "b/cap/start", *(f"b/side/e{k}/0" for k in range(4))]},
            "no-hollow",
            "wall",
        ),
        ({"wall": 2, "opened": ["b/side/e9/0"]}, "deleted-reference", "opened"),
        ({"wall": 2, "walls": [{"face": face("b/side/e9/0"), "wall": 1}]}, "deleted-reference", "walls"),
        ({"wall": 2, "body": "s"}, "no-body", "body"),
    ],
)
def test_what_cannot_be_is_said(more, code, field):
    result = made(BOX, **more)
    (message,) = result.reports["h"].messages
    assert (message.code, message.place["field"]) == (code, field)
    assert message.way_out
    assert len(result.bodies) == 1


def test_the_thickest_wall_that_fits_is_said():
    (message,) = made(BOX, 14, ["b/cap/end"]).reports["h"].messages
    thickest = float(message.way_out.split("fits: ")[1].split(" mm")[0])
    assert 9.5 < thickest < 10


# -- by the body's own sides ------------------------------------------------------------------------


def along(*steps, body, wall, opened=(), walls=(), side="inward"):
    """What a hollow of a body that is swept or lofted comes to: the solid, and what is told of its walls."""
    hollow = {
        "kind": "hollow",
        "id": "h",
        "name": "Hollow",
        "body": body,
        "wall": wall,
        "side": side,
        "opened": [{"step": body, "face": f"{body}/cap/{end}"} for end in opened],
        "walls": [{"face": {"step": body, "face": f"{body}/cap/{end}"}, "wall": w} for end, w in walls],
    }
    result = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "Hollow",
                "units": "mm",
                "values": [],
                "steps": [*steps, hollow],
            }
        )
    )
    assert result.reports["h"].state == "fresh", result.reports["h"].messages
    (kept,) = result.bodies
    assert kept.body.valid()
    return kept.body, result.reports["h"].data["walls"]


def cone(first, last, height):
    above = {"kind": "datum", "id": "above", "name": "Above", "how": {"by": "offset", "plane": XY, "distance": height}}
    sections = [
        {"by": "quick", "profile": {"quick": "round", "width": 2 * r}, "plane": p}
        for r, p in ((first, XY), (last, {"kind": "step", "step": "above"}))
    ]
    return [above, {"kind": "loft", "id": "cone", "name": "Cone", "sections": sections}]


@pytest.mark.parametrize("seed", range(8))
def test_a_lofted_cone_has_a_cone_inside(seed):
    """Its inside leans alike, by the wall over the cosine of the lean nearer to the axis, and ends a wall, or none,
    from the ends.
    """
    rng = np.random.default_rng(seed)
    first, last, height, wall, lid = (
        float(rng.uniform(a, b)) for a, b in ((18, 25), (8, 30), (20, 50), (0.5, 3), (0.5, 4))
    )
    opened, outward = [[], ["start"], ["start", "end"]][seed % 3], seed % 4 == 3
    sign = 1 if outward else -1
    body, walls = along(
        *cone(first, last, height),
        body="cone",
        wall=wall,
        opened=opened,
        walls=[] if opened else [("end", lid)],
        side="outward" if outward else "inward",
    )
    thick = [0 if end in opened else lid if end == "end" and not opened else wall for end in ("start", "end")]
    z = np.array([-sign * thick[0], height + sign * thick[1]])
    radii = first + (last - first) * z / height + sign * wall * math.hypot(height, last - first) / height
    other = math.pi / 3 * (z[1] - z[0]) * (radii[0] ** 2 + radii[0] * radii[1] + radii[1] ** 2)
    own = math.pi / 3 * height * (first**2 + first * last + last**2)
    assert body.volume() == pytest.approx(abs(own - other), rel=3e-6)
    assert walls["least"] == pytest.approx(min([wall, *(t for t in thick if t)]), rel=1e-4)


@pytest.mark.parametrize("corner", [40, 75, 110])
def test_a_mitred_frame_is_hollow_where_the_kernel_fails(corner):
    """A bar whose section has its middle on the path: at a mitre the path's length is that of the bar, and of what is
    inside.
    """
    way = math.radians(corner)
    path = polyline((0, 0), (70, 0), (70 + 60 * math.cos(way), 60 * math.sin(way)))
    bar = {
        "kind": "sweep",
        "id": "bar",
        "name": "Bar",
        "path": {"step": "path"},
        "profile": {"quick": "rectangle", "width": 20, "height": 14},
        "corners": "mitre",
    }
    body, _ = along(sketch("path", XZ, path), bar, body="bar", wall=2)
    assert body.volume() == pytest.approx(20 * 14 * 130 - 16 * 10 * (130 - 4), rel=1e-6)


@pytest.mark.parametrize("seed", range(4))
def test_walls_of_what_twists_and_grows_are_of_true_thickness(seed):
    """2,000 places on the inside, each as far from the outside as asked."""
    rng = np.random.default_rng(50 + seed)
    path = curve((0, 0), (30, float(rng.uniform(-8, 8))), (60, 0))
    profile = {"quick": ["rectangle", "ellipse", "hexagon"][seed % 3], "width": 24, "height": 18}
    sweep = {
        "kind": "sweep",
        "id": "body",
        "name": "Body",
        "path": {"step": "path"},
        "profile": profile,
        "twist": float(rng.uniform(-0.25, 0.25)),
        "size": {"by": "ratio", "start": 1, "end": float(rng.uniform(0.7, 1.2))},
    }
    body, _ = along(sketch("path", XZ, path), sweep, body="body", wall=1.5, opened=["end"])
    mesh = tessellate(body, 0.008, 0.3)
    inside = np.array([n.startswith("h/inside/body:side") for n in mesh.names])[mesh.face]
    outside = np.array([n.startswith("body/side") for n in mesh.names])[mesh.face]
    places = mesh.points[np.unique(mesh.triangles[inside])]
    places = places[(places[:, 0] > 6) & (places[:, 0] < 54)]  # beyond the open end there is no outside any more
    places = places[rng.permutation(len(places))[:2000]]
    away = Shape(mesh.points, mesh.triangles[outside]).nearest(places)[0]
    assert away.min() > 1.5 - 0.01
    assert away.max() < 1.5 + 0.01


def test_the_bulb_has_its_walls_at_two_thousand_places():
    document = demo("priming-bulb").model_dump(mode="json")
    document["steps"].append(
        {
            "kind": "hollow",
            "id": "h",
            "name": "Hollow",
            "body": "bulb",
            "wall": 1.5,
            "opened": [{"step": "bulb", "face": "bulb/cap/end"}],
        }
    )
    body = build(part(document)).bodies[-1].body
    mesh = tessellate(body, 0.008, 0.3)
    inside = np.array([n.startswith("h/inside/bulb:side") for n in mesh.names])[mesh.face]
    outside = np.array([n.startswith("bulb/side") for n in mesh.names])[mesh.face]
    places = mesh.points[np.unique(mesh.triangles[inside])]
    places = places[np.abs(places[:, 0]) < 44][:2000]  # beyond the open end there is no outside any more
    away = Shape(mesh.points, mesh.triangles[outside]).nearest(places)[0]
    assert len(places) == 2000
    assert np.abs(away - 1.5).max() < 0.01


@pytest.mark.parametrize("seed", range(3))
def test_places_are_as_far_from_faces_as_the_kernel_s_own_search_says(seed):
    """Inside and outside of a bent, growing bar, beside its faces and beyond its edges; all of its faces, and some
    alone.
    """
    rng = np.random.default_rng(60 + seed)
    profile = {"quick": ["rectangle", "ellipse", "hexagon"][seed], "width": 24, "height": 18}
    sweep = {
        "kind": "sweep",
        "id": "body",
        "name": "Body",
        "path": {"step": "path"},
        "profile": profile,
        "size": {"by": "ratio", "start": 1, "end": 1.3},
    }
    body = (
        build(
            part(
                {
                    "format": "leadline-part",
                    "version": 1,
                    "name": "Bar",
                    "units": "mm",
                    "values": [],
                    "steps": [sketch("path", XZ, curve((0, 0), (30, 8), (60, 0))), sweep],
                }
            )
        )
        .bodies[0]
        .body
    )
    tessellate(body, 0.2)
    places = rng.uniform([-5, -20, -15], [65, 20, 25], (40, 3))
    for some in (faces(body.shape), rng.permutation(np.array(faces(body.shape), dtype=object))[:2].tolist()):
        asked = [
            BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(pnt(p)).Vertex(), compound(some)).Value()
            for p in places
        ]
        assert FacesNear(some, 0.2).distances(places) == pytest.approx(asked, abs=1e-6)


@pytest.mark.parametrize("least", [6.0, 9.0])
def test_a_wall_that_folds_says_the_thickest(least):
    """Inside of an elliptic tube that grows to its end there is room up to the least radius of its section, at its
    small end.
    """
    path = sketch("path", XZ, polyline((0, 0), (50, 0)))
    tube = {
        "kind": "sweep",
        "id": "tube",
        "name": "Tube",
        "path": {"step": "path"},
        "profile": {"quick": "ellipse", "width": 40, "height": 2 * math.sqrt(least * 20)},
        "size": {"by": "ratio", "start": 1, "end": 1.1},
    }
    hollow = {"kind": "hollow", "id": "h", "name": "Hollow", "body": "tube", "wall": least + 4}
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "Tube",
        "units": "mm",
        "values": [],
        "steps": [path, tube, hollow],
    }
    told = build(part(document)).reports["h"].messages[-1]
    assert told.code == "wall-too-thick"
    hollow |= told.remedies[0].change
    assert float(hollow["wall"].split()[0]) == pytest.approx(least, rel=0.03)
    assert build(part(document)).reports["h"].state == "fresh"


# -- ring sectors, whose ends stay closed -----------------------------------------------------------


def void_of_sector(middle, bore, wall, angle):
    """What is inside a ring sector between planes that lie ``wall`` mm within its ends: by quadrature over the distance
    from the axis.
    """

    def height(r):
        return 2 * math.sqrt(max(0.0, bore**2 - (r - middle) ** 2)) * r * (angle - 2 * math.asin(wall / r))

    return quad(height, middle - bore, middle + bore, epsabs=1e-10)[0]


def sector(middle, radius, degrees, swept):
    if not swept:
        turned = {"kind": "revolve", "id": "b", "name": "Ring", "profile": {"step": "s"}, "axis": "y", "angle": degrees}
        return [sketch("s", XZ, circle(radius, middle, 0)), turned]
    d, turn = Draw(), math.radians(degrees)
    d.point("c", 0, middle)
    d.point("a", 0, 0)
    d.point("e", middle * math.sin(turn), middle - middle * math.cos(turn))
    d.arc("arc", "c", "a", "e")
    return [
        sketch("path", XZ, d),
        {
            "kind": "sweep",
            "id": "b",
            "name": "Bend",
            "path": {"step": "path"},
            "profile": {"quick": "round", "width": 2 * radius},
        },
    ]


@settings(max_examples=14, deadline=None)
@given(st.floats(15, 60), st.floats(0.15, 0.6), st.floats(0.05, 0.6), st.floats(50, 340), st.booleans())
def test_a_ring_sector_with_both_ends_closed(middle, share, thin, degrees, swept):
    radius = share * middle
    wall = thin * radius
    body, walls = built(sector(middle, radius, degrees, swept), wall)
    whole = math.pi * radius**2 * middle * math.radians(degrees)
    assert body.volume() == pytest.approx(
        whole - void_of_sector(middle, radius - wall, wall, math.radians(degrees)), rel=2e-6
    )
    assert walls["least"] == pytest.approx(wall, abs=1e-4)


def test_a_wall_of_a_face_as_thick_as_the_body_is_refused_at_it():
    for wall in (30.0, 70.0):
        result = made(BOX, 2, walls=[{"face": face("b/cap/start"), "wall": wall}])
        (message,) = result.reports["h"].messages
        assert (message.code, message.place["field"]) == ("wall-too-thick", "walls")


@pytest.mark.parametrize(
    "more",
    [
        {"opened": ["b/cap/end"], "walls": [{"face": face("b/cap/end"), "wall": 3}]},
        {"walls": [{"face": face("b/cap/end"), "wall": 3}, {"face": face("b/cap/end"), "wall": 4}]},
    ],
)
def test_two_words_on_one_face_are_refused(more):
    (message,) = made(BOX, 2, more.get("opened", ()), walls=more["walls"]).reports["h"].messages
    assert (message.code, message.place["field"]) == ("face-twice", "walls")

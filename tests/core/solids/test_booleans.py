"""Bodies added, cut and kept in common: right in closed form, by independent meshes, and never lost for being small."""

from __future__ import annotations

import copy
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from leadline.core.geometry.mesh_booleans import as_manifold, mesh_volume
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.problems import Problem
from leadline.core.solids import booleans
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import build
from tests.support import boolean_pairs
from tests.support.boolean_pairs import Pair, judged, random_pair
from tests.support.parts import bar, part, step
from tests.support.shapes import X, Y, Z, box, disc, full_circle, ring, straight
from tests.support.spring_solid import spring

OPERATIONS = ("add", "cut", "common")


def body(path: Path, region=None, owner: str = "s", name: str = "Body") -> Body:
    return sweep_bodies(Motion(path), [region or disc(5)], owner, name)[0]


def block(size: float = 40) -> Body:
    return body(Path([LinePiece(-size / 2 * Z, size / 2 * Z, "b")], up=X), box(size, size), "block", "Block")


def rod(radius: float = 5, reach: float = 50, way=X, owner: str = "rod") -> Body:
    up = Z if abs(way @ Z) < 0.9 else X
    return body(Path([LinePiece(-reach * way, reach * way, "r")], up=up), disc(radius), owner, "Rod")


def torus(radius: float = 30, thick: float = 6, owner: str = "torus") -> Body:
    return body(full_circle(radius), disc(thick), owner, "Torus")


def volume(bodies: list[Body]) -> float:
    return sum(b.volume() for b in bodies)


# -- volumes and names ------------------------------------------------------------------------------


def test_cut_and_add_have_the_volumes_that_they_must():
    hole, whole = math.pi * 25 * 40, 40.0**3
    cut = combine(block(), rod(), "cut")
    assert cut.touched
    assert cut.bodies[0].volume() == pytest.approx(whole - hole, rel=1e-8)
    added = combine(block(), rod(), "add")
    assert added.bodies[0].volume() == pytest.approx(whole + math.pi * 25 * 60, rel=1e-8)


def test_names_survive_a_cut():
    (cut,) = combine(block(), rod(), "cut").bodies
    assert "unnamed" not in cut.face_names
    assert {n.split("/")[0] for n in cut.face_names} == {"block", "rod"}
    holes = cut.face_of("rod/side/e1/r")
    assert sum(Body("f", f, []).area() for f in holes) == pytest.approx(2 * math.pi * 5 * 40, rel=1e-6)


def test_a_cut_through_leaves_two_bodies():
    slab = body(Path([LinePiece(-30 * X, 30 * X)], up=Z), box(60, 4), "slab")
    done = combine(block(), slab, "cut")
    assert len(done.bodies) == 2
    assert volume(done.bodies) == pytest.approx(40 * 40 * 36, rel=1e-8)


@pytest.mark.parametrize("operation", OPERATIONS)
def test_what_does_not_touch_changes_nothing(operation):
    far, beside = (
        body(Path([LinePiece(200 * X, 300 * X)], up=Z)),
        rod(5, 50, (X + Y + Z) / math.sqrt(3)).moved(np.eye(3), 42 * (X - Y)),
    )
    for other in (far, beside):  # the second one lies within the first one's box
        done = combine(block(), other, operation)
        assert not done.touched
        assert operation == "common" or volume(done.bodies[:1]) == pytest.approx(64000)


def test_a_tool_wholly_inside_agrees_with_the_mesh_boolean():
    done = combine(block(), rod(5, 10), "cut")
    assert done.bodies[0].volume() == pytest.approx(64000 - math.pi * 25 * 20, rel=1e-8)
    by_mesh = mesh_volume(tessellate(block()), tessellate(rod(5, 10)), "cut")
    assert by_mesh == pytest.approx(done.bodies[0].volume(), rel=1e-3)
    assert volume(combine(block(), rod(5, 10), "common").bodies) == pytest.approx(math.pi * 25 * 20, rel=1e-8)


def tee(R: float, r: float) -> float:
    """What a rod of radius R has in common with a half rod of radius r out of its axis, square to it."""
    return quad(lambda x: 4 * math.sqrt(R * R - x * x) * math.sqrt(r * r - x * x), 0, r)[0]


@settings(max_examples=25, deadline=None)
@given(st.floats(0, 2 * math.pi), st.floats(4, 12), st.floats(0.3, 0.95))
def test_a_tee_in_any_direction_has_the_volume_of_two_crossing_cylinders(angle, R, share):
    r, reach = share * R, 40.0
    way = math.cos(angle) * Y + math.sin(angle) * Z
    branch = body(Path([LinePiece(np.zeros(3), reach * way, "b")], up=X), disc(r), "branch")
    (made,) = combine(rod(R), branch, "add").bodies
    assert made.valid()
    assert made.volume() == pytest.approx(math.pi * R * R * 100 + math.pi * r * r * reach - tee(R, r), rel=1e-7)
    assert as_manifold(tessellate(made)) is not None


RING = 2 * math.pi**2 * 30 * 36


def test_a_full_round_torus_is_cut_grooved_drilled_and_joined():
    half = combine(torus(), body(Path([LinePiece(np.zeros(3), 50 * X)], up=Z), box(100, 100)), "cut")
    assert volume(half.bodies) == pytest.approx(RING / 2, rel=1e-8)
    shaft = rod(29, 20, Z, "shaft")
    groove = combine(shaft, torus(29, 4, "ring"), "cut")  # an O-ring's groove: the inner half of the ring, by Pappus
    inner = 2 * math.pi * (29 - 4 * 4 / (3 * math.pi)) * math.pi * 16 / 2
    assert volume(groove.bodies) == pytest.approx(shaft.volume() - inner, rel=1e-8)
    bore = rod(2, 20, Z).moved(np.eye(3), 30 * X)
    drilled = combine(torus(), bore, "cut")
    through = combine(torus(), bore, "common")
    assert volume(drilled.bodies) + volume(through.bodies) == pytest.approx(RING, rel=1e-8)
    spoked = combine(torus(), rod(3, 30), "add")
    assert len(spoked.bodies) == 1
    assert volume(spoked.bodies) + volume(combine(torus(), rod(3, 30), "common").bodies) == pytest.approx(
        RING + math.pi * 9 * 60, rel=1e-8
    )
    hollow = combine(torus(), torus(30, 4, "void"), "cut")
    assert volume(hollow.bodies) == pytest.approx(2 * math.pi**2 * 30 * (36 - 16), rel=1e-8)
    for done in (half, groove, drilled, spoked, hollow):
        assert all(b.valid() and "unnamed" not in b.face_names for b in done.bodies)


@pytest.mark.parametrize("number", range(40))
def test_random_pairs_are_never_refused_and_never_wrong(number):
    kinds = ("rod", "bar", "torus", "elbow", *(("coil",) if number % 8 == 0 else ()))
    pair = random_pair(np.random.default_rng(900 + number), kinds)
    verdict = judged(pair, OPERATIONS[number % 3])
    assert not verdict.refused, f"{pair.title}: {verdict.refused}"
    assert not verdict.wrong, f"{pair.title}: {verdict.wrong}"


@pytest.mark.parametrize("number", range(12))
def test_a_ring_about_the_rim_of_an_end_is_met(number):
    """Its middle line is the rim itself: the kernel's own way with two tori sees nothing of it."""
    random = np.random.default_rng(number)
    section, bend, thin = float(random.integers(6, 21)), float(random.integers(24, 50)), float(random.integers(1, 4))
    elbow = ArcPiece(np.zeros(3), Y, -X, bend, float(random.uniform(0.4, 2.2)))
    path = Path([elbow]) if number % 3 else Path([LinePiece(np.array([0, bend, 0]), np.array([60.0, bend, 0]))])
    rim = Path([ArcPiece(np.array([0, bend, 0]), Y, Z, section, 2 * math.pi)], closed=True)
    pair = Pair(body(path, disc(section), "a", "Elbow"), body(rim, disc(thin), "b", "Ring"), "ring and elbow")
    pair = pair if number % 2 else Pair(pair.tool, pair.base, pair.title)
    verdict = judged(pair, OPERATIONS[number % 3])
    assert not verdict.refused, verdict.refused
    assert not verdict.wrong, verdict.wrong
    assert verdict.result.touched
    assert all(n.split("/")[0] in "ab" for b in verdict.result.bodies for n in b.face_names)


def test_a_piece_that_the_kernel_loses_is_missed():
    """A coil through a ring: the kernel's first ways lose one of the pieces that both have."""
    random = np.random.default_rng(1795746584)
    with pytest.MonkeyPatch.context() as patch:  # the pairs before it are thrown, not built
        patch.setattr(boolean_pairs, "_swept", lambda motion, section, owner: (motion, section, owner))
        pair = [random_pair(random) for _ in range(279)][-1]
    built = Pair(boolean_pairs._swept(*pair.base), boolean_pairs._swept(*pair.tool), pair.title)
    verdict = judged(built, "common")
    assert not verdict.refused, verdict.refused
    assert not verdict.wrong, verdict.wrong


# -- nothing is lost for being small, and nothing is refused for being whole ------------------------


@settings(max_examples=20, deadline=None)
@given(st.floats(0.2, 4), st.floats(60, 250), st.floats(-0.4, 0.4))
def test_a_small_hole_in_a_large_block_is_kept(diameter, size, offset):
    pin = rod(diameter / 2, size, Z, "pin").moved(np.eye(3), offset * size * X)
    hole = math.pi * diameter**2 / 4 * size
    drilled = combine(block(size), pin, "cut")
    assert drilled.touched
    assert "pin/side/e1/r" in drilled.bodies[0].face_names
    assert size**3 - drilled.bodies[0].volume() == pytest.approx(hole, rel=1e-4, abs=2e-8 * size**3)
    common = combine(block(size), pin, "common")
    assert volume(common.bodies) == pytest.approx(hole, rel=1e-7)
    assert combine(block(size), pin, "add").touched


def test_a_cut_that_removes_everything_leaves_nothing():
    done = combine(rod(5, 10), body(Path([LinePiece(-40 * X, 40 * X)], up=Z), box(30, 30)), "cut")
    assert done.touched
    assert done.bodies == []


@pytest.mark.parametrize("make", [block, rod, torus, lambda: body(straight(), ring(6, 4))])
def test_an_identical_body_joins_cuts_and_is_common(make):
    one, twin = make(), make()
    whole = one.volume()
    assert volume(combine(one, twin, "add").bodies) == pytest.approx(whole, rel=1e-8)
    assert volume(combine(one, twin, "common").bodies) == pytest.approx(whole, rel=1e-8)
    assert combine(one, twin, "cut").bodies == []


@pytest.mark.parametrize("shift", [40.0, 40.0 + 1e-9])
def test_faces_that_just_touch_join_and_cut_nothing(shift):
    beside = block().moved(np.eye(3), shift * X)
    joined = combine(block(), beside, "add")
    assert joined.touched
    assert volume(joined.bodies) == pytest.approx(128000, rel=1e-8)
    assert len(joined.bodies[0].face_names) == 6  # the flush faces are one again
    assert not combine(block(), beside, "cut").touched
    assert not combine(block(), beside, "common").touched


# -- the ladder --------------------------------------------------------------------------------------


class Broken:
    """Kernel booleans of which the first few give their first body unchanged, as if nothing had been done."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch, times: int) -> None:
        self.left = times
        real = booleans.ALGORITHMS["cut"]
        outer = self

        class Lazy(real):
            def SetArguments(self, shapes):
                self.given = shapes.First()
                super().SetArguments(shapes)

            def Shape(self):
                outer.left -= 1
                return self.given if outer.left >= 0 else super().Shape()

        monkeypatch.setitem(booleans.ALGORITHMS, "cut", Lazy)


def test_a_kernel_that_forgets_the_tool_is_found_out_and_asked_another_way(monkeypatch):
    Broken(monkeypatch, 2)
    done = combine(block(), rod(9, 18), "cut")
    assert done.bodies[0].volume() == pytest.approx(64000 - math.pi * 81 * 36, rel=1e-6)


def test_a_kernel_that_never_gets_it_right_is_refused(monkeypatch):
    Broken(monkeypatch, 99)
    with pytest.raises(Problem, match="as if the two had nothing in common") as caught:
        combine(block(), rod(9, 18), "cut")
    assert caught.value.message.code == "boolean"


def test_merging_leaves_the_body_that_it_is_given_as_it_was():
    """The kernel's merging changes its input, also where its result is not taken."""
    one = body(Path([ArcPiece(np.zeros(3), X, Y, 30, math.pi, "a")], up=Z), ring(6, 4))
    tool = rod(7, 60)
    before = [(b.volume(), b.area(), len(b.face_names)) for b in (one, tool)]
    for operation in OPERATIONS:
        combine(one, tool, operation)
    again = [Body("x", b.shape, b.face_names) for b in (one, tool)]
    assert [(b.volume(), b.area(), len(b.face_names)) for b in again] == before


# -- in a part --------------------------------------------------------------------------------------


def two_bars(second: float, result: str) -> dict:
    """A bar of Ø20 and a second step along the same path."""
    document = bar(100, 20)
    thin = copy.deepcopy(step(document, "profile")) | {"id": "thin", "name": "Thin"}
    thin["sketch"]["dimensions"][0]["value"] = second
    document["steps"] += [
        thin,
        {
            **copy.deepcopy(step(document, "sweep")),
            "id": "two",
            "name": "Two",
            "profile": {"step": "thin"},
            "result": result,
        },
    ]
    return document


def test_a_combined_step_tells_its_own_numbers():
    report = build(part({**two_bars(8, "cut"), "material": "steel"})).reports["two"]
    found = report.data["result"]
    assert found["volume"] == pytest.approx(math.pi * (100 - 16) * 100, rel=1e-7)
    assert found["area"] == pytest.approx(2 * math.pi * (100 - 16) + 2 * math.pi * 14 * 100, rel=1e-7)
    assert found["centre"] == pytest.approx([50, 0, 0], abs=1e-6)
    assert (found["bodies"], found["solids"], found["faces"]) == (1, 1, 4)
    assert found["mass"] == pytest.approx(found["volume"] * 7850e-9)


def test_a_cut_of_everything_says_so_and_leaves_no_body():
    result = build(part(two_bars(24, "cut")))
    assert [m.code for m in result.reports["two"].messages] == ["nothing-left"]
    assert result.bodies == []


def test_a_thin_pin_in_a_large_block_is_not_lost():
    pinned = build(part(two_bars(0.2, "cut")))
    assert pinned.reports["two"].messages == []
    assert pinned.bodies[0].body.volume() == pytest.approx(math.pi * (100 - 0.01) * 100, rel=1e-8)


@settings(max_examples=8, deadline=None)
@given(st.floats(1.2, 7), st.floats(0.8, 4), st.floats(2.5, 6), st.floats(1.2, 3), st.floats(-0.2, 0.4))
def test_springs_ground_at_both_ends_are_built(turns, wire, index, spacing, share):
    """The mesh, cut by itself and not by the kernel, has the kernel's volume and closes."""
    result = build(part(spring(turns, wire, index * wire / 2, spacing * wire, share * wire / 2)))
    report = result.reports["sweep"]
    assert report.state == "fresh", [m.text for m in report.messages]
    (kept,) = result.bodies
    assert kept.body.valid()
    assert as_manifold(kept.shown()) is not None
    chord = wire / 600
    assert kept.shown().volume() == pytest.approx(kept.body.volume(), abs=chord * kept.body.area())
    assert report.data["numbers"]["volume"] == pytest.approx(kept.body.volume())
    assert {"sweep/cap/start", "sweep/cap/end"} <= set(kept.body.face_names)
    assert report.data["numbers"]["area"] == pytest.approx(Body("again", kept.body.shape, []).area(), rel=1e-5)
    assert abs(report.data["checks"]["volume_error"]) < 1e-5

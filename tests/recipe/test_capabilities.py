"""Steps ask for what a product can be used as, never for what made it; and see no more of it than their keys know."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pytest

from leadline.core.geometry.edges import Edge, line_edge
from leadline.core.geometry.plane import PRINCIPAL, Plane
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.sweep.borders import FlatStrand, Strand
from leadline.core.values import Scope
from leadline.kinds.edges.model import EdgesStep
from leadline.kinds.sketch.imaging import images
from leadline.recipe.build import Memory, build
from leadline.recipe.context import Context, Names
from leadline.recipe.inputs import FaceRef, PathRef, StepPlane
from leadline.recipe.products import BodyProduct, HasBodies, HasEdges, HasFaces, HasMotion, HasPath, Product
from leadline.recipe.registry import kinds
from leadline.recipe.results import Report
from leadline.recipe.rooms import builder_of
from tests.support.parts import XY, XZ, bar, build_otherwise, circle, part, polyline, sketch

CORNERS = np.array([[0.0, 0], [30, 0], [30, 20], [0, 20]])
TOP = Plane(np.array([0.0, 0, 5]), np.array([1.0, 0, 0]), np.array([0.0, 1, 0]))


@dataclass
class Plate(Product, HasFaces, HasEdges):
    """What no sweep has made, such as a body from a file: one flat face, and its four edges."""

    def rim(self) -> list[Edge]:
        return [line_edge(CORNERS[k], CORNERS[(k + 1) % 4], f"e{k}") for k in range(4)]

    def flat_face(self, name: str) -> Plane | None:
        return TOP if name == "plate/top" else None

    def outline(self, name: str) -> tuple[Plane, list[list[Edge]]] | None:
        return (TOP, [self.rim()]) if name == "plate/top" else None

    def border(self, name: str) -> list[Strand]:
        return [FlatStrand(TOP, self.rim())] if name == "plate/top" else []

    def edges(self) -> dict[str, list[Strand]]:
        return {f"plate/edge/{k}": [FlatStrand(TOP, [edge])] for k, edge in enumerate(self.rim())}


def context(**products: Product) -> Context:
    return Context(Scope("mm"), products=products, names=Names({name: name.capitalize() for name in products}))


def test_faces_and_edges_are_taken_from_whatever_has_them():
    known = context(plate=Plate())
    assert known.face("plate", "plate/top") is TOP
    plane, (region,) = known.profile(FaceRef(step="plate", face="plate/top"))
    assert plane is TOP
    assert region.area == pytest.approx(600)
    seen = images(known, "plate", "face", "plate/top", PRINCIPAL["XY"])
    assert [i.kind for i in seen] == ["line"] * 4
    step = EdgesStep(
        id="way",
        name="Way",
        edges=[{"step": "plate", "edge": "plate/edge/0"}, {"step": "plate", "edge": "plate/edge/1"}],
        tangent=False,
    )
    made = builder_of(kinds()["edges"])(known, step, Report("way", "edges", "fresh"))
    assert made.give(HasPath).follow().length == pytest.approx(50)


def test_a_product_is_refused_for_what_it_cannot_be_used_as():
    known = context(plate=Plate(), way=build_path())
    for ask, what in (
        (lambda: known.path(PathRef(step="plate")), "a path"),
        (lambda: known.plane(StepPlane(step="plate")), "a plane"),
        (lambda: known.motion("plate", "source"), "a sweep or an extrusion"),
        (lambda: known.faces("way", "face"), "a body with named faces"),
        (lambda: known.edges("way", "edges"), "a body with named edges"),
    ):
        with pytest.raises(Problem, match=what) as refused:
            ask()
        assert refused.value.message.code == "wrong-source"


def build_path() -> Product:
    made: dict[str, Product] = {}
    build(part(bar()), products=made)
    return made["path"]


def test_what_is_built_lends_the_capabilities_of_what_was_planned():
    body = BodyProduct(Plate(), [], True)
    assert isinstance(body.give(HasFaces), Plate)
    assert body.give(HasBodies) is body
    assert body.give(HasMotion) is None
    assert BodyProduct(None, [], True).give(HasFaces) is None


def edge_of_a_bar(result: str):
    """A block, a bar that is put together with it, and a path along an edge of the bar."""
    bore = bar(result=result)
    block = [
        sketch("foot", XY, polyline((-10, -9), (60, -9), (60, 9), (-10, 9), (-10, -9))),
        {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "foot"}, "length": 3, "back": 3},
    ]
    bore["steps"] = [
        *block,
        *bore["steps"],
        {
            "kind": "edges",
            "id": "way",
            "name": "Way",
            "edges": [{"step": "sweep", "edge": "sweep/cap/start&sweep/side/e1/e1"}],
        },
    ]
    return bore


def test_what_follows_a_body_s_plan_is_not_made_again_when_only_the_bodies_change():
    document = edge_of_a_bar("add")
    memory = Memory()
    first = build(part(document), memory).reports
    document["steps"][1]["length"] = 5
    then = build(part(document), memory).reports
    assert first["sweep"].key != then["sweep"].key
    assert first["way"].state == "fresh"
    assert first["way"].key == then["way"].key


def test_a_quick_build_leaves_what_needs_no_kernel_for_the_whole_one(monkeypatch):
    document = edge_of_a_bar("cut")
    memory = Memory()
    quick = build(part(document), memory, quick=True).reports

    def again(*_):
        raise AssertionError("it was made before")

    build_otherwise(monkeypatch, again, "sketch", "plane", "edges")
    whole = build(part(document), memory).reports
    assert {r.state for r in whole.values()} == {"fresh"}
    assert {k: r.key for k, r in whole.items() if k not in ("block", "sweep")} == {
        k: r.key for k, r in quick.items() if k not in ("block", "sweep")
    }
    assert whole["sweep"].key != quick["sweep"].key


def test_a_body_that_is_renamed_keeps_what_follows_its_plan():
    document = edge_of_a_bar("add")
    first = build(part(document)).reports
    document["steps"][-2]["name"] = "Another"
    then = build(part(document)).reports
    assert first["sweep"].key != then["sweep"].key
    assert first["way"].key == then["way"].key


def test_a_step_that_reads_no_bodies_sees_of_a_body_what_was_planned():
    plan = Plate()
    seen = context(plate=BodyProduct(plan, [], True))
    assert seen.narrowed(["plate"], bodies=False, motions=False).products["plate"] is plan
    assert isinstance(seen.narrowed(["plate"], bodies=True, motions=False).products["plate"], BodyProduct)


def test_a_straight_path_carries_on_as_a_capability():
    made: dict[str, Product] = {}
    build(
        part(
            {
                **bar(),
                "steps": [
                    sketch("ring", XZ, circle(10)),
                    {"kind": "extrude", "id": "rod", "name": "Rod", "profile": {"step": "ring"}, "length": 40},
                ],
            }
        ),
        products=made,
    )
    rod = made["rod"]
    assert isinstance(rod, BodyProduct)
    assert isinstance(rod.bodies[0].body, Body)
    path = rod.give(HasPath).follow()
    assert isinstance(path, Path)
    assert isinstance(path.pieces[0], LinePiece)
    assert path.length == pytest.approx(40)

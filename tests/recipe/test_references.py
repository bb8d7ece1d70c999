"""References to faces and edges, those that booleans, roundings and hollows made too: thirty edits on end, after each
of which every reference lies on what was meant, or says what was lost and offers what there is in its place.
"""

import copy
import math
import random

import numpy as np
import pytest

from leadline.core.problems import written
from leadline.recipe.build import Memory, build
from tests.support.parts import XY, circle, part, polyline, sketch

SIZES = {"wide": 60.0, "deep": 40.0, "high": 20.0, "peg": 8.0, "tall": 12.0, "soften": 2.0, "wall": 1.0}


def document():
    """A block with a round peg on its top, the foot of the peg rounded, a copy of all that hollow beside it; and what
    refers to them.
    """
    steps = [
        sketch("plan", XY, polyline((0, 0), (60, 0), (60, 40), (0, 40), closed=True)),
        {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "plan"}, "length": "high"},
        {"kind": "datum", "id": "top", "name": "Top", "how": {"by": "face", "step": "block", "face": "block/cap/end"}},
        sketch("ring", {"kind": "step", "step": "top"}, circle(8, 30, 20)),
        {"kind": "extrude", "id": "peg", "name": "Peg", "profile": {"step": "ring"}, "length": "tall", "result": "add"},
        {
            "kind": "edges",
            "id": "foot",
            "name": "Foot",
            "edges": [{"step": "peg", "edge": "block/cap/end&peg/side/ring/0", "seen": [38, 20, 20]}],
        },
        {
            "kind": "edges",
            "id": "brow",
            "name": "Brow",
            "edges": [{"step": "block", "edge": "block/cap/end&block/side/e1/0", "seen": [60, 20, 20]}],
        },
        {
            "kind": "rounding",
            "id": "soft",
            "name": "Soft",
            "how": {"by": "even", "radius": "soften"},
            "edges": [{"step": "peg", "edge": "block/cap/end&peg/side/ring/0", "seen": [38, 20, 20]}],
        },
        {
            "kind": "datum",
            "id": "crown",
            "name": "Crown",
            "how": {
                "by": "face",
                "step": "peg",
                "face": "peg/cap/end",
                "seen": {"point": [30, 20, 32], "normal": [0, 0, 1]},
            },
        },
        {
            "kind": "arranged",
            "id": "twin",
            "name": "Twin",
            "source": "block",
            "plane": XY,
            "how": {"by": "move", "x": 100, "y": 0, "out": 0, "turn": 0},
        },
        {
            "kind": "hollow",
            "id": "shell",
            "name": "Shell",
            "body": "twin",
            "wall": "wall",
            "opened": [{"step": "twin", "face": "twin/cap/start"}],
        },
        {
            "kind": "datum",
            "id": "ceiling",
            "name": "Ceiling",
            "how": {
                "by": "face",
                "step": "shell",
                "face": "shell/inside/twin:cap:end",
                "seen": {"point": [130, 20, 19], "normal": [0, 0, -1]},
            },
        },
        {
            "kind": "edges",
            "id": "lip",
            "name": "Lip",
            "edges": [{"step": "shell", "edge": "shell/rim&twin/side/e1/0", "seen": [160, 20, 0]}],
        },
    ]
    values = [{"name": name, "value": value} for name, value in SIZES.items()]
    return {"format": "leadline-part", "version": 1, "name": "Held", "units": "mm", "values": values, "steps": steps}


def step_of(doc, name):
    return next(s for s in doc["steps"] if s["id"] == name)


def value_of(doc, name):
    return next(v for v in doc["values"] if v["name"] == name)["value"]


def drawn(doc, name, point):
    return next(p for p in step_of(doc, name)["sketch"]["points"] if p["id"] == point)


class Edits:
    """Random edits of the part, each of a kind that designers make; ``doc`` is the part after them."""

    def __init__(self, seed):
        self.random, self.doc, self.count = random.Random(seed), document(), 0

    def size(self):
        name = self.random.choice(["high", "tall", "soften", "wall"])
        low, high = {"high": (12, 30), "tall": (8, 20), "soften": (0.5, 3), "wall": (0.5, 1.2)}[name]
        next(v for v in self.doc["values"] if v["name"] == name)["value"] = round(self.random.uniform(low, high), 3)

    def width(self):
        x = round(self.random.uniform(50, 80), 3)
        for p in ("p1", "p2"):
            drawn(self.doc, "plan", p)["x"] = x

    def peg(self):
        next(e for e in step_of(self.doc, "ring")["sketch"]["entities"] if e["id"] == "ring")["radius"] = round(
            self.random.uniform(4, 12), 3
        )

    def inserted(self):
        """A hole is drilled through the block, or a slot cut into a side, before the peg is put on."""
        self.count += 1
        name = f"hole{self.count}"
        at = (6.0 + 7 * (self.count % 6), 5.0 if self.count % 2 else 35.0)
        place = next(i for i, s in enumerate(self.doc["steps"]) if s["id"] == "top") + 1
        self.doc["steps"][place:place] = [
            sketch(f"s{name}", XY, circle(1.5, *at)),
            {
                "kind": "extrude",
                "id": name,
                "name": name,
                "profile": {"step": f"s{name}"},
                "length": 60,
                "result": "cut",
            },
        ]

    def region(self):
        """A second region beside the first one."""
        own = step_of(self.doc, "plan")["sketch"]
        self.count += 1
        extra = circle(3, 20.0 + 8 * (self.count % 5), -20.0 - 10 * self.count).sketch().model_dump(mode="json")
        n = self.count
        own["points"].append({"id": f"c{n}", "x": extra["points"][0]["x"], "y": extra["points"][0]["y"]})
        own["entities"].append(
            {"kind": "circle", "id": f"more{n}", "center": f"c{n}", "radius": 3.0, "construction": False}
        )

    def switched(self):
        """A hole is switched off, or on again."""
        holes = [s for s in self.doc["steps"] if s["id"].startswith("hole")]
        if holes:
            hole = self.random.choice(holes)
            hole["off"] = not hole.get("off", False)

    def one(self):
        self.random.choice([self.size, self.size, self.width, self.peg, self.inserted, self.region, self.switched])()


def lies_on_what_was_meant(result, doc):
    """Of each reference what is measured and what it must be, by closed form."""
    high, tall, wall = (value_of(doc, n) for n in ("high", "tall", "wall"))
    wide = drawn(doc, "plan", "p1")["x"]
    radius = next(e for e in step_of(doc, "ring")["sketch"]["entities"] if e["id"] == "ring")["radius"]
    data = {name: report.data for name, report in result.reports.items()}
    assert data["top"]["plane"]["origin"][2] == pytest.approx(high)
    assert data["foot"]["path"]["length"] == pytest.approx(2 * math.pi * radius, rel=1e-6)
    assert np.array(data["foot"]["path"]["points"])[:, 2] == pytest.approx(high)
    assert data["brow"]["path"]["length"] == pytest.approx(40.0)
    assert np.array(data["brow"]["path"]["points"])[:, 0] == pytest.approx(wide)
    assert data["crown"]["plane"]["origin"][2] == pytest.approx(high + tall)
    assert data["soft"]["length"] == pytest.approx(2 * math.pi * radius, rel=1e-6)
    assert data["ceiling"]["plane"]["origin"][2] == pytest.approx(high - wall)
    lip = np.array(data["lip"]["path"]["points"])
    assert lip[:, 0] == pytest.approx(100 + wide)
    assert lip[:, 2] == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("seed", [7])
def test_thirty_edits_leave_every_reference_on_what_was_meant(seed):
    edits, memory = Edits(seed), Memory()
    for _ in range(30):
        edits.one()
        made = part(copy.deepcopy(edits.doc))
        result = build(made, memory)
        failed = {k: [m.text for m in r.messages] for k, r in result.reports.items() if r.state == "failed"}
        assert not failed
        lies_on_what_was_meant(result, edits.doc)
        assert result.reports.keys() == {s["id"] for s in edits.doc["steps"]}


LOST = {
    "peg off": (lambda d: step_of(d, "peg").update(result="separate"), {"foot": "edges", "soft": "edges"}),
    "a peg that is square": (
        lambda d: step_of(d, "ring").update(
            sketch=polyline((25, 15), (35, 15), (35, 25), (25, 25), closed=True).sketch().model_dump(mode="json")
        ),
        {"foot": "edges", "soft": "edges"},
    ),
}


@pytest.mark.parametrize("what", LOST)
def test_what_is_lost_is_said_and_the_nearest_is_offered(what):
    doc = document()
    change, lost = LOST[what]
    change(doc)
    result = build(part(doc))
    for name, field in lost.items():
        report = result.reports[name]
        (message,) = report.messages
        assert (message.code, message.place["field"]) == ("deleted-reference", field)
        assert message.remedies
        for remedy in message.remedies:  # each of them is a way out
            mended = copy.deepcopy(doc)
            step_of(mended, name).update(remedy.change)
            again = build(part(mended)).reports[name]
            assert again.state == "fresh" or again.messages[0].code != "deleted-reference"


def test_a_lost_face_offers_those_nearest_to_where_it_was():
    doc = document()
    how = step_of(doc, "crown")["how"]
    how["face"] = "peg/cap/gone"
    (message,) = build(part(doc)).reports["crown"].messages
    first = message.remedies[0]
    assert first.change["how"]["face"] == "peg/cap/end"
    assert "0 mm" in written(first.marked)
    how["seen"] = None
    (message,) = build(part(doc)).reports["crown"].messages
    assert {r.change["how"]["face"] for r in message.remedies} == {"peg/cap/end", "peg/cap/start"}


def test_a_path_along_an_edge_that_a_boolean_made_waits_for_the_build():
    doc = document()
    doc["steps"] = doc["steps"][: [s["id"] for s in doc["steps"]].index("foot") + 1]
    doc["steps"].append(
        {
            "kind": "sweep",
            "id": "bead",
            "name": "Bead",
            "path": {"step": "foot"},
            "profile": {"quick": "round", "width": 2},
            "result": "separate",
        }
    )
    quick = build(part(doc), quick=True).reports
    assert [m.code for m in quick["foot"].messages] == ["not-yet"]
    memory = Memory()
    report = build(part(doc), memory).reports["bead"]
    assert report.data["numbers"]["volume"] == pytest.approx(math.pi * 2 * math.pi * 8, rel=1e-6)  # Pappus
    next(e for e in step_of(doc, "ring")["sketch"]["entities"] if e["id"] == "ring")["radius"] = 10.0
    assert build(part(doc), memory).reports["bead"].data["numbers"]["volume"] == pytest.approx(
        math.pi * 2 * math.pi * 10, rel=1e-6
    )

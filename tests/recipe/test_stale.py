"""What a step has made is made again when, and only when, something that it reads has changed; and what it says
of it.
"""

from __future__ import annotations

import copy
import json
import re

import numpy as np
import pytest

from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.step_file import read_step
from leadline.exports.formats import export
from leadline.kinds.sketch.editing import edit_step, solve_step
from leadline.recipe import build as module
from leadline.recipe.build import Memory, build, dependents, engine
from leadline.recipe.part_file import part_from
from leadline.recipe.preview import preview_step
from tests.support.parts import DEMO, XY, XZ, YZ, bar, build_otherwise, circle, part, polyline, sketch, step


def changed(document, step_id, **fields):
    document = copy.deepcopy(document)
    step(document, step_id).update(fields)
    return document


def test_a_hose_s_collar_follows_the_spigot_that_it_has_found():
    raw = json.loads((DEMO / "discharge-hose.json").read_bytes())
    spigots = [s for s in raw["steps"] if s["kind"] == "extrude"]
    hose = next(s["id"] for s in raw["steps"] if s["kind"] == "hose")
    memory = Memory()
    before = build(part_from(raw), memory).reports[hose].data["hose"]["ports"]
    longer = changed(raw, spigots[0]["id"], length=40)
    kept, fresh = (build(part_from(longer), m).reports[hose].data["hose"]["ports"] for m in (memory, Memory()))
    assert kept == fresh
    assert kept != before


def test_a_joined_path_calls_its_pieces_by_their_present_names():
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "steps": [
            sketch("one", XY, polyline((0, 0), (50, 0))),
            sketch("two", XZ, polyline((50, 0), (50, 40))),
            {"kind": "joined", "id": "both", "name": "Both", "parts": [{"step": "one"}, {"step": "two"}]},
        ],
    }
    memory = Memory()
    build(part(document), memory)
    renamed = changed(document, "one", name="Renamed")
    assert build(part(renamed), memory).reports["both"].data == build(part(renamed), Memory()).reports["both"].data


def test_keys_change_with_the_sources_of_the_core(monkeypatch):
    keys = {k: r.key for k, r in build(part(bar())).reports.items()}
    assert keys == {k: r.key for k, r in build(part(bar())).reports.items()}
    assert re.fullmatch(r"[0-9a-f]{64}", engine())
    monkeypatch.setattr(module, "engine", lambda: "another")
    assert not set(keys.values()) & {r.key for r in build(part(bar())).reports.values()}


def test_a_step_that_uses_a_later_one_is_told_so():
    document = bar()
    document["steps"].reverse()
    (message,) = build(part(document)).reports["sweep"].messages
    assert message.code == "comes-later"
    assert "comes later" in message.text
    assert message.place["source"] == "path"


def test_one_step_s_unforeseen_error_leaves_the_others_and_is_told_by_number(monkeypatch, caplog):
    def broken(*_):
        raise ZeroDivisionError("nobody thought of this")

    build_otherwise(monkeypatch, broken, "plane")
    result = build(part(bar()))
    (message,) = result.reports["plane"].messages
    number = re.search(r"number (\w{8})", message.text).group(1)
    assert message.code == "unexpected"
    assert number in caplog.text
    assert "nobody thought of this" in caplog.text
    assert result.reports["path"].state == "fresh"


@pytest.mark.parametrize("size", [3000, 40])
def test_messages_of_inch_parts_give_inches(size):
    """Folds, gaps, walls and stations, each made deep in numerics that know millimetres alone."""
    arc_path = polyline((0, 0), (80, 0), (80, 50))
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "units": "in",
        "steps": [
            sketch("path", XY, arc_path),
            sketch("gap", XZ, polyline((0, 0), (50, 0), (80, 10))),
            {
                "kind": "sweep",
                "id": "a",
                "name": "A",
                "path": {"step": "path"},
                "profile": {"quick": "round", "width": size},
            },
            {
                "kind": "sweep",
                "id": "b",
                "name": "B",
                "path": {"step": "path"},
                "profile": {"quick": "round", "width": 0.2},
                "corners": "round",
                "corner_radius": size,
            },
            {
                "kind": "sweep",
                "id": "c",
                "name": "C",
                "path": {"step": "path"},
                "profile": {"quick": "slot", "width": 1, "height": 2},
                "corners": "mitre",
            },
            {
                "kind": "sweep",
                "id": "d",
                "name": "D",
                "path": {"step": "path"},
                "profile": {"quick": "round", "width": 1},
                "corners": "mitre",
                "wall": 3,
            },
            {
                "kind": "sweep",
                "id": "e",
                "name": "E",
                "path": {"step": "path"},
                "profile": {"quick": "round", "width": 1},
                "corners": "mitre",
                "end": size,
            },
            {"kind": "plane", "id": "f", "name": "F", "path": {"step": "path"}, "place": "length", "value": size},
        ],
    }
    said = [m for r in build(part(document)).as_dict()["steps"].values() for m in r["messages"]]
    assert len(said) >= 5
    for message in said:
        assert not re.search(r"\d mm", message["text"] + message["way_out"]), message["text"]


def test_a_repeat_that_keeps_its_source_keeps_its_name_and_label_in_step(tmp_path):
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "steps": [
            sketch("path", XY, polyline((0, 0), (90, 0))),
            sketch("ring", YZ, circle(3)),
            {"kind": "extrude", "id": "peg", "name": "Peg", "profile": {"step": "ring"}, "length": 8},
            {
                "kind": "repeat",
                "id": "row",
                "name": "Row",
                "source": "peg",
                "path": {"step": "path"},
                "count": 4,
                "first": 20,
                "keep": True,
            },
        ],
    }
    result = build(part(document))
    assert [b.name for b in result.bodies] == ["Peg", "Row"]
    text = export(result, "step")
    (tmp_path / "a.step").write_bytes(text)
    names = re.findall(rb"PRODUCT\('([^']*)'", text)
    assert set(names) == {b"Peg", b"Row", b"Row copies"}

    shape = read_step(tmp_path / "a.step")
    assert Body("all", shape, []).volume() == pytest.approx(5 * np.pi * 9 * 8, rel=1e-6)


def test_unforeseen_errors_of_edits_become_messages(monkeypatch):
    from leadline.kinds.sketch import editing

    monkeypatch.setattr(editing, "solve_sketch", lambda *_: 1 / 0)
    with pytest.raises(Problem, match="number"):
        solve_step(part(bar()), "path", Memory())
    with pytest.raises(Problem):
        edit_step(part(bar()), "path", {"op": "mirror", "items": ["e1"], "about": "X"}, Memory())
    assert preview_step(part(bar()), "sweep", Memory()).mesh is not None


def test_a_measured_length_follows_its_path_and_is_a_source():
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "steps": [
            sketch("way", XY, polyline((0, 0), (60, 0))),
            sketch("other", XZ, polyline((0, 0), (10, 0))),
            {
                "kind": "plane",
                "id": "p",
                "name": "P",
                "path": {"step": "way"},
                "place": "length",
                "value": "length(Way)/2 + length(other)",
            },
        ],
    }
    memory = Memory()
    result = build(part(document), memory)
    assert result.reports["p"].data["station"] == pytest.approx(40)
    assert result.reports["p"].uses == ["way", "other"]
    longer = copy.deepcopy(document)
    longer["steps"][1] = sketch("other", XZ, polyline((0, 0), (15, 0)))
    assert build(part(longer), memory).reports["p"].data["station"] == pytest.approx(45)
    for wrong, code in (("length(Nothing)", "unknown-name"), ("length(p)", "source-failed")):
        assert build(part(changed(document, "p", value=wrong))).reports["p"].messages[0].code == code


def test_a_named_value_may_measure_a_path_and_others_may_use_it():
    way = sketch("way", XY, polyline((0, 0), (60, 0)))
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "values": [
            {"name": "half", "value": "long/2"},
            {"name": "long", "value": "length(Way) + 4"},
            {"name": "wide", "value": 7},
        ],
        "steps": [
            way,
            {
                "kind": "plane",
                "id": "p",
                "name": "P",
                "path": {"step": "way"},
                "place": "length",
                "value": "half + 1 mm",
            },
        ],
    }
    memory = Memory()
    result = build(part(document), memory)
    assert result.messages == []
    assert result.reports["p"].data["station"] == pytest.approx(33)
    assert result.reports["p"].uses == ["way"]
    longer = {**document, "steps": [sketch("way", XY, polyline((0, 0), (80, 0))), document["steps"][1]]}
    assert build(part(longer), memory).reports["p"].data["station"] == pytest.approx(43)
    assert dependents(part(document), "way") == ["p"]
    edited = edit_step(
        part({**document, "steps": [way, sketch("other", XZ, polyline((0, 0), (9, 0)))]}),
        "other",
        {"op": "transform", "items": ["e0"], "dx": "half"},
        Memory(),
    )
    assert min(p["x"] for p in edited["sketch"]["points"]) == pytest.approx(32)


@pytest.mark.parametrize(
    ("value", "code"),
    [("length(Nowhere)", "unknown-name"), ("length(Way) + 1 deg", "unit-mix"), ("length(Way", "unreadable")],
)
def test_a_named_value_that_cannot_be_measured_is_said(value, code):
    document = {
        "format": "leadline-part",
        "version": 1,
        "name": "P",
        "values": [{"name": "long", "value": value}],
        "steps": [sketch("way", XY, polyline((0, 0), (60, 0)))],
    }
    (message,) = build(part(document)).messages
    assert (message.code, message.place["field"]) == (code, "values.long")


def test_a_value_that_measures_a_later_step_is_told_so_where_it_is_used():
    plane = {"kind": "plane", "id": "p", "name": "P", "path": {"step": "way"}, "place": "length", "value": "long"}
    steps = [sketch("way", XY, polyline((0, 0), (60, 0))), plane, sketch("late", XZ, polyline((0, 0), (10, 0)))]
    result = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "P",
                "values": [{"name": "long", "value": "length(Late)"}],
                "steps": steps,
            }
        )
    )
    assert [m.code for m in result.reports["p"].messages] == ["comes-later"]
    assert result.messages == []


@pytest.mark.parametrize(
    "read",
    [
        lambda context: context.product("profile", "profile"),
        lambda context: list(context.bodies),
        lambda context: bool(context.bodies),
        lambda context: len(context.bodies),
        lambda context: None in context.bodies,
        lambda context: context.bodies[0],
        lambda context: context.scope.evaluate("length(profile)", "length"),
        lambda context: context.scope.evaluate("width", "length"),
    ],
)
def test_a_room_that_reads_what_its_step_does_not_declare_is_found_out(monkeypatch, caplog, read):
    """What is not declared is not in the key either, so that it would give what is out of date."""
    document = bar()
    document["steps"].append({"kind": "plane", "id": "late", "name": "Late", "path": {"step": "path"}})
    document["values"] = [{"name": "width", "value": 3, "note": ""}]
    build_otherwise(monkeypatch, lambda context, *_: read(context), "plane")
    (message,) = (
        build(
            part(
                {
                    **document,
                    "steps": [document["steps"][i] for i in (0, 4)]
                    + [sketch("profile", YZ, circle(5)), document["steps"][4] | {"id": "last"}],
                }
            )
        )
        .reports["last"]
        .messages
    )
    assert message.code == "unexpected"
    assert "Undeclared" in caplog.text


def test_what_tells_a_name_is_made_again_when_the_name_changes_and_nothing_else_is():
    way, turn = sketch("way", XY, polyline((0, 0), (50, 0))), sketch("turn", XY, polyline((50, 0.5), (50, 40)))
    joined = {
        "kind": "joined",
        "id": "all",
        "name": "All",
        "parts": [{"step": "way"}, {"step": "turn"}],
        "tolerance": 2,
    }
    plane = {"kind": "plane", "id": "p", "name": "P", "path": {"step": "way"}}
    document = {"format": "leadline-part", "version": 1, "name": "P", "steps": [way, turn, joined, plane]}
    memory = Memory()
    first = build(part(document), memory)
    renamed = build(part({**document, "steps": [way | {"name": "Rail"}, turn, joined, plane]}), memory)
    assert "“Way”" in first.reports["all"].messages[0].text
    assert "“Rail”" in renamed.reports["all"].messages[0].text
    assert first.reports["p"].data is renamed.reports["p"].data

"""The recipe: what feeds what, what is rebuilt, what a failing step says."""

import copy
import json
import math
from dataclasses import replace

import pytest
import shapely

from leadline.core.problems import Problem
from leadline.core.sketch.outline import regions
from leadline.exports.files import build_file, build_to_folder
from leadline.exports.formats import export, formats
from leadline.kinds.sketch.editing import begin_drag, solve_step
from leadline.limits import PART_FILE_BYTES
from leadline.recipe.build import Memory, Stopped, build, dependents
from leadline.recipe.built_preview import built_preview
from leadline.recipe.part import part_schema
from leadline.recipe.part_file import part_from, read_part, write_part
from leadline.recipe.preview import preview_step
from tests.support.parts import DEMO, SHARED, XY, Shelf, bar, demo, part, sketch, step
from tests.support.shapes import Draw


def built_ids(part, memory, **options):
    """The steps that a build really computed, in order: those whose key was not known."""
    before = set(memory.entries)
    result = build(part, memory, **options)
    return [i for i, r in result.reports.items() if r.key and r.key not in before], result


def message(result, step_id):
    report = result.reports[step_id]
    assert report.state == "failed"
    assert report.messages[0].text
    assert report.messages[0].way_out
    return report.messages[0]


def test_a_bar_has_the_volume_of_a_bar():
    result = build(part(bar(120, 10)))
    assert [r.state for r in result.reports.values()] == ["fresh"] * 4
    (body,) = result.bodies
    assert body.body.volume() == pytest.approx(math.pi * 25 * 120, rel=1e-9)
    report = result.reports["sweep"]
    assert report.figure == "Ø10 mm, 120 mm"
    assert report.data["checks"]["valid"]
    assert abs(report.data["checks"]["volume_error"]) < 1e-9


@pytest.mark.parametrize(
    ("name", "volume"),
    [
        ("kick-rail", 480 * (2 * 180 + 420 + 70 * math.pi)),
        ("frost-bar", 14 * 14 * 240),
    ],
)
def test_demo_parts_in_closed_form(name, volume):
    result = build(demo(name))
    assert result.bodies[0].body.volume() == pytest.approx(volume, rel=1e-6)


def test_the_handle_bar_by_pappus():
    result = build(demo("handle-bar"))
    length = result.reports["sweep"].data["length"]
    assert result.bodies[0].body.volume() == pytest.approx(math.pi * 121 * length, rel=1e-6)


def test_the_pipe_clip_loses_what_the_seat_takes():
    """The seat's arc, cut off at the block's side, against an independent mesh boolean."""
    result = build(demo("pipe-clip"))
    volume = result.bodies[0].body.volume()
    block = 64 * 30 * 36
    straight, sweep = 24.0, math.asin((32 + 8) / 90)
    removed = math.pi * 100 * (straight + 90 * sweep)
    assert volume == pytest.approx(block - removed, rel=0.01)
    assert result.bodies[0].shown().volume() == pytest.approx(volume, rel=0.005)


@pytest.mark.parametrize("name", [p.stem for p in DEMO.glob("*.json")])
def test_demo_sketches_are_settled(name):
    result = build(demo(name), SHARED, quick=True)
    freedoms = [r.data["freedom"] for r in result.reports.values() if "freedom" in r.data]
    assert set(freedoms) == {0} if any(s.kind == "sketch" for s in demo(name).steps) else not freedoms


def test_changing_a_dimension_moves_everything_that_follows():
    before = build(part(bar(100, 10)))
    after = build(part(bar("100*2", 10)))
    assert after.bodies[0].body.volume() == pytest.approx(2 * before.bodies[0].body.volume())
    assert after.bodies[0].key != before.bodies[0].key


def test_only_what_depends_on_a_change_is_rebuilt():
    document = bar(100, 10, values=[{"name": "unused", "value": 3}])
    memory = Memory()
    assert built_ids(part(document), memory)[0] == ["path", "plane", "profile", "sweep"]
    assert built_ids(part(document), memory)[0] == []
    thicker = copy.deepcopy(document)
    step(thicker, "profile")["sketch"]["dimensions"][0]["value"] = 12
    assert built_ids(part(thicker), memory)[0] == ["profile", "sweep"]
    renamed = copy.deepcopy(document)
    renamed["values"][0]["value"] = 99
    step(renamed, "plane")["name"] = "Another name"
    assert built_ids(part(renamed), memory)[0] == []
    twisted = copy.deepcopy(document)
    step(twisted, "sweep")["twist"] = 1
    assert built_ids(part(twisted), memory)[0] == ["sweep"]


def test_a_named_value_reaches_every_step_that_uses_it():
    document = bar("run + 20", "dia", values=[{"name": "run", "value": "80"}, {"name": "dia", "value": "1 cm"}])
    memory = Memory()
    _, first = built_ids(part(document), memory)
    document["values"][1]["value"] = "12 mm"
    ids, second = built_ids(part(document), memory)
    assert ids == ["profile", "sweep"]
    ratio = second.bodies[0].body.volume() / first.bodies[0].body.volume()
    assert ratio == pytest.approx(1.44)


def test_another_process_takes_solids_from_the_store():
    shelf = Shelf()
    first = build(demo("pipe-clip"), Memory(), shelf)
    puts = list(shelf.puts)
    assert sum(k.endswith("/solid") for k in puts) == 2
    second = build(demo("pipe-clip"), Memory(), shelf)
    assert shelf.puts == puts
    assert [b.key for b in second.bodies] == [b.key for b in first.bodies]
    assert second.bodies[0].body.volume() == pytest.approx(first.bodies[0].body.volume(), rel=1e-12)
    assert second.bodies[0].body.face_names == first.bodies[0].body.face_names
    assert json.dumps(second.reports["sweep"].data) == json.dumps(first.reports["sweep"].data)


RIM = {"step": "sweep", "edge": "sweep/cap/end&sweep/side/e1/e1"}
SOFT = bar()
SOFT["steps"].append(
    {"kind": "rounding", "id": "soft", "name": "Soft", "edges": [RIM], "how": {"by": "even", "radius": 2}}
)


@pytest.mark.parametrize("name", ["priming-bulb-finished", "funnel-hood"])
def test_another_process_needs_no_kernel_for_steps_that_change_bodies(name):
    """Roundings, areas, hollows, thickened surfaces: the reports, the bodies and what the next step sees of them are
    the same.
    """
    shelf = Shelf()
    first = build(demo(name), Memory(), shelf)
    puts = list(shelf.puts)
    second = build(demo(name), Memory(), shelf)
    assert shelf.puts == puts
    assert second.seconds["kernel"] < 0.05 * first.seconds["kernel"]
    assert [(b.key, b.name, b.step, b.colour) for b in second.bodies] == [
        (b.key, b.name, b.step, b.colour) for b in first.bodies
    ]
    for one, other in zip(first.bodies, second.bodies, strict=True):
        assert other.body.volume() == pytest.approx(one.body.volume(), rel=1e-12)
        assert other.body.face_names == one.body.face_names
        assert len(other.raised) == len(one.raised)
    for report in first.reports.values():
        again = second.reports[report.id].as_dict("mm")
        assert json.loads(json.dumps(again | {"seconds": 0})) == json.loads(
            json.dumps(report.as_dict("mm") | {"seconds": 0})
        )


def test_what_is_kept_of_a_changed_body_and_cannot_be_read_is_made_again():
    shelf = Shelf()
    first = build(part(SOFT), Memory(), shelf)
    key = f"{first.reports['soft'].key}/solid"
    for damaged in (
        b"",
        b"nonsense",
        shelf[key][: len(shelf[key]) // 2],
        shelf[key].replace(b'"order": [', b'"order": ["gone", '),
    ):
        dict.__setitem__(shelf, key, damaged)
        again = build(part(SOFT), Memory(), shelf)
        assert again.reports["soft"].data == first.reports["soft"].data
        assert again.bodies[0].body.volume() == pytest.approx(first.bodies[0].body.volume(), rel=1e-9)


def test_what_a_preview_has_built_is_kept_once_it_is_built_for_good():
    shelf, memory = Shelf(), Memory()
    assert built_preview(part(SOFT), "soft", memory, shelf).mesh is not None
    assert not shelf.puts
    result = build(part(SOFT), memory, shelf)
    assert f"{result.reports['soft'].key}/solid" in shelf


def test_separate_bodies_do_not_depend_on_each_other():
    document = bar()
    second = {**copy.deepcopy(step(document, "sweep")), "id": "twin", "name": "Twin", "twist": 1}
    document["steps"].append(second)
    memory = Memory()
    _, result = built_ids(part(document), memory)
    assert [b.step for b in result.bodies] == ["sweep", "twin"]
    step(document, "sweep")["wall"] = 2
    assert built_ids(part(document), memory)[0] == ["sweep"]


def test_add_and_cut_work_on_the_bodies_before():
    document = bar(100, 20)
    thin = copy.deepcopy(step(document, "profile"))
    thin |= {"id": "thin", "name": "Thin"}
    thin["sketch"]["dimensions"][0]["value"] = 8
    cut = {
        **copy.deepcopy(step(document, "sweep")),
        "id": "cut",
        "name": "Bore",
        "profile": {"step": "thin"},
        "result": "cut",
    }
    document["steps"] += [thin, cut]
    result = build(part(document))
    assert result.bodies[0].body.volume() == pytest.approx(math.pi * (100 - 16) * 100, rel=1e-8)
    cut["result"] = "add"
    assert build(part(document)).bodies[0].body.volume() == pytest.approx(math.pi * 100 * 100, rel=1e-8)


def test_the_sinker_and_switched_off_steps():
    document = bar()
    document["sinker"] = "plane"
    result = build(part(document))
    assert [r.state for r in result.reports.values()] == ["fresh", "fresh", "below", "below"]
    document["sinker"] = None
    step(document, "plane")["off"] = True
    result = build(part(document))
    assert result.reports["plane"].state == "off"
    assert message(result, "profile").code == "source-failed"
    assert "Plane" in message(result, "profile").text


def test_a_failing_step_leaves_the_others_standing():
    document = bar()
    broken = {**copy.deepcopy(step(document, "sweep")), "id": "broken", "name": "Broken", "wall": 50}
    document["steps"].insert(3, broken)
    result = build(part(document))
    assert message(result, "broken").code == "wall-too-thick"
    assert result.reports["sweep"].state == "fresh"
    assert len(result.bodies) == 1


def test_dependents_follow_the_threads():
    assert dependents(part(bar()), "plane") == ["profile", "sweep"]
    assert dependents(part(bar()), "sweep") == []


def test_progress_and_stop():
    events = []
    build(part(bar()), progress=events.append)
    assert [(e["id"], e["state"]) for e in events][:2] == [("path", "building"), ("path", "fresh")]
    with pytest.raises(Stopped):
        build(part(bar()), stopped=lambda: len(events) > 0)


# -- what is said when it cannot be -----------------------------------------------------------


def test_a_fold_is_told_before_the_build_and_can_be_built_all_the_same():
    document = json.loads(write_part(demo("kick-rail")))
    document["values"][1]["value"] = 5  # bend radius under the section's half width of 6
    result = build(part(document))
    fold = message(result, "sweep")
    assert fold.code == "fold"
    assert "6 mm to its inner side" in fold.text
    assert "radius 5 mm" in fold.text
    assert fold.place["range"] == pytest.approx([180, 180 + 5 * math.pi / 2], abs=1e-3)
    assert result.bodies == []
    step(document, "sweep")["build_folded"] = True
    result = build(part(document))
    assert result.reports["sweep"].state == "fresh"
    assert {m.level for m in result.reports["sweep"].messages} == {"warning"}


def broken_bar(**changes):
    document = bar()
    for where, value in changes.items():
        step_id, field = where.split("__")
        step(document, step_id)[field] = value
    return document


@pytest.mark.parametrize(
    ("changes", "failing", "code"),
    [
        ({"sweep__path": {"step": "nowhere"}}, "sweep", "deleted-reference"),
        ({"sweep__profile": {"step": "plane"}}, "sweep", "wrong-source"),
        ({"sweep__path": {"step": "plane"}}, "sweep", "wrong-source"),
        ({"sweep__wall": -1}, "sweep", "bad-size"),
        ({"sweep__wall": "5 furlong"}, "sweep", "unknown-unit"),
        ({"sweep__twist": "__import__('os')"}, "sweep", "not-allowed"),
        ({"sweep__twist": "1e6"}, "sweep", "too-many-turns"),
        ({"sweep__profile": {"step": "profile", "regions": ["e7"]}}, "sweep", "deleted-reference"),
        ({"sweep__result": "cut"}, "sweep", "nothing-to-cut"),
        ({"plane__place": "length", "plane__value": 130}, "plane", "off-path"),
        ({"plane__place": "ratio", "plane__value": 2}, "plane", "off-path"),
        ({"profile__plane": {"kind": "step", "step": "gone"}}, "profile", "deleted-reference"),
        ({"profile__plane": {"kind": "principal", "plane": "XY"}}, "sweep", "edge-on"),
    ],
)
def test_bad_inputs_fail_their_step_with_a_reason(changes, failing, code):
    result = build(part(broken_bar(**changes)))
    assert message(result, failing).code == code


@pytest.mark.parametrize("length", [0, -5, "0 mm", "1/0", "nothing"])
def test_impossible_lengths_fail_the_sketch(length):
    found = message(build(part(bar(length))), "path")
    assert found.code in ("bad-size", "division", "unknown-name")


def test_a_sketch_without_a_closed_region_or_with_a_gap():
    document = bar()
    step(document, "profile")["sketch"] = {"points": [], "entities": [], "constraints": [], "dimensions": []}
    found = message(build(part(document)), "sweep")
    assert found.code == "no-region"
    assert found.place["source"] == "profile"
    document = bar()
    sketch = step(document, "path")["sketch"]
    sketch["points"] += [{"id": "q1", "x": 101, "y": 0}, {"id": "q2", "x": 150, "y": 20}]
    sketch["entities"].append({"kind": "line", "id": "e2", "start": "q1", "end": "q2"})
    found = message(build(part(document)), "plane")
    assert found.code == "gap"
    assert "Path" in found.text


def test_a_circle_of_values_is_said_for_the_part():
    result = build(part(bar(values=[{"name": "a", "value": "b"}, {"name": "b", "value": "a"}])))
    (found,) = result.messages
    assert found.code == "circular-value"


def test_a_cut_that_misses_is_a_warning():
    document = bar(100, 10)
    away = json.loads(json.dumps(document["steps"]))
    for s in away:
        s["id"] += "2"
    away[0]["sketch"]["points"] = [{"id": "p1", "x": 0, "y": 60}, {"id": "p2", "x": 100, "y": 60}]
    away[0]["sketch"]["constraints"] = [
        {"id": "k0", "kind": "fix", "items": ["p1"]},
        {"id": "k1", "kind": "horizontal", "items": ["e1"]},
    ]
    away[1]["path"]["step"] = away[3]["path"]["step"] = "path2"
    away[2]["plane"]["step"] = "plane2"
    away[2]["sketch"]["constraints"][0]["path"] = "path2"
    away[3] |= {"profile": {"step": "profile2"}, "result": "cut"}
    document["steps"] += away
    report = build(part(document)).reports["sweep2"]
    assert report.state == "fresh"
    assert [m.code for m in report.messages] == ["no-contact"]


# -- part files -----------------------------------------------------------------------------------


def test_a_part_file_survives_being_written_and_read():
    original = demo("kick-rail")
    assert read_part(write_part(original)) == original


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"{", "not-json"),
        (b"[" * 100000, "not-json"),
        (b"[]", "not-a-part"),
        (b'{"format": "other"}', "not-a-part"),
        (b'{"format": "leadline-part", "version": 99, "name": "x"}', "version"),
        (b'{"format": "leadline-part", "version": 1}', "bad-field"),
        (
            b'{"format": "leadline-part", "version": 1, "name": "x", '
            b'"steps": [{"kind": "teapot", "id": "a", "name": "b"}]}',
            "bad-field",
        ),
        (b'{"format": "leadline-part", "version": 1, "name": "x", "surprise": 1}', "bad-field"),
        (b" " * (PART_FILE_BYTES + 1), "too-large"),
        (b"\xff\xfe\x00", "not-json"),
    ],
)
def test_malformed_part_files_are_refused(data, code):
    with pytest.raises(Problem) as caught:
        read_part(data)
    assert caught.value.message.code == code


@pytest.mark.parametrize("bad", ["NaN", "Infinity", "1e999"])
def test_numbers_that_are_none_are_refused(bad):
    text = write_part(demo("kick-rail")).replace('"x": 70.0', f'"x": {bad}', 1)
    with pytest.raises(Problem) as caught:
        read_part(text)
    assert caught.value.message.code == "bad-field"
    assert "points" in caught.value.message.place["field"]


def test_two_steps_with_one_id_are_refused():
    document = bar()
    document["steps"][1]["id"] = "path"
    with pytest.raises(Problem, match="two steps"):
        part_from(document)


def test_the_schema_names_every_kind_of_step():
    text = json.dumps(part_schema())
    assert all(kind in text for kind in ("SketchStep", "NormalPlane", "SweepStep", "ExtrudeStep"))


def test_headless_build_writes_its_files(tmp_path):
    result = build_to_folder(demo("kick-rail"), tmp_path / "out")
    report = json.loads((tmp_path / "out" / "report.json").read_text())
    assert report["steps"]["sweep"]["state"] == "fresh"
    assert report["steps"]["sweep"]["data"]["numbers"]["length"] == pytest.approx(780 + 70 * math.pi)
    assert {p.name for p in (tmp_path / "out").iterdir()} == {
        "part.step",
        "part.3mf",
        "part.glb",
        "part.stl",
        "part.svg",
        "report.json",
    }
    assert len(result.bodies) == 1


def test_nothing_built_cannot_be_exported():
    with pytest.raises(Problem, match="no body"):
        export(build(part(broken_bar(sweep__wall=50))), "step")


# -- what an open editor asks -----------------------------------------------------------------


def test_solving_while_editing_says_what_repeats():
    document = bar()
    step(document, "path")["sketch"]["dimensions"].append(
        {"id": "again", "kind": "horizontal_distance", "items": ["p1", "p2"], "value": 100}
    )
    data = solve_step(part(document), "path", Memory(), "again")
    assert data["decided_by"]
    assert "d0" in data["decided_by"]
    assert solve_step(part(bar()), "path", Memory())["decided_by"] == []


def test_solving_refuses_with_the_set_that_disagrees():
    document = bar()
    step(document, "path")["sketch"]["dimensions"].append(
        {"id": "more", "kind": "distance", "items": ["p1", "p2"], "value": 70}
    )
    with pytest.raises(Problem) as caught:
        solve_step(part(document), "path", Memory(), "more")
    assert {"d0", "more"} <= set(caught.value.message.place["items"])


def test_dragging_through_the_recipe():
    document = bar()
    step(document, "path")["sketch"]["dimensions"] = []
    pull = begin_drag(part(document), "path", Memory())
    assert pull("p2", (90, 10))["points"]["p2"] == pytest.approx((90, 0), abs=0.05)
    assert pull("p2", (140, 30))["points"]["p2"] == pytest.approx((140, 0), abs=0.05)
    with pytest.raises(Problem, match="no point"):
        pull("p9", (0, 0))


def test_preview_needs_no_kernel_and_has_the_shape():
    preview = preview_step(part(bar(100, 10, twist=1)), "sweep", Memory())
    assert preview.mesh.volume() == pytest.approx(math.pi * 25 * 100, rel=0.05)
    assert preview.report.data["lanes"]["twist"][-1] == pytest.approx(360)
    assert preview_step(part(bar()), "path", Memory()).mesh is None
    with pytest.raises(Problem, match="no step"):
        preview_step(part(bar()), "zzz", Memory())


def test_what_is_planned_for_a_moving_hand_is_not_taken_for_the_whole():
    document, memory = part(bar(100, 10, twist=9)), Memory()
    moving = preview_step(document, "sweep", memory, moving=True)
    whole = preview_step(document, "sweep", memory)
    again = preview_step(document, "sweep", memory, moving=True)
    assert len(moving.mesh.triangles) < len(whole.mesh.triangles)
    assert len(moving.report.data["lanes"]["station"]) < len(whole.report.data["lanes"]["station"])
    assert again.report.data == whole.report.data  # what is known by now is told
    assert moving.report.data["numbers"]["volume"] == pytest.approx(whole.report.data["numbers"]["volume"], rel=1e-9)


@pytest.mark.parametrize("top", [26, 38])
def test_a_slab_with_a_free_edge_has_its_area_times_its_height(top):
    slab = Draw()
    for name, x, y in (("a", -60, 10), ("b", -20, top), ("c", 20, 26), ("d", 60, 10), ("e", 60, -20), ("f", -60, -20)):
        slab.point(name, x, y)
    slab.spline("free", "a", "b", "c", "d")
    for name, p, q in (("l1", "d", "e"), ("l2", "e", "f"), ("l3", "f", "a")):
        slab.line(name, p, q)
    steps = [
        sketch("shape", XY, slab),
        {"kind": "extrude", "id": "slab", "name": "Slab", "profile": {"step": "shape"}, "length": 6},
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Slab", "units": "mm", "steps": steps}))
    (region,) = regions(slab.sketch())
    area = shapely.Polygon(region.outer.polygon(1e-7)).area
    assert result.bodies[0].body.volume() == pytest.approx(6 * area, rel=2e-5)  # of the polygon


# -- what the keys of steps hang on -----------------------------------------------------------------


def keys_of(document):
    return {k: r.key for k, r in build(part(document), quick=True).reports.items()}


@pytest.mark.parametrize(
    "name",
    [
        "handle-bar",
        "kick-rail",
        "suction-riser",
        "valve-spring",
        "drain-plug",
        "frost-bar",
        "silt-auger",
        "pipe-clip",
        "discharge-hose",
    ],
)
def test_a_value_that_no_step_uses_rebuilds_none_and_one_that_is_used_rebuilds_its_steps(name):
    document = demo(name).model_dump(mode="json")
    unused = [
        n for n in ("a", "e", "wall", "size", "pitch", "step") if n not in [v["name"] for v in document["values"]]
    ]
    document["values"] += [{"name": n, "value": 3} for n in unused]
    before = keys_of(document)
    for value in document["values"]:
        kept = value["value"]
        value["value"] = kept + 0.01 if not isinstance(kept, str) else f"({kept}) + 0.01"
        changed = {k for k, key in keys_of(document).items() if key != before[k]}
        value["value"] = kept
        assert bool(changed) == (value["name"] not in unused)


def test_a_part_that_cannot_be_read_is_reported_too(tmp_path):
    (tmp_path / "bad.json").write_text('{"format": "leadline-part", "version": 1, "name": 3}')
    result = build_file(tmp_path / "bad.json", tmp_path / "out")
    assert [m.code for m in result.messages] == ["bad-field"]
    assert json.loads((tmp_path / "out" / "report.json").read_text())["messages"][0]["code"] == "bad-field"


def test_a_format_that_fails_is_a_message_of_the_report(tmp_path, monkeypatch):
    def fails(*_):
        raise ZeroDivisionError

    broken = {name: replace(form, write=fails) if name == "stl" else form for name, form in formats().items()}
    monkeypatch.setattr("leadline.exports.files.formats", lambda: broken)
    monkeypatch.setattr("leadline.exports.formats.formats", lambda: broken)
    result = build_to_folder(part(bar()), tmp_path / "out")
    assert [m.code for m in result.messages] == ["unexpected"]
    written = {p.name for p in (tmp_path / "out").iterdir()}
    assert "part.step" in written
    assert "part.stl" not in written
    assert json.loads((tmp_path / "out" / "report.json").read_text())["messages"][0]["text"].startswith(
        "STL is not saved"
    )


def test_a_sinker_that_names_no_step_is_told():
    assert [m.code for m in build(part({**bar(), "sinker": "nowhere"})).messages] == ["no-sinker"]


@pytest.mark.parametrize(
    ("change", "field"), [({"twist": "no such"}, "twist"), ({"corner_radius": "nowhere*2"}, "corner_radius")]
)
def test_an_expression_that_is_not_needed_is_read_all_the_same(change, field):
    (message,) = build(part(bar(**change))).reports["sweep"].messages
    assert message.level == "error"
    assert message.place["field"] == field


def test_an_edge_of_a_step_that_is_not_there_is_refused():
    document = bar()
    document["steps"].append(
        {
            "kind": "rounding",
            "id": "r",
            "name": "R",
            "edges": [{"step": "gone", "edge": "sweep/cap/end&sweep/side/e1/e1"}],
            "how": {"by": "even", "radius": 1},
        }
    )
    (message,) = build(part(document)).reports["r"].messages
    assert (message.code, message.place["field"]) == ("deleted-reference", "edges")


def test_a_path_longer_than_ten_kilometres_is_told_at_its_greatest_length():
    steps = [
        {
            "kind": "helix",
            "id": "h",
            "name": "H",
            "plane": {"kind": "principal", "plane": "XY"},
            "radius": 1e6,
            "pitch": 10,
            "turns": 5,
        }
    ]
    (message,) = build(part({**bar(), "steps": steps})).reports["h"].messages
    assert (message.code, message.place["field"]) == ("too-long", "radius")

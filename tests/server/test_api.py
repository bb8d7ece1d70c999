"""The API against the real database and real workers."""

import copy
import gzip
import json
import threading

import pytest
from sqlalchemy import inspect, text

from leadline.exports.formats import Look, export
from leadline.limits import FILE_BYTES, PART_FILE_BYTES
from leadline.recipe.build import build
from leadline.recipe.files import digest_of
from leadline.recipe.part_file import read_part
from leadline.server.api.models import ReportView
from leadline.server.database import Database
from tests.support.client import opened, refused, save, travel
from tests.support.parts import XY, bar, part, step
from tests.support.shapes import rectangle


def test_health(client):
    assert client.get("/api/health").get_json()["state"] == "ok"


def test_a_new_part_is_empty_and_listed(client):
    answer = client.post("/api/parts", json={"name": "Fresh", "units": "in"})
    assert answer.status_code == 201
    view = answer.get_json()
    assert view["document"]["steps"] == []
    assert view["document"]["units"] == "in"
    assert view["can_undo"] is False
    assert "Fresh" in [p["name"] for p in client.get("/api/parts").get_json()]


def test_a_build_follows_and_its_mesh_can_be_fetched(client, built):
    view = opened(client)
    build = built(view["id"])
    assert build["state"] == "done"
    (body,) = build["result"]["bodies"]
    mesh = client.get(f"/api/bodies/{body['key']}/mesh.glb")
    assert mesh.status_code == 200
    assert mesh.data[:4] == b"glTF"
    assert "immutable" in mesh.headers["Cache-Control"]
    packed = client.get(f"/api/bodies/{body['key']}/mesh.glb", headers={"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert gzip.decompress(packed.data) == mesh.data
    assert build["result"]["steps"]["sweep"]["data"]["numbers"]["length"] == pytest.approx(100)


def test_the_picture_comes_after_the_build(client, built):
    view = opened(client)
    built(view["id"])
    for _ in range(6000):
        answer = client.get(f"/api/parts/{view['id']}/picture.png")
        if answer.status_code == 200:
            break
        threading.Event().wait(0.1)
    assert answer.data.startswith(b"\x89PNG")


def test_revisions_undo_and_redo(client, built):
    view = opened(client)
    longer = copy.deepcopy(view["document"])
    step(longer, "path")["sketch"]["dimensions"][0]["value"] = 150
    second = save(client, view, longer, "Longer").get_json()
    assert second["can_undo"]
    assert not second["can_redo"]
    assert second["label"] == "Longer"
    assert built(view["id"], second["revision"])["result"]["steps"]["sweep"]["data"]["length"] == pytest.approx(150)
    back = travel(client, "undo", second).get_json()
    assert back["document"] == view["document"]
    assert back["can_redo"]
    assert built(view["id"], back["revision"])["result"]["steps"]["sweep"]["data"]["length"] == pytest.approx(100)
    again = travel(client, "redo", back).get_json()
    assert again["document"] == longer
    at_start = travel(client, "undo", again).get_json()
    assert travel(client, "undo", at_start).get_json()["revision"] == at_start["revision"]


def test_a_change_after_undo_starts_a_new_branch(client):
    view = opened(client)
    one = {**view["document"], "name": "One"}
    two = {**view["document"], "name": "Two"}
    back = travel(client, "undo", save(client, view, one).get_json()).get_json()
    branch = save(client, back, two).get_json()
    assert branch["document"]["name"] == "Two"
    assert not branch["can_redo"]
    again = travel(client, "redo", travel(client, "undo", branch).get_json())
    assert again.get_json()["document"]["name"] == "Two"


def test_the_later_writer_is_told_and_nothing_is_overwritten(client):
    view = opened(client)
    first = save(client, view, {**view["document"], "name": "Mine"}).get_json()
    error = refused(save(client, view, {**view["document"], "name": "Theirs"}), 409)
    assert error["place"]["head"] == first["revision"]
    assert client.get(f"/api/parts/{view['id']}").get_json()["document"]["name"] == "Mine"


def test_undo_and_redo_name_the_revision_that_they_are_of(client):
    view = opened(client)
    second = save(client, view, {**view["document"], "name": "Second"}).get_json()
    for way in ("undo", "redo"):
        assert refused(travel(client, way, view), 409)["place"]["head"] == second["revision"]
    assert client.get(f"/api/parts/{view['id']}").get_json()["revision"] == second["revision"]


def test_a_change_that_is_sent_again_because_its_answer_was_lost_is_done_once(client):
    view = opened(client)
    body = {
        "base": view["revision"],
        "token": "one-change",
        "label": "Once",
        "document": {**view["document"], "name": "Once"},
    }
    first, again = (client.put(f"/api/parts/{view['id']}/document", json=body) for _ in range(2))
    assert first.status_code == again.status_code == 200
    assert first.get_json() == again.get_json()
    back, same = (travel(client, "undo", first.get_json(), "go-back-1").get_json() for _ in range(2))
    assert back == same
    assert back["revision"] == view["revision"]
    forth, same = (travel(client, "redo", back, "go-forth").get_json() for _ in range(2))
    assert forth == same
    assert forth["document"]["name"] == "Once"
    refused(
        client.put(f"/api/parts/{view['id']}/document", json=body), 409
    )  # a later change has led away from it since


def test_writers_at_the_same_time_do_not_lose_one(client, app):
    view = opened(client)
    results = []

    def write(i):
        answer = save(app.test_client(), view, {**view["document"], "name": f"Writer {i}"})
        results.append(answer.status_code)

    threads = [threading.Thread(target=write, args=(i,)) for i in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(results) == [200, 409, 409, 409, 409, 409]


def test_files_go_out_and_come_back(client, built):
    view = opened(client)
    built(view["id"])
    for form, magic in (("step", b"ISO-10303-21"), ("glb", b"glTF"), ("stl", b"")):
        answer = client.get(f"/api/parts/{view['id']}/export/{form}")
        assert answer.status_code == 200
        assert answer.data.startswith(magic)
        assert f'filename="bar.{form}"' in answer.headers["Content-Disposition"]
    text_file = client.get(f"/api/parts/{view['id']}/part.json").data
    again = client.post("/api/parts/file", data=text_file).get_json()
    assert again["id"] != view["id"]
    assert again["document"] == view["document"]


def test_deleting_a_part_deletes_its_revisions(client, app):
    view = opened(client)
    assert client.delete(f"/api/parts/{view['id']}").status_code == 204
    refused(client.get(f"/api/parts/{view['id']}"), 404)
    with app.extensions["leadline"].database.session() as session:
        count = session.execute(text("select count(*) from revisions where part_id = :p"), {"p": view["id"]}).scalar()
    assert count == 0


def test_a_part_kept_before_a_field_came_in_is_given_its_default(client, app):
    view = opened(client)
    with app.extensions["leadline"].database.session.begin() as session:
        without = "document #- '{steps,0,sketch,projections}' #- '{steps,0,sketch,dimensions,0,side}'"
        session.execute(text(f"update revisions set document = ({without}) where part_id = :p"), {"p": view["id"]})
    again = client.get(f"/api/parts/{view['id']}").get_json()
    assert again["document"] == view["document"]


def test_migrations_can_be_run_twice_and_match_the_tables(database_url, app):
    del app
    database = Database(database_url)
    database.migrate()
    tables = set(inspect(database.engine).get_table_names())
    assert {"parts", "revisions", "blobs", "alembic_version"} <= tables
    database.close()


def test_events_tell_of_steps_and_the_build(client, app, built):
    view = opened(client)
    built(view["id"])
    longer = copy.deepcopy(view["document"])
    step(longer, "sweep")["twist"] = 1
    seen = []
    with app.extensions["leadline"].broker.watch(view["id"]) as events:
        assert client.get("/api/status").get_json()["open_editors"] == 1
        save(client, view, longer)
        for event in events:
            if event is not None:
                seen.append((event["event"], event.get("id"), event.get("state")))
                if seen[-1] == ("build", None, "done"):
                    break
    assert ("build", None, "building") in seen
    assert ("step", "sweep", "fresh") in seen
    assert client.get("/api/status").get_json()["open_editors"] == 0


def test_a_sketch_is_solved_without_saving(client):
    document = bar()
    solved = client.post("/api/sketch/solve", json={"document": document, "step": "path"}).get_json()
    assert solved["freedom"] == 0


# -- bad input ------------------------------------------------------------------------------------


def test_a_value_and_a_step_are_renamed_in_all_expressions(client):
    document = opened(client)["document"]
    document["values"] = [{"name": "wide", "value": 4, "note": ""}, {"name": "twice", "value": "2*wide", "note": ""}]
    ask = {"document": document, "what": "value", "name": "wide"}
    renamed = client.post("/api/rename", json={**ask, "to": "broad"}).get_json()
    assert [(v["name"], v["value"]) for v in renamed["values"]] == [("broad", 4), ("twice", "2*broad")]
    assert refused(client.post("/api/rename", json={**ask, "to": "twice"}), 422)["place"] == {"field": "to"}
    refused(client.post("/api/rename", json={**ask, "name": "gone", "to": "broad"}), 422)
    refused(client.post("/api/rename", json={**ask, "to": ""}), 422)
    named = client.post("/api/rename", json={**ask, "what": "step", "name": "path", "to": "Way"}).get_json()
    assert step(named, "path")["name"] == "Way"
    refused(client.post("/api/rename", json={**ask, "what": "step", "name": "gone", "to": "Way"}), 422)


def test_a_sketch_is_edited_clipped_and_exchanged_as_svg(client):
    document = opened(client)["document"]
    sketch = step(document, "profile")
    sketch["sketch"] = rectangle().sketch().model_dump(mode="json")
    items = [e["id"] for e in sketch["sketch"]["entities"]]
    ask = {"document": document, "step": "profile"}
    corner = sketch["sketch"]["entities"][0]["start"]
    rounded = client.post(
        "/api/sketch/edit", json={**ask, "operation": {"op": "fillet", "point": corner, "size": "1/8 in"}}
    )
    assert rounded.status_code == 200, rounded.get_json()
    assert [d["value"] for d in rounded.get_json()["sketch"]["dimensions"]][-1] == 3.175
    bad = client.post("/api/sketch/edit", json={**ask, "operation": {"op": "fillet", "point": corner, "size": "-2"}})
    assert "size" in refused(bad, 422)["place"]["field"]
    refused(client.post("/api/sketch/edit", json={**ask, "operation": {"op": "explode"}}), 422)
    refused(
        client.post("/api/sketch/edit", json={**ask, "operation": {"op": "trim", "entity": "gone", "at": [0, 0]}}), 422
    )
    piece = client.post("/api/sketch/clip", json={"sketch": sketch["sketch"], "items": items}).get_json()
    assert len(piece["entities"]) == len(items)
    svg = client.post("/api/sketch/svg", json=ask)
    assert svg.data.startswith(b"<svg")
    back = client.post("/api/sketch/read-svg", json={"svg": svg.get_data(as_text=True)}).get_json()
    assert len([e for e in back["sketch"]["entities"] if e["kind"] == "line"]) == 4
    assert back["scale"] == pytest.approx(1, rel=1e-5)
    refused(client.post("/api/sketch/read-svg", json={"svg": "<svg"}), 422)


def test_points_of_a_file_are_read_or_refused_with_their_row(client):
    read = client.post("/api/points/read-csv", json={"csv": "x\ty\tz\n0\t0\t0\n1,5\t2\t-3e1\t4\n"}).get_json()
    assert read["points"] == [{"x": 0, "y": 0, "z": 0, "radius": None}, {"x": 1.5, "y": 2, "z": -30, "radius": 4}]
    for csv, words in (
        ("0,0,0\n1,two,3", "Row 2 has “two” where its y"),
        ("0,0,0\n1,2", "Row 2 has 2 columns"),
        ("0,0,0\n1,nan,3", "“nan”"),
        ("1,2,3", "1 rows of points"),
        ("0,0,0\n" * 1001, "1001 rows"),
        ("", "0 rows"),
    ):
        assert words in refused(client.post("/api/points/read-csv", json={"csv": csv}), 422)["text"]


def test_unknown_parts_and_addresses(client):
    refused(client.get("/api/parts/nothing-here"), 404)
    refused(client.post("/api/parts/nothing-here/undo", json={"base": 1}), 404)
    refused(client.get("/api/teapot"), 404)
    assert client.get(f"/api/bodies/{'0' * 40}-0/mesh.glb").status_code == 404
    refused(client.get("/api/bodies/..%2F..%2Fetc/mesh.glb"), 404)


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"{",
        b"[]",
        b'{"format": "leadline-part", "version": 1}',
        b"\x00\xff",
        b"[" * 60000,
        json.dumps({**bar(), "name": "Nul\0"}).encode(),
        json.dumps({**bar(), "name": "half \ud834"}).encode(),
        json.dumps({**bar(), "colours": {"a\0": "sea"}}).encode(),
        b'{"format": "leadline-part", "steps": ' + b'{"a":' * 200 + b"1" + b"}" * 201,
    ],
)
def test_malformed_part_files(client, data):
    error = refused(client.post("/api/parts/file", data=data), 422)
    assert error["way_out"]


def test_what_is_too_deep_or_has_no_place_in_the_database_is_refused_wherever_it_comes_in(client):
    view = opened(client)
    head = '{"base": 1, "label": "x", "document": '
    for document in ("[" * 100_000 + "]" * 100_000, json.dumps({**bar(), "name": "Nul\0"})):
        answer = client.put(
            f"/api/parts/{view['id']}/document", data=head + document + "}", content_type="application/json"
        )
        refused(answer, 422)
    refused(client.put(f"/api/parts/{view['id']}/document", json={"base": 1, "label": "x\0", "document": bar()}), 422)
    refused(client.post("/api/parts", json={"name": "x\0y"}), 422)


def test_a_document_that_this_program_cannot_read_can_still_be_saved_as_a_file(client, app):
    view = opened(client)
    with app.extensions["leadline"].database.session.begin() as session:
        newer = "jsonb_set(document, '{steps,0,of_tomorrow}', '7')"
        session.execute(text(f"update revisions set document = {newer} where part_id = :p"), {"p": view["id"]})
    refused(client.get(f"/api/parts/{view['id']}"), 422)
    file = client.get(f"/api/parts/{view['id']}/part.json")
    assert file.status_code == 200
    assert file.get_json()["steps"][0]["of_tomorrow"] == 7


def test_a_huge_upload_is_refused(client):
    refused(client.post("/api/parts/file", data=b"x" * (PART_FILE_BYTES + 200_000)), 413)
    refused(client.post("/api/parts/file", data=b"x" * (PART_FILE_BYTES + 1)), 413)


def test_bad_documents_leave_the_part_as_it_was(client):
    view = opened(client)
    for spoil in (
        lambda d: d.update(units="furlong"),
        lambda d: d["steps"][0].update(kind="teapot"),
        lambda d: d["steps"][1].update(id="path"),
        lambda d: d["steps"][0]["sketch"]["points"][0].update(x="NaN"),
        lambda d: d.update(name=""),
    ):
        document = copy.deepcopy(view["document"])
        spoil(document)
        error = refused(save(client, view, document), 422)
        assert error["place"]["field"]
    now = client.get(f"/api/parts/{view['id']}").get_json()
    assert now["document"] == view["document"]
    assert now["revision"] == view["revision"]


def test_nan_in_raw_json_is_refused(client):
    view = opened(client)
    body = json.dumps({"base": 1, "label": "x", "document": view["document"]}).replace('"x": 100.0', '"x": NaN', 1)
    answer = client.put(f"/api/parts/{view['id']}/document", data=body, content_type="application/json")
    refused(answer, 422)


def test_expressions_that_are_code_fail_their_step_only(client, built):
    view = opened(client, bar(twist="__import__('os').system('true')"))
    steps = built(view["id"])["result"]["steps"]
    assert steps["sweep"]["state"] == "failed"
    assert steps["sweep"]["messages"][0]["code"] == "not-allowed"
    assert steps["profile"]["state"] == "fresh"


def test_solving_nonsense_is_a_clear_422(client):
    refused(client.post("/api/sketch/solve", json={"document": bar(), "step": "nope"}), 422)
    refused(client.post("/api/sketch/solve", json={"document": bar(), "step": "sweep"}), 422)
    refused(client.post("/api/sketch/solve", data="no json", content_type="application/json"), 422)


@pytest.mark.parametrize(("name", "code"), [("crash", "worker-crash"), ("hang", "worker-time")])
def test_a_kernel_that_dies_or_hangs_costs_only_its_build(app, client, built, name, code, monkeypatch):
    monkeypatch.setattr(app.extensions["leadline"].builds, "limit", 6.0)
    view = opened(client, {**bar(), "name": name})
    build = built(view["id"])
    assert build["state"] == "failed"
    report = build["result"]["steps"]["sweep"]
    assert report["state"] == "failed"
    assert all(ReportView.model_validate(r) for r in build["result"]["steps"].values())
    assert report["messages"][0]["code"] == code
    assert report["messages"][0]["way_out"]
    monkeypatch.undo()
    healed = save(client, view, {**view["document"], "name": "Healed"}).get_json()
    assert built(view["id"], healed["revision"])["state"] == "done"
    assert client.get("/api/health").status_code == 200


def test_a_newer_change_overtakes_a_hanging_build(app, client, built, monkeypatch):
    monkeypatch.setattr(app.extensions["leadline"].builds, "limit", 600)  # so that only the change can end it
    view = opened(client, {**bar(), "name": "hang"})
    saved = save(client, view, {**view["document"], "name": "Better"}).get_json()
    assert built(view["id"], saved["revision"])["state"] == "done"


def test_a_running_build_can_be_stopped(client):
    view = opened(client, {**bar(), "name": "hang"})
    assert client.post(f"/api/parts/{view['id']}/build/stop").status_code == 202
    for _ in range(6000):
        state = client.get(f"/api/parts/{view['id']}/build").get_json()["state"]
        if state == "stopped":
            break
        threading.Event().wait(0.1)
    assert state == "stopped"


def test_bodies_come_from_a_file_that_is_kept_once_and_goes_along_in_the_part_file(client, built):
    made = part(bar())
    data = export(build(made), "step", Look.of(made))
    first, second = (client.post("/api/files", data=data) for _ in range(2))
    assert first.status_code == 201
    digest = first.get_json()["digest"]
    assert second.get_json()["digest"] == digest == digest_of(data)
    kept = {"kind": "imported", "id": "in", "name": "From outside", "file": digest, "title": "bar.step"}
    document = {"format": "leadline-part", "version": 1, "name": "From a file", "units": "mm", "steps": [kept]}
    view = opened(client, document)
    result = built(view["id"])["result"]
    assert result["steps"]["in"]["state"] == "fresh", result["steps"]["in"]["messages"]
    assert [b["name"] for b in result["bodies"]] == ["Sweep"]
    low, high = result["bodies"][0]["box"]
    assert high[0] - low[0] == pytest.approx(100, abs=1e-6)
    text_file = client.get(f"/api/parts/{view['id']}/part.json").data
    assert list(json.loads(text_file)["files"]) == [digest]
    assert build(read_part(text_file)).bodies[0].body.volume() == pytest.approx(
        result["steps"]["in"]["data"]["result"]["volume"]
    )
    again = client.post("/api/parts/file", data=text_file).get_json()
    assert again["document"]["files"] == {}  # kept beside the parts, not in each of their revisions
    assert built(again["id"])["result"]["bodies"][0]["mesh"]
    missing = opened(client, {**document, "steps": [{**kept, "file": "0" * 64}]})
    assert built(missing["id"])["result"]["steps"]["in"]["messages"][0]["code"] == "file-gone"
    refused(client.post("/api/files", data=b"x" * (FILE_BYTES + 1)), 413)


def test_files_of_triangles_are_as_fine_as_asked_and_told_before(client, built):
    part = opened(client)["id"]
    built(part)
    stl = {}
    for asked in ("", "?chord=0.02", "?chord=0.001&angle=3"):
        told = client.get(f"/api/parts/{part}/meshing{asked}").get_json()
        stl[asked] = client.get(f"/api/parts/{part}/export/stl{asked}").data
        assert len(stl[asked]) == told["sizes"]["stl"] == 84 + 50 * told["triangles"]
    assert len(stl["?chord=0.001&angle=3"]) > 2 * len(stl["?chord=0.02"])
    for asked, field in (
        ("chord=0", "chord"),
        ("chord=nan", "chord"),
        ("angle=-3", "angle"),
        ("chord=1e9", "chord"),
        ("angle=x", "angle"),
    ):
        for of in ("meshing", "export/stl"):
            assert field in str(refused(client.get(f"/api/parts/{part}/{of}?{asked}"), 422))


def test_a_mesh_of_at_most_so_many_triangles_is_made_once(client, built):
    part = opened(client)["id"]
    (body,) = built(part)["result"]["bodies"]
    assert body["most"] is None
    whole = client.get(f"/api/bodies/{body['key']}/mesh.glb").data
    few = client.get(f"/api/parts/{part}/bodies/{body['key']}/at-most-128")
    assert few.status_code == 200
    assert len(few.data) < len(whole)
    assert client.get(f"/api/parts/{part}/bodies/{body['key']}/at-most-128").data == few.data
    assert client.get(f"/api/parts/{part}/bodies/{body['key']}/at-most-x").status_code == 422


def test_a_mesh_near_to_its_surface_has_no_more_triangles_than_asked(client, built):
    way = {
        "kind": "helix",
        "id": "way",
        "name": "Way",
        "plane": XY,
        "radius": 10,
        "pitch": 6,
        "turns": 2,
        "height": None,
    }
    wire = {
        "kind": "sweep",
        "id": "wire",
        "name": "Wire",
        "path": {"step": "way"},
        "profile": {"quick": "round", "width": 3},
    }
    part = opened(
        client, {"format": "leadline-part", "version": 1, "name": "Coil", "units": "mm", "steps": [way, wire]}
    )["id"]
    (body,) = built(part)["result"]["bodies"]
    usual, near, few = (
        triangles_of(client.get(f"/api/parts/{part}/bodies/{body['key']}/{how}").data)
        for how in ("normal", "chord-12x65536", "chord-12x512")
    )
    for how in ("chord-12x0", "at-most-0"):
        assert client.get(f"/api/parts/{part}/bodies/{body['key']}/{how}").status_code == 200
    assert usual == body["triangles"]
    assert usual < near <= 65536
    assert few <= 512
    assert 0 < body["chord"] < 0.05
    for how in ("chord-x", "chord-3", "chord-123x5", "chord--100x5"):
        assert client.get(f"/api/parts/{part}/bodies/{body['key']}/{how}").status_code == 422


def triangles_of(glb):
    """How many triangles a mesh for the screen has."""
    length = int.from_bytes(glb[12:16], "little")
    told = json.loads(glb[20 : 20 + length])
    return sum(
        told["accessors"][p["indices"]]["count"] // 3 for m in told["meshes"] for p in m["primitives"] if p["mode"] == 4
    )

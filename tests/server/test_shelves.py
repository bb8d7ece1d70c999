"""The shelf by its routes, and parts that follow its rows."""

import pytest

from tests.support.client import opened, refused
from tests.support.parts import bar
from tests.support.placing_served import holder, placing, wait_for


@pytest.fixture
def shelf(client):
    """A shelf of one's own, with the tubes that are shipped."""
    answer = client.post("/api/shelves/shelf-tubes/copy")
    assert answer.status_code == 201
    made = answer.get_json()
    yield made
    client.delete(f"/api/shelves/{made['id']}")


def listed(client):
    return {s["id"]: s for s in client.get("/api/shelves").get_json()["shelves"]}


def saved(client, shelf, rows, version=None, name="Own"):
    return client.put(
        f"/api/shelves/{shelf['id']}", json={"version": version or shelf["version"], "name": name, "rows": rows}
    )


def wider(client, shelf, row, outside):
    now = listed(client)[shelf["id"]]
    rows = [{**r, "cells": {**r["cells"], "outside": outside}} if r["id"] == row["id"] else r for r in now["rows"]]
    answer = saved(client, now, rows)
    assert answer.status_code == 200, answer.get_json()


def following(shelf, row, **more):
    value = {
        "name": "reach",
        "value": 1,
        "note": "",
        "row": {"shelf": shelf["id"], "row": row["id"], "size": "outside"},
    }
    return bar("reach", values=[value], **more)


def length(client, part_id):
    build = client.get(f"/api/parts/{part_id}/build").get_json()
    return build["result"]["steps"]["sweep"]["data"]["length"] if build["state"] == "done" else None


def test_each_sort_is_on_the_shelf_and_a_copy_is_ones_own(client, shelf):
    known = listed(client)
    assert {s["sort"] for s in known.values()} == {
        "tubes",
        "wires",
        "hoses",
        "conduits",
        "cables",
        "ends",
        "boxes",
        "clamps",
    }
    assert known[shelf["id"]]["rows"] == known["shelf-tubes"]["rows"]
    assert saved(client, shelf, shelf["rows"][:2]).get_json()["version"] == 2
    after = listed(client)
    assert (len(after[shelf["id"]]["rows"]), after[shelf["id"]]["name"]) == (2, "Own")
    assert after["shelf-tubes"] == known["shelf-tubes"]


def test_the_later_writer_is_told_and_what_does_not_go_there_is_refused(client, shelf):
    assert saved(client, shelf, []).status_code == 200
    assert refused(saved(client, shelf, shelf["rows"]), 409)["code"] == "overtaken"
    bad = [{"id": "a", "name": "A", "cells": {"outside": -1}}]
    error = refused(saved(client, shelf, bad, version=2), 422)
    assert (error["code"], error["place"]["row"]) == ("bad-cell", 1)
    assert listed(client)[shelf["id"]]["rows"] == []


def test_rows_go_out_as_csv_and_come_back_in_their_places(client, shelf):
    text = client.get(f"/api/shelves/{shelf['id']}/csv").get_data(as_text=True)
    changed = (
        text.replace("Tube 38 × 2,steel,38,2,57", "Tube 38 × 2,steel,38.1,2,57") + "Tube 50 × 3,steel,50,3,100,6000\n"
    )
    answer = client.post(f"/api/shelves/{shelf['id']}/csv", json={"version": 1, "csv": changed})
    assert answer.status_code == 200, answer.get_json()
    rows = answer.get_json()["rows"]
    assert [r["id"] for r in rows[:-1]] == [r["id"] for r in shelf["rows"]]
    assert next(r for r in rows if r["name"] == "Tube 38 × 2")["cells"]["outside"] == 38.1
    assert rows[-1]["name"] == "Tube 50 × 3"
    assert (
        refused(client.post(f"/api/shelves/{shelf['id']}/csv", json={"version": 2, "csv": "name,height\nA,3\n"}), 422)[
            "code"
        ]
        == "unknown-column"
    )


def test_one_that_is_taken_away_does_not_come_back(client, shelf, app):
    assert client.delete(f"/api/shelves/{shelf['id']}").status_code == 204
    assert refused(client.delete(f"/api/shelves/{shelf['id']}"), 404)["code"] == "no-shelf"
    assert shelf["id"] not in listed(client)
    before = listed(client)
    app.extensions["leadline"].shelves.put_shipped()
    assert listed(client) == before


def test_an_open_part_follows_its_row_through_others_too_and_keeps_its_number_when_the_row_is_gone(
    client, shelf, built
):
    row = shelf["rows"][7]
    rod = opened(client, following(shelf, row, name="Rod"))
    assert rod["document"]["values"][0]["value"] == 38
    built(rod["id"])
    assert length(client, rod["id"]) == pytest.approx(38)
    whole = holder(client, placing(client, rod, follows=True))
    built(whole["id"])
    wider(client, shelf, row, 44.5)
    wait_for(lambda: length(client, rod["id"]), 44.5)
    assert client.get(f"/api/parts/{rod['id']}").get_json()["document"]["values"][0]["value"] == 44.5

    def volume():
        build = client.get(f"/api/parts/{whole['id']}/build").get_json()
        return (
            build["result"]["steps"]["one"]["data"]["result"]["volume"] / (3.14159265 * 25)
            if build["state"] == "done"
            else None
        )

    wait_for(volume, 44.5)
    client.delete(f"/api/shelves/{shelf['id']}")
    again = client.get(f"/api/parts/{rod['id']}").get_json()["document"]["values"][0]
    assert again["row"]["shelf"] == shelf["id"]
    assert again["value"] == 1  # the number that was saved with it

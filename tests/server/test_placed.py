"""Parts placed in others, as the server keeps them: they follow, stay, go along in part files, and never hold
themselves.
"""

from __future__ import annotations

import json
from datetime import timedelta

import pytest

from leadline.recipe.build import build
from leadline.recipe.part_file import read_part
from tests.support.client import opened, refused, save, travel
from tests.support.placing import block
from tests.support.placing_served import holder, placing, wait_for


def volume(build, name="one"):
    report = build["result"]["steps"][name]
    assert report["state"] == "fresh", report["messages"]
    return report["data"]["result"]["volume"]


def higher(client, view, h):
    """The block made as high as that; the new state of its part."""
    answer = save(client, view, {**view["document"], "values": [{"name": "h", "value": h}]})
    assert answer.status_code == 200
    return answer.get_json()


def test_it_follows_through_others_and_one_that_does_not_stays(client, built):
    inner = opened(client, block())
    middle = holder(client, placing(client, inner), name="Middle")
    outer = holder(client, placing(client, middle), placing(client, inner, "stays", follows=False))
    first = built(outer["id"])
    assert (volume(first), volume(first, "stays")) == pytest.approx((8000, 8000))
    inner = higher(client, inner, 25)  # all that follow it and were built here are built again
    wait_for(lambda: volume(built(outer["id"])), 20000)
    assert volume(built(outer["id"]), "stays") == pytest.approx(8000)
    travel(client, "undo", inner)
    wait_for(lambda: volume(built(outer["id"])), 8000)
    assert (
        client.get(f"/api/parts/{outer['id']}").get_json()["revision"] == outer["revision"]
    )  # nothing of it was saved anew


def test_a_part_file_has_all_that_it_takes_to_build_it_elsewhere(client, built):
    inner = opened(client, block())
    middle = holder(client, placing(client, inner), name="Middle")
    outer = holder(client, placing(client, middle))
    data = client.get(f"/api/parts/{outer['id']}/part.json").data
    assert build(read_part(data)).reports["one"].data["result"]["volume"] == pytest.approx(8000)
    for view in (inner, middle):
        client.delete(f"/api/parts/{view['id']}")
    again = opened(client, json.loads(data))
    assert again["document"]["files"] == {}
    assert volume(built(again["id"])) == pytest.approx(8000)  # the parts of the list are gone: as they were kept


def test_a_part_never_holds_itself(client):
    inner = opened(client, block())
    middle = holder(client, placing(client, inner), name="Middle")
    step = placing(client, middle)
    document = {**inner["document"], "steps": [*inner["document"]["steps"], step]}
    error = refused(save(client, inner, document), 422)
    assert (error["code"], error["place"]["field"]) == ("placed-in-itself", "part")
    assert "Block holds Middle holds Block" in error["text"]
    longer = holder(
        client, placing(client, holder(client, placing(client, inner), name="Middle")), name="Middle"
    )  # names tell nothing
    around = placing(client, longer)
    assert (
        refused(save(client, inner, {**inner["document"], "steps": [*inner["document"]["steps"], around]}), 422)["code"]
        == "placed-in-itself"
    )
    step["follows"] = False  # as it was then it may
    assert save(client, inner, {**document, "steps": [*inner["document"]["steps"], step]}).status_code == 200


def test_files_that_nothing_names_any_more_go(client, app, built):
    files = app.extensions["leadline"].files
    inner = opened(client, block())
    step = placing(client, inner, follows=False)
    outer = holder(client, placing(client, holder(client, step, name="Middle"), follows=False), name="Keeper")
    loose = client.post("/api/files", data=b"a body that no part took").get_json()["digest"]
    files.trim()
    assert files.get(loose) is not None  # it has just come in
    files.trim(timedelta(0))
    assert files.get(loose) is None
    assert files.get(step["file"]) is not None  # named by the document of the part that is placed
    assert volume(built(outer["id"])) == pytest.approx(8000)

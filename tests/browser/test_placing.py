"""Parts placed in parts, and what goes on where they end, in the browser from an empty part."""

from __future__ import annotations

import math

import pytest
from playwright.sync_api import Page, expect

from tests.support.editor import Editor
from tests.support.parts import XY, bar
from tests.support.placing import block


def test_a_part_is_placed_follows_its_own_part_and_a_plane_stands_in_its_round_end(editor: Editor, page: Page):
    """A bar of 100 mm and Ø10 with a named length, placed twice: once as it is, once with a length of its own."""
    own = bar("reach", values=[{"name": "reach", "value": 100, "note": "length"}])
    editor.open_document({**own, "name": "Float rod"})
    rod = page.url
    editor.new_part()
    for _ in range(2):
        editor.key("Shift+P")
        page.get_by_role("textbox", name="Search parts").fill("Float rod")
        page.get_by_role("dialog").get_by_role("button", name="Float rod").first.click()
        editor.wait_built()
        assert editor.number("Volume") == pytest.approx(math.pi * 25 * 100 / 1000, rel=1e-4)
    editor.field("Along y", "30")
    page.get_by_role("button", name="0 of 1 changed").click()
    editor.field("length", "40")
    editor.wait_built()
    assert editor.number("Volume") == pytest.approx(math.pi * 25 * 40 / 1000, rel=1e-4)
    whole = page.url
    page.get_by_role("link", name="Open it").click()
    expect(page).to_have_url(rod)
    editor.wait_built()
    editor.select("sweep")
    page.evaluate("document.activeElement?.blur()")
    document = editor.document()
    document["values"][0]["value"] = 60
    answer = page.request.put(
        f"{editor.url}/api/parts/{rod.rsplit('/', 1)[1]}/document",
        data={"base": 1, "label": "Shorter", "document": document},
    )
    assert answer.ok
    page.goto(whole)
    editor.wait_built()
    first, second = (s["id"] for s in editor.document()["steps"])
    editor.select(first)
    assert editor.number("Volume") == pytest.approx(math.pi * 25 * 60 / 1000, rel=1e-4)
    page.get_by_label("Follows the other part's changes").click(force=True)
    editor.until(lambda: editor.document()["steps"][0]["follows"] is False, "it still follows")
    editor.key("Escape")
    editor.key("2")  # from the top: the far end of the first rod is 60 mm along x, seen from the side as a line
    editor.key("Shift+G")
    editor.settle()
    x, y, _ = editor.point_at(30 - 60 / 2 + 30, -15, "take")
    page.mouse.click(x, y)
    editor.wait_built()
    plane = editor.document()["steps"][-1]["how"]
    assert (plane["by"], plane["edge"]["step"]) == ("round", first)
    built = page.request.get(f"{editor.url}/api/parts/{whole.rsplit('/', 1)[1]}/build").json()["result"]["steps"]
    data = built[editor.document()["steps"][-1]["id"]]["data"]["plane"]
    assert data["origin"] == pytest.approx([60, 0, 0], abs=1e-6)
    assert second in built


def test_an_edge_between_two_bodies_is_a_path_and_a_lost_one_offers_the_nearest(editor: Editor, page: Page):
    document = block(name="Cap")
    document["steps"] += [
        {
            "kind": "sketch",
            "id": "ring",
            "name": "Ring",
            "plane": XY,
            "sketch": {
                "points": [{"id": "c", "x": 20, "y": 10}],
                "constraints": [],
                "dimensions": [],
                "projections": [],
                "entities": [{"kind": "circle", "id": "rim", "center": "c", "radius": 9}],
            },
        },
        {
            "kind": "extrude",
            "id": "peg",
            "name": "Peg",
            "profile": {"step": "ring"},
            "length": 25,
            "taper": -10,
            "result": "add",
        },
    ]
    editor.open_document(document)
    editor.key("2")
    editor.key("Shift+E")
    editor.settle()
    foot = 9 - 10 * math.tan(math.radians(10))
    x, y, _ = editor.point_at(
        foot, 0, "take Block"
    )  # seen from the top it is the middle one of the rings of the peg, which leans inward
    page.mouse.click(x, y)
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(2 * math.pi * foot, rel=1e-4)
    edge = editor.document()["steps"][-1]["edges"][0]
    assert (edge["step"], edge["edge"]) == ("peg", "block/cap/end&peg/side/rim/0")
    editor.select("peg")
    page.get_by_role("radiogroup", name="Result").get_by_text("Separate").click()
    editor.wait_built()
    editor.select(editor.document()["steps"][-1]["id"])
    expect(editor.messages()).to_contain_text(
        "The edge between the end face of “Block” and the side of “Peg” is no longer there"
    )
    editor.messages().get_by_role("button", name="Take the edge").first.click()
    editor.wait_built()
    assert editor.number("Length") == pytest.approx(2 * math.pi * 9, rel=1e-4)  # the lower end of the peg

"""Changing what is there: dimensions, undo, reload, drags, disputes, folds, two windows, keys."""

from __future__ import annotations

import copy
import json
import math

import pytest
from playwright.sync_api import Page, expect

from leadline.recipe.part_file import write_part
from tests.support.editor import Editor
from tests.support.parts import XY, bar, demo, polyline, step


def kick_rail() -> dict:
    import json

    return json.loads(write_part(demo("kick-rail")))


def test_a_dimension_changed_in_the_sketch_moves_section_plane_and_solid(editor: Editor, page: Page):
    editor.open_document(bar(100, 10))
    editor.select("sweep")
    assert editor.number("Length") == 100
    editor.mark("path").dblclick()
    expect(editor.canvas).to_be_visible()
    page.locator("[data-dimension=d0] rect").click()
    editor.dimension("100 + 2*30")
    editor.done()
    editor.select("sweep")
    assert editor.number("Length") == 160
    assert editor.number("Volume") == pytest.approx(math.pi * 25 * 160 / 1000, rel=1e-4)
    editor.key("Control+z")
    editor.wait_built()
    assert editor.number("Length") == 100
    editor.key("Control+Shift+Z")
    editor.wait_built()
    assert editor.number("Length") == 160
    page.reload()
    editor.wait_built()
    editor.select("sweep")
    assert editor.number("Length") == 160
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


def value_row(page: Page, name: str):
    named = page.get_by_role("button", name=f"Rename {name}", exact=True)
    return page.get_by_test_id("value").filter(has=named)


def test_a_value_is_renamed_wherever_it_is_used_and_says_where_that_is(editor: Editor, page: Page):
    editor.open_document(kick_rail())
    editor.wait_built()
    sizes = [d["value"] for d in step(editor.document(), "path")["sketch"]["dimensions"]]
    assert sizes.count("run") == 1
    expect(value_row(page, "run")).to_contain_text("in Rail line")
    page.get_by_role("button", name="Rename run", exact=True).click()
    page.get_by_label("Name of run").fill("mm")
    page.get_by_label("Name of run").press("Enter")
    expect(page.get_by_text("“mm” cannot name a value")).to_be_visible()
    assert [v["name"] for v in editor.document()["values"]] == ["run", "bend"]
    page.get_by_role("button", name="Rename run", exact=True).click()
    page.get_by_label("Name of run").fill("reach")
    page.get_by_label("Name of run").press("Enter")
    expect(value_row(page, "reach")).to_contain_text("in Rail line")
    editor.wait_built()
    assert [v["name"] for v in editor.document()["values"]] == ["reach", "bend"]
    renamed = [d["value"] for d in step(editor.document(), "path")["sketch"]["dimensions"]]
    assert renamed == ["reach" if size == "run" else size for size in sizes]
    editor.select("sweep")
    assert editor.number("Length") == pytest.approx(2 * 180 + 420 + 70 * math.pi, abs=0.01)
    page.get_by_role("button", name="Undo").click()
    editor.until(lambda: editor.document()["values"][0]["name"] == "run", "it is not called run again")


def test_a_step_is_renamed_in_what_measures_it(editor: Editor, page: Page):
    document = kick_rail()
    document["values"].append({"name": "half", "value": "length(Rail line) / 2", "note": ""})
    editor.open_document(document)
    editor.wait_built()
    editor.mark("path").hover()
    page.get_by_label("More for Rail line").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_label("Name of the step").fill("Way")
    page.get_by_label("Name of the step").press("Enter")
    editor.until(lambda: step(editor.document(), "path")["name"] == "Way", "it is not renamed")
    assert editor.document()["values"][2]["value"] == "length(Way) / 2"


def test_a_named_value_drives_the_part(editor: Editor, page: Page):
    editor.open_document(kick_rail())
    row = value_row(page, "run").locator("input")
    row.fill("500")
    row.press("Enter")
    editor.wait_built()
    editor.select("sweep")
    assert editor.number("Length") == pytest.approx(2 * 180 + 500 + 70 * math.pi, abs=0.01)


def test_dragging_a_free_end_keeps_the_constraints(editor: Editor, page: Page):
    document = bar()
    step(document, "path")["sketch"]["dimensions"] = []
    editor.open_document(document)
    editor.mark("path").dblclick()
    expect(page.get_by_test_id("freedom")).to_contain_text("1 still free")
    editor.drag((100, 0), (130, 25))
    points = {p["id"]: p for p in step(editor.document(), "path")["sketch"]["points"]}
    assert points["p2"]["x"] == pytest.approx(130, abs=1.5)
    assert points["p2"]["y"] == pytest.approx(0, abs=1e-6)
    assert points["p1"]["x"] == pytest.approx(0, abs=1e-6)
    shown_moving(page, "p2")


def test_a_pull_that_the_constraints_hold_back_shows_its_leash(editor: Editor, page: Page):
    document = bar()
    step(document, "path")["sketch"]["dimensions"] = []
    editor.open_document(document)
    editor.mark("path").dblclick()
    expect(page.get_by_test_id("freedom")).to_contain_text("1 still free")
    page.mouse.move(*editor.pixel(100, 0))
    page.mouse.down()
    page.mouse.move(*editor.pixel(110, 30), steps=6)
    expect(page.get_by_test_id("leash")).to_be_visible()  # the line stays level, so that its end cannot follow
    page.mouse.up()
    expect(page.get_by_test_id("leash")).to_have_count(0)


def shown_moving(page: Page, point: str) -> None:
    """ "Show me" moves the free point on the screen, and puts it back."""
    at = page.locator(f"[data-point={point}]").get_attribute("cx")
    page.evaluate(
        """(point) => {
          const seen = (window.seen = new Set());
          new MutationObserver(() => seen.add(document.querySelector(`[data-point=${point}]`).getAttribute('cx')))
            .observe(
              document.querySelector('[data-testid=sketch-canvas]'),
              { subtree: true, attributes: true, attributeFilter: ['cx'] },
            );
        }""",
        point,
    )
    page.get_by_role("button", name="Show me").click()
    Editor(page, "").until(lambda: page.evaluate("window.seen.size") > 3, "it does not move")
    expect(page.locator(f"[data-point={point}]")).to_have_attribute("cx", str(at))


def test_over_constraining_asks_which_to_give_up(editor: Editor, page: Page):
    editor.open_document(bar(100))
    editor.mark("path").dblclick()
    editor.key("d")
    editor.click(0, 0)
    editor.click(100, 0)
    editor.click(50, 22)
    side = page.get_by_label("State of the sketch")
    expect(side).to_contain_text("already decided")
    expect(side.get_by_role("button", name="Give up length 100")).to_be_visible()
    side.get_by_role("button", name="Make it a reference").click()
    editor.settle()
    dimensions = step(editor.document(), "path")["sketch"]["dimensions"]
    assert [d["driving"] for d in dimensions] == [True, False]
    expect(page.locator("[data-reference] text")).to_contain_text("(100)")


def test_an_unreachable_dimension_moves_nothing_and_says_why(editor: Editor, page: Page):
    editor.open_document(bar(100))
    editor.mark("path").dblclick()
    page.locator("[data-dimension=d0] rect").click()
    editor.dimension("-4")
    expect(page.get_by_label("State of the sketch")).to_contain_text("Give a size above zero")
    assert step(editor.document(), "path")["sketch"]["dimensions"][0]["value"] == 100


def test_a_fold_is_told_with_place_and_way_out_and_the_message_goes_there(editor: Editor, page: Page):
    editor.open_document(kick_rail())
    row = value_row(page, "bend").locator("input")
    row.fill("5")
    row.press("Enter")
    editor.wait_built()
    expect(page.locator('[data-step="sweep"]')).to_contain_text("failed")
    editor.select("sweep")
    message = page.get_by_role("alert").filter(has_text="to its inner side").first
    expect(message).to_contain_text("6 mm to its inner side")
    expect(message).to_contain_text("radius 5 mm")
    expect(message).to_contain_text("Smallest bend radius")
    message.get_by_title("Go there").click()
    readout = page.get_by_test_id("station-readout")
    expect(readout).to_contain_text("bend 5 mm")
    page.get_by_role("button", name="Build it all the same").click()
    editor.wait_built()
    expect(page.locator('[data-step="sweep"]')).not_to_contain_text("failed")


def test_switching_the_result_between_cut_and_separate(editor: Editor, page: Page):
    page.set_viewport_size({"width": 1280, "height": 800})
    import json

    editor.open_document(json.loads(write_part(demo("pipe-clip"))))
    editor.select("sweep")
    expect(page.locator('[data-step="sweep"]')).to_contain_text("Ø20")
    page.get_by_role("radiogroup", name="Result").get_by_text("Separate").click()
    editor.wait_built()
    assert step(editor.document(), "sweep")["result"] == "separate"
    page.get_by_role("button", name="Undo").click()
    editor.wait_built()
    assert step(editor.document(), "sweep")["result"] == "cut"


def test_bad_text_in_a_field_fails_the_step_and_says_so(editor: Editor, page: Page):
    editor.open_document(bar())
    editor.select("sweep")
    editor.field("Wall", "2 furlong")
    editor.wait_built()
    alert = page.get_by_role("alert").filter(has_text="furlong").first
    expect(alert).to_contain_text("no unit")
    editor.field("Wall", "1/16 in")
    editor.wait_built()
    assert editor.number("Section") == pytest.approx(math.pi * (25 - (5 - 25.4 / 16) ** 2), rel=1e-3)


def test_changing_units_keeps_every_size(editor: Editor, page: Page):
    editor.open_document(kick_rail())
    editor.select("sweep")
    page.get_by_label("Units").first.click()
    page.get_by_role("option", name="in", exact=True).click()
    editor.wait_built()
    assert editor.number("Length") == pytest.approx((780 + 70 * math.pi) / 25.4, rel=1e-5)


@pytest.mark.own_window
def test_the_later_of_two_windows_is_told(editor: Editor, page: Page):
    editor.open_document(bar())
    other = Editor(page.context.new_page(), editor.url)
    other.page.goto(page.url)
    other.wait_built()
    editor.select("sweep")
    page.get_by_role("button", name="Twist…").click()
    editor.field("Twist over the length", "1")
    editor.wait_built()
    other.select("sweep")
    other.page.get_by_role("button", name="Twist…").click()
    other.field("Twist over the length", "3")
    expect(other.page.get_by_test_id("save-state")).to_have_text("changed elsewhere")
    other.page.get_by_role("button", name="Take over the newer state").click()
    other.wait_built()
    assert step(other.document(), "sweep")["twist"] == 1
    other.page.close()


@pytest.mark.own_window
def test_what_was_not_sent_survives_a_reload_and_what_was_overtaken_can_be_kept(editor: Editor, page: Page):
    editor.open_document(bar())
    editor.select("sweep")
    page.route("**/document", lambda route: route.abort())
    page.on("dialog", lambda dialog: dialog.accept())  # the page asks before it is left
    editor.field("Wall", "2")
    expect(page.get_by_test_id("save-state")).to_have_text("not sent yet")
    page.reload()
    editor.select("sweep")
    expect(page.get_by_label("Wall", exact=True)).to_have_value("2")
    address = f"{editor.url}/api/parts/{page.url.rsplit('/', 1)[1]}"
    head = page.request.get(address).json()
    theirs = {**head["document"], "name": "Theirs"}
    page.request.put(f"{address}/document", data={"base": head["revision"], "label": "Theirs", "document": theirs})
    page.unroute("**/document")
    page.get_by_role("button", name="Keep mine as a new part").click()
    page.wait_for_url(lambda url: not url.endswith(head["id"]))
    editor.wait_built()
    assert step(editor.document(), "sweep")["wall"] == 2
    assert page.request.get(address).json()["document"] == theirs


@pytest.mark.own_window
def test_a_document_that_cannot_be_read_can_be_saved_as_a_file(editor: Editor, page: Page):
    editor.open_document(bar())
    refusal = {
        "level": "error",
        "code": "bad-field",
        "text": "steps.0.of_tomorrow: unknown.",
        "way_out": "",
        "place": {},
    }
    page.route(
        f"**/api/parts/{page.url.rsplit('/', 1)[1]}", lambda route: route.fulfill(status=422, json={"error": refusal})
    )
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("of_tomorrow")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save its document as a file").click()
    assert json.loads(saved.value.path().read_text())["format"] == "leadline-part"


@pytest.mark.own_window
def test_twelve_windows_of_one_browser_are_open_at_once(editor: Editor, page: Page):
    editor.open_document(bar())
    others = [Editor(page.context.new_page(), editor.url) for _ in range(11)]
    for other in others:
        other.page.set_viewport_size({"width": 480, "height": 320})  # small, as all of them are drawn on the processor
        other.page.goto(page.url)
    for other in others:
        other.wait_built()
    editor.select("sweep")
    editor.field("Wall", "2")
    editor.wait_built()
    for other in others:
        other.page.close()


def test_the_sinker_the_locker_and_the_keys(editor: Editor, page: Page):
    editor.open_document(bar())
    sinker = page.get_by_role("slider", name="Sinker")
    sinker.focus()
    editor.key("ArrowUp")
    editor.wait_built()
    assert editor.document()["sinker"] == "profile"
    expect(page.locator('[data-step="sweep"]')).to_contain_text("below the sinker")
    page.get_by_test_id("open-step").first.click()
    page.locator("body").press("Escape")
    page.get_by_role("button", name="Locker").click()
    search = page.get_by_placeholder("Add a step, or find a command")
    search.fill("look top")
    expect(page.get_by_role("button", name="Look from the top")).to_be_visible()
    editor.key("Escape")
    page.get_by_role("button", name="The keys").click()
    expect(page.get_by_role("dialog")).to_contain_text("Sweep a profile along a path")


def test_what_was_open_in_one_part_is_not_open_in_the_next(editor: Editor, page: Page):
    editor.open_document(bar())
    first = page.url.removeprefix(editor.url)
    editor.select("sweep")
    page.get_by_role("button", name="The keys").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    editor.open_document(bar())
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_test_id("slip").get_by_label("Wall", exact=True)).to_have_count(0)
    editor.go("/part/of-no-part")
    expect(page.get_by_role("link", name="To the part list")).to_be_visible()
    editor.go(first)  # from part to part, not by the list
    editor.wait_built()
    editor.select("sweep")
    expect(page.get_by_label("Wall", exact=True)).to_be_visible()


def test_switching_a_step_off_and_deleting_it(editor: Editor, page: Page):
    document = bar()
    twin = {**copy.deepcopy(step(document, "sweep")), "id": "twin", "name": "Twin"}
    document["steps"].append(twin)
    editor.open_document(document)
    for item in ("Switch off", "Delete"):
        page.get_by_label("More for Twin").click(force=True)
        page.get_by_role("menuitem", name=item).click()
        editor.wait_built()
        if item == "Switch off":
            expect(page.locator('[data-step="twin"]')).to_contain_text("switched off")
    assert [s["id"] for s in editor.document()["steps"]] == ["path", "plane", "profile", "sweep"]


def test_steps_are_grouped_carried_along_the_cord_and_copied_with_what_they_hold(editor: Editor, page: Page):
    editor.open_document(bar())
    editor.select("plane")
    editor.mark("sweep").click(modifiers=["Shift"])
    page.get_by_label("More for Profile").click(force=True)
    page.get_by_role("menuitem", name="Group these 3 steps").click()
    editor.wait_built()
    assert editor.document()["groups"] == [
        {"id": "group1", "name": "Group", "steps": ["plane", "profile", "sweep"], "folded": False}
    ]
    page.get_by_role("button", name="Fold Group", exact=True).click()
    expect(editor.mark("sweep")).to_have_count(0)
    page.get_by_label("More for Group").click(force=True)
    page.get_by_role("menuitem", name="Copy with all it holds").click()
    editor.wait_built()
    document = editor.document()
    assert [g["name"] for g in document["groups"]] == ["Group", "Group copy"]
    twin = document["steps"][-1]
    assert (twin["path"]["step"], twin["profile"]["step"]) == ("path", document["steps"][-2]["id"])
    assert [
        s["state"]
        for s in page.request.get(f"{editor.url}/api/parts/{page.url.rsplit('/', 1)[1]}/build")
        .json()["result"]["steps"]
        .values()
    ] == ["fresh"] * 7
    editor.key("Control+z")
    editor.wait_built()
    page.get_by_role("button", name="Unfold Group").click()
    box = page.locator('[data-step="path"]').bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 120, box["y"] + 25)
    page.mouse.down()
    for k in range(1, 9):
        page.mouse.move(box["x"] + 120, box["y"] + 25 + 20 * k)
        editor.frames()
    expect(page.get_by_role("status").filter(has_text="uses it")).to_contain_text("“Plane” uses it")
    page.mouse.up()
    editor.settle()
    assert [s["id"] for s in editor.document()["steps"]] == ["path", "plane", "profile", "sweep"]


def test_a_way_out_is_taken_by_its_button_and_the_right_button_opens_what_can_be_done(editor: Editor, page: Page):
    document = bar(corners="refuse")
    d = polyline((0, 0), (80, 0), (80, 60))
    step(document, "path")["sketch"] = d.sketch().model_dump(mode="json")
    editor.open_document(document)
    editor.select("sweep")
    expect(editor.messages()).to_contain_text("a corner of 90°")
    page.get_by_role("button", name="Mitre the corners").click()
    editor.wait_built()
    assert step(editor.document(), "sweep")["corners"] == "mitre"
    expect(editor.messages()).to_have_count(0)
    editor.key("Control+z")
    editor.wait_built()
    page.get_by_role("button", name="Round them by 30 mm").click()
    editor.wait_built()
    editor.key("1")  # the path is drawn on the plane that is seen from the front
    editor.frames()
    low, high = page.request.get(f"{editor.url}/api/parts/{page.url.rsplit('/', 1)[1]}/build").json()["result"][
        "bodies"
    ][0]["box"]
    x, y, _ = editor.point_at(
        40 - (low[0] + high[0]) / 2, 0 - (low[2] + high[2]) / 2, "Sweep · side of the circle of Ø 10 mm"
    )
    page.mouse.click(x, y, button="right")
    menu = page.get_by_role("menu", name="What can be done here")
    expect(menu).to_contain_text("Sketch on the picked face")
    menu.get_by_role("menuitem", name="Fade in the stage").click()
    expect(menu).to_have_count(0)


def test_triangles_are_saved_as_fine_as_they_are_wanted_and_told_before(editor: Editor, page: Page):
    editor.open_document(bar())
    editor.wait_built()
    page.get_by_role("button", name="Save as").click()
    page.get_by_role("menuitem", name="Triangles, as fine as they are wanted").click()
    window = page.get_by_role("dialog", name="Files of triangles")
    count = window.get_by_role("status")
    expect(count).to_contain_text("triangles, every copy counted")
    shown = count.inner_text()
    window.get_by_role("textbox", name="Chord").fill("0.002")
    window.get_by_role("textbox", name="Angle").fill("4")
    expect(count).to_contain_text("Counting")
    expect(count).to_contain_text("triangles, every copy counted")
    told = count.inner_text()
    assert told != shown
    with page.expect_download() as saving:
        window.get_by_role("link", name="Save STL").click()
    triangles = (saving.value.path().stat().st_size - 84) // 50
    assert told.startswith(f"{triangles:,} ")
    window.get_by_role("textbox", name="Chord").fill("0")
    expect(window.get_by_role("alert")).to_contain_text("chord")


def test_what_is_looked_at_closely_is_drawn_with_finer_triangles(editor: Editor, page: Page):
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
    editor.open_document({"format": "leadline-part", "version": 1, "name": "Coil", "units": "mm", "steps": [way, wire]})
    editor.wait_built()
    expect(page.get_by_label("Scale")).to_be_visible()
    stage = page.get_by_test_id("stage").bounding_box()
    assert stage is not None
    page.mouse.move(stage["x"] + stage["width"] / 2, stage["y"] + stage["height"] / 2)
    with page.expect_response(lambda r: "/bodies/" in r.url and "/chord-" in r.url) as finer:
        for _ in range(150):
            page.mouse.wheel(0, -240)
    assert finer.value.ok

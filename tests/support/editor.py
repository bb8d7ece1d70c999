"""A person at the screen, in the words of the tests."""

from __future__ import annotations

import json
import re
import time
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, expect

from leadline.server.blobs import Blobs
from leadline.server.database import Database

PATIENCE = 120  # seconds after which what has not come never will, on a busy machine too
SAVED = "document.querySelector('[data-testid=save-state]')?.textContent === 'saved'"


class Kept:
    """What the server has kept of its builds, to be looked at alone."""

    def __init__(self, database: Database) -> None:
        self._blobs = Blobs(database)

    def get(self, key: str) -> bytes | None:
        return self._blobs.get(key)

    def put(self, key: str, data: bytes) -> None:
        """Not kept: the server is to find nothing that it has not built."""


class Editor:
    def __init__(self, page: Page, url: str, kept: Kept | None = None) -> None:
        self.page, self.url, self.kept = page, url, kept

    # -- parts ----------------------------------------------------------------------------------

    def go(self, path: str) -> None:
        """To a page of the program: without loading it anew where it is loaded, as by a link."""
        if self.page.url.startswith(f"{self.url}/"):
            self.page.evaluate(
                "(path) => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }", path
            )
        else:
            self.page.goto(f"{self.url}{path}")

    def list_parts(self) -> None:
        self.go("/")
        expect(self.page.get_by_role("heading", name="Lead Line")).to_be_visible()

    def new_part(self) -> None:
        self.list_parts()
        self.page.get_by_role("button", name="New part", exact=True).click()
        expect(self.page.get_by_role("heading", name="New part")).to_be_visible()

    def open_document(self, document: dict[str, Any]) -> None:
        answer = self.page.request.post(f"{self.url}/api/parts/file", data=json.dumps(document))
        self.list_parts()  # so that what is on the screen is not that of a part before
        self.go(f"/part/{answer.json()['id']}")
        self.wait_built()

    def document(self) -> dict[str, Any]:
        """The part as it is saved."""
        self.comes(SAVED, "it is not saved")
        part_id = self.page.url.rsplit("/", 1)[1]
        return self.page.request.get(f"{self.url}/api/parts/{part_id}/part.json").json()

    def wait_built(self) -> None:
        """What is on the screen is saved, and the build of just that has ended."""
        self.comes(
            f"{SAVED} && document.querySelector('[data-current]')?.dataset.current === 'true'", "it is not built"
        )

    def mark(self, step: str) -> Locator:
        """The mark of a step on the cord."""
        return self.page.locator(f'[data-step="{step}"]').get_by_test_id("open-step")

    def messages(self) -> Locator:
        """What the slip says against the step that it shows."""
        return self.page.get_by_test_id("slip").locator("[data-level]")

    def select(self, step: str) -> None:
        self.mark(step).click()

    def key(self, key: str) -> None:
        self.page.keyboard.press(key)

    def field(self, label: str, value: str) -> None:
        box = self.page.get_by_label(label, exact=True)
        box.fill(value)
        box.press("Enter")

    # -- waiting, never for a time --------------------------------------------------------------

    def frames(self) -> None:
        """Two frames are drawn: what the page was just told is on the screen."""
        self.page.evaluate("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")

    def comes(self, holds: str, otherwise: str) -> None:
        """Wait until an expression of the page holds.

        The page looks itself: asked from here it would be seen up to a second late.
        """
        came = self.page.evaluate(
            f"""(patience) => new Promise((done) => {{
                const deadline = performance.now() + patience * 1000;
                const look = () => {{
                    if ({holds}) done(true);
                    else if (performance.now() > deadline) done(false);
                    else setTimeout(look, 10);
                }};
                look();
            }})""",
            PATIENCE,
        )
        assert came, otherwise

    def until(self, holds: Callable[[], bool], otherwise: str) -> None:
        """Look again, frame by frame, until something holds."""
        deadline = time.monotonic() + PATIENCE
        while not holds():
            assert time.monotonic() < deadline, otherwise
            self.frames()

    # -- the stage, looked at square ------------------------------------------------------------

    def stage_pixel(self, right: float, up: float) -> tuple[float, float, float]:
        """Where a place is on the screen that is so far from the middle of the view, in mm; and the pixels of a mm."""
        stage, bar = self.page.get_by_test_id("stage").bounding_box(), self.page.get_by_label("Scale").bounding_box()
        assert stage is not None
        assert bar is not None
        scale = bar["width"] / float(self.page.get_by_label("Scale").inner_text().split()[0])
        return stage["x"] + stage["width"] / 2 + right * scale, stage["y"] + stage["height"] / 2 - up * scale, scale

    def point_at(self, right: float, up: float, hover: str) -> tuple[float, float, float]:
        """Bring the mouse to a place as in ``stage_pixel``, and again until the hover tag tells of it."""
        tag = self.page.get_by_test_id("hover-tag")
        at = (0.0, 0.0, 0.0)

        def told() -> bool:
            nonlocal at
            at = self.stage_pixel(right, up)
            self.page.mouse.move(at[0] + 1, at[1])
            self.page.mouse.move(at[0], at[1])
            self.frames()
            return bool(tag.count()) and hover in tag.inner_text()

        self.until(told, f"nothing at this place says: {hover}")
        return at

    def pull_in_stage(self, right: float, up: float, by: float, hover: str) -> None:
        """Take hold of a place as in ``stage_pixel``, which the hover tag tells of, and pull it up by so many mm."""
        x, y, scale = self.point_at(right, up, hover)
        self.page.mouse.down()
        for i in range(1, 9):
            self.page.mouse.move(x, y - by * scale * i / 8)
            self.frames()
        with self.page.expect_response(lambda r: r.request.method == "PUT"):
            self.page.mouse.up()
        self.wait_built()

    def number(self, name: str) -> float:
        """A figure of the slip's table, e.g. "Length"."""
        text = self.page.get_by_role("row", name=re.compile(f"^{name} ")).locator("td").inner_text()
        return float(text.split()[0])

    # -- sketching ------------------------------------------------------------------------------

    @property
    def canvas(self) -> Locator:
        return self.page.get_by_test_id("sketch-canvas")

    def pixel(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the sketch, in mm, is on the screen."""
        scale = float(self.canvas.get_attribute("data-scale") or "1")
        box = self.page.get_by_test_id("origin").bounding_box()
        assert box is not None
        return box["x"] + box["width"] / 2 + x * scale, box["y"] + box["height"] / 2 - y * scale

    def click(self, x: float, y: float, shift: bool = False, px: tuple[float, float] = (0, 0)) -> None:
        """Click at a place in mm, ``px`` pixels beside it, and wait until what it did is saved."""
        at = self.pixel(x, y)
        self.page.mouse.move(at[0] + px[0], at[1] + px[1])
        if shift:
            self.page.keyboard.down("Shift")
        self.page.mouse.click(at[0] + px[0], at[1] + px[1])
        if shift:
            self.page.keyboard.up("Shift")
        self.settle()

    def settle(self) -> None:
        """What was just done has reached the page, and is answered and saved."""
        self.frames()
        self.comes(
            f"{SAVED} && (document.querySelector('[data-busy]')?.dataset.busy ?? 'false') === 'false'",
            "it is not answered",
        )

    def dimension(self, value: str) -> None:
        """Type into the figure that has just been placed."""
        box = self.page.get_by_label("Value of the dimension")
        expect(box).to_be_visible()
        box.fill(value)
        box.press("Enter")
        expect(box).to_have_count(0)
        self.settle()

    def drag(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        a, b = self.pixel(*start), self.pixel(*end)
        self.page.mouse.move(*a)
        self.page.mouse.down()
        for i in range(1, 9):
            self.page.mouse.move(a[0] + (b[0] - a[0]) * i / 8, a[1] + (b[1] - a[1]) * i / 8)
            self.frames()
        self.page.mouse.up()
        self.settle()

    def done(self) -> None:
        self.page.get_by_role("button", name="Done").click()
        expect(self.canvas).to_have_count(0)
        self.wait_built()

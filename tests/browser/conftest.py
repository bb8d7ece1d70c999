"""The real server in its own process, the real database, headless Chromium."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Error, Page, expect

from leadline.server.database import Database
from ops.install import BROWSER
from tests.support.editor import Editor, Kept

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM_FLAGS = [
    "--use-angle=gl-egl",
    "--ignore-gpu-blocklist",
    "--disable-quic",
    "--disable-gpu-compositing",
    "--no-first-run",
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": str(BROWSER), "args": CHROMIUM_FLAGS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce", "accept_downloads": True}


SHELF = ("handle-bar", "kick-rail", "pipe-clip", "frost-bar")  # all demo parts are built in the tests of the recipe

ROOMS = ROOT / "ops/example/src/leadline/kinds"  # a kind of step that the program itself does not know


class LiveServer:
    def __init__(self, database_url: str, demo: Path = ROOT / "demo") -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = {
            **os.environ,
            "LEADLINE_DB_URL": database_url,
            "LEADLINE_PORT": str(self.port),
            "LEADLINE_DEMO": str(demo),
            "LEADLINE_KINDS": str(ROOMS),
        }
        self.url = f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "leadline", "serve"], cwd=ROOT, env=self.env, start_new_session=True
        )
        for _ in range(600):
            try:
                with urllib.request.urlopen(f"{self.url}/api/health", timeout=1):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise AssertionError("the server did not start")

    def stop(self) -> None:
        os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(20)


@pytest.fixture(scope="session")
def live(database_url: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[LiveServer]:
    demo = tmp_path_factory.mktemp("demo")
    for name in SHELF:
        shutil.copy(ROOT / "demo" / f"{name}.json", demo)
    server = LiveServer(database_url, demo)
    server.start()
    yield server
    server.stop()


class Window:
    """The browser's window in which one test works after the other, as a person goes from part to part: what is loaded
    once stays.
    """

    def __init__(self, browser: Browser, settings: dict[str, Any]) -> None:
        self._browser, self._settings = browser, settings
        self._page: Page | None = None

    def page(self) -> Page:
        if self._page is None:
            self._page = self._browser.new_context(**self._settings).new_page()
        return self._page

    def close(self) -> None:
        if self._page is not None:
            self._page.context.close()
            self._page = None

    def tidy(self) -> None:
        """Forget what a test left in the window: other windows beside it, what the program keeps in the browser, the
        mouse's place.
        """
        page = self.page()
        for other in page.context.pages:
            if other is not page:
                other.close()
        page.evaluate("localStorage.clear()")
        page.mouse.up()
        page.mouse.move(0, 0)


@pytest.fixture(scope="session")
def window(browser: Browser, browser_context_args: dict[str, Any]) -> Iterator[Window]:
    made = Window(browser, browser_context_args)
    yield made
    made.close()


@pytest.fixture
def page(request: pytest.FixtureRequest, window: Window) -> Iterator[Page]:
    """A page in the window that all tests share; in one of its own for a test that is marked ``own_window``, and after
    one that failed.
    """
    own = request.node.get_closest_marker("own_window") is not None
    failed = request.session.testsfailed
    if own:
        window.close()
    yield window.page()
    if own or request.session.testsfailed > failed:
        window.close()
    else:
        window.tidy()


@pytest.fixture(scope="session")
def kept(database_url: str) -> Iterator[Kept]:
    database = Database(database_url)
    yield Kept(database)
    database.close()


@pytest.fixture
def editor(page: Page, live: LiveServer, kept: Kept) -> Iterator[Editor]:
    """A browser on the part list; a test fails when the page throws."""
    thrown: list[str] = []

    def note(error: Error) -> None:
        thrown.append(str(error))

    page.on("pageerror", note)
    page.set_default_timeout(60000)
    expect.set_options(timeout=60000)  # a busy machine is slow, not wrong
    yield Editor(page, live.url, kept)
    page.remove_listener("pageerror", note)
    assert thrown == []

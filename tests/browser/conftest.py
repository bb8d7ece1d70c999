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
from ops.install import BROWSER
from playwright.sync_api import Page, expect

from tests.browser.editor import Editor

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM_FLAGS = [
    "--use-angle=gl-egl", "--ignore-gpu-blocklist", "--disable-quic", "--disable-gpu-compositing", "--no-first-run", "--no-sandbox",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": str(BROWSER), "args": CHROMIUM_FLAGS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce", "accept_downloads": True}


SHELF = ("handle-bar", "kick-rail", "pipe-clip", "frost-bar")  # all demo parts are built in the tests of the recipe

ROOMS = Path(__file__).resolve().parents[1] / "kinds" / "rooms"  # a kind of step that the program itself does not know


class LiveServer:
    def __init__(self, database_url: str, demo: Path = ROOT / "demo") -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = {**os.environ, "LEADLINE_DB_URL": database_url, "LEADLINE_PORT": str(self.port), "LEADLINE_DEMO": str(demo), "LEADLINE_KINDS": str(ROOMS)}
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


@pytest.fixture
def editor(page: Page, live: LiveServer) -> Iterator[Editor]:
    """A browser on the part list; a test fails when the page throws."""
    thrown: list[str] = []
    page.on("pageerror", lambda error: thrown.append(str(error)))
    page.set_default_timeout(60000)
    expect.set_options(timeout=60000)  # a busy machine is slow, not wrong
    yield Editor(page, live.url)
    assert thrown == []

"""Opening parts that were built before, right after a restart of the server, and the list of parts; nothing is in the
browser's cache.
"""

from __future__ import annotations

import json
import time
import urllib.request
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Browser, Page

from benchmarks import watching
from benchmarks.timing import table, verdict
from tests.browser.conftest import LiveServer

DEMO = Path(__file__).resolve().parents[1] / "demo"
PARTS = ("kick-rail", "discharge-hose", "frost-coil", "rope-grip", "tether-rings")
RUNS = 3
LIST, KNOWN, WHOLE = (
    1500.0,
    300.0,
    1000.0,
)  # ms: of a page by its address; from the list: of result and cord, of everything
# ms by which the first build of a part takes longer beside its computing than those after it; to start a process takes
# a second and more
START_UP = 100.0
AGAIN = 3  # builds after the first one

# Before anything of the page: when result and cord stand after `window.began`, and when all meshes have come and two
# pictures are drawn after the last.
_WATCH = """
window.began = 0;
(() => {
  const look = () => {
    const entries = performance.getEntriesByType('resource').filter((e) => e.startTime >= window.began);
    const built = entries.some((e) => e.name.endsWith('/build') && e.responseEnd > 0);
    if (document.querySelector('[data-step]') && built) window.known ??= performance.now();
    const meshes = entries.filter((e) => e.name.includes('mesh.glb'));
    if (document.querySelector('canvas') && meshes.length > 0 && window.whole === undefined) {
      const last = Math.max(...meshes.map((e) => e.responseEnd));
      const note = () => { window.whole ??= performance.now(); };
      if (performance.now() - last > 40) requestAnimationFrame(() => requestAnimationFrame(note));
    }
    setTimeout(look, 4);
  };
  look();
})();
"""


def report() -> str:
    if watching.DATABASE is None:
        return "## Opening\n\nSkipped: no database (run ./lead bench).\n"
    before = LiveServer(watching.DATABASE)
    before.start()
    ids = [_built(before, name) for name in PARTS]
    before.stop()
    rows = []
    with watching.opened() as (server, browser):
        for name, part in zip(PARTS, ids, strict=True):
            rows += _first_builds(name.replace("-", " ").capitalize(), server.url, part)
        _open(browser, server.url, ids[0])  # the browser's own start is not the page's
        listed, bytes_ = zip(*(_list(browser, server.url) for _ in range(RUNS)), strict=True)
        rows.append(
            [
                f"the list, by its address, {max(bytes_) / 1e3:.0f} kB of scripts",
                f"{np.median(listed):.0f}",
                f"{LIST:.0f}",
                verdict(float(np.median(listed)) < LIST),
            ]
        )
        for name, part in zip(PARTS, ids, strict=True):
            words = name.replace("-", " ").capitalize()
            known, whole = np.median([_click(browser, server.url, part) for _ in range(RUNS)], axis=0)
            rows.append(
                [f"{words}, from the list: result and cord", f"{known:.0f}", f"{KNOWN:.0f}", verdict(known < KNOWN)]
            )
            rows.append([f"{words}, from the list: everything", f"{whole:.0f}", f"{WHOLE:.0f}", verdict(whole < WHOLE)])
            known, whole = np.median([_open(browser, server.url, part) for _ in range(RUNS)], axis=0)
            rows.append(
                [
                    f"{words}, by its address: editor, result and cord",
                    f"{known:.0f}",
                    f"{LIST:.0f}",
                    verdict(known < LIST),
                ]
            )
            rows.append([f"{words}, by its address: everything", f"{whole:.0f}", "", ""])
    return table(f"Opened after a restart, cold cache (ms, median of {RUNS})", ["what", "reached", "target", ""], rows)


def _built(server: LiveServer, name: str) -> str:
    request = urllib.request.Request(
        f"{server.url}/api/parts/file", data=(DEMO / f"{name}.json").read_bytes(), method="POST"
    )
    part = json.load(urllib.request.urlopen(request))["id"]
    for _ in range(900):
        if json.load(urllib.request.urlopen(f"{server.url}/api/parts/{part}/build"))["state"] == "done":
            return str(part)
        time.sleep(0.1)
    raise RuntimeError(f"{name} is not built")


@dataclass(frozen=True)
class _Built:
    """Times of a build (ms): of all of it; of it saving the change, computing, and fetching the result."""

    whole: float
    saving: float
    computing: float
    fetching: float

    @property
    def beside(self) -> float:
        return self.whole - self.computing


def _first_builds(words: str, url: str, part: str) -> list[list[str]]:
    """Open a part, wait as a person does, and build it anew; then some more times."""
    _asked(f"{url}/api/parts/{part}")
    time.sleep(1.0)
    first = _build(url, part)
    after = float(np.median([_build(url, part).beside for _ in range(AGAIN)]))
    start_up = first.beside - after
    rest = first.beside - first.saving - first.fetching
    return [
        [
            f"{words}, first build after opening: {first.whole:.0f} ms, beside its computing",
            f"{first.beside:.0f}",
            "",
            "",
        ],
        [
            f"… saving the change, between, fetching the result: {first.saving:.0f}, {rest:.0f}, {first.fetching:.0f}",
            "",
            "",
            "",
        ],
        [
            f"… builds after it, beside their computing: {after:.0f}; start-up in the first",
            f"{start_up:.0f}",
            f"{START_UP:.0f}",
            verdict(start_up < START_UP),
        ],
    ]


def _build(url: str, part: str) -> _Built:
    """Rename the first step of a part and have it built, then take that back."""
    view = _asked(f"{url}/api/parts/{part}")
    document = view["document"]
    document["steps"][0]["name"] += (
        f" {time.monotonic_ns() % 1000}"  # all that is shown is told anew; nothing is cut anew
    )
    began = time.perf_counter()
    saved = _asked(
        f"{url}/api/parts/{part}/document", "PUT", {"base": view["revision"], "label": "Change", "document": document}
    )
    saving = time.perf_counter() - began
    while True:
        asked = time.perf_counter()
        build = _asked(f"{url}/api/parts/{part}/build")
        ended = time.perf_counter()
        if build["state"] == "done" and build["revision"] == saved["revision"]:
            break
        time.sleep(0.02)  # to ask more often takes a core from what is measured
    _asked(f"{url}/api/parts/{part}/undo", "POST", {"base": saved["revision"]})
    while _asked(f"{url}/api/parts/{part}/build")["state"] != "done":
        time.sleep(0.05)
    return _Built(
        1000 * (ended - began),
        1000 * saving,
        1000 * float(build["result"]["seconds"]["worker"]),
        1000 * (ended - asked),
    )


def _asked(address: str, method: str = "GET", body: object = None) -> Any:
    request = urllib.request.Request(address, method=method, headers={"Content-Type": "application/json"})
    return json.load(urllib.request.urlopen(request, json.dumps(body).encode() if body is not None else None))


def _open(browser: Browser, url: str, part: str) -> tuple[float, float]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page = context.new_page()
    page.add_init_script(_WATCH)
    page.goto(f"{url}/part/{part}")
    return _ended(page)


def _click(browser: Browser, url: str, part: str) -> tuple[float, float]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page = context.new_page()
    page.add_init_script(_WATCH)
    page.goto(url)
    link = page.locator(f'a[href="/part/{part}"]').first
    link.wait_for()
    page.wait_for_timeout(2500)  # a person reads the list
    page.evaluate(
        "addEventListener('click', () => { window.began = performance.now(); window.known = window.whole = "
        "undefined; }, true)"
    )
    link.click()
    return _ended(page)


def _ended(page: Page) -> tuple[float, float]:
    page.wait_for_function("window.whole !== undefined", timeout=60000)
    known, whole = page.evaluate("[window.known - window.began, window.whole - window.began]")
    page.context.close()
    return float(known), float(whole)


def _list(browser: Browser, url: str) -> tuple[float, int]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page = context.new_page()
    page.goto(url)
    page.get_by_role("link", name="Kick rail", exact=False).first.wait_for()
    shown, size = page.evaluate(
        "[performance.now(), performance.getEntriesByType('resource').filter((e) => "
        "e.name.endsWith('.js')).reduce((n, e) => n + e.decodedBodySize, 0)]"
    )
    context.close()
    return float(shown), int(size)

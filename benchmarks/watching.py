"""A server and a browser to measure with, and a page that notes how long each ask of a moving hand takes, in parts."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

from benchmarks.timing import verdict
from ops.install import BROWSER
from tests.browser.conftest import CHROMIUM_FLAGS, LiveServer

# Before anything of the page: messages of the line are noted as they go and come. A sample begins with the first move
# of the pointer that is not answered yet, and ends when the browser has drawn, `frames` pictures after the answer.
_WATCH = """
window.watch = (selector, frames) => {
  window.samples = [];
  window.came = null;
  window.frames = frames;
  document.querySelector(selector).addEventListener('pointermove', () => { window.came ??= performance.now(); }, true);
};
const send = WebSocket.prototype.send;
const sent = new Map();
WebSocket.prototype.send = function (data) {
  if (!this.noted) {
    this.noted = true;
    this.addEventListener('message', (event) => {
      const at = performance.now();
      const head = () => new TextDecoder().decode(new Uint8Array(event.data, 4, 60));
      const text = typeof event.data === 'string' ? event.data : head();
      const found = /^{"ask":(\\d+),"spent":([\\d.]+)/.exec(text);
      if (found === null || !window.samples) return;
      const ask = sent.get(found[1]);
      if (ask === undefined || ask.came === null) return;
      if (window.came === ask.came) window.came = null;
      let left = window.frames;
      const frame = () => requestAnimationFrame(() => (--left > 0 ? frame() : setTimeout(() => {
        const end = performance.now(), spent = Number(found[2]);
        const times = { compute: spent, transport: at - ask.at - spent, draw: end - at };
        window.samples.push({ all: end - ask.came, wait: ask.at - ask.came, ...times });
      }, 0)));
      frame();
    });
  }
  if (typeof data === 'string' && data.startsWith('{"ask"')) {
    sent.set(/\\d+/.exec(data)[0], { at: performance.now(), came: window.came ?? null });
  }
  return send.call(this, data);
};
"""
PARTS = {
    "all": "pointer to picture",
    "wait": "… of it waiting to be asked",
    "compute": "… computing",
    "transport": "… on the way",
    "draw": "… drawing",
}
Sample = dict[str, float]


DATABASE = os.environ.get("LEADLINE_BENCH_DB_URL")  # without one nothing is measured at the screen


@contextmanager
def opened() -> Iterator[tuple[LiveServer, Browser]]:
    """A server on the benches' database, and a browser; both are gone in the end."""
    assert DATABASE is not None
    server = LiveServer(DATABASE)
    server.start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=str(BROWSER), args=CHROMIUM_FLAGS)
            yield server, browser
            browser.close()
    finally:
        server.stop()


def prepared(page: Page) -> Page:
    """The page, which notes from its next address on. Call before it goes anywhere."""
    page.add_init_script(_WATCH)
    return page


def begin(page: Page, selector: str, frames: int) -> None:
    page.evaluate("([selector, frames]) => window.watch(selector, frames)", [selector, frames])


def samples(page: Page) -> list[Sample]:
    found: list[Sample] = page.evaluate("window.samples")
    if len(found) < 10:
        raise RuntimeError(f"only {len(found)} asks were answered")
    return found


def rows(what: str, found: list[Sample], target: float) -> list[list[str]]:
    """Rows of a table: what, median, p95, target of the latter, verdict."""
    lines = []
    for key, words in PARTS.items():
        values: Any = [s[key] for s in found]
        p95 = float(np.percentile(values, 95))
        end = [f"{target:.0f}", verdict(p95 < target)] if key == "all" else ["", ""]
        lines.append([f"{what}: {words}" if key == "all" else words, f"{np.median(values):.0f}", f"{p95:.0f}", *end])
    return lines

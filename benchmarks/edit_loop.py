"""From changing a dimension of the Kick rail to the new solid's mesh at the client, through everything."""

from __future__ import annotations

import cProfile
import os
import pstats
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from benchmarks.timing import table, verdict
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from, read_part
from leadline.server.app import create_app
from leadline.server.settings import Settings

DEMO = Path(__file__).resolve().parents[1] / "demo" / "kick-rail.json"
TARGET = 0.40  # of the time outside kernel and solver
RATIO = 1.5
RUNS = 25
PARTS = {
    "the whole build": ("recipe/build", "build"),
    "sketches: solved and diagnosed": ("sketch/solver", "solve_sketch"),
    "sketches: outlines, regions and what is shown": ("sketch/build", "solution_data"),
    "path, profile and motion": ("sweep/sweeping", "resolve"),
    "judged: folds, and where it meets itself": ("recipe/judging", "judge"),
    "lanes, section and mass": ("recipe/section_report", "swept"),
    "faces and solid, the kernel's share in it": ("solids/sweep_solid", "sweep_bodies"),
    "display mesh": ("sweep/grid", "display_mesh"),
}


def report() -> str:
    url = os.environ.get("LEADLINE_BENCH_DB_URL")
    if url is None:
        return "## Edit loop\n\nSkipped: no database (run ./lead bench).\n"
    app = create_app(Settings(url))
    try:
        measured = _edits(app)
    finally:
        app.extensions["leadline"].close()
    inside = measured["kernel"] + measured["solver"]
    outside = 1 - inside / measured["all"]
    plumbing = 1 - measured["build"] / measured["all"]
    rows = [
        ["change to mesh at the client, ms", f"{measured['all'] * 1000:.0f}", "", ""],
        [
            "as a ratio to the core's own time",
            f"{measured['all'] / measured['build']:.2f}",
            f"{RATIO:g}",
            verdict(measured["all"] < RATIO * measured["build"]),
        ],
        ["… of it kernel, ms", f"{measured['kernel'] * 1000:.0f}", "", ""],
        ["… of it sketch solver, ms", f"{measured['solver'] * 1000:.0f}", "", ""],
        ["share outside kernel and solver", f"{outside:.0%}", f"{TARGET:.0%}", verdict(outside < TARGET)],
        ["share outside the core (HTTP, database, pipe, JSON)", f"{plumbing:.0%}", "", ""],
    ]
    return "\n".join(
        [table("Kick rail: a changed dimension, median of 25", ["what", "reached", "target", ""], rows), _profile()]
    )


def _edits(app: Any) -> dict[str, float]:
    client, broker = app.test_client(), app.extensions["leadline"].broker
    view = client.post("/api/parts/file", data=DEMO.read_bytes()).get_json()
    document = read_part(DEMO.read_bytes()).model_dump(mode="json")
    samples = []
    with broker.watch(view["id"]) as events:
        for i in range(RUNS):
            document["values"][0]["value"] = 421 + i + time.time() % 1  # never built before
            _drain(events)
            began = time.perf_counter()
            body = {"base": view["revision"], "label": "Change", "document": document}
            view = client.put(f"/api/parts/{view['id']}/document", json=body).get_json()
            while (next(events) or {}).get("state") != "done":
                pass
            built = client.get(f"/api/parts/{view['id']}/build").get_json()
            client.get(f"/api/bodies/{built['result']['bodies'][0]['key']}/mesh.glb")
            seconds = built["result"]["seconds"]
            samples.append(
                {
                    "all": time.perf_counter() - began,
                    "build": seconds["all"],
                    "kernel": seconds["kernel"],
                    "solver": seconds["solver"],
                }
            )
    samples.sort(key=lambda s: s["all"])
    return samples[len(samples) // 2]


class _Kept(dict[str, bytes]):
    """A store in memory: what is shown of a build is meshed to be kept."""

    put = dict.__setitem__


def _profile() -> str:
    """Where the core's own time of such an edit goes, by functions that stand for what is done; those further in are
    part of those further out.
    """
    document, memory, store = read_part(DEMO.read_bytes()).model_dump(mode="json"), Memory(), _Kept()
    profile = cProfile.Profile()
    for i in range(RUNS + 1):
        document["values"][0]["value"] = 421 + i + time.time() % 1
        part = part_from(document)
        if i:  # the first one builds all of the part
            profile.enable()
        build(part, memory, store)
        profile.disable()
    spent = {
        ("/".join(Path(file).with_suffix("").parts[-2:]), name): times[3]
        for (file, _, name), times in pstats.Stats(profile).stats.items()
    }  # type: ignore[attr-defined]  # untyped
    whole = spent["recipe/build", "build"]
    rows = [[title, f"{1000 * spent[key] / RUNS:.1f}", f"{spent[key] / whole:.0%}"] for title, key in PARTS.items()]
    return table(
        "Where the core's time of that edit goes (ms under a profiler, which slows small calls, and share)",
        ["what", "ms", "share"],
        rows,
    )


def _drain(events: Iterator[dict[str, Any] | None]) -> None:
    """Read what earlier builds left, up to the picture that ends each."""
    while (next(events) or {}).get("event") != "picture":
        pass

"""A kind of step is one room: this one is an example beside the program, and no other file knows it."""

from __future__ import annotations

import json
import math
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from leadline.recipe.registry import described_kinds
from tests.support.parts import XY

ROOT = Path(__file__).resolve().parents[2]
ROOMS = ROOT / "ops/example/src/leadline/kinds"

PEGS = {
    "format": "leadline-part",
    "version": 1,
    "name": "Pegs",
    "units": "mm",
    "values": [{"name": "thick", "value": "8 mm"}],
    "steps": [
        {"kind": "peg", "id": "peg", "name": "Peg", "plane": XY, "diameter": "thick", "height": 30},
        {"kind": "datum", "id": "beside", "name": "Beside", "how": {"by": "offset", "plane": XY, "distance": 10}},
        {
            "kind": "peg",
            "id": "pin",
            "name": "Pin",
            "plane": {"kind": "step", "step": "beside"},
            "diameter": 4,
            "height": 50,
            "side": "along",
            "result": "add",
        },
    ],
}


def run(code: str, *words: str) -> str:
    env = {**os.environ, "LEADLINE_KINDS": str(ROOMS), "PYTHONPATH": os.pathsep.join([str(ROOT / "src"), str(ROOT)])}
    done = subprocess.run(
        [sys.executable, *(["-c", code] if code else []), *words], env=env, capture_output=True, text=True, timeout=300
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


def asked(code: str) -> Any:
    """What a process that has the room prints as JSON; the part is there as ``document``."""
    return json.loads(run(f"import json\ndocument = json.loads({json.dumps(PEGS)!r})\n{code}"))


def test_it_is_built_without_a_server_and_saved_as_files(tmp_path):
    (tmp_path / "pegs.json").write_text(json.dumps(PEGS))
    run("", "-m", "leadline", "build", str(tmp_path / "pegs.json"), "--out", str(tmp_path / "out"))
    report = json.loads((tmp_path / "out" / "report.json").read_text())
    assert [s["state"] for s in report["steps"].values()] == ["fresh"] * 3
    assert report["steps"]["pin"]["uses"] == ["beside"]
    assert report["steps"]["peg"]["data"]["numbers"]["volume"] == pytest.approx(math.pi * 16 * 30)
    assert report["steps"]["pin"]["data"]["result"]["volume"] == pytest.approx(math.pi * (16 * 30 + 4 * 30), rel=1e-9)
    assert (tmp_path / "out" / "part.step").stat().st_size > 1000


def test_its_solids_are_kept_and_found_by_another_process_and_a_change_builds_what_depends_on_it():
    found = asked("""
from leadline.recipe.build import build, dependents
from leadline.recipe.part_file import part_from
from tests.support.parts import Shelf
shelf = Shelf()
part = part_from(document)
first = build(part, store=shelf)
puts = len(shelf.puts)
again = build(part, store=shelf)
document["steps"][1]["how"]["distance"] = 20
moved = build(part_from(document), store=shelf)
print(json.dumps({
    "puts": [puts, len(shelf.puts)],
    "keys": [first.reports[s].key == moved.reports[s].key for s in ("peg", "beside", "pin")],
    "volume": again.bodies[0].body.volume(), "dependents": dependents(part, "beside"),
}))
""")
    assert found["puts"][0] > 0
    assert found["keys"] == [True, False, False]
    assert found["volume"] == pytest.approx(math.pi * (16 * 30 + 4 * 30), rel=1e-9)
    assert found["dependents"] == ["pin"]


def test_documents_with_it_are_checked_and_described():
    found = asked("""
from leadline.core.problems import Problem
from leadline.recipe.part_file import part_from
from leadline.recipe.registry import described_kinds
from leadline.recipe.part import part_schema
document["steps"][0]["side"] = "sideways"
try:
    part_from(document)
except Problem as problem:
    said = problem.message.text
print(json.dumps({"said": said, "peg": described_kinds()["peg"], "schema": "PegStep" in part_schema()["$defs"]}))
""")
    assert "steps.0" in found["said"]
    assert found["schema"]
    peg = found["peg"]
    assert (peg["gives"], peg["title"]) == ("body", "A round peg on a plane.")
    assert peg["fields"]["diameter"] == {"label": "Diameter", "measure": "length", "default": 10.0, "above": 1e-6}
    assert peg["fields"]["side"]["choice"] == ["along", "against"]
    assert peg["fields"]["plane"]["forms"][1]["fields"]["step"]["use"] == "plane"


def test_without_its_folder_it_does_not_exist():
    assert "peg" not in described_kinds()

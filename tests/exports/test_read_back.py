"""STEP files read back by another program."""

import json
import subprocess
import sys

import pytest

from leadline.exports.formats import export
from leadline.recipe.build import build
from tests.support.parts import DEMO, SHARED, XY, demo, part

QUADRATURE = 2e-5  # how well the other program integrates over free faces of many spans
BULGING = ["pump-grip", "handle-bar"]


def coil():
    way = {
        "kind": "helix",
        "id": "way",
        "name": "Way",
        "plane": XY,
        "radius": 20,
        "pitch": 6,
        "turns": 12,
        "height": None,
    }
    wire = {
        "kind": "sweep",
        "id": "wire",
        "name": "Wire",
        "path": {"step": "way"},
        "profile": {"quick": "round", "width": 3},
    }
    return part({"format": "leadline-part", "version": 1, "name": "Coil", "units": "mm", "steps": [way, wire]})


@pytest.mark.parametrize(
    "name", ["kick-rail", "frost-bar", "twisted-ring", "pipe-clip-core", "hexagon-bar", "coil", *BULGING]
)
def test_another_program_finds_the_same_solids_in_the_file(name, tmp_path):
    result = build(coil() if name == "coil" else demo(name), SHARED)
    (tmp_path / "part.step").write_bytes(export(result, "step"))
    ran = subprocess.run(
        [sys.executable, "-m", "tests.support.read_back", str(tmp_path / "part.step")],
        cwd=DEMO.parent,
        capture_output=True,
        text=True,
        timeout=300,
        check=True,
    )
    found = json.loads(ran.stdout.splitlines()[-1])
    solids = [body for kept in result.bodies for body in kept.each()]
    assert found["solids"] == len(solids)
    assert found["faces"] == sum(len(body.face_names) for body in solids)
    assert found["bad"] == []
    near = QUADRATURE if name in BULGING else 1e-6
    assert found["volume"] == pytest.approx(sum(body.volume() for body in solids), rel=near)
    assert found["area"] == pytest.approx(sum(body.area() for body in solids), rel=10 * near)

"""Springs as parts, and what is built of them."""

from leadline.recipe.build import build
from tests.support.parts import part

FLAT = {"kind": "principal", "plane": "XY"}


def spring(**fields) -> dict:
    return {
        "kind": "sprung",
        "id": "s",
        "name": "Spring",
        "plane": FLAT,
        "wire": 2,
        "diameter": 16,
        "measured": "mean",
        "turns": 6,
        "free": 42,
        **fields,
    }


def document(*steps: dict):
    return part(
        {"format": "leadline-part", "version": 1, "name": "Springs", "units": "mm", "values": [], "steps": list(steps)}
    )


def built(quick=False, **fields):
    result = build(document(spring(**fields)), quick=quick)
    report = result.reports["s"]
    assert report.state == "fresh", report.messages
    return report, result


def refused(code: str, **fields):
    report = build(document(spring(**fields))).reports["s"]
    assert report.state == "failed"
    found = {m.code: m for m in report.messages}
    assert code in found
    return found[code]

"""Lofts as steps."""

from tests.support.parts import XY

BESIDE = {"kind": "datum", "id": "above", "name": "Above", "how": {"by": "offset", "plane": XY, "distance": 40}}


ABOVE = {"kind": "step", "step": "above"}


def quick(kind, width, height=0.0, plane=XY, **more):
    return {"by": "quick", "profile": {"quick": kind, "width": width, "height": height}, "plane": plane, **more}


def loft(*sections, **more):
    return {"kind": "loft", "id": "loft", "name": "Loft", "sections": list(sections), **more}

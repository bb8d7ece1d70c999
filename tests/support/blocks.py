"""A box and a rod as steps, whose edges are rounded and whose walls are taken away."""

from tests.support.parts import XY, circle, polyline, sketch

BOX = [
    sketch("s", XY, polyline((0, 0), (40, 0), (40, 20), (0, 20), closed=True)),
    {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "s"}, "length": 30},
]


ROD = [
    sketch("s", XY, circle(10)),
    {"kind": "extrude", "id": "b", "name": "Rod", "profile": {"step": "s"}, "length": 30},
]


RIM = "b/cap/end&b/side/ring/0"

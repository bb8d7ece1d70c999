"""A drawing that is carried along a bend."""

from tests.support.parts import XY, sketch
from tests.support.shapes import Draw

R = 50.0


def bend():
    """A half circle of 50 mm on XY about the origin, from (50, 0) to (-50, 0): at station s it is at the angle
    s / 50.
    """
    d = Draw()
    for name, x, y in (("c", 0, 0), ("s", R, 0), ("e", -R, 0)):
        d.point(name, x, y)
    d.arc("a", "c", "s", "e")
    return sketch("way", XY, d)


# across the path at its start: the plane's normal is the path's direction there, Y
START = {
    "kind": "datum",
    "id": "start",
    "name": "Start",
    "how": {"by": "normal", "x": R, "y": 0, "z": 0, "normal": [0, 1, 0], "along": [1, 0, 0]},
}

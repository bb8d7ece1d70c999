"""The types of the ``data`` in a step's report: JSON objects for views. This module has types alone, no code.

Lengths are mm, areas mm², volumes mm³, angles degrees, masses kg. Each room says in its ``result.py`` which of these
its steps have. A step that has no result, or failed on the way to it, has none or a part of them.
"""

from __future__ import annotations

from typing_extensions import TypedDict  # pydantic asks for this one before Python 3.12

Vec2 = tuple[float, float]
Vec3 = tuple[float, float, float]
Vec4 = tuple[float, float, float, float]


class Shown(TypedDict, total=False):
    """What views are told of a step. Every room's own has this for its base."""


class Moved(TypedDict):
    """What a drag may move in a sketch: points, the radius of a circle or the smaller one of an ellipse, polylines of
    all curves but lines and arcs, which follow from their points, curvature combs and measured sizes.
    """

    points: dict[str, Vec2]
    sizes: dict[str, float]
    curves: dict[str, list[Vec2]]
    combs: dict[str, list[Vec4]]
    measured: dict[str, float]


class PlaneShown(TypedDict):
    """An origin and two axes in the plane."""

    origin: Vec3
    x: Vec3
    y: Vec3


class JointShown(TypedDict):
    station: float
    kind: str


class PieceShown(TypedDict):
    kind: str
    length: float
    origin: str


Stretch = TypedDict("Stretch", {"kind": str, "from": float, "to": float, "origin": str})


class PathShown(TypedDict):
    """Points to draw a path by, and what it is made of; ``tightest`` is the least radius, null of a straight one."""

    points: list[Vec3]
    length: float
    closed: bool
    tightest: float | None
    pieces: list[PieceShown]
    joints: list[JointShown]


class PathResult(Shown, total=False):
    """What every path shows."""

    path: PathShown


class _Lanes(TypedDict):
    station: list[float]
    radius: list[float | None]
    limit: list[float | None]
    use: list[float]
    twist: list[float]
    point: list[Vec3]
    x: list[Vec3]
    y: list[Vec3]
    map: list[Vec4]
    tilt: list[float]
    clearance: list[float | None]


class Lanes(_Lanes, total=False):
    """By station: the path's radius and the least one the section allows (null where it is straight), the share of it
    that is used, the twist, the section's place, axes and ``map`` (what the motion does to it in its plane, 2 x 2 row
    by row), the angle between its plane and the path and the room to other stretches (null: none near).

    Where rails or further sections bend the section, ``bending`` says by how much for each number of the outline's
    ``lift``, along x and along y, and once nothing moves ``area`` what it is there (mm²).
    """

    bending: list[list[Vec2]]
    area: list[float]


class _Section(TypedDict):
    loops: list[list[Vec2]]
    width: float
    height: float
    area: float
    wall: float | None
    title: str
    open: bool


class Section(_Section, total=False):
    """The section's outlines and sizes; ``lift`` says of each of their points how the bending numbers of the lanes move
    it.
    """

    lift: list[list[list[float]]]


class Numbers(TypedDict):
    """Sizes of what is swept; ``ends`` are the areas of its ends."""

    length: float
    volume: float
    area: float
    centre: Vec3
    tightest: float | None
    ends: Vec2


class Checks(TypedDict):
    """The kernel's solid against the quadrature over the motion."""

    valid: bool
    kernel_volume: float
    volume_error: float


class _Combined(TypedDict):
    volume: float
    area: float
    centre: Vec3
    bodies: int
    solids: int
    faces: int


class Combined(_Combined, total=False):
    """The bodies that an added, cut or common result has changed; the mass is null without a material."""

    mass: float | None


class WallsShown(TypedDict):
    """How thick the walls are as they are built, at the least and at the most, and where; mm."""

    least: float
    least_at: Vec3
    most: float
    most_at: Vec3


class BodyResult(Shown, total=False):
    """What a step shows that makes bodies: ``result`` after they were combined with others."""

    faces: int
    checks: Checks
    numbers: Numbers
    result: Combined


class SweptResult(BodyResult, total=False):
    """What a step shows that carries a section along a path; ``home`` is the station at which the section is drawn."""

    length: float
    lanes: Lanes
    pieces: list[Stretch]
    joints: list[JointShown]
    section: Section
    closed: bool
    home: float

"""What one who bends a tube works out: walls in the bend, springback, what the machine needs, and how tubes are cut
from stock.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from leadline.core.paths.bends import BendRow, Bends
from leadline.core.problems import Message, Problem, degrees, mm

CLAMP = 2.0  # times the outside diameter: the straight that the clamp needs, where none is given
TOOLING = (
    (10.0, "no mandrel"),
    (20.0, "plug mandrel"),
    (40.0, "mandrel with balls"),
    (math.inf, "mandrel with balls and wiper"),
)
"""What is usually needed, by how thin the wall is for how tight the bend is: (OD/t) / (R/OD) up to so much."""


@dataclass(frozen=True)
class Springback:
    """How a material gives: a bend of θ has to be made ``fixed + share * θ`` further (rad), and its radius grows by
    ``growth`` of itself.
    """

    fixed: float = 0.0
    share: float = 0.0
    growth: float = 0.0

    def made(self, angle: float) -> float:
        """How far to bend so that an angle (rad) is left."""
        return angle + self.fixed + self.share * angle

    def left(self, made: float) -> float:
        """What is left of a bend that was made so far, rad."""
        return (made - self.fixed) / (1 + self.share)

    def tool_radius(self, radius: float) -> float:
        """The radius of the tool (mm) after which a bend has a radius."""
        return radius / (1 + self.growth)


def fitted_springback(
    first: tuple[float, float], second: tuple[float, float], tool: float = 0.0, found: float = 0.0
) -> Springback:
    """From two test bends, each as (bent by, left), rad, and if given the ``tool``'s radius and the one ``found`` (mm).

    Raises:
        Problem: both bends have left the same angle, so that nothing follows from them.
    """
    (p, a), (q, b) = first, second
    if abs(a - b) < math.radians(1):
        raise Problem(
            "test-bends",
            "The two test bends have left nearly the same angle.",
            "Give one of about 30° and one of about 120°.",
            of="tests",
        )
    share = ((q - b) - (p - a)) / (b - a)
    return Springback((p - a) - share * a, share, found / tool - 1 if tool > 0 and found > 0 else 0.0)


@dataclass(frozen=True)
class Walls:
    """A tube in a bend by the estimate of constant volume: its wall (mm) outside and inside of the bend, how much the
    outside is stretched (a share), how tight the bend and how thin the wall is, and what the tool usually has to have.
    """

    outer: float
    inner: float
    strain: float
    tightness: float
    thinness: float
    tooling: str


def walls_in(outside: float, wall: float, radius: float, tooling: Sequence[tuple[float, str]] = TOOLING) -> Walls:
    """A tube of an outside diameter and a wall in a bend of a centreline radius, all mm: t/(1 + r/R) outside, t/(1 -
    r/R) inside.

    ``tooling`` tells what the tool usually has to have, by how thin for how tight, up to so much, in order; beyond the
    last of them it is the last.

    Raises:
        Problem: the bend is no wider than the tube's own radius.
    """
    share = outside / 2 / radius
    if share >= 1:
        raise Problem(
            "bend-too-tight",
            f"A bend of {mm(radius)} is no wider than the tube's own radius of {mm(outside / 2)}.",
            "Give it a larger radius.",
            of="tube",
        )
    tightness, thinness = radius / outside, outside / wall
    need = next((words for most, words in tooling if thinness / tightness <= most), tooling[-1][1])
    return Walls(wall / (1 + share), wall / (1 - share), share, tightness, thinness, need)


def ovality(outside: float, radius: float, allowance: float) -> float:
    """How oval a tube may become, as a share of its diameter: the ``allowance`` at a bend of twice the diameter, and as
    the bend is tighter or wider.
    """
    return allowance * 2 * outside / radius


def reversed_bends(bends: Bends) -> Bends:
    """The same tube told from its other end: turns count between the same two bends, seen against the other way."""
    rows, length = bends.rows, _length(bends)
    feeds = [bends.last, *(row.feed for row in reversed(rows[1:]))]
    turns = [0.0, *(row.turn for row in reversed(rows[1:]))]
    back = reversed(rows)
    made = tuple(
        BendRow(feed, turn, row.angle, row.radius, length - row.end, length - row.start)
        for feed, turn, row in zip(feeds, turns, back, strict=True)
    )
    return Bends(made, rows[0].feed if rows else bends.last)


def changed(bends: Bends, row: int, size: str, value: float) -> Bends:
    """Rows of bends with one number changed: the ``feed`` (of the row after the last one the straight after it),
    ``turn``, ``angle`` or ``radius`` of a row (from 0); mm and rad.

    Raises:
        Problem: there is no such row.
    """
    count = len(bends.rows)
    if row == count and size == "feed":
        return Bends(bends.rows, value)
    if not 0 <= row < count:
        raise Problem("unknown-row", f"There is no bend {row + 1}.", "Reload the part.", row=row + 1)
    return Bends(tuple(replace(r, **{size: value}) if i == row else r for i, r in enumerate(bends.rows)), bends.last)


def _length(bends: Bends) -> float:
    return sum(row.feed + row.radius * row.angle for row in bends.rows) + bends.last


def cut_length(bends: Bends, stretch: float, trims: tuple[float, float]) -> float:
    """How long (mm) to cut the tube: straights and bends, less what the bends stretch it by (a share of their length),
    and what is trimmed off its ends.
    """
    return sum(row.feed + row.radius * row.angle * (1 - stretch) for row in bends.rows) + bends.last + sum(trims)


def programmed(bends: Bends, give: Springback) -> Bends:
    """What the machine is told: bends made further by the springback, on the tool whose radius grows to theirs."""
    return Bends(
        tuple(replace(row, angle=give.made(row.angle), radius=give.tool_radius(row.radius)) for row in bends.rows),
        bends.last,
    )


@dataclass(frozen=True)
class Machine:
    """What a bender needs and can: the straight for its clamp, for its grip at the end, its longest feed (None: any),
    the longest stock (None: any), all mm.
    """

    clamp: float
    grip: float
    longest_feed: float | None = None
    stock: float | None = None


def checked(bends: Bends, outside: float, machine: Machine, cut: float) -> list[Message]:
    """What of a tube the machine cannot do, each with its place."""
    found: list[Message] = []
    for i, row in enumerate(bends.rows):
        where = f"before bend {i + 1}" if i == 0 else f"between bends {i} and {i + 1}"
        if row.feed < machine.clamp - 1e-9:
            found.append(
                Message(
                    "warning",
                    "no-room-for-clamp",
                    f"The straight {where} is {mm(row.feed)}; the clamp needs {mm(machine.clamp)}.",
                    "Move the corners apart, or give the bend less radius.",
                    {"of": "clamp", "station": row.start},
                )
            )
        if machine.longest_feed is not None and row.feed > machine.longest_feed:
            found.append(
                Message(
                    "warning",
                    "feed-too-long",
                    f"The feed {where} is {mm(row.feed)}; the machine feeds {mm(machine.longest_feed)} at most.",
                    "Bend from the other end, or in two.",
                    {"of": "longest_feed", "station": row.start},
                )
            )
        if row.angle > math.pi - 1e-9:
            found.append(
                Message(
                    "warning",
                    "bend-too-far",
                    f"Bend {i + 1} goes round by {degrees(row.angle)}.",
                    "Divide it.",
                    {"station": row.start},
                )
            )
    if bends.rows and bends.last < machine.grip - 1e-9:
        found.append(
            Message(
                "warning",
                "no-room-for-grip",
                f"After the last bend {mm(bends.last)} are left; the grip needs {mm(machine.grip)}.",
                "Bend from the other end, or leave more to be trimmed.",
                {"of": "grip", "station": bends.rows[-1].end},
            )
        )
    radii = sorted({round(row.radius, 6) for row in bends.rows})
    if len(radii) > 1:
        found.append(
            Message(
                "warning",
                "several-radii",
                (
                    f"The bends have {len(radii)} radii, from {mm(radii[0])} to {mm(radii[-1])}: each needs a "
                    "tool of its own."
                ),
                "Give all bends one radius.",
                {"of": "tube"},
            )
        )
    if any(r < outside for r in radii):
        found.append(
            Message(
                "warning",
                "tight-bend",
                f"A bend of {mm(radii[0])} is tighter than the tube is wide ({mm(outside)}).",
                "Give it a larger radius.",
                {"of": "tube"},
            )
        )
    if machine.stock is not None and cut > machine.stock:
        found.append(
            Message(
                "warning",
                "longer-than-stock",
                f"The tube is cut {mm(cut)} long; the stock is {mm(machine.stock)}.",
                "Make it of two, or take longer stock.",
                {"of": "stock"},
            )
        )
    return found


@dataclass(frozen=True)
class Cutting:
    """How pieces are cut from stock: the lengths (mm) cut from each bar, and what is left over in all, the kerfs not
    counted.
    """

    bars: tuple[tuple[float, ...], ...]
    waste: float


def cutting_list(pieces: Sequence[float], stock: float, kerf: float = 0.0) -> Cutting:
    """First fit, the longest first (first-fit decreasing), with a ``kerf`` lost at each cut; all mm.

    Raises:
        Problem: a piece is longer than the stock.
    """
    bars: list[list[float]] = []
    left: list[float] = []
    for piece in sorted(pieces, reverse=True):
        if piece > stock + 1e-9:
            raise Problem(
                "longer-than-stock",
                f"A piece of {mm(piece)} is longer than the stock of {mm(stock)}.",
                "Take longer stock.",
                of="stock",
            )
        k = next((i for i, room in enumerate(left) if piece <= room + 1e-9), None)
        if k is None:
            bars.append([])
            left.append(stock)
            k = len(bars) - 1
        bars[k].append(piece)
        left[k] -= piece + kerf
    return Cutting(tuple(map(tuple, bars)), sum(stock - sum(bar) for bar in bars))

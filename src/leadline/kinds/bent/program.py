"""What a machine is told of a tube, and what it finds in its way."""

from __future__ import annotations

import math
from dataclasses import replace

from leadline.core.problems import Message, Problem, degrees, mm
from leadline.core.trades.bender import Bender
from leadline.core.trades.bender_run import Hit, Program, Run, freest_turns, run, too_long
from leadline.core.trades.tube_told import TubeTold

WORDS = {"tube": "itself"}
DOING = {
    "feed": "while it is fed to bend {}",
    "turn": "while it is turned for bend {}",
    "bend": "while bend {} is made",
    "release": "while bend {} springs back",
    "back": "while the arm goes back after bend {}",
}
MOST_HITS = 4  # that are told of one tube


def program_of(told: TubeTold) -> Program:
    """The program of a tube with its trims still on it."""
    rows = told.held.rows
    made = tuple(replace(m, feed=h.feed) for m, h in zip(told.made.rows, rows, strict=True))
    at, counted = 0.0, []
    for row in rows:
        counted.append(replace(row, start=at + row.feed, end=at + row.feed + row.radius * row.angle))
        at = counted[-1].end
    return Program(replace(told.held, rows=tuple(counted)), replace(told.made, rows=made), told.turns, told.outside)


def refused(told: TubeTold, machine: Bender) -> list[Message]:
    """Why a machine does not take a tube at all."""
    found = []
    if told.outside > machine.largest_outside:
        found.append(
            Message(
                "warning",
                "too-wide-for-machine",
                f"The tube is {mm(told.outside)} wide; {machine.name} takes {mm(machine.largest_outside)}.",
                "Take a larger machine.",
                {"field": "machine"},
            )
        )
    over = too_long(program_of(told), machine)
    if over > 0:
        found.append(
            Message(
                "warning",
                "too-long-for-machine",
                f"The tube is {mm(over)} longer than {machine.name} can take.",
                "Take a longer machine.",
                {"field": "machine"},
            )
        )
    for i, row in enumerate(told.made.rows):
        if row.angle > machine.sweep:
            found.append(
                Message(
                    "warning",
                    "beyond-sweep",
                    (
                        f"Bend {i + 1} has to be made by {degrees(row.angle)}; the arm goes round by "
                        f"{degrees(machine.sweep)}."
                    ),
                    "Divide the bend.",
                    {"field": "machine", "station": told.station(row.start)},
                )
            )
    return found


def fits(told: TubeTold, machine: Bender) -> None:
    """Raises Problem when a tube has no bends or a machine cannot take it, so that there is nothing to play."""
    if not told.bends.rows:
        raise Problem("no-bends", "The tube has no bends.", "Give its path a corner.", field="tube")
    why = refused(told, machine)
    if why:
        raise Problem(why[0].code, why[0].text, why[0].way_out, **why[0].place)


def met(told: TubeTold, machine: Bender) -> list[Message]:
    """What is in the way when the program is played, the first things first."""
    found: list[Message] = []
    played = told.played
    if played is None:
        return found
    if played.short_of_grip > 0:
        found.append(
            Message(
                "warning",
                "short-of-grip",
                (
                    f"At the last bend the grip would have to come {mm(played.short_of_grip)} nearer than "
                    f"{machine.name} can."
                ),
                "Bend from the other end, or leave more to be trimmed.",
                {"field": "machine"},
            )
        )
    found += [
        Message(
            "warning",
            "tube-hits",
            f"The tube runs into {named(hit)} {doing(hit)}, by {mm(hit.deep)}.",
            "Look for another order, or take a machine with more room.",
            {"field": "machine", "station": place_of(told, hit)},
        )
        for hit in played.hits[:MOST_HITS]
    ]
    return found


def named(hit: Hit) -> str:
    return WORDS.get(hit.part, f"the {hit.part}")


def doing(hit: Hit) -> str:
    return DOING[hit.phase].format(hit.row + 1)


def place_of(told: TubeTold, hit: Hit) -> float:
    """Where along the path a hit is, from its own start."""
    return min(max(told.station(hit.station - told.trims[0]), 0.0), told.length)


def orders(told: TubeTold, other_end: TubeTold, machine: Bender) -> list[tuple[bool, list[int], Run]]:
    """From this end and from the other, each with the turns that are the freest: whether it is the other end, the long
    turns, and how it goes.
    """
    found = []
    for other, tube in ((False, told), (True, other_end)):
        best = freest_turns(program_of(replace(tube, long_turns=())), machine)
        long = [
            i + 1
            for i, (turn, row) in enumerate(zip(best.turns, replace(tube, long_turns=()).turns, strict=True))
            if not math.isclose(turn, row)
        ]
        found.append((other, long, run(best, machine)))
    return sorted(found, key=lambda f: (sum(h.deep for h in f[2].hits) + f[2].short_of_grip, f[2].seconds))

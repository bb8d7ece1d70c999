"""The smallest set of constraints and dimensions that disagree.

A set disagrees when no state satisfies it: that is tried, from the drawn state and from others, and not read off the
multipliers of a least-squares state, where what is held exactly leaves no trace.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import numpy as np

from leadline.core.sketch import stepping
from leadline.core.sketch.least_squares import least_squares_from
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import System

GAIN = 1e-9  # relative gain under which a search ends
TRIES = 60  # of one search: those that arrive do so sooner, nearly all
SETTLED = 1e-5  # scaled residual from which Newton steps are left to finish
COLLAPSED = 1e-3  # of its drawn length or radius: what has shrunk to it is no longer there
FARTHEST = 1e3  # of the sketch's size: a search that ran farther only nears a state that there is at infinity
STARTS = (0.0, 0.02, 0.1, 0.3, 1.0)  # how far the states to start from are thrown off the drawn one, scaled
MORE_STARTS = (0.3, 1.0, 2.0) * 15  # what a short search misses, one from near hardly ever finds
NEAREST = 3  # sketches, in which other sets held, that a search begins from
MOST_MISSED = 3  # sets that short searches miss in a sketch: then every search is a long one
MOST_LONG = 60  # sets that get a long search; then a short one must do, so that an answer comes in the end


def smallest_conflict(
    candidates: Sequence[str], feasible: Callable[[Sequence[str]], bool], given: Sequence[str] = ()
) -> list[str]:
    """An irreducible infeasible subset of ``candidates``: without any one of them, what is left can be satisfied.

    ``given`` always counts and is not returned. Empty when all together are feasible. By divide and conquer (Junker,
    QuickXplain, AAAI 2004), so that about k log(n / k) tries find k of n. Candidates that come first are looked at
    first.
    """
    if feasible([*given, *candidates]):
        return []

    def explain(background: list[str], added: bool, rest: list[str]) -> list[str]:
        if added and not feasible([*given, *background]):
            return []
        if len(rest) == 1:
            return rest
        first, second = rest[: len(rest) // 2], rest[len(rest) // 2 :]
        late = explain([*background, *first], bool(first), second)
        early = explain([*background, *late], bool(late), first)
        return [*early, *late]

    return explain([], False, list(candidates))


class Searches:
    """Which of a sketch's constraints and dimensions can hold together, with all that was found out so far.

    What holds together does so without some of it, and what does not, not with more either: so that most questions are
    answered without a search. ``search`` tries a set and gives the sketch in which it holds, if it found one; it is
    told which of ``STARTS`` and ``MORE_STARTS`` to begin from, and begins from those sketches, too, in which most of
    the set held before: they are often but a step away.
    """

    def __init__(self, search: Callable[[Sequence[str], slice, Sequence[Sketch]], Sketch | None]) -> None:
        self._search = search
        self._held: dict[frozenset[str], Sketch] = {}
        self._failed: dict[bool, list[frozenset[str]]] = {False: [], True: []}
        self._long = 0
        self._missed = 0  # sets that a short search did not satisfy and a long one did

    def feasible(self, owners: Sequence[str], thoroughly: bool = False) -> bool:
        """Whether these can be satisfied, as far as searches can tell."""
        asked = frozenset(owners)
        if any(asked <= held for held in self._held):
            return True
        thoroughly = (thoroughly or self._missed >= MOST_MISSED) and self._long < MOST_LONG
        failed = self._failed[True] if thoroughly else [*self._failed[True], *self._failed[False]]
        if any(asked >= one for one in failed):
            return False
        self._long += thoroughly
        nearest = sorted(self._held, key=lambda held: len(held & asked), reverse=True)[:NEAREST]
        failed_short = asked in self._failed[False]  # then a long search goes on where that one ended
        starts = slice(len(STARTS) if failed_short else 0, None if thoroughly else len(STARTS))
        found = self._search(owners, starts, [self._held[held] for held in nearest])
        if found is None:
            self._failed[thoroughly].append(asked)
            return False
        self._held[asked] = found
        short = [
            one for one in self._failed[False] if not one <= asked
        ]  # those that are gone take more than a short search
        self._missed += len(short) < len(self._failed[False])
        self._failed[False] = short
        return True

    def smallest(self, candidates: Sequence[str], given: Sequence[str] = ()) -> list[str]:
        """The smallest conflict among candidates and what is ``given``, which no long search can satisfy; empty when
        there is none.
        """
        everything = [*given, *candidates]
        while True:  # each round but the last spends a long search, of which there are only so many
            found = smallest_conflict(candidates, self.feasible, given)
            if not found:
                return []
            conflict = [*found, *given]
            if not self.feasible(conflict, thoroughly=True):
                return self._without_idle(conflict)
            if self.feasible(everything, thoroughly=True):
                return []  # a short search took it for a conflict; where it is one, the next round knows better

    def _without_idle(self, conflict: list[str]) -> list[str]:
        """A conflict without those members that, after a longer search, it does not need."""
        for member in conflict:
            rest = [o for o in conflict if o != member]
            if rest and not self.feasible(rest, thoroughly=True):
                conflict = rest
        return conflict


def satisfied(system: System, starts: slice, beginnings: Sequence[Sketch] = ()) -> Sketch | None:
    """The sketch in some state, not a collapsed one, that satisfies all equations, be it turned over; None as far as
    searches can tell.

    They begin from the drawn state, from ``beginnings`` (sketches of the same points and entities), and from ``starts``
    of the random ones about the drawn one that ``STARTS`` and ``MORE_STARTS`` tell.
    """
    x0 = system.state()
    if not system.equations.rows:
        return system.sketch
    if starts.start == 0:  # a search that goes on has tried it
        drawn = stepping.solve(system, x0)
        if drawn.solved:
            return system.solved(drawn.x)
    for x in _starts(system, x0, starts, beginnings):
        found = settle(system, x)
        if found is not None and _stands(system, x0, found):
            return system.solved(found)
    return None


def _starts(system: System, x0: Array, starts: slice, beginnings: Sequence[Sketch]) -> Iterator[Array]:
    yield from (system.state_of(sketch) for sketch in beginnings)
    spreads = np.array([*STARTS, *MORE_STARTS])[:, None]
    yield from (x0 + spreads * np.random.default_rng(11).standard_normal((len(spreads), system.n)) * ~system.held)[
        starts
    ]


def settle(system: System, x: Array) -> Array | None:
    """The state without residual that a least-squares search from x comes to; None when it ends elsewhere, or equations
    have no values at x.
    """
    free = ~system.held & system.equations.reached()
    found, residual = least_squares_from(system, x, free, GAIN, TRIES, "lm")
    if np.abs(residual).max() > SETTLED:
        return None
    return stepping.correct(system, found, np.zeros(len(residual)))[0]


def _stands(system: System, drawn: Array, found: Array) -> bool:
    """Whether every edge and radius that was drawn is still there, and within reach."""
    if np.abs(found).max(initial=0.0) > FARTHEST:
        return False
    edges = system.edges + [arm for pair in system.arcs for arm in pair]
    if edges:
        before, after = (np.hypot(*system.equations.directions(x)[edges].T) for x in (drawn, found))
        if np.any(after < COLLAPSED * before):
            return False
    return all(found[r] >= COLLAPSED * drawn[r] for r in system.radius.values())

"""What is said of a motion before the kernel is asked: where its section folds over itself or meets itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from leadline.core.geometry.section import Region
from leadline.core.problems import Message, Problem
from leadline.core.sweep.contact import self_touch
from leadline.core.sweep.fold import fold_messages, reaching
from leadline.core.sweep.motion import Motion


class Refused(Problem):
    """A step is not built for reasons already in its report."""

    def __init__(self, messages: list[Message]) -> None:
        first = messages[0]
        super().__init__(first.code, first.marked, first.marked_way_out, **first.place)
        self.mended(*first.remedies)


def refuse_errors(messages: Sequence[Message]) -> None:
    """Raises Refused when any of the messages is an error."""
    blocking = [m for m in messages if m.level == "error"]
    if blocking:
        raise Refused(blocking)


def judge(motion: Motion, regions: list[Region], build_folded: bool, moving: bool) -> list[Message]:
    """Where the section folds over itself; where it meets itself further along is looked for once nothing is
    ``moving``.
    """
    messages: list[Message] = []
    for region in regions:
        hull = reaching(motion, region)
        found = fold_messages(motion, hull, moving)
        if build_folded:
            found = [replace(m, level="warning") for m in found]
        messages += found or ([] if moving else self_touch(motion, hull))
    return messages

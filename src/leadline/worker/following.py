"""What follows a hand: the documents that open editors look at, and what is asked of them many times a second.

A document goes to the process once, under a name of its own; then asks name it, and bring the steps along that differ.
An ask is answered as JSON, with a binary mesh beside it where it has one. Both come as the line's own messages, whose
text is read here and not by the web process.
"""

from __future__ import annotations

import json
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic_core import to_json

from leadline.core.solids.mesh_files import write_screen_glb
from leadline.core.units import LengthUnit
from leadline.recipe.asking import answer
from leadline.recipe.build import Memory
from leadline.recipe.part import Part
from leadline.recipe.part_file import check_document, part_from
from leadline.recipe.preview import Preview, preview_step
from leadline.worker.asks import ASKS, NEEDED, Answer, DragAsk, by_id, changed_in, shown_part

MOST = 32  # documents that are kept, of several windows


@dataclass
class _Opened:
    """A document and the drags in it that are under way, by their steps."""

    name: str
    part: Part
    drags: dict[str, Callable[[str, tuple[float, float]], Any]] = field(default_factory=dict)


class Documents:
    """The latest document of each window."""

    def __init__(self) -> None:
        self._opened: OrderedDict[str, _Opened] = OrderedDict()

    def answer(self, memory: Memory, window: str, name: str, shown: bytes | None, message: bytes) -> Answer | str:
        """The answer to an ask, about the window's document of that name with the ask's changed steps in place of its
        own.

        ``shown`` is the message with the document, which comes along when it is new; ``NEEDED`` is the answer when it
        is new and does not.

        Raises:
            Problem: the document does not fit, or there is no answer.
            ValidationError: a step or the ask does not fit.
        """
        began = time.perf_counter()
        opened = self._open(window, name, shown)
        if opened is None:
            return NEEDED
        ask = json.loads(message)
        answered, mesh = self._answered(memory, opened, changed_in(ask), ask.get("given"))
        return answered, mesh, (time.perf_counter() - began) * 1000

    @staticmethod
    def _answered(memory: Memory, opened: _Opened, changed: list[Any], given: object) -> tuple[bytes, bytes | None]:
        ask = ASKS.validate_python(given)
        if changed:
            opened = _Opened(opened.name, _with_steps(opened.part, changed))
        if isinstance(ask, DragAsk):
            if ask.step not in opened.drags:
                opened.drags[ask.step] = answer(opened.part, ask.step, "drag", memory)
            return to_json(opened.drags[ask.step](ask.item, ask.to), inf_nan_mode="null"), None
        return preview_answer(preview_step(opened.part, ask.step, memory, ask.moving, ask.points), opened.part.units)

    def _open(self, window: str, name: str, shown: bytes | None) -> _Opened | None:
        if shown is not None:
            document = shown_part(shown)
            check_document(document)
            self._opened[window] = _Opened(name, part_from(document))
        opened = self._opened.get(window)
        if opened is None or opened.name != name:
            return None
        self._opened.move_to_end(window)
        while len(self._opened) > MOST:
            self._opened.popitem(last=False)
        return opened


def preview_answer(shown: Preview, units: LengthUnit) -> tuple[bytes, bytes | None]:
    """A preview as JSON, and its mesh as GLB."""
    mesh = write_screen_glb(shown.mesh) if shown.mesh is not None else None
    return to_json({"report": shown.report.as_dict(units), "replaces": shown.replaces}, inf_nan_mode="null"), mesh


def _with_steps(part: Part, changed: list[Any]) -> Part:
    """The part with steps in place of those of the same ids. Raises ValidationError."""
    new = by_id(changed)
    return Part.model_validate({**dict(part), "steps": [new.get(s.id, s) for s in part.steps]})

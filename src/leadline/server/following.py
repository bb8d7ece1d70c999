"""Parts placed in others: what a part is built from when the parts of the list that it follows have gone on since it
was saved.
"""

from __future__ import annotations

import json
import threading
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from leadline.core.problems import Problem
from leadline.recipe.fields import followed, newest_fields
from leadline.recipe.part import Part
from leadline.recipe.part_file import check_document, part_from
from leadline.recipe.stock import followed_rows, with_stock
from leadline.server.files import Files
from leadline.server.loops import kinds_that_follow
from leadline.server.parts import NotFound, Parts, PartState
from leadline.server.results import made_of
from leadline.server.shelves import Shelves
from leadline.worker.asks import by_id, changed_in, shown_part

Document = dict[str, Any]
DEMO = "demo:"
REMEMBERED = 64  # parts


@dataclass(frozen=True)
class Order:
    """A revision of a part as it is to be built.

    ``text`` is its document as JSON, its keys in order, in it the newest states of the parts and rows that it
    ``follows``; ``made_of`` tells it from all others. ``steps`` are the ids and kinds of its steps.
    """

    part_id: str
    revision: int
    name: str
    text: bytes
    made_of: str
    follows: frozenset[str]
    steps: tuple[tuple[str, str], ...]


class Following:
    """What parts follow, and their newest states."""

    def __init__(self, parts: Parts, files: Files, shelves: Shelves) -> None:
        self.parts, self.files, self.shelves = parts, files, shelves
        self._known: OrderedDict[tuple[str, int], Part] = (
            OrderedDict()
        )  # parts by id and revision, as they were read last
        self._lock = threading.Lock()

    def order(self, state: PartState) -> Order:
        """A part as it is to be built."""
        return self.order_of(state.id, state.revision, state.document)

    def order_of(self, part_id: str, revision: int, document: Document) -> Order:
        """A part's document as it is to be built."""
        newest, followed = self.newest(document, part_id)
        steps = tuple((s["id"], s["kind"]) for s in newest["steps"])
        text = json.dumps(newest, sort_keys=True).encode()
        return Order(part_id, revision, newest["name"], text, made_of(text), followed, steps)

    def previewed(self, part_id: str, shown: bytes, message: bytes) -> bytes:
        """The document that a line shows with the changed steps of an ask in place of its own, as it is to be built, as
        JSON.

        Raises Problem.
        """
        document, changed = shown_part(shown), changed_in(json.loads(message))
        check_document([document, changed])
        if not isinstance(document, dict) or not isinstance(document.get("steps"), list):
            raise Problem("no-part", "This is not a part.", "Reload the part.")
        new = by_id(changed)
        steps = [
            new.get(s["id"], s) if isinstance(s, dict) and isinstance(s.get("id"), str) else s
            for s in document["steps"]
        ]
        return json.dumps(self.newest({**document, "steps": steps}, part_id)[0]).encode()

    def newest(self, document: Document, part_id: str) -> tuple[Document, frozenset[str]]:
        """A document in which each step that follows another part stands for what that one is now and each value for
        the row that it follows, and the parts and shelves that it follows, through others too.

        One of a part that is deleted, or that would hold this one, stays as it was kept.
        """
        try:
            shelves = followed_rows(document)
            document = self.stocked(document)
            if not any(step["kind"] in kinds_that_follow() for step in document["steps"]):
                return document, frozenset(shelves)
            part = part_from(document)
        except (Problem, KeyError, TypeError):  # it cannot be read: whoever builds it says so
            return document, frozenset()
        seen = set(shelves)
        newest = self._newest(part, (part_id,), seen, {})
        return document if newest is part else newest.model_dump(mode="json"), frozenset(seen)

    def stocked(self, document: Document) -> Document:
        """A document in which values that follow rows of shelves have the numbers that are there now."""
        return with_stock(document, self.shelves.find)

    def keep(self, part_id: str) -> tuple[str, str]:
        """Keep the document of a part as it is now, and give its digest and its name. Raises NotFound."""
        part = self._newest(part_from(self.stocked(self.parts.get(part_id).document)), (part_id,), set(), {})
        return self._kept(part), part.name

    def _newest(self, part: Part, holders: tuple[str, ...], seen: set[str], made: dict[str, str]) -> Part:
        """``made`` has the digests of parts that have been met already: each is worked out once, however often it is
        placed.
        """
        steps, changed = list(part.steps), False
        for i, step in enumerate(steps):
            for field, other in followed(step):
                found = None if other in holders or other in made else self._part(other)
                if found is not None:
                    seen.add(other)
                    stocked, shelves = self._stocked(found)
                    seen |= shelves
                    made[other] = self._kept(self._newest(stocked, (*holders, other), seen, made))
                digest = None if other in holders else made.get(other)
                if digest is not None:
                    changed = changed or digest != getattr(step, field)
                    steps[i] = step = step.model_copy(update={field: digest})
        return part.model_copy(update={"steps": steps}) if changed else part

    def _stocked(self, part: Part) -> tuple[Part, set[str]]:
        """A part as ``stocked`` has it, and the shelves that it follows."""
        if all(v.row is None for v in part.values):
            return part, set()
        document = part.model_dump(mode="json")
        return part_from(self.stocked(document)), followed_rows(document)

    def _kept(self, part: Part) -> str:
        """Of what a part is, but for what is display alone and how far it is built."""
        document = part.model_copy(update={"sinker": None, "groups": []}).model_dump(mode="json")
        return self.files.keep(json.dumps(document, ensure_ascii=False, sort_keys=True).encode())

    def _part(self, part_id: str) -> Part | None:
        revision = self.parts.head(part_id)
        with self._lock:
            known = None if revision is None else self._known.get((part_id, revision))
        if known is not None:
            return known
        try:
            state = self.parts.get(part_id)
            part = part_from(state.document)
        except (NotFound, Problem):
            return None
        with self._lock:
            self._known[part_id, state.revision] = part
            while len(self._known) > REMEMBERED:
                self._known.popitem(last=False)
        return part


def follows_any(part: Part) -> bool:
    return any(followed(step) for step in part.steps)


def with_ids(part: Part, ids: Mapping[str, str]) -> Part:
    """A demo part, which names the demo parts that it follows as "demo:" and their file, with their ids; of those that
    are not there it stays.
    """
    steps = []
    for step in part.steps:
        for field, other in newest_fields(step):
            if other.startswith(DEMO):
                step = step.model_copy(update={field: ids.get(other.removeprefix(DEMO), "")})
        steps.append(step)
    return part.model_copy(update={"steps": steps})

"""What steps gave, as it is kept in a store: another process, or the same one later, needs no kernel to have it again.

Of a step that makes bodies the solids are kept, and what only the kernel can tell; all else is planned again. Of one
that changes bodies all is kept.
"""

from __future__ import annotations

import json
import logging
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, cast

from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.problems import restored
from leadline.core.solids.body import Body, from_bytes, to_bytes
from leadline.recipe.bodies import at_starts
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.motion_mesh import MotionMesh
from leadline.recipe.products import BodyProduct, Swept
from leadline.recipe.results import Report, as_json
from leadline.recipe.shown import BodyResult

OF_THE_KERNEL = ("checks", "faces", "numbers", "result")  # of a step's data: its plan cannot tell them
log = logging.getLogger(__name__)


def own_bodies(product: BodyProduct, report: Report) -> list[KeptBody]:
    """The bodies that a step has made or changed."""
    return [b for b in product.bodies if b.key.startswith(report.key)]


def written_solids(product: BodyProduct, report: Report) -> bytes:
    """The solids of a step that makes bodies."""
    own = own_bodies(product, report)
    head = {
        "order": [b.key for b in product.bodies],
        "alone": product.alone,
        "own": [[b.key, b.name, b.step, None if b.source is None else b.source.stored()] for b in own],
        "checks": {k: v for k, v in report.data.items() if k in OF_THE_KERNEL},
        "messages": [m.stored() for m in report.messages],
    }
    return json.dumps(head).encode() + b"\n" + to_bytes([b.body for b in own])


@dataclass(frozen=True)
class KeptSolids:
    """What ``written_solids`` wrote: its ``own`` bodies by their keys, beside those ``before``."""

    head: dict[str, Any]
    own: dict[str, KeptBody]
    before: Mapping[str, KeptBody]

    def with_plan(self, plan: Swept, report: Report) -> BodyProduct:
        """The bodies of a plan; the ``report`` is told what only the kernel can tell."""
        own, alone = self.own, self.head["alone"]
        report.data = plan.shown | cast(BodyResult, self.head["checks"])
        report.messages = [restored(m) for m in self.head["messages"]]
        for key, _, _, source in self.head["own"]:
            own[key].source = None if source is None else MotionMesh.restored(plan, source)
        if alone or not self.before:
            own = {k: at_starts(b, plan) for k, b in own.items()}
        return BodyProduct(plan, [own.get(k) or self.before[k] for k in self.head["order"]], alone)


def read_solids(blob: bytes, report: Report, before: Mapping[str, KeptBody]) -> KeptSolids | None:
    """What ``written_solids`` wrote; None when it cannot be read, or one of the bodies ``before``, by their keys, is
    not there.
    """
    read = _parts(blob, report)
    if read is None:
        return None
    head, solids = read
    own = {
        key: KeptBody(key, name, made_by, body)
        for (key, name, made_by, _), body in zip(head["own"], solids, strict=True)
    }
    return None if _misses(head, own, before) else KeptSolids(head, own, before)


def written(product: BodyProduct, report: Report, names: Mapping[str, str]) -> bytes | None:
    """What a step gave, with its report and the ``names`` of other steps that this tells; None where it is more than
    solids.

    The solids are those of its own bodies; others are named by their keys.
    """
    own = own_bodies(product, report)
    if product.planned is not None or any(
        b.places is not None or b.mesh is not None or b.source is not None for b in own
    ):
        return None
    head = {
        "order": [b.key for b in product.bodies],
        "alone": product.alone,
        "instead": product.instead,
        "own": [_told(b) for b in own],
        "figure": report.figure,
        "data": as_json(report.data),
        "messages": [m.stored() for m in report.messages],
        "names": dict(names),
    }
    solids = [
        body
        for b in own
        for body in (b.body, *([] if b.plain is None else [b.plain]), *(raised for raised, _ in b.raised))
    ]
    return json.dumps(head).encode() + b"\n" + to_bytes(solids)


def _told(kept: KeptBody) -> dict[str, Any]:
    return {
        "key": kept.key,
        "name": kept.name,
        "step": kept.step,
        "colour": kept.colour,
        "plain": kept.plain is not None,
        "raised": [operation for _, operation in kept.raised],
    }


def read(
    blob: bytes, report: Report, before: Mapping[str, KeptBody]
) -> tuple[BodyProduct, Report, dict[str, str]] | None:
    """What ``written`` wrote: the bodies, the report and the names that this tells; None as in ``read_solids``."""
    read = _parts(blob, report)
    if read is None:
        return None
    head, solids = read
    own = {told["key"]: _read(told, solids) for told in head["own"]}
    if _misses(head, own, before):
        return None
    known = replace(report, figure=head["figure"], data=head["data"], messages=[restored(m) for m in head["messages"]])
    return (
        BodyProduct(None, [own.get(k) or before[k] for k in head["order"]], head["alone"], head.get("instead")),
        known,
        head["names"],
    )


def _parts(blob: bytes, report: Report) -> tuple[dict[str, Any], list[Body]] | None:
    try:
        line, _, rest = blob.partition(b"\n")
        return json.loads(line), from_bytes(rest)
    except Exception:  # whatever the kernel makes of a damaged shape
        log.exception("the kept solids of %s cannot be read; they are made again", report.id)
        return None


def _misses(head: dict[str, Any], own: Mapping[str, KeptBody], before: Mapping[str, KeptBody]) -> bool:
    return any(key not in before and key not in own for key in head["order"])


def _read(told: dict[str, Any], solids: list[Body]) -> KeptBody:
    """A body; its solids are the next ones, which are taken from the list."""
    body = solids.pop(0)
    plain = solids.pop(0) if told["plain"] else None
    raised = tuple((solids.pop(0), cast(Operation, operation)) for operation in told["raised"])
    return KeptBody(told["key"], told["name"], told["step"], body, colour=told["colour"], plain=plain, raised=raised)

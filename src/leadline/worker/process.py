"""The process that runs the kernel: it takes requests from a pipe and answers with progress and results.

Messages to the worker: ``("run", request)`` and answers to its questions ``("blob", bytes | None)``.
Messages from it: ``("ready",)``, ``("event", dict)``, ``("get", key)``, ``("put", key, bytes)``,
``("done", result)``, ``("stopped",)``, ``("problem", message)``.
"""

from __future__ import annotations

import resource
import time
from multiprocessing.connection import Connection
from multiprocessing.synchronize import Event
from typing import Any

import numpy as np
from threadpoolctl import threadpool_limits

from leadline.core.geometry.mesh import repeated
from leadline.core.problems import Message, Problem, told_in
from leadline.core.solids.mesh_files import NamedMesh, write_glb
from leadline.core.solids.tessellate import tessellate
from leadline.exports.formats import export, formats
from leadline.recipe.asking import answer as answer_of
from leadline.recipe.build import Memory, Stopped, build
from leadline.recipe.part import Part
from leadline.recipe.results import BuildResult
from leadline.worker.picture import draw_picture

MEMORY_LIMIT = 8 << 30
FINENESS = {"coarse": (4e-3, 0.6), "fine": (2e-5, 0.08)}  # chord as a share of the body's size, and the angle of a facet in rad


class PipeStore:
    """The content-keyed store, kept by the process at the other end of the pipe."""

    def __init__(self, pipe: Connection) -> None:
        self.pipe = pipe

    def get(self, key: str) -> bytes | None:
        self.pipe.send(("get", key))
        _, data = self.pipe.recv()
        return data if isinstance(data, bytes) else None

    def put(self, key: str, data: bytes) -> None:
        self.pipe.send(("put", key, data))


def main(pipe: Connection, stop: Event) -> None:
    """Serve requests until the pipe closes."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    threadpool_limits(1)
    memory, store = Memory(), PipeStore(pipe)
    pipe.send(("ready",))
    while True:
        try:
            _, request = pipe.recv()
        except EOFError:
            return
        try:
            pipe.send(("done", answer(request, memory, store, pipe, stop)))
        except Stopped:
            pipe.send(("stopped",))
        except Problem as problem:
            pipe.send(("problem", problem.message.as_dict(problem.unit)))
        except MemoryError:
            pipe.send(("problem", Message("error", "memory", "The build ran out of memory.", "Make the part smaller or coarser.").as_dict()))


def answer(request: dict[str, Any], memory: Memory, store: PipeStore, pipe: Connection, stop: Event) -> Any:
    """Run one request: ``op`` is "build", "picture", "export", "mesh" (of a body, coarse or fine) or "ask" (a step)."""
    part = Part.model_validate(request["part"])
    with told_in(part.units):
        return _answer(part, request, memory, store, pipe, stop)


def _answer(part: Part, request: dict[str, Any], memory: Memory, store: PipeStore, pipe: Connection, stop: Event) -> Any:
    if request["op"] == "ask":
        return answer_of(part, request["step"], request["question"], memory)
    began = time.perf_counter()

    def progress(event: dict[str, Any]) -> None:
        pipe.send(("event", event))

    result: BuildResult = build(part, memory, store, progress, stop.is_set)
    if request["op"] == "export":
        return export(result, request["format"], part.units), formats()[request["format"]].media_type
    if request["op"] == "mesh":
        return _mesh(result, request["key"], request["fineness"])
    if request["op"] == "picture":
        return _picture(result)
    result.seconds["worker"] = time.perf_counter() - began
    return result.as_dict()


def _mesh(result: BuildResult, key: str, fineness: str) -> bytes:
    """A body's display mesh at another fineness, as GLB. Raises Problem when there is no such body."""
    body = next((b for b in result.bodies if b.mesh_key == key), None)
    if body is None:
        raise Problem("no-body", "The part has no such body any more.", "Reload the part.")
    share, angle = FINENESS[fineness]
    low, high = body.body.box()
    return write_glb([NamedMesh(body.name, tessellate(body.body, share * float(np.linalg.norm(high - low)), angle))])


def _picture(result: BuildResult) -> bytes | None:
    meshes = []
    for b in result.bodies:
        if b.places is None:
            meshes.append(b.mesh or tessellate(b.body, 0.2))
        else:  # many and small: coarse ones do
            meshes.append(repeated(tessellate(b.body, 0.5), b.places))
    return draw_picture(meshes) if meshes else None

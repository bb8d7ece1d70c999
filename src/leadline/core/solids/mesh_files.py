"""Mesh files out: binary glTF (for the screen and to hand over) and binary STL."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pygltflib as gltf
import trimesh
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation
from trimesh.exchange.stl import export_stl

from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.placements import Placements

MM = 0.001


class _Buffer:
    """Accessors over one binary block."""

    def __init__(self, file: gltf.GLTF2) -> None:
        self.file, self.data = file, bytearray()

    def add(self, array: NDArray[Any], kind: str, component: int, target: int | None = None) -> int:
        while len(self.data) % 4:
            self.data.append(0)
        view = gltf.BufferView(buffer=0, byteOffset=len(self.data), byteLength=array.nbytes, target=target)
        self.file.bufferViews.append(view)
        self.data += array.tobytes()
        accessor = gltf.Accessor(
            bufferView=len(self.file.bufferViews) - 1, componentType=component, count=len(array), type=kind
        )
        if kind == gltf.VEC3 and len(array):
            accessor.min, accessor.max = array.min(axis=0).tolist(), array.max(axis=0).tolist()
        self.file.accessors.append(accessor)
        return len(self.file.accessors) - 1


@dataclass(frozen=True)
class NamedMesh:
    """A mesh, or copies of it at ``places``."""

    name: str
    mesh: DisplayMesh
    places: Placements | None = None


def write_glb(meshes: Sequence[NamedMesh], in_metres: bool = False) -> bytes:
    """Named meshes as one GLB; copies are nodes that share one mesh.

    Each mesh has a triangle primitive, whose ``extras`` give the face names and how many triangles each
    run of one face has, and a line primitive with the drawn edges. For hand-over ``in_metres`` follows the
    standard's unit and its y-up axis; for the screen coordinates stay mm, z up.
    """
    file = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="Lead Line"))
    file.materials.append(
        gltf.Material(
            name="steel", pbrMetallicRoughness=gltf.PbrMetallicRoughness(metallicFactor=0.2, roughnessFactor=0.55)
        )
    )
    buffer = _Buffer(file)
    for named in meshes:
        file.meshes.append(gltf.Mesh(name=named.name, primitives=_primitives(buffer, named.mesh)))
        file.nodes += _nodes(named, len(file.meshes) - 1)
    top = list(range(len(file.nodes)))
    if in_metres:
        file.nodes.append(gltf.Node(name="part", children=top, scale=[MM] * 3, rotation=[-(0.5**0.5), 0, 0, 0.5**0.5]))
        top = [len(file.nodes) - 1]
    file.scenes.append(gltf.Scene(nodes=top))
    file.scene = 0
    file.buffers.append(gltf.Buffer(byteLength=len(buffer.data)))
    file.set_binary_blob(bytes(buffer.data))
    return b"".join(file.save_to_bytes())


def _nodes(named: NamedMesh, mesh: int) -> list[gltf.Node]:
    if named.places is None:
        return [gltf.Node(name=named.name, mesh=mesh)]
    turns = Rotation.from_matrix(named.places.turns).as_quat().tolist()
    return [
        gltf.Node(name=f"{named.name} {i + 1}", mesh=mesh, rotation=turn, translation=shift)
        for i, (turn, shift) in enumerate(zip(turns, named.places.shifts.tolist(), strict=True))
    ]


def _primitives(buffer: _Buffer, mesh: DisplayMesh) -> list[gltf.Primitive]:
    order = np.argsort(mesh.face, kind="stable")
    face = mesh.face[order]
    starts = np.flatnonzero(np.diff(face, prepend=-1))
    runs = [[int(face[i]), int(i)] for i in starts]
    points = buffer.add(mesh.points.astype("<f4"), gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
    normals = buffer.add(mesh.normals.astype("<f4"), gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
    index = mesh.triangles[order].astype("<u4").ravel()
    triangles = buffer.add(index, gltf.SCALAR, gltf.UNSIGNED_INT, gltf.ELEMENT_ARRAY_BUFFER)
    primitives = [
        gltf.Primitive(
            attributes=gltf.Attributes(POSITION=points, NORMAL=normals), indices=triangles, mode=gltf.TRIANGLES, material=0,
            extras={"faces": mesh.names, "runs": runs},
        )
    ]  # fmt: skip
    if mesh.lines:
        flat = np.vstack(mesh.lines).astype("<f4")
        segments, at = [], 0
        for line in mesh.lines:
            i = np.arange(at, at + len(line) - 1)
            segments.append(np.stack([i, i + 1], axis=1))
            at += len(line)
        position = buffer.add(flat, gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
        pairs = buffer.add(
            np.vstack(segments).astype("<u4").ravel(), gltf.SCALAR, gltf.UNSIGNED_INT, gltf.ELEMENT_ARRAY_BUFFER
        )
        primitives.append(gltf.Primitive(attributes=gltf.Attributes(POSITION=position), indices=pairs, mode=gltf.LINES))
    return primitives


def write_stl(meshes: Sequence[NamedMesh]) -> bytes:
    """All meshes, every copy, as one binary STL, mm."""
    parts = [
        trimesh.Trimesh(points, named.mesh.triangles, process=False)
        for named in meshes
        for points in ([named.mesh.points] if named.places is None else named.places.moved(named.mesh.points))
    ]
    return bytes(export_stl(trimesh.util.concatenate(parts)))

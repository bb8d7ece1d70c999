"""Mesh files out: binary glTF to hand over, a packed one for the screen, and binary STL."""

from __future__ import annotations

import gzip
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pygltflib as gltf
import trimesh
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation
from trimesh.exchange.stl import export_stl

from leadline.core.colours import red_green_blue
from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.placements import Placements

MM = 0.001
PACKED = "KHR_mesh_quantization"  # the extension of glTF that lets coordinates be whole numbers of 16 bits
STEPS = 65535  # along the longest side of a packed mesh


class _Buffer:
    """Accessors over one binary block."""

    def __init__(self, file: gltf.GLTF2) -> None:
        self.file, self.data = file, bytearray()

    def add(self, array: NDArray[Any], kind: str, component: int, target: int | None = None) -> int:
        return self._named(array.tobytes(), array, gltf.Accessor(componentType=component, type=kind), target)

    def add_packed(self, array: NDArray[Any], component: int) -> int:
        """Whole numbers (n, 3) that stand for shares of their type's range; each point begins at a multiple of four
        bytes.
        """
        padded = np.zeros((len(array), 4), array.dtype)
        padded[:, :3] = array
        accessor = gltf.Accessor(componentType=component, type=gltf.VEC3, normalized=True)
        return self._named(padded.tobytes(), array, accessor, gltf.ARRAY_BUFFER, padded.strides[0])

    def add_index(self, index: NDArray[Any], points: int) -> int:
        """Numbers of points, of 16 bits where these do."""
        small = points <= STEPS
        return self.add(
            index.astype("<u2" if small else "<u4").ravel(),
            gltf.SCALAR,
            gltf.UNSIGNED_SHORT if small else gltf.UNSIGNED_INT,
            gltf.ELEMENT_ARRAY_BUFFER,
        )

    def _named(
        self, data: bytes, array: NDArray[Any], accessor: gltf.Accessor, target: int | None, stride: int | None = None
    ) -> int:
        while len(self.data) % 4:
            self.data.append(0)
        view = gltf.BufferView(
            buffer=0, byteOffset=len(self.data), byteLength=len(data), byteStride=stride, target=target
        )
        self.file.bufferViews.append(view)
        self.data += data
        accessor.bufferView, accessor.count = len(self.file.bufferViews) - 1, len(array)
        if accessor.type == gltf.VEC3 and len(array):
            accessor.min, accessor.max = array.min(axis=0).tolist(), array.max(axis=0).tolist()
        self.file.accessors.append(accessor)
        return len(self.file.accessors) - 1


@dataclass(frozen=True)
class NamedMesh:
    """A mesh, or copies of it at ``places``."""

    name: str
    mesh: DisplayMesh
    places: Placements | None = None
    colour: str | None = None
    """As "#rrggbb"."""


def write_glb(meshes: Sequence[NamedMesh]) -> bytes:
    """Named meshes as one GLB to hand over, in metres, y up, as the standard has it; copies are nodes that share one
    mesh.

    Each mesh has a triangle primitive, whose ``extras`` give the face names and how many triangles each
    run of one face has, and a line primitive with the drawn edges.
    """
    file, buffer = _begun()
    for named in meshes:
        file.meshes.append(
            gltf.Mesh(name=named.name, primitives=_primitives(buffer, named.mesh, _material(file, named.colour)))
        )
        file.nodes += _nodes(named, len(file.meshes) - 1)
    top = list(range(len(file.nodes)))
    file.nodes.append(gltf.Node(name="part", children=top, scale=[MM] * 3, rotation=[-(0.5**0.5), 0, 0, 0.5**0.5]))
    return _ended(file, buffer, [len(file.nodes) - 1])


def write_screen_glb(mesh: DisplayMesh) -> bytes:
    """A mesh as a GLB for the screen: mm, z up, without copies.

    The triangles' points are rounded to a 65,535th of the longest side of the mesh (0.015 mm in a metre) and their
    normals to a 127th, which halves what has to travel; the drawn edges are as they are.
    """
    low = mesh.points.min(axis=0) if len(mesh.points) else np.zeros(3)
    size = max(float(np.ptp(mesh.points, axis=0).max()), 1e-9) if len(mesh.points) else 1.0
    file, buffer = _begun()
    file.extensionsUsed, file.extensionsRequired = [PACKED], [PACKED]
    points = buffer.add_packed(np.rint((mesh.points - low) * (STEPS / size)).astype("<u2"), gltf.UNSIGNED_SHORT)
    normals = buffer.add_packed(np.rint(mesh.normals * 127).astype("i1"), gltf.BYTE)
    file.meshes.append(gltf.Mesh(primitives=[_triangles(buffer, mesh, points, normals)]))
    file.nodes.append(gltf.Node(mesh=0, translation=low.tolist(), scale=[size] * 3))
    if mesh.lines:
        file.meshes.append(gltf.Mesh(primitives=[_lines(buffer, mesh)]))
        file.nodes.append(gltf.Node(mesh=1))
    return _ended(file, buffer, list(range(len(file.nodes))))


def write_kept_glb(mesh: DisplayMesh) -> bytes:
    """A mesh for the screen as it is kept and sent: compressed by gzip, quickly rather than much."""
    return gzip.compress(write_screen_glb(mesh), 1, mtime=0)


def _begun() -> tuple[gltf.GLTF2, _Buffer]:
    file = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="Lead Line"))
    return file, _Buffer(file)


def _material(file: gltf.GLTF2, colour: str | None) -> int:
    """The number of a colour's material, which is made when it is first asked for."""
    name = colour or "steel"
    known = [m.name for m in file.materials]
    if name in known:
        return known.index(name)
    surface = gltf.PbrMetallicRoughness(metallicFactor=0.2, roughnessFactor=0.55)
    if colour is not None:
        surface.baseColorFactor = [*map(_linear, red_green_blue(colour)), 1.0]
    file.materials.append(gltf.Material(name=name, pbrMetallicRoughness=surface))
    return len(known)


def _linear(share: float) -> float:
    """A share of a colour as light, from how it is written (IEC 61966-2-1)."""
    return share / 12.92 if share <= 0.04045 else float(((share + 0.055) / 1.055) ** 2.4)


def _ended(file: gltf.GLTF2, buffer: _Buffer, top: list[int]) -> bytes:
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


def _primitives(buffer: _Buffer, mesh: DisplayMesh, material: int) -> list[gltf.Primitive]:
    points = buffer.add(mesh.points.astype("<f4"), gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
    normals = buffer.add(mesh.normals.astype("<f4"), gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
    triangles = _triangles(buffer, mesh, points, normals)
    triangles.material = material
    return [triangles, _lines(buffer, mesh)] if mesh.lines else [triangles]


def _triangles(buffer: _Buffer, mesh: DisplayMesh, points: int, normals: int) -> gltf.Primitive:
    order = np.argsort(mesh.face, kind="stable")
    face = mesh.face[order]
    starts = np.flatnonzero(np.diff(face, prepend=-1))
    return gltf.Primitive(
        attributes=gltf.Attributes(POSITION=points, NORMAL=normals),
        indices=buffer.add_index(mesh.triangles[order], len(mesh.points)),
        mode=gltf.TRIANGLES,
        extras={"faces": mesh.names, "runs": [[int(face[i]), int(i)] for i in starts]},
    )


def _lines(buffer: _Buffer, mesh: DisplayMesh) -> gltf.Primitive:
    flat = np.vstack(mesh.lines).astype("<f4")
    ends = np.cumsum([len(line) for line in mesh.lines])
    first = np.delete(np.arange(len(flat)), ends - 1)  # each point but the last of its line begins a segment
    position = buffer.add(flat, gltf.VEC3, gltf.FLOAT, gltf.ARRAY_BUFFER)
    pairs = buffer.add_index(np.stack([first, first + 1], axis=1), len(flat))
    return gltf.Primitive(attributes=gltf.Attributes(POSITION=position), indices=pairs, mode=gltf.LINES)


def write_stl(meshes: Sequence[NamedMesh]) -> bytes:
    """All meshes, every copy, as one binary STL, mm."""
    parts = [
        trimesh.Trimesh(points, named.mesh.triangles, process=False)
        for named in meshes
        for points in ([named.mesh.points] if named.places is None else named.places.moved(named.mesh.points))
    ]
    return bytes(export_stl(trimesh.util.concatenate(parts)))

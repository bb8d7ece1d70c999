"""How far places are from some faces, exactly, in much less time than the kernel's general search takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt, gp_Pnt2d
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_State

from leadline.core.clearance.shape import Shape as MeshShape
from leadline.core.geometry.plane import Array, cross
from leadline.core.solids.kernel import TOLERANCE, Shape, pnt
from leadline.core.solids.tessellate import FaceMesh, face_mesh


def distances_to_faces(places: Array, faces: Sequence[Shape], chord: float) -> Array:
    """Of places (n, 3) how far each is from the nearest of some faces, whose meshes, which they have, are within ``chord`` (mm) of them.

    The mesh says which faces can be nearest and where; from there the foot on the face's own surface is found by Newton's steps. Where that is beyond the
    face's edges the kernel measures to the face.
    """
    near = [_NearFace(face, mesh) for face in faces if (mesh := face_mesh(face)) is not None]
    by_face = np.array([one.shape.nearest(places)[0] for one in near])
    possible = by_face <= by_face.min(axis=0) + 2 * chord
    return np.array([_least([near[k] for k in np.flatnonzero(possible[:, i])], place) for i, place in enumerate(places)])


@dataclass
class _NearFace:
    face: Shape
    mesh: FaceMesh

    def __post_init__(self) -> None:
        self.shape = MeshShape(self.mesh.points, self.mesh.triangles)
        self.surface = ShapeAnalysis_Surface(BRep_Tool.Surface_s(self.face))

    def foot(self, place: Array) -> tuple[float, bool]:
        """How far a place is from the surface near by, and whether its foot is on the face."""
        _, which, nearest = self.shape.nearest_triangles(place[None, :])
        shares = _shares(nearest[0], self.mesh.points[self.mesh.triangles[which[0]]])
        u, v = shares @ self.mesh.parameters[self.mesh.triangles[which[0]]]
        foot = self.surface.NextValueOfUV(gp_Pnt2d(float(u), float(v)), pnt(place), TOLERANCE)
        state = BRepClass_FaceClassifier(self.face, foot, TOLERANCE).State()
        return float(self.surface.Gap()), state != TopAbs_State.TopAbs_OUT

    def exact(self, place: Array) -> float:
        return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(gp_Pnt(*map(float, place))).Vertex(), self.face).Value())


def _least(near: Sequence[_NearFace], place: Array) -> float:
    feet = [(one, *one.foot(place)) for one in near]
    best = min((away for _, away, on_face in feet if on_face), default=np.inf)
    for one, away, on_face in feet:
        if not on_face and away < best:
            best = min(best, one.exact(place))
    return best


def _shares(point: Array, corners: Array) -> Array:
    """The shares (3,) of a triangle's corners (3, 3) in a point on it."""
    areas = np.array([np.linalg.norm(cross(corners[(k + 1) % 3] - point, corners[(k + 2) % 3] - point)) for k in range(3)])
    total = areas.sum()
    return areas / total if total > 0 else np.full(3, 1 / 3)

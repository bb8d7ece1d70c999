"""How far places are from some faces, exactly, in much less time than the kernel's general search takes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt2d
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_State

from leadline.core.clearance.shape import Shape as MeshShape
from leadline.core.geometry.plane import Array, cross
from leadline.core.solids.kernel import TOLERANCE, Shape, pnt
from leadline.core.solids.tessellate import FaceMesh, face_mesh


class FacesNear:
    """Some faces, to which distances are measured; they have meshes within ``chord`` (mm) of them."""

    def __init__(self, faces: Sequence[Shape], chord: float) -> None:
        self._chord = chord
        self._near = [_NearFace(face, mesh) for face in faces if (mesh := face_mesh(face)) is not None]

    def distances(self, places: Array) -> Array:
        """Of places (n, 3) how far each is from the nearest of the faces, (n,).

        The mesh says which faces can be nearest and where; from there the foot on the face's own surface is found by
        Newton's steps. Where that is beyond the face's edges, or further off than the mesh says, the kernel measures to
        the face.
        """
        by_face = np.array([one.shape.nearest(places)[0] for one in self._near])
        possible = by_face <= by_face.min(axis=0) + 2 * self._chord
        least, beyond = np.full(len(places), np.inf), []
        for one, by_mesh, at in zip(self._near, by_face, map(np.flatnonzero, possible), strict=True):
            for i, (away, on_face) in zip(at, one.feet(places[at]), strict=True):
                if on_face and away <= by_mesh[i] + self._chord:
                    least[i] = min(least[i], away)
                else:
                    beyond.append((one, i, min(away, by_mesh[i] - self._chord)))
        for one, i, away in beyond:
            if away < least[i]:
                least[i] = min(least[i], one.exact(places[i]))
        return least

    def within(self, place: Array, travel: float) -> FacesNear:
        """Those to which it can be nearest from anywhere within ``travel`` mm of a place (3,)."""
        by_face = np.array([float(one.shape.nearest(place[None, :])[0][0]) for one in self._near])
        some = FacesNear([], self._chord)
        reach = by_face.min() + 2 * (travel + self._chord)
        some._near = [one for one, away in zip(self._near, by_face, strict=True) if away <= reach]
        return some


@dataclass
class _NearFace:
    face: Shape
    mesh: FaceMesh

    def __post_init__(self) -> None:
        self.shape = MeshShape(self.mesh.points, self.mesh.triangles)

    def feet(self, places: Array) -> Iterator[tuple[float, bool]]:
        """How far each of some places (n, 3) is from the face's surface near by, and whether its foot is on the
        face.
        """
        if len(places) == 0:
            return
        _, which, nearest = self.shape.nearest_triangles(places)
        corners = self.mesh.triangles[which]
        begins = np.einsum("nk,nkj->nj", _shares(nearest, self.mesh.points[corners]), self.mesh.parameters[corners])
        surface, classifier = ShapeAnalysis_Surface(BRep_Tool.Surface_s(self.face)), BRepClass_FaceClassifier()
        for place, (u, v) in zip(places, begins.tolist(), strict=True):
            foot = surface.NextValueOfUV(gp_Pnt2d(u, v), pnt(place), TOLERANCE)
            classifier.Perform(self.face, foot, TOLERANCE)
            yield float(surface.Gap()), classifier.State() != TopAbs_State.TopAbs_OUT

    def exact(self, place: Array) -> float:
        return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(pnt(place)).Vertex(), self.face).Value())


def _shares(points: Array, corners: Array) -> Array:
    """The shares (n, 3) of the corners (n, 3, 3) of triangles in points (n, 3) on them."""
    a, b, c = (corners[:, k] - points for k in range(3))
    areas = np.stack([np.linalg.norm(cross(p, q), axis=1) for p, q in ((b, c), (c, a), (a, b))], axis=1)
    total = areas.sum(axis=1, keepdims=True)
    return np.where(total > 0, areas / np.where(total > 0, total, 1.0), 1 / 3)

"""Bodies seen in a mirror."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax2, gp_Trsf

from leadline.core.geometry.plane import Plane
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import direction, faces, pnt
from leadline.core.solids.tessellate import mark_smooth_edges


def mirrored(body: Body, plane: Plane) -> Body:
    """The body on the other side of a plane, its faces named as they were."""
    mirror = gp_Trsf()
    mirror.SetMirror(gp_Ax2(pnt(plane.origin), direction(plane.normal)))
    made = BRepBuilderAPI_Transform(body.shape, mirror, True)
    names = {
        hash(made.ModifiedShape(face)): name for face, name in zip(faces(body.shape), body.face_names, strict=True)
    }
    shape = made.Shape()
    mark_smooth_edges(shape)
    return Body(body.name, shape, [names[hash(face)] for face in faces(shape)])

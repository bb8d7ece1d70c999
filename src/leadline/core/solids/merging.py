"""Faces on one surface made one face, before booleans and after them.

Before: the kernel's booleans take their time by pairs of faces, so a rod of one cylinder instead of four quarters is
cut in a third of the time. Only planes and cylinders are merged; a merged torus closes on itself both ways, which the
kernel's booleans do not survive. After: what was cut into several faces without need becomes one again. Spline faces
are never joined: that made valid solids invalid.
"""

from __future__ import annotations

from collections import defaultdict

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, edges, faces, loosest

SAME = 1e-9  # of volume and area, by which merging may change a body: nothing but rounding
LOOSER = 1e-5  # mm, of the tolerance that an edge may have when merged, or what it had before
PLAIN = frozenset({GeomAbs_SurfaceType.GeomAbs_Plane, GeomAbs_SurfaceType.GeomAbs_Cylinder})
WHOLE = PLAIN | {GeomAbs_SurfaceType.GeomAbs_Cone, GeomAbs_SurfaceType.GeomAbs_Sphere}


def merged_before(body: Body) -> Body:
    """The body with neighbouring planes and cylinders of one name merged; as it is when that changes it at all."""
    if len(set(body.face_names)) == len(body.face_names):
        return body
    return _unified(body, PLAIN, across_names=False)


def merged_after(body: Body, across_names: bool) -> Body:
    """The body with neighbouring faces on one surface merged; as it is when that changes it at all.

    ``across_names`` merges faces of different names too, as of two bars added end to end; the first name stays.
    """
    return _unified(body, WHOLE, across_names)


def _unified(body: Body, mergeable: frozenset[GeomAbs_SurfaceType], across_names: bool) -> Body:
    if _borders(faces(body.shape), body.face_names, mergeable, across_names) is None:
        return body
    for with_edges in (True, False):
        result = _tried(body, mergeable, across_names, with_edges)
        if result is body or _same(body, result):
            return result
    return body


def _tried(body: Body, mergeable: frozenset[GeomAbs_SurfaceType], across_names: bool, with_edges: bool) -> Body:
    """The body with faces merged, and edges on one curve too if asked, as the kernel does it; as it is when nothing is
    merged or a face has no known origin.
    """
    copy = BRepBuilderAPI_Copy(
        body.shape, True, False
    ).Shape()  # the kernel changes what it merges, also where it fails
    own = faces(copy)
    kept = _borders(own, body.face_names, mergeable, across_names) or []
    tool = ShapeUpgrade_UnifySameDomain(copy, with_edges, True, False)
    for edge in kept:
        tool.KeepShape(edge)
    tool.Build()
    shape = tool.Shape()
    if len(faces(shape)) == len(own):
        return body
    names: dict[int, list[tuple[Shape, str]]] = defaultdict(list)
    history = tool.History()
    for face, name in zip(own, body.face_names, strict=True):
        for image in list(history.Modified(face)) or [face]:
            names[hash(image)].append((image, name))
    found = [next((n for s, n in names[hash(f)] if s.IsSame(f)), None) for f in faces(shape)]
    if None in found:
        return body
    return Body(body.name, shape, [n for n in found if n is not None])


def _same(before: Body, after: Body) -> bool:
    """Whether a merged body is still valid, of the same volume and area, and as exact.

    Merged arcs of a circle have been given the tolerance of its whole chord (28 mm of a circle of R 20), within which
    anything is valid and no boolean finds its way.
    """
    close = all(
        abs(b - a) <= SAME * abs(a) for a, b in ((before.volume(), after.volume()), (before.area(), after.area()))
    )
    return close and loosest(after.shape) <= max(LOOSER, loosest(before.shape)) and after.valid()


def _borders(
    own: list[Shape], names: list[str], mergeable: frozenset[GeomAbs_SurfaceType], across_names: bool
) -> list[Shape] | None:
    """The edges across which nothing may be merged; None when no two neighbours could be."""
    kinds = [BRepAdaptor_Surface(face, False).GetType() for face in own]
    seen: dict[int, list[tuple[Shape, int]]] = defaultdict(list)
    border: list[Shape] = []
    any_pair = False
    for i, face in enumerate(own):
        for edge in edges(face):
            other = next((k for e, k in seen[hash(edge)] if e.IsSame(edge)), None)
            if other is None:
                seen[hash(edge)].append((edge, i))
            elif kinds[i] in mergeable and kinds[i] == kinds[other] and (across_names or names[i] == names[other]):
                any_pair = True
            else:
                border.append(edge)
    return border if any_pair else None

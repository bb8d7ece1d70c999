"""3MF (3D Manufacturing Format, core specification 1.3): closed meshes with names, colours and a unit, in one package."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, tostring

import numpy as np
from numpy.typing import NDArray

from leadline.core.solids.mesh_files import NamedMesh

CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
MODEL = "3D/3dmodel.model"
TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
START = (
    '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    f'<Relationship Target="/{MODEL}" Id="start" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
)


def write_3mf(meshes: Sequence[NamedMesh], title: str) -> bytes:
    """The meshes as a package, mm; copies are items that share one mesh."""
    model = Element("model", {"xmlns": CORE, "unit": "millimeter", "xml:lang": "en-US"})
    SubElement(model, "metadata", name="Title").text = title
    resources, build = SubElement(model, "resources"), SubElement(model, "build")
    colours = list(dict.fromkeys(m.colour for m in meshes if m.colour is not None))
    if colours:
        group = SubElement(resources, "basematerials", id="1")
        for colour in colours:
            SubElement(group, "base", name=colour, displaycolor=colour.upper())
    for number, named in enumerate(meshes, start=2):
        marked = {} if named.colour is None else {"pid": "1", "pindex": str(colours.index(named.colour))}
        part = SubElement(resources, "object", {"id": str(number), "name": named.name, **marked})
        part.set("type", "model" if _add_mesh(part, named) else "surface")
        if named.places is None:
            SubElement(build, "item", objectid=str(number))
            continue
        for turn, shift in zip(named.places.turns, named.places.shifts, strict=True):
            SubElement(build, "item", objectid=str(number), transform=_numbers(np.concatenate([turn.T.ravel(), shift])))
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as package:
        package.writestr("[Content_Types].xml", TYPES)
        package.writestr("_rels/.rels", START)
        package.writestr(MODEL, tostring(model, encoding="UTF-8", xml_declaration=True))
    return stream.getvalue()


def _add_mesh(part: Element, named: NamedMesh) -> bool:
    """Whether the mesh is closed: only then may it be called a model."""
    places, corners = named.mesh.welded()
    mesh = SubElement(part, "mesh")
    points, triangles = SubElement(mesh, "vertices"), SubElement(mesh, "triangles")
    for x, y, z in places.tolist():
        SubElement(points, "vertex", x=f"{x:.9g}", y=f"{y:.9g}", z=f"{z:.9g}")
    for a, b, c in corners.tolist():
        SubElement(triangles, "triangle", v1=str(a), v2=str(b), v3=str(c))
    edges = np.sort(np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]]), axis=1)
    return bool((np.unique(edges, axis=0, return_counts=True)[1] == 2).all())


def _numbers(values: NDArray[np.float64]) -> str:
    return " ".join(f"{v:.12g}" for v in values)

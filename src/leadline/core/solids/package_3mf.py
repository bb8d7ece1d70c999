"""3MF (3D Manufacturing Format, core specification 1.3): closed meshes with names, colours and a unit, in one
package.
"""

from __future__ import annotations

import io
import uuid
import zipfile
from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, tostring

import numpy as np
from numpy.typing import NDArray

from leadline.core.solids.mesh_files import NamedMesh

CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
MODEL = "3D/3dmodel.model"
DECLARATION = '<?xml version="1.0" encoding="UTF-8"?>'
TYPES = (
    f'{DECLARATION}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
START = (
    f'{DECLARATION}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    f'<Relationship Target="/{MODEL}" Id="start" '
    'Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
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
    mark, written = uuid.uuid4().hex, list[str]()  # what stands in the tree where a mesh goes
    for number, named in enumerate(meshes, start=2):
        marked = {} if named.colour is None else {"pid": "1", "pindex": str(colours.index(named.colour))}
        part = SubElement(resources, "object", {"id": str(number), "name": named.name, **marked})
        text, closed = _mesh_text(named)
        part.set("type", "model" if closed else "surface")
        SubElement(part, "mesh").text = f"{mark}{len(written)}{mark}"
        written.append(text)
        if named.places is None:
            SubElement(build, "item", objectid=str(number))
            continue
        for turn, shift in zip(named.places.turns, named.places.shifts, strict=True):
            SubElement(build, "item", objectid=str(number), transform=_numbers(np.concatenate([turn.T.ravel(), shift])))
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as package:
        package.writestr("[Content_Types].xml", TYPES)
        package.writestr("_rels/.rels", START)
        with package.open(MODEL, "w") as file:
            for k, text in enumerate((DECLARATION + tostring(model, encoding="unicode")).split(mark)):
                file.write((written[int(text)] if k % 2 else text).encode())
    return stream.getvalue()


def _mesh_text(named: NamedMesh) -> tuple[str, bool]:
    """The mesh as XML, written as text, as elements in memory would take a kilobyte for each triangle; and whether it
    is closed: only then may it be called a model.
    """
    places, corners = named.mesh.welded()
    points = "".join([f'<vertex x="{x:.9g}" y="{y:.9g}" z="{z:.9g}"/>' for x, y, z in places.tolist()])
    triangles = "".join([f'<triangle v1="{a}" v2="{b}" v3="{c}"/>' for a, b, c in corners.tolist()])
    first, second = corners.ravel(), np.roll(corners, -1, axis=1).ravel()
    edges = np.minimum(first, second) * len(places) + np.maximum(first, second)
    return f"<vertices>{points}</vertices><triangles>{triangles}</triangles>", bool(
        (np.unique(edges, return_counts=True)[1] == 2).all()
    )


def _numbers(values: NDArray[np.float64]) -> str:
    return " ".join(f"{v:.12g}" for v in values)

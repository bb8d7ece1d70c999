"""Display meshes as answers."""

from __future__ import annotations

import gzip

from flask import Response, request


def mesh_answer(kept: bytes) -> Response:
    """A mesh as it is kept, compressed by gzip; plain for who does not take that."""
    if request.accept_encodings.quality("gzip") == 0:
        return Response(gzip.decompress(kept), mimetype="model/gltf-binary")
    return Response(kept, mimetype="model/gltf-binary", headers={"Content-Encoding": "gzip", "Vary": "Accept-Encoding"})

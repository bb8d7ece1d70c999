"""How a group of routes is made."""

from __future__ import annotations

from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from leadline.server.api.models import ErrorView

described = False
"""Whether routes are described for the OpenAPI document: two seconds of work, which a server that starts does not need.

It is set before the routes are imported.
"""


def blueprint(name: str, module: str, prefix: str, *refusals: int) -> APIBlueprint:
    """Routes under a ``prefix``, each of which may answer with these codes of ``refusals``."""
    return APIBlueprint(
        name,
        module,
        url_prefix=prefix,
        abp_tags=[Tag(name=name)],
        abp_responses=dict.fromkeys(refusals, ErrorView),
        doc_ui=described,
    )

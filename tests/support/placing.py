"""Parts that are placed in others."""

from tests.support.parts import XY, polyline, sketch


def block(**more):
    """A block 40 x 20 x h with its corner at the origin, h a value of the part, and a plane on its top."""
    return {
        "format": "leadline-part",
        "version": 1,
        "name": "Block",
        "units": "mm",
        "values": [{"name": "h", "value": 10, "note": "height"}],
        "steps": [
            sketch("outline", XY, polyline((0, 0), (40, 0), (40, 20), (0, 20), closed=True)),
            {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "outline"}, "length": "h"},
            {
                "kind": "datum",
                "id": "top",
                "name": "Top",
                "how": {"by": "face", "step": "block", "face": "block/cap/end"},
            },
        ],
        **more,
    }

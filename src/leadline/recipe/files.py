"""Files that a part takes bodies from: by the SHA-256 of what they hold, packed in a part file as base64 of gzip (RFC
1952).
"""

from __future__ import annotations

import base64
import binascii
import gzip
import hashlib
import zlib
from collections.abc import Callable, Iterable, Iterator

from leadline.core.problems import Problem
from leadline.limits import FILE_BYTES, PART_FILES_BYTES
from leadline.recipe.fields import kept
from leadline.recipe.part import Part
from leadline.recipe.part_file import read_part

FILE = "file/"
"""What the key of a file begins with, in stores of geometry; its digest follows."""


def digest_of(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def packed(data: bytes) -> bytes:
    return gzip.compress(data, 6, mtime=0)


def unpacked(data: bytes) -> bytes:
    """The inverse of ``packed``, for what this program has packed."""
    return gzip.decompress(data)


def files_of(part: Part) -> Iterator[tuple[str, bytes]]:
    """The files that a part brings along, with their digests, one after the other, as all of them may take much memory.

    Raises Problem when one is damaged, too large or not what its digest says, or when all together are too large."""
    size = 0
    for digest in part.files:
        data = file_of(part, digest)
        size += len(data)
        if size > PART_FILES_BYTES:
            raise Problem(
                "too-large",
                f"The files in the part file have more than {PART_FILES_BYTES / 1e6:.0f} MB.",
                "Take fewer bodies from files.",
                field="files",
            )
        yield digest, data


def file_of(part: Part, digest: str) -> bytes:
    """One of them. Raises Problem as ``files_of``."""
    return _read(digest, part.files[digest])


def packed_of(part: Part, digest: str) -> bytes:
    """One of them as it is packed, which ``unpacked`` takes once ``file_of`` has."""
    return base64.b64decode(part.files[digest])


def with_files(part: Part, files: Iterable[tuple[str, bytes]]) -> Part:
    """The part with files packed into it, as it is saved."""
    return part.model_copy(
        update={"files": {digest: base64.b64encode(packed(data)).decode() for digest, data in files}}
    )


def needed(part: Part, get: Callable[[str], bytes | None]) -> dict[str, bytes]:
    """All that a part is made from beside its document, as far as ``get`` has it, by digest: that of the parts placed
    in it as well.

    Raises Problem when the document of a placed part cannot be read.
    """
    found: dict[str, bytes] = {}
    waiting = [part]
    while waiting:
        for what, digest in (own for step in waiting.pop().steps for own in kept(step)):
            data = None if digest in found else get(digest)
            if data is None:
                continue
            found[digest] = data
            if what == "document":
                waiting.append(read_part(data))
    return found


def _read(digest: str, text: str) -> bytes:
    damaged = Problem(
        "damaged-file",
        f"The file {digest[:8]} in the part file is damaged.",
        "Save the part file again where it comes from.",
        field="files",
    )
    try:
        stream = zlib.decompressobj(wbits=31)
        data = stream.decompress(base64.b64decode(text, validate=True), FILE_BYTES + 1)
    except (binascii.Error, zlib.error, ValueError):
        raise damaged from None
    refuse_large(len(data))
    if not stream.eof or stream.unused_data or digest_of(data) != digest:  # it is kept as it is packed
        raise damaged
    return data


def refuse_large(size: int) -> None:
    """Raises Problem when a file has so many bytes."""
    if size > FILE_BYTES:
        raise Problem(
            "too-large",
            f"The file has more than {FILE_BYTES / 1e6:.0f} MB.",
            "Save fewer bodies into it.",
            field="file",
        )

"""What one question may cost, and how large what is sent may be.

Each refusal tells its limit; ``docs/limits.md`` tells all of them.

What shapes themselves may be (turns, copies, rails) is said where they are made.
"""

from __future__ import annotations

GB = 1 << 30

ANSWER_SECONDS = 12.0
"""Of a question that an open editor asks between builds, then its process is ended."""
ANSWER_MEMORY = 3 * GB
"""Of the addresses of such a process; the loaded libraries take more than a third of it."""

READ_SECONDS = 60.0
"""Of a request that brings or gives a document or a file, then the process that reads it is ended."""
BODY_SECONDS = 30.0
"""In which the body of a request has to come to its end."""
SMALL_BYTES = 100_000
"""Of the body of any other request: these are worked on in the web process, where everybody waits."""
LARGE_BYTES = 1_000_000
LARGE_AT_ONCE = 8
"""Of bodies of so many bytes that are taken in at the same time; the others wait before they are sent."""

LINE_SLOTS = 16
"""Of what one window asks at the same time."""

BUILD_SECONDS = 120.0
"""Of a build, unless ``LEADLINE_BUILD_SECONDS`` says otherwise."""
BUILD_MEMORY = 4 * GB
"""Of the addresses of a process with the kernel."""

DOCUMENT_BYTES = 8_000_000
"""Of a part's document, on as few lines as may be."""
DOCUMENT_DEPTH = 60
"""Of lists and fields in each other."""
PART_FILE_BYTES = 8 * DOCUMENT_BYTES
"""Of a part file, whose lines are set in, so that a part that can be saved can be opened from its file; files that it
brings along come on top.
"""

FILE_BYTES = 30_000_000
"""Of a file that bodies are taken from."""
PART_FILES_BYTES = 300_000_000
"""Of all files that a part file brings along, unpacked."""

SVG_BYTES = 4 << 20
SVG_ELEMENTS = 3000
SVG_CURVES = 2500
SVG_COMMANDS = 3 * SVG_CURVES
"""Of the letters in its paths: to begin, to draw and to close."""
SVG_TRANSFORM = 1000
"""Of the characters of the transforms of an element and of those around it."""
SKETCH_POINTS = 3000
"""Of a sketch, and of its curves."""
POINT_ROWS = 1000
"""Of a file of points."""

FILE_TRIANGLES = 2_000_000
"""Of mesh files, every copy counted."""
FINEST_CHORD, COARSEST_CHORD = 0.0001, 1000
"""From which to which chord (mm) they can be asked for."""
FINEST_ANGLE, COARSEST_ANGLE = 0.5, 60
"""From which to which angle (degrees) between two triangles."""

KEPT_BYTES = 1 * GB
"""Of all results, solids and meshes that are kept in the database; the oldest give way."""

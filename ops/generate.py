"""Write the schema of the part file anew, and what the browser's code is told of the models."""

from __future__ import annotations

from ops.described import SCHEMA, for_the_browser, schema

if __name__ == "__main__":
    SCHEMA.write_text(schema())
    for_the_browser()

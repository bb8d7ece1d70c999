"""Write the schema of the part file anew, and what the browser's code is told of the models."""

from __future__ import annotations

from ops.described import for_the_browser, write_the_schema

if __name__ == "__main__":
    write_the_schema()
    for_the_browser()

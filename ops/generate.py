"""Write the generated files anew: the OpenAPI document, the browser's types, the part file's schema."""

from __future__ import annotations

from ops.checks import generated
from ops.install import WEB
from ops.shell import run

if __name__ == "__main__":
    for file, text in generated().items():
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(text)
    run(["npm", "run", "api"], cwd=WEB)

"""Settings from the environment, read once at start."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

from leadline.limits import BUILD_SECONDS

ROOT = Path(__file__).resolve().parents[3]


@dataclass(frozen=True)
class Settings:
    database_url: str
    port: int = 8750
    web: Path = ROOT / "web" / "dist"
    demo: Path = ROOT / "demo"
    build_seconds: float = BUILD_SECONDS
    editors: int = max(2, os.cpu_count() or 1)  # processes for what open editors ask
    builders: int = max(2, os.cpu_count() or 1)  # processes with the kernel
    worker_entry: str = "leadline.worker.process:main"

    @classmethod
    def from_environment(cls) -> Settings:
        """``LEADLINE_DB_URL`` is required; ``LEADLINE_PORT``, ``LEADLINE_BUILD_SECONDS`` and ``LEADLINE_DEMO``, the folder of the
        demo parts, have defaults."""
        return cls(
            database_url=os.environ["LEADLINE_DB_URL"],
            port=int(os.environ.get("LEADLINE_PORT", "8750")),
            build_seconds=float(os.environ.get("LEADLINE_BUILD_SECONDS", BUILD_SECONDS)),
            demo=Path(os.environ.get("LEADLINE_DEMO", ROOT / "demo")),
        )

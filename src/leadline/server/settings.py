"""Settings from the environment, read once at start."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

from leadline.limits import BUILD_SECONDS

ROOT = Path(__file__).resolve().parents[3]
CORES = max(2, os.cpu_count() or 1)


@dataclass(frozen=True)
class Settings:
    database_url: str
    port: int = 8750
    web: Path = ROOT / "web" / "dist"
    demo: Path = ROOT / "demo"
    build_seconds: float = BUILD_SECONDS
    web_processes: int = 1  # each with its share of those that follow
    editors: int = CORES  # processes for what open editors ask
    builders: int = CORES  # processes with the kernel
    worker_entry: str = "leadline.worker.process:main"

    @classmethod
    def from_environment(cls) -> Settings:
        """``LEADLINE_DB_URL`` is required; ``LEADLINE_PORT``, ``LEADLINE_BUILD_SECONDS``, ``LEADLINE_WEB_PROCESSES``
        and ``LEADLINE_DEMO``, the folder of the demo parts, have defaults.
        """
        web_processes = int(os.environ.get("LEADLINE_WEB_PROCESSES", "1"))
        share = max(1, CORES // web_processes)
        return cls(
            database_url=os.environ["LEADLINE_DB_URL"],
            port=int(os.environ.get("LEADLINE_PORT", "8750")),
            build_seconds=float(os.environ.get("LEADLINE_BUILD_SECONDS", BUILD_SECONDS)),
            web_processes=web_processes,
            editors=share,
            builders=share,
            demo=Path(os.environ.get("LEADLINE_DEMO", ROOT / "demo")),
        )

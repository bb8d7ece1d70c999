"""The web process: gunicorn with gevent, which bears hundreds of open windows; what is computed runs in other
processes.
"""

from __future__ import annotations

import resource
import signal
import sys
from typing import Any

from gunicorn.app.base import BaseApplication

from leadline.server.settings import Settings

CONNECTIONS = 8000  # open windows, each with a line, and whatever else is slow to say what it wants
OTHER_FILES = 500  # that the process has open beside its connections
SILENT = 60  # seconds after which gunicorn replaces a web process that shows no life


class Serving(BaseApplication):  # type: ignore[misc]  # the package has no types
    """Nothing of the application is imported before gunicorn has made the process cooperative: hence the late
    imports.
    """

    def __init__(self, settings: Settings) -> None:
        self.settings = settings
        super().__init__()

    def load_config(self) -> None:
        for name, value in {
            "bind": f"127.0.0.1:{self.settings.port}",
            "workers": self.settings.web_processes,
            "worker_class": "gevent",
            "worker_connections": _connections(),
            "timeout": SILENT,
            "graceful_timeout": 3,
            "keepalive": 30,
            "loglevel": "warning",
            "worker_exit": _close,
            "limit_request_field_size": 16380,
        }.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        from leadline.server.app import create_app, load_demo_parts
        from leadline.server.database import NewerDatabase

        # A package runs a program while it is imported. From then on gevent would be the one that hears of every
        # process that ends, also of the one that builders are forked from, for which multiprocessing has to look
        # itself.
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        try:
            app = create_app(self.settings)
        except NewerDatabase as error:
            sys.exit(str(error))
        load_demo_parts(app)
        return app


def _connections() -> int:
    """As many connections as there may be, and the system lets the process have."""
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))
    return CONNECTIONS if most == resource.RLIM_INFINITY else max(100, min(CONNECTIONS, most - OTHER_FILES))


def _close(_: object, worker: Any) -> None:
    """The web process ends: its builders and editors end with it."""
    app = getattr(worker, "wsgi", None)
    if app is not None:
        app.extensions["leadline"].close()

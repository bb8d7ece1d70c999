"""One room for each kind of step. Rooms in the folders that LEADLINE_KINDS names (as in PATH) are found too."""

import os

__path__ = [*__path__, *filter(None, os.environ.get("LEADLINE_KINDS", "").split(os.pathsep))]

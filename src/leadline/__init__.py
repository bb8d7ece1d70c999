"""Lead Line: constrained sketches swept into exact solids."""

__version__ = "0.1.0"

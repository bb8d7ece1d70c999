"""The routes under /api."""

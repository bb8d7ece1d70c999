"""Kernel processes: run builds away from the server, so that a crash or a hang costs one process."""

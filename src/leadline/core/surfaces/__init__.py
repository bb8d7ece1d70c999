"""Sides of sweeps as surfaces, and where two of them cross."""

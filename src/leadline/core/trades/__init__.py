"""The trades' rules: formulas of threads, springs and bent tubes, as plain functions and tables.

Lengths in mm, forces in N, stresses in MPa, angles in rad.
"""

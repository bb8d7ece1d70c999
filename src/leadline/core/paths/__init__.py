"""Paths: curves by station, made of pieces with known joints."""

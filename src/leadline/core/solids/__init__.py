"""The one place that imports the geometry kernel: topology, booleans, meshes, STEP."""

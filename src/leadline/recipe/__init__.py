"""The recipe: step models, what feeds what, the build with its cache, the part file."""

"""One room for each sheet: what is told of a step as a table, on screen and as a file."""

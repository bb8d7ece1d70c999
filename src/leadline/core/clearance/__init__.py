"""How close shapes come to each other: copies of one, and a tube along its path to what stands about it."""

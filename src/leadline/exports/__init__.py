"""Files that a built part is saved as."""

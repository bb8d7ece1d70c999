"""A sweep is one motion of the section plane: how it is made, judged, meshed and measured."""

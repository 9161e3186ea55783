"""The hull: knuckle lines, closed mesh, and the three slices the rest of the core uses."""

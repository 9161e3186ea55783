"""Where things stand: their edges, moving, snapping, following, lining up."""

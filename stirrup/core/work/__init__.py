"""Work: how long the hands are at it."""

"""Whether it fits: bodies, room to use things, collisions, walkways, gear through openings."""

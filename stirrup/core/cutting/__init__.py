"""Blanks on sheets, members on sticks."""

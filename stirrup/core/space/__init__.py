"""What takes up room: shapes that can get in one another's way, solids, and rooms kept for use."""

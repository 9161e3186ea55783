"""One router for each page; shared loading and rendering in frame.py."""

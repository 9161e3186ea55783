"""One module for each kind of fitting: choices -> parts, outlines, findings."""

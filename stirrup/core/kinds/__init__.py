"""The kinds of things there are, one module each; only registry.py imports them."""

"""Measured speeds: `./run bench`. Not part of the tests."""

"""Laying parts of any outline on stock of any outline, close together."""

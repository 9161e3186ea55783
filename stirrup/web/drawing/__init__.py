"""Drawings as SVG text, made from the core's geometry; JavaScript only swaps them."""

"""Needs, packs and cost. Money is exact decimals, rounded to cents half up, line by line."""

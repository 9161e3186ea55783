"""The catalogue that ships, as data: one file for each group of entries. exchange/catalogue.py reads it."""

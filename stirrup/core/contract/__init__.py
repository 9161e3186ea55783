"""What a kind of thing owns and gives. Everything else asks here and names no kind.

base.py    what every thing has; what it needs of others
extent.py  where it stands, as a box along the boat's axes
gives.py   what its build gives: parts, solids, rooms, floors, seats, shapes, findings ...
kind.py    the kind itself: its choices, how it is placed, moved and sized, its build
"""

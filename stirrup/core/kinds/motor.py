"""A motor of which no more is known than what it weighs and where."""

from __future__ import annotations

from stirrup.core.bodies.engine import MotorKind


class PlainMotorKind(MotorKind):
    key, title = "motor", "Motor"
    offers = frozenset(["motor"])
    about = "Counts as motor in the capacity rule; nothing is said of how it tilts or is steered."


KIND = PlainMotorKind()

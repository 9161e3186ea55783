"""The empty shell of a tank, where it is weighed or bought apart from what it holds."""

from __future__ import annotations

from stirrup.core.bodies.item_kind import ItemKind
from stirrup.core.contract.gives import Lift


class TankShellKind(ItemKind):
    key, title = "tank", "Tank, empty"
    release = 1.0
    released_because = "before anything is ground, cut or welded: drained, vented, out of the building"
    about = "The shell of a tank as a thing that weighs; its contents are those of a tank in its place."
    plant = "tank"
    alike = False  # another one holds something else
    fastened = marked = True
    lifted = Lift((0.0, 0.0, 0.0))


KIND = TankShellKind()

"""Console, built: how it is placed, and its paragraph."""

from __future__ import annotations

from collections.abc import Hashable

from stirrup.core.contract.gives import Built, Opening
from stirrup.core.contract.kind import Entry, Site
from stirrup.core.document import Document
from stirrup.core.fittings.crate_kind import CrateKind
from stirrup.core.kinds.console_box.build import build
from stirrup.core.kinds.console_box.choices import ConsoleBox
from stirrup.core.kinds.console_box.dash import wanted
from stirrup.core.kinds.console_box.extras import chase_opening
from stirrup.core.parts.catalogue import Catalogue


class ConsoleBoxKind(CrateKind[ConsoleBox]):
    key, title = "console_box", "Console, built"
    choices = ConsoleBox
    letter, stem = "C", "console"
    offers = frozenset(["helm"])
    first_size, share, side = (0.45, 0.60, 0.95), 0.50, -0.35
    entries = (
        Entry("console_box", "Console, built", 2, "of flat sheet on angles; sets the walkway beside it and "
              "where the cables run", "helm wheel steering dash instruments", "helm"),
    )  # fmt: skip
    about = (
        "Flat sheets on angles, or folded sheet metal, about a profile with a sloped dash and a top that "
        "sheds water; holes for instruments and helm, an opening with a cover, a shelf, a chase for cables "
        "into the floor, a foot rest, grab rails, mounts of a windscreen. Folded, one sheet goes over all "
        "of it and is riveted to the flanges of its sides; flat patterns and bends are with the cuts. "
        "Whoever steers at it is looked at."
    )

    def idle(self, c: ConsoleBox, catalogue: Catalogue) -> frozenset[str]:
        """Where a wheel is that is not there; the hole of no gauge; whose instruments none are."""
        idle = {"wheel_up": not c.wheel, "gauge": not c.gauges, "rest_up": not c.foot_rest,
                "instruments": not wanted(c)}  # fmt: skip
        return frozenset(name for name, so in idle.items() if so)

    def asks(self, c: ConsoleBox, host: Document, catalogue: Catalogue) -> Opening | None:
        return chase_opening(c)

    def reads(self, c: ConsoleBox, host: Built) -> Hashable | None:
        """With a chase all that carries the floor; else how that lies under its foot."""
        return None if c.chase else super().reads(c, host)

    def build(self, c: ConsoleBox, site: Site) -> Built:
        return build(c, site)


KIND = ConsoleBoxKind()

"""Ways in which things are joined and made, and what each leads to: of several kinds alike.

Source: docs/trade-rules.md, “Where good practitioners differ”.
"""

from __future__ import annotations

from stirrup.core.contract.ways import Way, ways

WELDS = (
    "in a hull of the same metal: as strong as the plate and tight, with heat that draws thin plate and "
    "harms foam, hose and paint near it; a qualified welder's work, and cut out again only with a grinder"
)
GLASSED = (
    "no heat, and it holds on a moulded hull for good where both sides were ground; grinding dust, cure "
    "time before load, out again only with a grinder"
)
TABBED_OR_WELDED = ways(
    Way("tabbed", GLASSED, (("skin", "ply-12"),)), Way("welded", WELDS, (("skin", "al-3.2"),))
)
LAMINATED_OR_WELDED = ways(
    Way("laminated over", GLASSED, (("core", "ply-18"), ("layers", 2))),
    Way("welded", WELDS, (("layers", 1), ("core", "al-4.8"))),
)
RESINS = ways(
    Way(
        "poly-lam",
        "cheapest and quick; bonds chemically to fresh polyester only, to old laminate by what "
        "was ground; smells strongly; mat belongs under stitched cloth",
    ),
    Way(
        "vinyl-ester",
        "bonds better and takes up less water than polyester, keeps for months only; smells as strongly",
    ),
    Way(
        "epoxy-medium",
        "bonds best to old work and wood, hardly smells; cures slowly in the cold, wants the "
        "ratio exact and its blush washed off; no mat needed, polyester and gel coat hold on it badly",
    ),
)
SEALED_PLY = (
    "holds screws, anybody can work it; rots from every edge and hole that is not sealed, so each one is"
)
STRINGER_CORES = ways(
    Way("ply-18", SEALED_PLY, (("joined", "laminated over"),)),
    Way(
        "core-20",
        "cannot rot and weighs least; holds no screw, and carries nothing itself: its plies do",
        (("joined", "laminated over"),),
    ),
    Way("al-4.8", WELDS, (("layers", 1), ("joined", "welded"))),
)
TRANSOM_CORES = ways(
    Way("ply-18", SEALED_PLY),
    Way(
        "pvc-19",
        "cannot rot; dearer, softer under bolts (plates or sleeves under every one), and glue "
        "holds where it was roughened",
    ),
)

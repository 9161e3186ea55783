"""What of the catalogue builders may be told to take."""

from __future__ import annotations

from typing import Annotated

from stirrup.core.document import Id, StockRef

STIFF = ("kind", ("metal", "wood", "plastic", "composite"))  # no foam

CoreId = Annotated[Id, StockRef("sheet", wanted=(("kind", (*STIFF[1], "foam")),))]
SheetId = Annotated[Id, StockRef("sheet", wanted=(STIFF,))]
AngleId = Annotated[Id, StockRef("section", wanted=(("shape", ("angle",)),))]
CoverId = Annotated[str, StockRef("cover", also=("none",))]
RivetId = Annotated[str, StockRef("fastener", also=("auto",), wanted=(("style", ("rivet",)),))]
LidId = Annotated[str, StockRef("sheet", also=("as the deck",), wanted=(STIFF,))]
LatchId = Annotated[Id, StockRef("latch")]
TopId = Annotated[str, StockRef("sheet", also=("as its walls",), wanted=(STIFF,))]

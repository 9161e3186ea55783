"""Names of the stock that builders may be told to take."""

from __future__ import annotations

from typing import Literal

SheetId = Literal["al-2.0", "al-2.5", "al-3.2", "ply-9", "ply-12", "ply-fir-12", "pvc-12", "pvc-19"]
StickId = Literal["angle-25x25x3", "angle-40x40x3", "angle-50x50x5"]
CoverId = Literal["none", "carpet", "vinyl", "foam-mat", "non-skid"]
RivetId = Literal["auto", "rivet-4.8x8", "rivet-4.8x10", "rivet-4.8x12", "rivet-4.8x16"]

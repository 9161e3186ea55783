"""What can be chosen of a built console."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field, model_validator

from stirrup.core.fittings.crate_kind import CrateBase
from stirrup.core.quantities import Angle, Length

LEAST_TOP_M = 0.06  # of the top left ahead of the dash
LEAST_FACE_M = 0.25  # of the face left under the dash
# of a grab rail: its entry of the catalogue, and how long it is [m]
RAILS = {"300 mm": ("handle-grab-300", 0.3), "600 mm": ("handle-grab-600", 0.6)}
RAIL_ROOM_M = 0.06  # of top that a rail leaves
FLANGE_M = 0.025  # of a folded side, over its bend: working value


class ConsoleBox(CrateBase):
    """Choices for a built console; its aft side is the one that is steered from."""

    kind: Literal["console_box"] = "console_box"
    made: Literal["flat sheets on angles", "folded sheet"] = Field("flat sheets on angles", title="Made of")
    length: Length = Field(0.45, ge=0.2, le=1.2, title="Deep, aft to fore")
    width: Length = Field(0.60, ge=0.3, le=1.6, title="Wide")
    height: Length = Field(0.95, ge=0.5, le=1.5, title="Height", description="over what it stands on")
    dash: Length = Field(0.34, ge=0.12, le=0.6, title="Dash, up its slope")
    lean: Angle = Field(30.0, ge=0, le=60, title="Dash leans forward, degrees")
    fall: Angle = Field(3.0, ge=0, le=10, title="Top falls forward, degrees")
    access: Literal["none", "aft", "fore"] = Field("fore", title="Opening with a cover")
    shelf: bool = Field(False, title="Shelf inside")
    wheel: bool = Field(True, title="Wheel and helm")
    wheel_up: Length = Field(0.08, ge=0.03, le=0.5, title="Wheel's middle, up the dash")
    display: Literal["none", "180 mm", "230 mm"] = Field("180 mm", title="Display")
    gauges: int = Field(2, ge=0, le=6, title="Round gauges")
    gauge: Literal["52 mm", "85 mm"] = Field("52 mm", title="Gauges' hole")
    panel: bool = Field(True, title="Switch panel")
    glove: bool = Field(False, title="Glove box in the dash")
    instruments: Literal["to buy", "there already"] = Field(
        "to buy", title="Instruments", description="they weigh either way"
    )
    mounts: int = Field(0, ge=0, le=8, title="Mounts of a windscreen on its top")
    chase: bool = Field(False, title="Chase for cables, into the floor")
    foot_rest: bool = Field(False, title="Foot rest")
    rest_up: Length = Field(0.12, ge=0.05, le=0.4, title="Foot rest, up")
    rails: Literal["none", "300 mm", "600 mm"] = Field("none", title="Grab rails on its top")

    @property
    def run(self) -> float:
        """How far forward the dash runs [m]."""
        return self.dash * math.sin(math.radians(self.lean))

    @property
    def drop(self) -> float:
        """How far the dash's foot lies under its head [m]."""
        return self.dash * math.cos(math.radians(self.lean))

    @model_validator(mode="after")
    def _possible(self) -> ConsoleBox:
        if self.run > self.length - LEAST_TOP_M:
            raise ValueError(
                f"dash: it runs {self.run:.3f} m forward of {self.length:g} m; accepted: at least "
                f"{LEAST_TOP_M:g} m of top ahead of it: a shorter or steeper dash, or a deeper console"
            )
        if self.drop > self.height - LEAST_FACE_M:
            raise ValueError(
                f"dash: it takes {self.drop:.3f} m of {self.height:g} m; accepted: at least "
                f"{LEAST_FACE_M:g} m of face under it: a shorter dash, or a higher console"
            )
        if self.wheel and self.wheel_up > self.dash:
            raise ValueError(
                f"wheel_up: read {self.wheel_up:g} m; accepted: at most the dash's {self.dash:g} m"
            )
        if self.rails != "none" and RAILS[self.rails][1] > self.length - self.run - RAIL_ROOM_M:
            raise ValueError(
                f"rails: read {self.rails}; accepted: at most {self.length - self.run - RAIL_ROOM_M:.3f} m "
                "on its top: a shorter rail, a deeper console, or a shorter dash"
            )
        return self

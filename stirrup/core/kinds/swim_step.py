"""A swim step: a level plate on brackets behind the transom, with a ladder that folds down from it."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.stock import CoverId, SheetId
from stirrup.core.fittings.through_bolts import shortest_bolt
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import region, waterplane
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"STEP-HOLDS": "whether a swim step holds", "STEP-BAYS": "how far a swim step's plate hangs free"},
    acceptable=True,
)

G = 9.81
PERSON_KG, TIMES = 110.0, 3.0  # somebody heavy, jumping: on the outer edge; working values
GAP_M, CORNER_M = 0.010, 0.06  # from the transom, so that water runs through; of its aft corners
FOOT_M, UPPER = 0.20, 2  # of a bracket on the transom from bolt to bolt; bolts at its head
IN_BRACKET, IN_PLATE = 4, 3  # bolts of a bracket through the transom, and through the plate
BRACKET_M = 0.004  # thick
BED_M = 0.003  # of sealant and backing plate under a nut
HOLDS_N = 7000.0  # of an M8 through a transom with a backing plate: working value
FREE_M = 0.45  # from bracket to bracket, and half of it past the outer ones, at most: working value


class SwimStep(FittingBase):
    """Choices for a swim step."""

    kind: Literal["swim_step"] = "swim_step"
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(gt=0, le=5, title="Top above keel line")
    width: Length = Field(0.50, ge=0.2, le=4, title="Wide")
    deep: Length = Field(0.40, ge=0.15, le=1.2, title="Deep, behind the transom")
    skin: SheetId = Field("al-4.8", title="Plate of")
    brackets: int = Field(2, ge=2, le=8, title="Brackets")
    through: Length = Field(0.045, ge=0.002, le=0.12, title="Transom there, thick")
    ladder: bool = Field(True, title="Ladder that folds down")
    cover: CoverId = Field("non-skid", title="Cover")


@dataclass(frozen=True)
class Hung:
    """A step where it hangs: its plate's fore edge, its sheet, middles of its brackets [m]."""

    c: SwimStep
    fore: float
    sheet: Sheet
    at: tuple[float, ...]

    @property
    def middle(self) -> Point:
        """Of its plate."""
        return (self.fore - self.c.deep / 2, self.c.y, self.c.z - self.sheet.thickness / 2)

    @property
    def outline(self) -> Polygon:
        """In plan, its aft corners rounded."""
        c, a, b = self.c, self.fore - self.c.deep, self.c.width / 2
        r = min(CORNER_M, c.deep / 2, b)
        whole = box(a, c.y - b, self.fore + r, c.y + b)
        rounded = whole.buffer(-r, join_style="mitre").buffer(r, quad_segs=8)
        return largest(rounded.intersection(box(a, c.y - b, self.fore, c.y + b)))


def stern_m(surface: HullSurface, z: float) -> float | None:
    """x of the aft end of the hull's outside at a height [m]; None over or under her."""
    shape = largest(region(waterplane(surface.outside, z, fair=True), 2))
    return None if shape.is_empty else float(shape.bounds[0])


def bracket_places(c: SwimStep) -> tuple[float, ...]:
    """Middles of its brackets to port: even, the outer ones a quarter of a bay from its sides [m]."""
    step = c.width / (c.brackets - 0.5)
    return tuple(c.y + (k - (c.brackets - 1) / 2) * step for k in range(c.brackets))


def _hang(c: SwimStep, site: Site) -> Hung:
    # against the transom over the height of its brackets: the furthest aft of it
    ends = [e for z in (c.z, c.z - FOOT_M) if (e := stern_m(site.surface, z)) is not None]
    if not ends:
        raise CoreError(f"at {c.z:.3f} m there is no transom to hang it on", f"fittings.{c.id}.z")
    return Hung(c, min(ends) - GAP_M, site.catalogue.sheet(c.skin), bracket_places(c))


def _panel(h: Hung) -> Panel:
    c = h.c
    x, y, z = h.middle
    shape = Polygon([(u - x, v - y) for u, v in h.outline.exterior.coords[:-1]])
    turns = (0, 90, 180, 270) if h.sheet.stuff.kind == "metal" else (0, 180)
    outline, holes = panel_rings(shape)
    return Panel(f"{c.id}/plate", f"{c.code}-S", f"{c.name}, plate", c.id, h.sheet, outline, holes,
                 Frame((x, y, z)), turns)  # fmt: skip


def _bought(h: Hung, site: Site) -> tuple[list[Bought], list[Finding]]:
    c, stock, told = h.c, site.catalogue, []
    x, y, z = h.middle
    hung: Point = (h.fore - c.deep / 3, y, z - FOOT_M / 3)
    rows: list[tuple[str, str, str, str, int, Point]] = [
        ("brackets", "K", "brackets", "bracket-step", c.brackets, hung)
    ]
    for key, code, word, grip, count, at in (
        ("through", "R", "bolts through the transom", c.through + BRACKET_M + BED_M,
         c.brackets * IN_BRACKET, (h.fore, y, z - FOOT_M / 2)),
        ("tops", "Q", "bolts of its plate", h.sheet.thickness + BRACKET_M, c.brackets * IN_PLATE,
         (x, y, z)),
    ):  # fmt: skip
        bolt = shortest_bolt(stock, 0.008, grip)
        if bolt is None:
            told.append(no_fastener(c.id, word, grip))
            continue
        rows += [(key, code, word, bolt.id, count, at), (f"{key}-nuts", f"{code}N", f"nuts, {word}",
                 "nut-m8", count, at)]  # fmt: skip
    if c.ladder:
        rows.append(("ladder", "L", "ladder", "ladder-3", 1, (x, y, z)))
    rows.append(("seal", "G", "sealant of its bolts", "adhesive-ms", 1, hung))
    out = []
    for key, code, word, item, count, at in rows:
        entry = stock.find(item)
        group = {"brackets": "hardware", "ladder": "hardware", "seal": "consumables"}.get(key, "fasteners")
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                          count * entry.mass, at, group))  # type: ignore[arg-type]  # fmt: skip
    if c.cover != "none":
        out += covered(c, stock, c.cover, h.outline.area, (x, y, c.z))
    return out, told


def pulled_n(c: SwimStep) -> float:
    """On one upper bolt of a bracket: somebody on its outer edge, all of him on that bracket [N]."""
    return TIMES * PERSON_KG * G * c.deep / FOOT_M / UPPER


def _holds(c: SwimStep) -> Finding:
    pull = pulled_n(c)
    values = {"pull": Quantity(pull, "N"), "each": Quantity(HOLDS_N, "N"), "deep": Quantity(c.deep, "m")}
    work = Working(
        "pull = 3 x 110 kg x g x depth / height of the bracket / 2 bolts",
        (Input("deep", Quantity(c.deep, "m")), Input("bracket, from bolt to bolt", Quantity(FOOT_M, "m")),
         Input("each holds", Quantity(HOLDS_N, "N"), "M8 with a backing plate: working value")),
        Quantity(pull, "N"), "rules of the trade, “Swim steps”",
    )  # fmt: skip
    text = ("Somebody who jumps on its edge, {deep} behind the transom, pulls on an upper bolt with "
            "{pull}; it holds {each}. A screening.")  # fmt: skip
    if pull <= HOLDS_N:
        return Finding("STEP-HOLDS", "fine", c.id, "Its bolts hold", text, values, working=work)
    return Finding("STEP-HOLDS", "mend", c.id, "It tears out of the transom", text, values,
                   "Make it less deep, or stay its aft edge up to the transom.", work)  # fmt: skip


def _bays(c: SwimStep) -> Finding:
    """From bracket to bracket; what hangs past the outer ones counts twice."""
    row = bracket_places(c)
    free = max(row[1] - row[0], 2 * (c.y + c.width / 2 - row[-1]))
    count = min(8, max(2, -(-int((c.width / FREE_M + 0.5) * 1000) // 1000)))
    values = {"free": Quantity(free, "m"), "most": Quantity(FREE_M, "m"),
              "count": Quantity(count, "count")}  # fmt: skip
    text = "From bracket to bracket {free}; up to {most} the plate does not sag."
    if free <= FREE_M + 1e-9:
        return Finding("STEP-BAYS", "fine", c.id, "Its plate is carried often enough", text, values)
    fix = Fix("{count} brackets", path=("fittings", c.id, "brackets"), value=count)
    return Finding("STEP-BAYS", "mend", c.id, "Its plate hangs free too far", text, values,
                   "More brackets, or a narrower step.",
                   fixes=(fix,) if count > c.brackets else ())  # fmt: skip


def _shapes(h: Hung) -> tuple[Shape, ...]:
    c, (_, y, _) = h.c, h.middle
    ring = tuple((float(u), float(v), c.z) for u, v in h.outline.exterior.coords[:-1])
    a, low = h.fore - c.deep, c.z - h.sheet.thickness
    side = ((a, y, low), (h.fore, y, low), (h.fore, y, c.z), (a, y, c.z))
    stay = ((h.fore, y, c.z - FOOT_M), (a + c.deep / 4, y, low))
    b = c.width / 2
    across = ((a, c.y - b, low), (a, c.y + b, low), (a, c.y + b, c.z), (a, c.y - b, c.z))
    return (
        Shape("form-body", ring, behind=True), Shape("form-body", side, view="side"),
        Shape("form-line", stay, view="side", closed=False),
        Shape("form-body", across, view="across", behind=True),
        *(Shape("form-line", ((a + c.deep / 4, v, c.z), (h.fore, v, c.z)), closed=False) for v in h.at),
    )  # fmt: skip


def build(c: SwimStep, site: Site) -> Built:
    """Plate, brackets, bolts and ladder. Raises CoreError where there is no transom at its height."""
    h = _hang(c, site)
    bought, told = _bought(h, site)
    low = c.z - h.sheet.thickness
    solid = Solid(c.id, "structure", plain(c.name), Prism(h.outline, low, c.z))
    corners = tuple((h.fore, y + s * 0.02) for y in h.at for s in (-1, 1))
    edge: Point = (h.fore - c.deep, c.y, c.z)
    return Built(
        c.id, (_panel(h),), (), tuple(bought), _shapes(h), findings=(_holds(c), _bays(c), *told),
        top_m=c.z, region=h.outline, solids=(solid,), climbs=(edge,) if c.ladder else (),
        bolts=Bolts(corners, c.z - FOOT_M, (h.fore, c.y)),
    )  # fmt: skip


class SwimStepKind(Kind[SwimStep]):
    key, title = "swim_step", "Swim step"
    choices = SwimStep
    letter = "B"
    entries = (
        Entry("swim_step", "Swim step on the transom", 4, "one boards and fishes from it: beside the "
              "motor, clear of where that tilts and turns", "platform boarding ladder dive"),
    )  # fmt: skip
    about = (
        "A level plate on brackets behind the transom, its aft corners rounded, water running through at "
        "its fore edge; a ladder folds down from it. How its bolts are pulled and how often its plate is "
        "carried are screenings; the motor's own room says what it must stay clear of. Whoever climbs in "
        "by it is a load case."
    )

    def extent(self, c: SwimStep, where: Where) -> Extent:
        stern = stern_m(where.surface, c.z)
        fore = (float(where.surface.outside.low[0]) if stern is None else stern) - GAP_M
        return Extent((fore - c.deep, fore), (c.y - c.width / 2, c.y + c.width / 2), (c.z - FOOT_M, c.z))

    def shift(self, c: SwimStep, by: Point) -> list[tuple[Path, float]]:
        """Along the transom and up it."""
        places = ((1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: SwimStep) -> Sizes:
        return Sizes((None, ("width",), None), (None, ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["y"] = round(value["y"] - value["width"] - 0.02, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """To port of the motor, as high as a third of the transom; or where it was put."""
        surface = placing.surface
        low, sheer = float(surface.outside.low[2]), float(surface.lines[0][-1][0][2])
        half = float(surface.sheer_at(float(surface.outside.low[0]) + 0.05, 1.0)[1])
        wide = round(min(0.45, 0.45 * half), 3)
        y = half - wide / 2 - 0.1 if placing.at is None else placing.at[1]
        return {
            "kind": self.key, "id": placing.id("swim-step"), "name": placing.name("Swim step"),
            "mark": placing.mark(self.letter), "y": round(y, 3), "width": wide,
            "z": round(low + 0.45 * (sheer - low), 3),
        }  # fmt: skip

    def idle(self, c: SwimStep, catalogue: Catalogue) -> frozenset[str]:
        return frozenset()

    def facts(self, c: SwimStep) -> str:
        return f"{c.brackets} brackets"

    def build(self, c: SwimStep, site: Site) -> Built:
        return build(c, site)


KIND = SwimStepKind()

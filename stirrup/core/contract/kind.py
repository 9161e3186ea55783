"""A kind of thing: all that it owns. One module for each kind, one line in the registry."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import Any, Generic, Literal, Protocol, TypeVar

from stirrup.core.contract.base import Group, Tie, Where, ties_of
from stirrup.core.contract.extent import AXIS_OF, Extent
from stirrup.core.contract.gives import Built, Hole, Opening, Seat
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Document, Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface, Solid
from stirrup.core.parts.catalogue import EMPTY, Catalogue
from stirrup.core.record import dataclass

C = TypeVar("C", bound=Document)
Path = tuple[str, ...]  # of a choice, from the thing itself on
Plant = Literal["", "motor", "battery", "tank"]  # what of its mass the capacity rule counts as

FINE_M = 1e-4  # positions are kept to a tenth of a millimetre
ASIDE_M = 0.15  # a copy of a loose thing lies this much further forward
ON_CENTRE_M = 1e-6
OTHER_SIDE = {"port": "starboard", "starboard": "port"}


@dataclass(frozen=True)
class Site:
    """What a builder is given: the hull, what stays, the openings asked of it and those asked of its
    host, the host's build and choices; whether the motor is steered from a wheel; the catalogue; how much
    what is level here rises in the boat for each metre forward; openings asked of its upright panels; what
    else it names than its host, in the order of its fields, with what that makes; holes asked of it that
    round; openings asked of its host's upright panels."""

    surface: HullSurface
    obstacles: tuple[Obstacle, ...] = ()
    openings: tuple[Opening, ...] = ()
    beside: tuple[Opening, ...] = ()
    host: Built | None = None
    host_choices: Document | None = None
    steered: bool = False
    catalogue: Catalogue = EMPTY
    rise: float = 0.0
    doors: tuple[Opening, ...] = ()
    others: tuple[tuple[Any, Built], ...] = ()
    cuts: tuple[Opening, ...] = ()
    walled: tuple[Opening, ...] = ()

    def named(self, id_: str | None) -> tuple[Any, Built] | None:
        """Choices and build of a thing that it names; None where that is not there."""
        there = ((self.host_choices, self.host), *self.others)
        return next(((t, b) for t, b in there if b is not None and b.fitting == id_), None)


@dataclass(frozen=True)
class Floats:
    """A closed volume outside of the hull: what tells it apart, its mesh, whether water gets into it when
    she is swamped."""

    key: str
    solid: Solid
    floods: bool = False


@dataclass(frozen=True)
class Heat:
    """From how far on a welding torch harms something [m], and what becomes of it."""

    reach: float
    words: str


@dataclass(frozen=True)
class Entry:
    """What the palette offers: key, title, stage of the work, why it comes there, other words for it;
    job: what it is for, where another kind does the same, bought or made."""

    key: str
    title: str
    stage: int
    reason: str
    words: str = ""
    job: str = ""


@dataclass(frozen=True)
class Sizes:
    """Where a thing keeps its size and its middle, axis by axis; None where it has none.

    floor: the third middle is the floor, not half way up.
    """

    size: tuple[Path | None, ...]
    middle: tuple[Path | None, ...]
    floor: bool = False


@dataclass(frozen=True)
class Besides:
    """What placing a thing sets elsewhere in the plan: a value at a path, or one more in a list there."""

    path: Path
    value: Any
    added: bool = False


class Placing(Protocol):
    """What a kind may ask when one of its things is placed for the first time."""

    surface: HullSurface
    at: tuple[float, float] | None  # where it was put, if anywhere
    host: str  # the thing that is chosen, and may be meant as host

    @property
    def hull_of(self) -> str:
        """Whether she is "metal" or "moulded"; empty where nobody said."""

    def all_of(self, offer: str) -> Sequence[Any]:
        """Choices of everything that offers something, in the plan's order."""

    def built(self, offer: str) -> Sequence[tuple[Any, Built]]:
        """The same with what they make; only what is there now."""

    def extent(self, id_: str) -> Extent | None:
        """Where something stands; None where it has no place."""

    def spot(self, size: tuple[float, float, float], share: float, side: float, low: bool,
             over_rail: bool = False) -> Point:  # fmt: skip
        """Middle of the floor of something new: where it was put, or a first free place."""

    def free(self, at: tuple[float, float], size: tuple[float, float, float]) -> bool:
        """Whether nothing else stands in its outline about a place."""

    def holes(self, id_: str) -> Sequence[Hole]:
        """Ways through a thing that others have made already."""

    def id(self, stem: str) -> str:
        """A free id."""

    def mark(self, letter: str) -> str:
        """A free mark."""

    def name(self, title: str) -> str:
        """A free name."""

    def bond(self) -> str:
        """A free id of a bond."""


class Kind(Generic[C]):
    """What a kind is asked. Answers that most kinds share stand here; a module overrides its own."""

    key: str = ""
    title: str = ""
    group: Group = "fittings"
    choices: type[C]
    letter: str = ""  # of its marks; "" for what has none
    words: str = ""  # how it is spoken of as a host ("deck")
    article: str = "a"
    offers: frozenset[str] = frozenset()  # what others may need of it
    entries: tuple[Entry, ...] = ()
    plant: Plant = ""
    drives: bool = False  # its power counts against the maker's label
    spans: bool = False  # from side to side: it is not moved across, and its breadth is no mark
    alone: bool = False  # no second one beside it and none on the other side
    brief: bool = False  # its mark alone is its label in the drawings
    buoyant: bool = False  # it adds closed volumes outside of the hull
    carves: bool = False  # what is built round it is cut round it
    alike: bool = True  # those of its form in the catalogue do the same job
    release: float = 5.0  # its turn when she is taken apart: less is earlier
    released_because: str = ""
    asked: tuple[str, ...] = ()  # choices besides those that all of its list have
    about: str = ""  # its paragraph of the documentation

    # where it stands

    def extent(self, c: C, where: Where) -> Extent:
        """Its extent. Raises CoreError for what has no place."""
        raise NotImplementedError

    def shift(self, c: C, by: Point) -> list[tuple[Path, float]]:
        """Choices with their new values [m] once it is moved by (x, y, z); a direction that the kind
        does not have is left out. Raises CoreError for what stays where it is."""
        raise NotImplementedError

    def carrier(self, c: C) -> str | None:
        """Id of the thing that it goes round, where it has no place of its own: moved, it moves that."""
        return None

    def edge_choice(self, edge: str) -> Path | None:
        """The choice that an edge is, where dragging it resizes the thing; else None."""
        return None

    def sizes(self, c: C) -> Sizes:
        """Where its size is kept. Raises CoreError where no edge can be drawn."""
        raise CoreError(f"“{title_of(c)}” has no edges that can be drawn", id_of(c))

    def tall(self, c: C) -> Path | None:
        """The choice that says how tall it is, of what stands on whatever is under it; else None."""
        return None

    def mirror(self, value: dict[str, Any]) -> None:
        """Its choices as plain values, turned to the other side. Raises CoreError on the centreline."""
        raise NotImplementedError

    def put_beside(self, value: dict[str, Any]) -> None:
        """Its choices as plain values, for a copy beside it. Raises CoreError where there is no room."""
        raise NotImplementedError

    def in_two(self, c: C) -> tuple[dict[str, Any], dict[str, Any]] | None:
        """What changes in its choices as plain values for either half, where it can be parted; the first
        keeps its id. None for what cannot."""
        return None

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Plain values of a first one. Raises CoreError where it cannot be placed."""
        raise NotImplementedError

    def besides(self, entry: str, value: dict[str, Any], placing: Placing) -> Sequence[Besides]:
        """What else is set when a first one with these values is placed."""
        return ()

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        """What has to be there before it can be placed; empty when nothing is missing."""
        return ""

    def seats(self, c: C) -> tuple[Seat, ...]:
        """Where somebody sits on it: whoever does goes along when it is moved."""
        return ()

    # what it needs, and what it gives

    def ties(self, c: C) -> tuple[Tie, ...]:
        """What it needs of other things: its fields that name one."""
        return ties_of(c)

    def asks(self, c: C, host: Document, catalogue: Catalogue) -> Opening | None:
        """The opening that it needs in its host."""
        return None

    def reads(self, c: C, host: Built) -> Hashable | None:
        """All that its build looks at of what its host makes; None where that may be anything. What it
        makes is remembered by this, so a host that changes elsewhere leaves it as it is."""
        return None

    def stands_as(self, c: C, surface: HullSurface, catalogue: Catalogue) -> tuple[Obstacle, ...]:
        """What of it others are cut round. Raises CoreError where it cannot be built."""
        return ()

    def minds_heat(self, c: C) -> Heat | None:
        """What becomes of it near a welding torch; None where it does not mind."""
        return None

    def floats(self, c: C, surface: HullSurface) -> tuple[Floats, ...]:
        """Closed volumes that it adds outside of the hull. Raises CoreError where it cannot be built."""
        return ()

    def ties_across(self, c: C) -> float | None:
        """Where along her it holds bottom and both sides in shape, as a bulkhead does [m]; else None."""
        return None

    def meets(self, c: C, obstacle: Obstacle) -> bool:
        """Whether it may have to be cut round what another stands as."""
        return False

    def build(self, c: C, site: Site) -> Built:
        """What it makes. Raises CoreError where it cannot be built."""
        raise NotImplementedError

    def idle(self, c: C, catalogue: Catalogue) -> frozenset[str]:
        """Choices that change nothing as the others are; they need not be shown."""
        return frozenset()

    def lone(self, c: C) -> bool:
        """Whether there can be no second one, neither beside it nor on the other side."""
        return self.alone

    def facts(self, c: C) -> str:
        """What it is, in a word or two, for the line over its form."""
        return self.title.lower()


def id_of(c: Any) -> str:
    """Id of a thing."""
    return str(c.id)


def title_of(c: Any) -> str:
    """Name by which people know a thing."""
    return str(getattr(c, "title", None) or getattr(c, "name", None) or c.id)


def point_shift(path: Path, at: Point, by: Point) -> list[tuple[Path, float]]:
    """The coordinates of a point that change when it is moved."""
    return [((*path, str(k)), at[k] + by[k]) for k in range(3) if abs(by[k]) > FINE_M / 2]


def off_centre(y: float, place: str) -> float:
    """y on the other side. Raises CoreError on the centreline."""
    if abs(y) < ON_CENTRE_M:
        raise CoreError("it lies on the centreline: there is no other side", place)
    return -y


def sized_edges(sizes: Sizes) -> tuple[str, ...]:
    """Edges that can be drawn."""
    named = ("aft", "fore", "port", "starboard", "top", "bottom")
    return tuple(e for e in named if sizes.size[AXIS_OF[e]] is not None)

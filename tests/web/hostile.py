"""Seeded hostile requests over every route: text, numbers, files, values of the right kind."""

from __future__ import annotations

import io
import json
import random
import struct
import zlib
from dataclasses import dataclass
from typing import Any

from fastapi.routing import APIRoute

TEXTS = (
    "", " ", "\x00", "a\x00b", "\ud800", "\udfff\ud800", "²", "٣", "½", "9" * 5000, "-" * 300, "1e999",
    "NaN", "inf", "-0", "0", "1", "-1", "2147483648", "9223372036854775808", "1" * 40, "15'", "15 ft",
    "3 1/2 in", "40 1/2 in", "1/0", "0/0", "../../etc/passwd", "%00", "%", "<script>alert(1)</script>",
    "{{7*7}}", "{0.__class__}", "{}", "{x}", "'; drop table build; --", "=1+1", "@x", "\t", "\r", "\n",
    "a\rb\rc", "\u202e", "\ufeff", "😀" * 30, "x" * 201, "x" * 401, "x" * 5000, "ü" * 90, "keel", "sheer",
    "deck", "hatch", "seat", "bow", "fittings/deck/aft", "fittings/deck/²", "items/²/mass",
    "hull/lines/keel/points/²/0", "hull/lines/keel/points/999999999999999999999/0",
    "hull/lines/0/points/0/1", "planned, empty", "as found", "one at the helm", "everyone to one rail",
    "5,5,5", "1 2 3", "nan nan nan", "1e308 1e308 1e308", "55 hp", "$1.50", "Infinity", "-Infinity", "٤٢",
    "0x10", "1_000", "１２", "12 mm", "12 furlongs", "100 %", "-3 %",
)  # fmt: skip
NUMBERS = (
    0, 1, -1, 2, 3, 17, 2**31, 2**63, -(2**63), 10**30, 0.1, -0.1, 1e-9, 1e9, 1e300, -1e300, 0.35, 2.5,
    3.05, 4.1, 60, -60, 59.99, 20, 12, 5, True, None,
)  # fmt: skip
PATHS = (
    "name", "hull/mass/value", "hull/mass/centre/0", "hull/skin/thickness", "hull/lines/keel/points/1/2",
    "hull/lines/sheer/points/2/1", "hull/lines/sheer/points/2/full", "hull/lines/keel/points/0/down@0.9",
    "hull/lines/keel/points/0/down@x", "hull/quick/length", "hull/starboard", "hull/floods", "hull/lines",
    "fittings/deck/aft", "fittings/deck/fore", "fittings/deck/height", "fittings/deck/spacing",
    "fittings/deck/skin", "fittings/deck/side_gap", "fittings/deck/face_foot", "fittings/deck/name",
    "fittings/deck/id", "fittings/deck/kind", "fittings/deck/mark", "fittings/deck/fastener_pitch",
    "fittings/hatch/x", "fittings/hatch/y", "fittings/hatch/length", "fittings/hatch/width",
    "fittings/hatch/landing", "fittings/hatch/deck", "fittings/hatch/hinge", "water/density", "cases",
    "label", "label/persons_kg", "label/power_kw", "label/persons", "propulsion/running_trim",
    "propulsion/kind", "wishes/budget", "wishes/tax_percent", "wishes/crew", "wishes/currency",
    "wishes/waters", "items", "tanks", "arrangement", "arrangement/hidden", "measured", "condition",
    "buoyancy", "existing", "version", "format", "",
)  # fmt: skip
KINDS = (
    "copy", "mirror", "paste", "case", "extra", "gear", "place", "person", "raised_deck", "hatch", "seat",
    "bench", "console", "battery", "cooler", "tank", "outboard", "bow motor", "box", "locker", "screen",
    "nothing",
)  # fmt: skip
ACTS = (
    "move", "edge", "from", "bind", "free", "line up", "spread", "lock", "unlock", "hide", "show",
    "group", "ungroup", "accept", "ask again",
)  # fmt: skip


def png(width: int, height: int) -> bytes:
    """A picture that says it has so many points; its content is a few bytes."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(b"\0" * 900))
        + chunk(b"IEND", b"")
    )


FILES = (
    b"", b"\x00" * 50, b"{}", b"[]", b'{"format": "stirrup-build", "version": 1}', b"[" * 5000,
    b'{"a": "\\ud800"}', b'{"format": "\\u0000"}', b'{"version": ' + b"9" * 5000 + b"}",
    "ü".encode("latin-1"), b"line,station,x,y,z\r", b"line,station,x,y,z\rkeel,1,0,0,0\rkeel,2,1,0,0\r",
    b"line,station,x,y,z\n" + b"x" * 140_000 + b",1,0,0,0\n", b'line,station,x,y,z\n"keel',
    b"line,station,x,y,z\nke\x00el,1,0,0,0\nke\x00el,2,1,0,0\n", b",,,,\n" * 50,
    b"line,station,x,y,z\nkeel,\xc2\xb2,0,0,0\n", png(12_000, 8_000), png(100_000, 100_000), png(4, 4),
    b"\xff\xd8\xff\xe0 broken", b"solid x\nfacet normal 0 0 1\nvertex a b c\nendsolid",
    b"v 1 2 3\nv 1 2 nan\nf 1 2 2", b"ply\nformat ascii 1.0\nelement vertex 99999999\nend_header\n",
)  # fmt: skip
NAMES = (
    "x.json", "x.csv", "x.png", "x.stl", "x.obj", "x.ply", "x", "", "a\x00.png", "é.jpg",
    "x" * 300 + ".stl", "../x.obj",
)  # fmt: skip


@dataclass(frozen=True)
class Request:
    """One request: how to send it again is all in it."""

    method: str
    path: str
    query: dict[str, str]
    json: Any = None
    form: dict[str, str] | None = None
    files: dict[str, tuple[str, bytes]] | None = None


class Hostile:
    """Requests from a seed; `build` is one that is there."""

    def __init__(self, seed: int, routes: list[APIRoute], build: int) -> None:
        self.random, self.build = random.Random(seed), build
        self.routes = [r for r in routes if not r.path.endswith("/events")]

    def text(self) -> str:
        return self.random.choice(TEXTS)

    def value(self) -> Any:
        r = self.random.random()
        if r < 0.4:
            return self.random.choice(NUMBERS)
        if r < 0.8:
            return self.text()
        return self.random.choice(
            ([], {}, [1, 2], {"a": 1}, [[0.0] * 3] * 3, {"id": "x"}, {"id": "²", "name": "\x00"})
        )

    def step(self) -> list[str]:
        path = self.random.choice(PATHS) if self.random.random() < 0.8 else self.text()
        return path.split("/")

    def change(self) -> dict[str, Any]:
        do = self.random.choice(("set", "set", "set", "add", "remove", "together", "²"))
        if do == "together":
            return {"do": do, "changes": [self.change() for _ in range(self.random.randint(0, 3))]}
        change: dict[str, Any] = {"do": do, "path": self.step()}
        if do in ("set", "add"):
            change["value"] = self.value()
        if do == "add" and self.random.random() < 0.5:
            change["index"] = self.random.choice(NUMBERS)
        return change

    def things(self) -> list[str]:
        known = ("deck", "hatch", "seat", "battery", "")
        return [
            self.random.choice(known) if self.random.random() < 0.8 else self.text()
            for _ in range(self.random.randint(0, 3))
        ]

    def number(self) -> Any:
        return self.random.choice(NUMBERS) if self.random.random() < 0.3 else self.random.uniform(-6, 6)

    def asked(self) -> dict[str, Any]:
        """A body for a change or a preview."""
        body: dict[str, Any] = {"base": self.random.choice((0, 1, 1, 1, 2, 10**9, -1))}
        what = self.random.choice(("change", "typed", "person", "pasted", "arrange", "none"))
        if what == "change":
            body["change"] = self.change()
        if what == "typed":
            body["typed"] = {"path": "/".join(self.step()), "text": self.text()}
        if what == "person":
            body["person"] = {
                "number": self.random.choice((0, 1, 59, 99)),
                "x": self.number(),
                "y": self.number(),
            }
        if what == "pasted":
            cells = "\n".join("\t".join(self.text()[:30] for _ in range(2)) for _ in range(3))
            body["pasted"] = {
                "path": "/".join(self.step()),
                "text": cells,
                "columns": ["0", self.text()],
                "by": "line",
            }
        if what == "arrange":
            body["arrange"] = {
                "act": self.random.choice(ACTS), "things": self.things(), "x": self.number(),
                "y": self.number(), "z": self.number(), "value": self.number(),
                "path": "/".join(self.step()), "edge": self.text()[:20],
                "to": self.random.choice(("transom", "deck", "keel", self.text()[:80])),
                "to_edge": self.text()[:80], "text": self.text()[:200],
                "near": self.random.choice((0, 0.02, 0.5)),
            }  # fmt: skip
        for key in ("page", "case", "sel", "line"):
            if self.random.random() < 0.3:
                body[key] = self.random.choice(("layout", "float", "survey", self.text()))
        if self.random.random() < 0.2:
            body["at"] = self.number()
        return body

    def json_body(self, name: str) -> Any:
        if self.random.random() < 0.05:
            return self.value()
        if name == "asked":
            return self.asked()
        if name == "wanted":
            things = self.random.choice((None, {}, {"fittings": [{"id": "x"}]}, {"items": self.value()}))
            return {"kind": self.random.choice(KINDS), "sel": ",".join(self.things()), "x": self.number(),
                    "y": self.number(), "case": self.text(), "things": things}  # fmt: skip
        return {"path": self.random.choice(("/".join(self.step()), ",".join(self.things())))}

    def _path(self, route: APIRoute) -> str:
        path = route.path
        for part in route.dependant.path_params:
            fits = self.random.random() < 0.85
            known = {
                "build_id": str(self.build),
                "upload_id": "1",
                "number": "1",
                "kind": "svg",
                "stock": "al-2.5",
            }
            value = known.get(part.name, "1") if fits else self.text()
            path = path.replace("{" + part.name + "}", value.replace("/", "")[:300] or "x")
        return path

    def next(self) -> Request:
        """The next request."""
        route = self.random.choice(self.routes)
        method = self.random.choice(sorted(route.methods))
        query = {q.name: self.text() for q in route.dependant.query_params if self.random.random() < 0.6}
        if self.random.random() < 0.2:
            query["case"] = self.text()
        bodies = [b.name for b in route.dependant.body_params]
        if method != "POST":
            return Request(method, self._path(route), query)
        if bodies and bodies[0] in ("asked", "wanted", "place") and route.path.startswith("/api"):
            return Request(method, self._path(route), query, json=self.json_body(bodies[0]))
        form = {name: self.text() for name in bodies if self.random.random() < 0.9}
        if "base" in form and self.random.random() < 0.7:
            form["base"] = "1"
        if route.path.endswith(("/measure", "measured/add", "/mend")):
            names = ("kind", "length", "beam", "name", "hull_mass", "shape", "text", "cell-1-0",
                     "cell-²-1", "turn", "case", "note", "mass", "trim", "when")  # fmt: skip
            form = {name: self.text() for name in names if self.random.random() < 0.6}
            form["kind"] = self.random.choice(
                ("weigh_in", "float_check", "inclining", "sea_trial", form.get("kind", ""))
            )
        files = {
            name: (self.random.choice(NAMES), self.random.choice(FILES))
            for name in ("file", "table", "scan", "photo")
            if name in bodies and self.random.random() < 0.9
        }
        if "text" in form and self.random.random() < 0.4:
            form["text"] = self.random.choice(FILES).decode("utf-8", "replace")[:200_000]
        for name in files:
            form.pop(name, None)
        return Request(method, self._path(route), query, form=form, files=files or None)


def _escaped(path: str) -> str:
    """A path as it goes over the wire, half characters too."""

    def one(c: str) -> str:
        if c.isascii() and c.isprintable() and c not in "?#%\\ ":
            return c
        return "".join(f"%{b:02X}" for b in c.encode("utf-8", "surrogatepass"))

    return "".join(map(one, path))


def send(client: Any, token: str, request: Request) -> Any:
    """Send it as a browser that is logged in would; what cannot even be written is left as bytes."""
    headers = {"X-CSRF-Token": token}
    query = {k: v.encode("utf-8", "surrogatepass") for k, v in request.query.items()}
    common: dict[str, Any] = {"params": query, "headers": headers, "follow_redirects": False}
    path = _escaped(request.path)
    if request.json is not None:
        headers["Content-Type"] = "application/json"
        return client.post(path, content=json.dumps(request.json).encode(), **common)
    if request.form is not None:
        data = {k: v.encode("utf-8", "surrogatepass") for k, v in request.form.items()}
        files = {k: (n, io.BytesIO(c)) for k, (n, c) in (request.files or {}).items()}
        return client.post(path, data=data, files=files or None, **common)
    return client.request(request.method, path, **common)

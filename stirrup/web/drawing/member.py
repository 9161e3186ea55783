"""A member as it is marked out: its faces one above the other, each along its length from its first end."""

from __future__ import annotations

from stirrup.core.cutting.member_marking import Face, HoleRow, MarkedMember
from stirrup.core.parts.model import LEAST_SETTING_DEG, Member
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import Canvas, svg_length, type_of

WIDTH = 900.0
SIDE_EM, WORDS_EM = 2.0, 6.2  # left and right of it; for the words of each face
LEAST_HIGH_PX, MOST_HIGH_PX = 34.0, 120.0
ROWS = 3
MOST_NUMBERED = 12  # holes that are numbered one by one; of more the first, the second and the last


def member_view(member: Member, marked: MarkedMember, units: Units, wide: float = WIDTH) -> str:
    """Its faces, lengths to scale, breadths drawn larger where they are small. wide: on the page [px]."""
    size = type_of(WIDTH, wide)
    long = member.length
    scale = (WIDTH - 2 * SIDE_EM * size) / long
    highs = [min(max(f.wide * scale, LEAST_HIGH_PX), MOST_HIGH_PX) for f in marked.faces]
    tall = sum(highs) + WORDS_EM * size * len(highs) + size
    canvas = Canvas(WIDTH, tall, (SIDE_EM * size, 0.0), scale, "member",
                    f"{member.label}, {len(highs)} faces", wide_px=wide)  # fmt: skip
    top = 0.0
    for face, high in zip(marked.faces, highs, strict=True):
        top += 2.0 * size
        _face(canvas, member, face, top, high)
        _marks(canvas, member, face, [r for r in marked.rows if r.face == face.name], (top, high), units)
        top += high + (WORDS_EM - 2.0) * size
    return canvas.svg()


def _face(canvas: Canvas, member: Member, face: Face, top: float, high: float) -> None:
    size, left = canvas.type, SIDE_EM * canvas.type
    points = [(left + u * canvas.scale, top + high * (1 - v / face.wide)) for u, v in face.outline]
    d = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points) + "Z"
    canvas.parts.append(f'<path class="panel hatch-{member.section.stuff.kind}" d="{d}"/>')
    middle = left + member.length * canvas.scale / 2
    canvas.words(middle, top, f"{face.name}, seen from outside", "label soft halo", "middle", ((0, -0.5),))
    first, last = face.angles_deg
    for angle, x, anchor in ((first, points[0][0], "start"), (last, points[1][0], "end")):
        if 90 - angle >= LEAST_SETTING_DEG:
            canvas.words(x, top, f"{angle:.0f}°", "label strong halo", anchor, ((0.0, -0.5),))
    for cope, way in zip(face.copes, (1, -1), strict=True):
        if cope > 0:
            end = points[0][0] if way > 0 else points[1][0]
            x = end + way * cope * canvas.scale
            canvas.parts.append(f'<path class="mark-ordinate" d="M{x:.1f} {top:.1f}v{high:.1f}"/>')
            canvas.words(x, top + high / 2, "cope", "label soft halo", "middle", ((0, 0.3),))
    canvas.parts.append(f'<path class="dim" d="M{left:.1f} {top + high + 0.4 * size:.1f}v{size:.1f}"/>')


def _shown(row: HoleRow) -> list[float]:
    """Holes that are dimensioned: all of few; of many the first, the second, the last."""
    return list(row.at) if len(row.at) <= MOST_NUMBERED else [row.at[0], row.at[1], row.at[-1]]


def _marks(canvas: Canvas, member: Member, face: Face, rows: list[HoleRow], at: tuple[float, float],
           units: Units) -> None:  # fmt: skip
    """Holes, relief cuts, and running dimensions from the first end under the face."""
    (top, high), size, left = at, canvas.type, SIDE_EM * canvas.type
    for row in rows:
        for place in row.at:
            x = left + place * canvas.scale
            canvas.parts.append(
                f'<circle class="mark-hole" cx="{x:.1f}" cy="{top + high / 2:.1f}" r="{0.16 * size:.1f}"/>'
            )
    slots = member.slots if face.name in ("flange", "top", "web", "face") else ()
    for place in slots:
        x = left + place * canvas.scale
        canvas.parts.append(f'<path class="mark-slot" d="M{x:.1f} {top:.1f}v{0.8 * high:.1f}"/>')
    told = sorted({*(p for row in rows for p in _shown(row)), *slots, member.length})
    base = top + high
    for place in told:
        x = left + place * canvas.scale
        canvas.parts.append(f'<path class="dim" d="M{x:.1f} {base + 2:.1f}v{0.7 * size:.1f}"/>')
        ways = [(0.0, 1.7 + 1.1 * k) for k in range(ROWS)]
        canvas.words(x, base, svg_length(place, units), "dim-text halo", "middle", ways)

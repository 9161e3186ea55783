"""One panel: everything that is needed to draw it on its sheet and cut it."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.buying import cut_outline, scribe_m
from stirrup.core.contract.gives import Built
from stirrup.core.cutting.bevels import bevels
from stirrup.core.cutting.handed import mirror_of
from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.cutting.member_marking import HoleRow, mark_member, same_fence
from stirrup.core.cutting.notes import member_notes, panel_notes
from stirrup.core.derive import MEMO, Derived
from stirrup.core.errors import CoreError
from stirrup.core.fittings.joints import hole_rows
from stirrup.core.from_rack import holding
from stirrup.core.kinds.registry import kind_of
from stirrup.core.measure_first import corrected, measure_first
from stirrup.core.memo import alone
from stirrup.core.parts.model import Member, Panel, Ring
from stirrup.core.plan.things import guests_of, title_of
from stirrup.core.units import write_length
from stirrup.exchange.dxf import member_dxf, panel_dxf
from stirrup.exchange.part_labels import PartLabel, labels_pdf
from stirrup.exchange.part_lines import PartLines, member_lines, panel_lines
from stirrup.exchange.part_svg import part_svg
from stirrup.exchange.template import Paper, template_pdf
from stirrup.store.builds import NotThereError
from stirrup.web import links
from stirrup.web.drawing.key import key_view
from stirrup.web.drawing.member import member_view
from stirrup.web.drawing.panel import panel_view
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.files import download, file_name
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.pages.prints import as_pdf, page_html, style
from stirrup.web.pages.shopping import today
from stirrup.web.pages.trying import fitting_change, forgotten, trying_context
from stirrup.web.present import change_json, slug
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)
MOST_PARTS = 300  # of one file: some 40 s, and 400 MB
ThingId = Annotated[str, Query(max_length=60)]
PartKey = Annotated[str, Query(max_length=200)]  # of a panel, as the cut list has it


def _panel(derived: Derived, key: str) -> tuple[Panel, list[Panel]]:
    """A panel by its key, and all of its fitting. Raises NotThereError."""
    for built in derived.built:
        found = next((p for p in built.panels if p.key == key), None)
        if found is not None:
            return found, list(built.panels)
    raise NotThereError("there is no such panel in this boat; the plan may have changed: see Cuts")


@router.get("/b/{build_id}/cuts/panel", name="panel_page", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def panel_page(request: Request, build_id: int, part: PartKey, case: CaseName) -> Response:
    """A panel with its dimensions, to be drawn on its sheet with tape and square."""
    return _shown(open_build(build_id), request, part, case)


def _shown(opened: OpenBuild, request: Request, part: str, case: str | None, problem: str = "",
           typed: Mapping[str, str] = MappingProxyType({})) -> Response:  # fmt: skip
    """A panel's page; with what was typed, and what is wrong with it."""
    panel, others = _panel(opened.derived, part)
    context = {
        **build_context(opened, request, "cuts", case),
        **trying_context(opened, panel),
        "panel": panel,
        "row": _row(opened, panel),
        "others": others,
        "holding": holding(opened.derived, panel) if opened.plan.cutting.sheets else [],
        "of": title_of(opened.plan, panel.fitting),
        "problem": problem,
        "typed": typed,
    }
    response = render(request, "panel.html", context)
    response.status_code = 422 if problem else 200
    return response


@router.post("/b/{build_id}/cuts/tried", name="tried_form", include_in_schema=False)
async def tried_form(request: Request, build_id: int) -> Response:
    """Gaps at the marks of a panel, or all of them forgotten; back to its page, with what is wrong told
    there and nothing stored."""
    form = await request.form(max_fields=200)
    typed = {k: str(v)[:60] for k, v in form.items() if k != "part"}
    part = str(form.get("part", ""))[:200]

    def kept() -> Response:
        opened = open_build(build_id)
        panel, _ = _panel(opened.derived, part)
        try:
            change = forgotten(opened, panel) if "forget" in typed else fitting_change(opened, panel, typed)
        except CoreError as error:
            return _shown(opened, request, part, None, error.message, typed)
        base = int(typed["base"]) if typed.get("base", "").isdecimal() else opened.stored.number
        if change is not None:
            asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
            try:
                commit_change(opened.who, build_id, asked)
            except Problem as stale:
                if stale.status != 409:
                    raise
                told = (
                    f"{stale.title}. What you typed is still here: look at the panel, then send it again."
                )
                return _shown(open_build(build_id), request, part, None, told, typed)
        return RedirectResponse(f"{links.to('panel_page', build_id, part=part)}#tried", 303)

    return await run_in_threadpool(kept)


def _turn(opened: OpenBuild, thing: str) -> dict[str, list[str]]:
    """When a thing is built: after what it stands in, before what stands in it."""
    plan = opened.plan
    found = plan.thing(thing)
    after = [] if found is None else [t.to for t in kind_of(found).ties(found)]
    before = [guest.id for guest, tie in guests_of(plan, [thing]) if tie.to == thing]
    return {"after": [title_of(plan, i) for i in dict.fromkeys(after) if plan.thing(i) is not None],
            "before": [title_of(plan, i) for i in dict.fromkeys(before)]}  # fmt: skip


def _cut(opened: OpenBuild, panel: Panel) -> Ring:
    """The outline that a panel is cut to, with what is left standing along the hull."""
    return cut_outline(panel, opened.plan, opened.derived.surface)


def _row(opened: OpenBuild, panel: Panel) -> dict[str, Any]:
    """Everything that is told of a panel to mark it out."""
    out, cut = marked_out(panel, inches=opened.units.length != "mm"), _cut(opened, panel)
    return {
        "panel": panel,
        "scribe": scribe_m(opened.plan) if cut != panel.outline else 0.0,
        "out": out,
        "turn": _turn(opened, panel.fitting),
        "mirror": mirror_of(panel, (p for b in opened.derived.built for p in b.panels)),
        "bevels": bevels(panel, out, opened.derived.surface.inside),
        "is_cut": any(c.id == panel.key for c in opened.plan.cut),
        "notes": panel_notes(panel, lambda x: write_length(x, opened.units)),
        "drawing": Markup(panel_view(panel, out, opened.units, CURRENT.get().column, cut)),
        "key": Markup(key_view(opened.derived.surface, panel)),
    }


@router.get("/b/{build_id}/cuts/measure-first", name="measure_first", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def measure_first_part(request: Request, build_id: int, part: PartKey) -> Response:
    """What to measure before a panel is cut: fetched when somebody asks, since the hull is built anew for
    each reading."""
    opened = open_build(build_id)
    key = ("measure first", opened.plan.model_dump_json(), opened.derived.catalogue.key, part)
    with alone():
        found = MEMO.get(key, lambda: measure_first(opened.derived, part))
    return render(request, "partials/measure_first.html",
                  {"first": found, "stored": opened.stored, "units": opened.units,
                   "takes": [change_json(corrected(opened.plan, part, r)) if r.takes_m else ""
                             for r in found.readings]})  # fmt: skip


def _holes(opened: OpenBuild, built: Built, member: Member) -> tuple[HoleRow, ...]:
    """Rows of holes along a member, of things that are fastened at a pitch."""
    pitch = getattr(opened.plan.fitting(built.fitting), "fastener_pitch", 0.0)
    return hole_rows(member, built.bought, pitch) if pitch else ()


def member_row(opened: OpenBuild, built: Built, member: Member) -> dict[str, Any]:
    """Everything that is told of a member to mark it out."""
    out = mark_member(member, _holes(opened, built, member))
    every = [m for b in opened.derived.built for m in b.members if m.stock == member.stock]
    return {
        "member": member,
        "turn": _turn(opened, member.fitting),
        "out": out,
        "alike": next(g for g in same_fence(every) if any(m.key == member.key for m in g)),
        "is_cut": any(c.id == member.key for c in opened.plan.cut),
        "notes": member_notes(member, lambda x: write_length(x, opened.units)),
        "drawing": Markup(member_view(member, out, opened.units, CURRENT.get().column)),
        "key": Markup(key_view(opened.derived.surface, member)),
    }


def _member(opened: OpenBuild, key: str) -> tuple[Built, Member]:
    """A member by its key, and what it is built for. Raises NotThereError."""
    found = next(((b, m) for b in opened.derived.built for m in b.members if m.key == key), None)
    if found is None:
        raise NotThereError("there is no such member in this boat; the plan may have changed: see Cuts")
    return found


@router.get("/b/{build_id}/member.dxf", name="member_file", include_in_schema=False)
def member_file(build_id: int, part: PartKey) -> Response:
    """A member's faces in millimetres."""
    opened = open_build(build_id)
    built, member = _member(opened, part)
    marked = mark_member(member, _holes(opened, built, member))
    name = file_name(f"{opened.plan.name}-{member.label}", ".dxf")
    return download(member_dxf(member, marked), "image/vnd.dxf", name)


@router.get("/b/{build_id}/member.svg", name="member_svg", include_in_schema=False)
def member_svg(build_id: int, part: PartKey) -> Response:
    """A member's faces in millimetres."""
    opened = open_build(build_id)
    built, member = _member(opened, part)
    lines = member_lines(member, mark_member(member, _holes(opened, built, member)))
    return _svg(opened, member, lines)


def _svg(opened: OpenBuild, part: Panel | Member, lines: PartLines) -> Response:
    title = f"{opened.plan.name}, {part.label} {part.name}"
    name = file_name(f"{opened.plan.name}-{part.label}", ".svg")
    return download(part_svg(lines, title), "image/svg+xml", name)


@router.get("/b/{build_id}/cuts/member", name="member_page", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def member_page(request: Request, build_id: int, part: PartKey, case: CaseName) -> Response:
    """A member with its end cuts and holes, to be marked on its stick."""
    opened = open_build(build_id)
    built, member = _member(opened, part)
    context = {
        **build_context(opened, request, "cuts", case),
        "member": member,
        "row": member_row(opened, built, member),
        "others": built.members,
        "of": title_of(opened.plan, member.fitting),
    }
    return render(request, "member.html", context)


@router.get("/b/{build_id}/cuts/booklet", name="booklet", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def booklet_page(request: Request, build_id: int, case: CaseName, thing: ThingId = "") -> Response:
    """Every part of a thing, or of the whole build, to be printed and taken to the saw."""
    opened = open_build(build_id)
    every = [b for b in opened.derived.built if b.panels or b.members]
    chosen = [b for b in every if thing in ("", b.fitting)]
    sections: dict[str, list[tuple[Built, Member]]] = {}
    for built in chosen:
        for member in built.members:
            sections.setdefault(member.stock, []).append((built, member))

    def length(value: float) -> str:
        return write_length(value, opened.units)

    sticks = [
        (
            [
                {"member": x, "notes": member_notes(x, length), "rows": _holes(opened, b, x)}
                for b, x in members
            ],
            members[0][1].section,
        )
        for members in sections.values()
    ]
    context = {
        **build_context(opened, request, "cuts", case),
        "thing": thing,
        "of": title_of(opened.plan, thing) if chosen and thing else "",
        "things": [{"id": b.fitting, "name": title_of(opened.plan, b.fitting)} for b in every],
        "sticks": sticks,
        "rows": [_row(opened, panel) for b in chosen for panel in b.panels],
    }
    return render(request, "booklet.html", context)


def _on_paper(row: dict[str, Any], part: Panel | Member, of: str) -> dict[str, Any]:
    """A part as it is set: its drawing with the styles of paper in it."""
    drawn_by = style("drawing")

    def styled(drawn: str) -> Markup:
        # a gap before a fraction: what sets the page has no raised ones in drawings
        gap = drawn.replace('<tspan class="fr">', ' <tspan class="fr">')
        return Markup(gap.replace(">", f">{drawn_by}", 1))

    return {**row, "part": part, "of": of, "drawing": styled(str(row["drawing"])),
            "key": styled(str(row["key"]))}  # fmt: skip


@router.get("/b/{build_id}/parts.pdf", name="parts_pdf", include_in_schema=False)
def parts_pdf(
    request: Request, build_id: int, thing: ThingId = "",
    part: Annotated[str, Query(max_length=200)] = "",
) -> Response:  # fmt: skip
    """Every panel and member of a thing, or of the whole build, each on a page of its own; or one part."""
    opened = open_build(build_id)
    rows, chosen = [], [b for b in opened.derived.built if thing in ("", b.fitting)]
    count = 1 if part else sum(len(b.panels) + len(b.members) for b in chosen)
    if count > MOST_PARTS:
        raise CoreError(f"{count} parts in one file; accepted: up to {MOST_PARTS}: take one thing", "thing")
    for built in chosen:
        of = title_of(opened.plan, built.fitting)
        rows += [_on_paper(_row(opened, x), x, of) for x in built.panels if part in ("", x.key)]
        rows += [
            _on_paper(member_row(opened, built, x), x, of) for x in built.members if part in ("", x.key)
        ]
    if not rows:
        raise NotThereError("nothing of this is cut; the plan may have changed: see Cuts")
    what = rows[0]["part"].label if part else title_of(opened.plan, thing) if thing else "all parts"
    context = {"rows": rows, "title": f"{opened.plan.name}, {what}", "stored": opened.stored,
               "units": opened.units, "plan": opened.plan, "day": today()}  # fmt: skip
    name = file_name(f"{opened.plan.name}-{what}", ".pdf")
    return as_pdf(request, opened.who, name, page_html("parts", context))


@router.get("/b/{build_id}/template.pdf", name="template_file", include_in_schema=False)
def template_file(build_id: int, part: PartKey, paper: Paper = "a4") -> Response:
    """A panel at true size, on tiles of paper or on a roll."""
    opened = open_build(build_id)
    panel, _ = _panel(opened.derived, part)
    out = marked_out(panel, inches=opened.units.length != "mm")
    title = f"{opened.plan.name}, revision {opened.stored.number}"
    try:
        file = template_pdf(panel, out, title, paper, _cut(opened, panel))
    except CoreError as error:
        raise Problem(422, "Too large for this paper", error.message, place="paper") from None
    return download(
        file, "application/pdf", file_name(f"{opened.plan.name}-{panel.label}-template", ".pdf")
    )


@router.get("/b/{build_id}/labels.pdf", name="label_file", include_in_schema=False)
def label_file(request: Request, build_id: int) -> Response:
    """A label for every part that is cut, with a code that opens its page."""
    opened = open_build(build_id)
    base, units = str(request.base_url).rstrip("/"), opened.units
    labels = []
    for built in opened.derived.built:
        of = title_of(opened.plan, built.fitting)
        for panel in built.panels:
            u0, v0, u1, v1 = panel.polygon.bounds
            size = f"{write_length(u1 - u0, units)} x {write_length(v1 - v0, units)}"
            address = base + links.to("panel_page", build_id, part=panel.key)
            lines = (of, size, panel.sheet.name, opened.plan.name)
            labels.append(PartLabel(panel.label, panel.name, lines, address))
        for member in built.members:
            address = f"{base}{links.to('cuts', build_id)}#{slug(member.key)}"
            lines = (of, write_length(member.length, units), member.section.name, opened.plan.name)
            labels.append(PartLabel(member.label, member.name, lines, address))
    if not labels:
        raise Problem(
            404, "There is nothing to label", "Nothing of this boat is cut yet; place a deck first."
        )
    file = labels_pdf(f"{opened.plan.name}, labels", labels)
    return download(file, "application/pdf", file_name(f"{opened.plan.name}-labels", ".pdf"))


@router.get("/b/{build_id}/panel.svg", name="panel_svg", include_in_schema=False)
def panel_svg(build_id: int, part: PartKey) -> Response:
    """A panel as SVG in millimetres."""
    opened = open_build(build_id)
    panel, _ = _panel(opened.derived, part)
    return _svg(opened, panel, panel_lines(panel, _cut(opened, panel)))


@router.get("/b/{build_id}/panel.dxf", name="panel_file", include_in_schema=False)
def panel_file(build_id: int, part: PartKey) -> Response:
    """A panel as DXF in millimetres, in its own axes."""
    opened = open_build(build_id)
    panel, _ = _panel(opened.derived, part)
    return download(
        panel_dxf(panel, _cut(opened, panel)),
        "image/vnd.dxf",
        file_name(f"{opened.plan.name}-{panel.label}", ".dxf"),
    )

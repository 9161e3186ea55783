"""Findings that are known and meant: they stay visible, with the reason, and no longer ask."""

from __future__ import annotations

from dataclasses import replace

from stirrup.core.findings import Finding
from stirrup.core.plan.changes import AddThing
from stirrup.core.plan.model import Plan


def accepted(plan: Plan, findings: list[Finding]) -> list[Finding]:
    """The findings, those that were accepted knowingly as "fine" with their reason."""
    known = {(a.code, a.thing, a.other): a for a in plan.arrangement.accepted}
    if not known:
        return findings
    out = []
    for finding in findings:
        meant = known.get((finding.code, finding.place, finding.other))
        if meant is None or finding.level == "fine" or not finding.check.acceptable:
            out.append(finding)
            continue
        reason = meant.reason.replace("{", "(").replace("}", ")")
        out.append(
            replace(finding, level="fine", title=f"Known and meant: {finding.title.lower()}",
                    text=f"{finding.text} Reason: {reason}", remedy="", accepted=meant.id, fixes=())
        )  # fmt: skip
    return out


def acceptance(plan: Plan, code: str, thing: str, other: str, reason: str) -> AddThing:
    """The change that accepts a finding: its code, the things it is about, and why."""
    taken = {a.id for a in plan.arrangement.accepted}
    id_ = next(f"accepted-{k}" for k in range(1, len(taken) + 2) if f"accepted-{k}" not in taken)
    value = {"id": id_, "code": code, "thing": thing, "other": other, "reason": reason.strip()}
    return AddThing(path=("arrangement", "accepted"), value=value)

// A group of like things is one stop for the Tab key; arrow keys go on inside of it. Grips of a
// drawing keep the arrows along which they are dragged, and take the others to go on.
const GROUPS = [
  [".look", "button"],
  [".things", "a, input"],
  [".line-tabs", "a"],
  [".chips", "a"],
  ["svg.view", ".handle"],
  [".batten ol", "a"],
  [".acts", "button"],
];
const REST_MS = 150;
const FORTH = ["ArrowDown", "ArrowRight"];
const BACK = ["ArrowUp", "ArrowLeft"];
const OF_GRIPS = { x: ["ArrowUp", "ArrowDown"], y: ["ArrowLeft", "ArrowRight"] };

const shown = (element) => element.getClientRects().length > 0 && !element.disabled;
const members = (group, inside) => [...group.querySelectorAll(inside)].filter(shown);

function enter(group, all, one) {
  for (const member of all) member.setAttribute("tabindex", member === one ? "0" : "-1");
}

function arrange() {
  for (const [where, inside] of GROUPS)
    for (const group of document.querySelectorAll(where)) {
      const all = members(group, inside);
      if (all.length < 2) continue;
      const current =
        all.find((m) => m === document.activeElement) ??
        all.find((m) => m.matches("[aria-current], .chosen-row a") || m.closest(".chosen-row")) ??
        all[0];
      enter(group, all, current);
    }
}

function onKey(event) {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  for (const [where, inside] of GROUPS) {
    const here = event.target.closest?.(inside);
    const group = here?.closest(where);
    if (!group) continue;
    const grip = here.dataset.direction;
    if (grip && !OF_GRIPS[grip].includes(event.key) && !["Home", "End"].includes(event.key)) return;
    const all = members(group, inside);
    const at = all.indexOf(here);
    let next = null;
    if (FORTH.includes(event.key)) next = all[at + 1];
    else if (BACK.includes(event.key)) next = all[at - 1];
    else if (event.key === "Home") next = all[0];
    else if (event.key === "End") next = all.at(-1);
    else return;
    event.preventDefault();
    event.stopPropagation();
    if (!next) return;
    enter(group, all, next);
    next.focus();
    return;
  }
}

export function listenToRoving() {
  // before those that drag and nudge: what goes on inside a group is no nudge
  document.addEventListener("keydown", onKey, true);
  document.addEventListener("focusin", ({ target }) => {
    for (const [where, inside] of GROUPS) {
      const group = target.closest?.(inside) === target && target.closest(where);
      if (group) {
        const all = members(group, inside);
        if (all.length > 1) enter(group, all, target);
      }
    }
  });
  for (const name of ["stirrup:renewed", "stirrup:redrawn"]) document.addEventListener(name, arrange);
  // while something is dragged nobody goes on by keys: once it rests is soon enough
  let resting = 0;
  document.addEventListener("stirrup:patched", () => {
    clearTimeout(resting);
    resting = setTimeout(arrange, REST_MS);
  });
  arrange();
}

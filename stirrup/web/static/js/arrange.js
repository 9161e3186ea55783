// Buttons and keys of the arrangement: lock, hide, group, line up, spread, exact entry, copy and bring in.
import { address } from "./server.js";
import { chosen } from "./choose.js";
import { place, run } from "./place.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;
const PACK = "stirrup-things";

const act = (body) =>
  run({ arrange: { things: chosen(), ...body } }, undefined, document.getElementById("place-problem"));

function press(button) {
  const { act: what, edge, axis } = button.dataset;
  act({ act: what, ...(edge && { edge }), ...(axis && { axis: Number(axis) }) });
}

// Only edges that run the same way can be measured from one another
function fitEdges() {
  const edge = document.getElementById("exact-edge");
  if (!edge) return;
  const axis = edge.selectedOptions[0].dataset.axis;
  const to = document.getElementById("exact-to");
  const toEdge = document.getElementById("exact-to-edge");
  for (const option of [...to.options, ...toEdge.options])
    option.hidden = option.dataset.axis !== undefined && option.dataset.axis !== axis;
  for (const select of [to, toEdge])
    if (select.selectedOptions[0]?.hidden) select.value = [...select.options].find((o) => !o.hidden)?.value;
  toEdge.closest(".field").hidden = to.selectedOptions[0]?.dataset.axis !== undefined;
}

function exactly(bind) {
  const value = (id) => document.getElementById(id).value;
  const datum = document.getElementById("exact-to").selectedOptions[0]?.dataset.axis !== undefined;
  const body = {
    act: "from",
    edge: value("exact-edge"),
    to: value("exact-to"),
    to_edge: datum ? "" : value("exact-to-edge"),
    text: value("exact-text"),
    bind,
  };
  document.getElementById("exact-text").form.dataset.sent = "1";
  return run({ arrange: { things: chosen(), ...body } }, undefined, document.getElementById("exact-error"));
}

async function copyThings() {
  if (!chosen().length) return;
  const response = await fetch(`${address("things")}?sel=${encodeURIComponent(chosen().join(","))}`, {
    headers: { Accept: "application/json" },
  });
  const data = await response.json();
  const saved = document.getElementById("saved");
  if (!response.ok) {
    saved.textContent = data.detail || data.title;
    return;
  }
  localStorage.setItem(PACK, JSON.stringify(data));
  const count = ["fittings", "items", "tanks"].reduce((sum, group) => sum + data[group].length, 0);
  saved.textContent = `${count} copied: Ctrl+V brings them in, here or in another boat`;
  showPaste();
}

function paste() {
  const pack = localStorage.getItem(PACK);
  if (pack) place("paste", { things: JSON.parse(pack) });
}

function showPaste() {
  for (const button of document.querySelectorAll("[data-paste]"))
    button.hidden = !localStorage.getItem(PACK);
}

const KEYS = { l: "lock", i: "hide", g: "group", G: "ungroup" };

function keyDown(event) {
  if (frame().page !== "layout" || isTyping(event) || document.querySelector("dialog[open]")) return;
  if ((event.ctrlKey || event.metaKey) && !event.altKey && !getSelection().toString()) {
    if (event.key === "c") {
      event.preventDefault();
      copyThings();
    }
    if (event.key === "v") {
      event.preventDefault();
      paste();
    }
    return;
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "e") {
    const exact = document.getElementById("group-exact");
    if (!exact) return;
    event.preventDefault();
    exact.open = true;
    fitEdges();
    document.getElementById("exact-edge").focus();
    exact.scrollIntoView({ block: "nearest" });
    return;
  }
  const what = KEYS[event.key];
  if (!what || !chosen().length) return;
  event.preventDefault();
  // a thing that is locked already is unlocked by the same key, and so on
  const other = { lock: "unlock", hide: "show" }[what];
  const back =
    other &&
    document.querySelector(`#sheet [data-act=${other}]`) &&
    !document.querySelector(`#sheet [data-act=${what}]`);
  act({ act: back ? other : what });
}

export function listenToArranging() {
  document.addEventListener("keydown", keyDown);
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-act]");
    if (button) press(button);
    else if (event.target.closest("[data-bind]")) exactly(true);
    else if (event.target.closest("[data-free]"))
      act({ act: "free", path: event.target.closest("[data-free]").dataset.free });
    else if (event.target.closest("[data-ask-again]"))
      run({
        arrange: { act: "ask again", path: event.target.closest("[data-ask-again]").dataset.askAgain },
      });
    else if (event.target.closest("[data-paste]")) paste();
  });
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (form.matches("form.exact")) {
      event.preventDefault();
      exactly(false);
    }
    if (form.matches("form.accept")) {
      event.preventDefault();
      const { code, thing: about, other } = form.dataset;
      run({
        arrange: { act: "accept", path: code, to: about, to_edge: other, text: form.elements.reason.value },
      });
    }
  });
  document.addEventListener("change", (event) => {
    if (event.target.matches("#exact-edge, #exact-to")) fitEdges();
  });
  document.addEventListener(
    "toggle",
    (event) => {
      if (event.target.id === "group-exact") fitEdges();
    },
    true,
  );
  for (const name of ["stirrup:renewed"])
    document.addEventListener(name, () => {
      fitEdges();
      showPaste();
    });
  fitEdges();
  showPaste();
}

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

// Only edges that run the same way can be measured from one another; level and flat from nothing
function fitEdges(stem) {
  const edge = document.getElementById(`${stem}-edge`);
  if (!edge) return;
  const { axis, alone } = edge.selectedOptions[0].dataset;
  const to = document.getElementById(`${stem}-to`);
  const toEdge = document.getElementById(`${stem}-to-edge`);
  for (const option of [...to.options, ...toEdge.options])
    option.hidden = option.dataset.axis !== undefined && option.dataset.axis !== axis;
  for (const select of [to, toEdge])
    if (select.selectedOptions[0]?.hidden) select.value = [...select.options].find((o) => !o.hidden)?.value;
  to.closest(".field").hidden = alone !== undefined;
  toEdge.closest(".field").hidden =
    alone !== undefined || to.selectedOptions[0]?.dataset.axis !== undefined;
}

const fitAll = () => ["exact", "stands"].forEach(fitEdges);

function exactly(stem, more) {
  const at = (name) => document.getElementById(`${stem}-${name}`);
  const datum = at("to").selectedOptions[0]?.dataset.axis !== undefined;
  const body = {
    edge: at("edge").value,
    to: at("to").value,
    to_edge: datum ? "" : at("to-edge").value,
    text: at("text").value,
    ...more,
  };
  at("text").form.dataset.sent = "1";
  return run({ arrange: { things: chosen(), ...body } }, undefined, at("error"));
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
    fitEdges("exact");
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
    else if (event.target.closest("[data-bind]")) exactly("exact", { act: "from", bind: true });
    else if (event.target.closest("[data-free]"))
      act({ act: "free", path: event.target.closest("[data-free]").dataset.free });
    else if (event.target.closest("[data-as-one]"))
      act({ act: "as one", text: event.target.closest("[data-as-one]").dataset.asOne });
    else if (event.target.closest("[data-forget]"))
      act({ act: "forget", path: event.target.closest("[data-forget]").dataset.forget });
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
      if (form.dataset.stands !== undefined) exactly("stands", { act: "stands" });
      else exactly("exact", { act: "from", bind: false });
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
    if (event.target.matches("#exact-edge, #exact-to, #stands-edge, #stands-to")) fitAll();
  });
  document.addEventListener(
    "toggle",
    (event) => {
      if (["group-exact", "group-stands"].includes(event.target.id)) fitAll();
    },
    true,
  );
  for (const name of ["stirrup:renewed"])
    document.addEventListener(name, () => {
      fitAll();
      showPaste();
    });
  fitAll();
  showPaste();
}

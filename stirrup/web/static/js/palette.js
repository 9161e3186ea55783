// The palette: find by typing, pick, then click where it goes or press Enter for where it usually goes.
import { place } from "./place.js";
import { choose } from "./choose.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;
const dialog = () => document.getElementById("palette");
let armed = null;

function open() {
  const box = dialog();
  if (!box || box.open) return;
  box.showModal();
  const find = document.getElementById("palette-find");
  find.value = "";
  filter();
  find.focus();
}

const free = (entry) => !entry.hidden && entry.getAttribute("aria-disabled") !== "true";
const entries = () => [...dialog().querySelectorAll("[data-pick], [data-go]")];

// what Enter takes: called just that, then one whose title begins so, then a word of it, then the first
function best() {
  const typed = document.getElementById("palette-find").value.trim().toLowerCase();
  const there = entries().filter((one) => free(one) && !one.closest("[data-stage]").hidden);
  if (!typed) return there[0];
  const title = (one) => (one.dataset.title ?? "").toLowerCase();
  const named = (one) => [one.dataset.name, one.dataset.mark, one.dataset.pick, title(one)];
  return (
    // the name of something that is on the plan goes there; it is not placed once more
    there.find((one) => one.dataset.go && named(one).includes(typed)) ??
    there.find((one) => named(one).includes(typed)) ??
    there.find((one) => title(one).startsWith(typed)) ??
    there.find((one) => ` ${title(one)}`.includes(` ${typed}`)) ??
    there[0]
  );
}

function filter() {
  const words = document.getElementById("palette-find").value.toLowerCase().split(/\s+/).filter(Boolean);
  for (const entry of entries()) {
    entry.hidden = !words.every((word) => entry.dataset.words.includes(word));
    entry.closest("li").hidden = entry.hidden;
  }
  for (const section of dialog().querySelectorAll("[data-stage]")) {
    // things on the plan are a long list: they come once somebody types
    section.hidden =
      !section.querySelector(".entry:not([hidden])") ||
      (section.dataset.there !== undefined && !words.length);
  }
  document.getElementById("palette-none").hidden = entries().some((entry) => !entry.hidden);
  const takes = best();
  for (const entry of entries()) entry.classList.toggle("takes", entry === takes && words.length > 0);
}

function arm(entry) {
  dialog().close();
  if (entry.dataset.go) {
    choose([entry.dataset.go]);
    return;
  }
  armed = { kind: entry.dataset.pick };
  document.body.classList.add("placing");
  document.getElementById("caught").textContent =
    `${entry.dataset.title}: click on the plan where it goes, or Enter for where it usually goes; Esc leaves it`;
}

function disarm() {
  armed = null;
  document.body.classList.remove("placing");
  const caught = document.getElementById("caught");
  if (caught) caught.textContent = "";
}

function put(at = {}) {
  const { kind } = armed;
  disarm();
  place(kind, at);
}

function onClick(event) {
  if (event.target.closest("[data-open=palette]")) {
    open();
    return;
  }
  const entry = event.target.closest("[data-pick], [data-go]");
  if (entry) {
    if (free(entry)) arm(entry);
    return;
  }
  if (!armed) return;
  const svg = event.target.closest("#views svg.view-plan, #views svg.view-profile");
  if (!svg) {
    if (event.target.closest("a, button")) disarm();
    return;
  }
  event.stopPropagation();
  event.preventDefault();
  const box = svg.getBoundingClientRect();
  const now = svg.viewBox.baseVal;
  const u = now.x + ((event.clientX - box.left) / box.width) * now.width;
  const v = now.y + ((event.clientY - box.top) / box.height) * now.height;
  const { scale, ox, oy } = svg.dataset;
  const at = { x: (u - ox) / scale };
  at.y = svg.dataset.view === "plan" ? (oy - v) / scale : 0;
  put(at);
}

function onKey(event) {
  if (frame().page !== "layout") return;
  if (armed && event.key === "Escape") {
    event.preventDefault();
    event.stopPropagation();
    disarm();
    return;
  }
  if (armed && event.key === "Enter") {
    event.preventDefault();
    event.stopPropagation();
    put();
    return;
  }
  if (event.target.id === "palette-find") {
    if (event.key !== "Enter") return;
    event.preventDefault();
    event.stopPropagation();
    const first = best();
    if (first && !event.isComposing) arm(first);
    return;
  }
  if (
    isTyping(event) ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    document.querySelector("dialog[open]")
  )
    return;
  if (event.key === "a" || event.key === "/") {
    event.preventDefault();
    open();
  }
}

export function listenToPalette() {
  document.addEventListener("click", onClick, true);
  document.addEventListener("keydown", onKey, true);
  document.addEventListener("input", (event) => {
    if (event.target.id === "palette-find") filter();
  });
  // the list is renewed even while it is open: a deck that just came makes room for hatches
  document.addEventListener("stirrup:renewed", () => {
    if (!dialog()?.open) return;
    filter();
    if (document.activeElement === document.body) document.getElementById("palette-find").focus();
  });
}

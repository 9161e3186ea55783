// Drag or nudge a lit edge: ask the server what follows, show it, commit at the end.
import { address, commit, post, Refused, shown } from "./server.js";
import { refresh, showError } from "./refresh.js";
import { askStale } from "./stale.js";

const frame = () => document.getElementById("topline").dataset;
let drag = null;
let asking = false;
let pending = null;
// for measuring: from pointer move to redrawn strip
export const latencies = [];
globalThis.stirrupLatencies = latencies;

const change = (path, value) => ({ do: "set", path: path.split("/").map(decodeURIComponent), value });
const rounded = (value) => { const step = Number(frame().step); return Math.round(value / step) * step; };

function valueAt(event) {
  const { svg, scale, direction, sign, grabbed, start } = drag;
  const box = svg.getBoundingClientRect();
  const pixels = svg.viewBox.baseVal.width / box.width;
  const moved = direction === "x" ? event.clientX - grabbed.x : event.clientY - grabbed.y;
  return rounded(start + (sign * moved * pixels) / scale);
}

export function showPreview(data) {
  // the swap must not take the focus away: the next key belongs to the same edge
  const held = document.activeElement?.closest?.(".handle")?.dataset.path;
  for (const [slot, svg] of Object.entries(data.views)) {
    const place = document.querySelector(`[data-slot="${slot}"]`);
    if (place) place.innerHTML = svg;
  }
  document.dispatchEvent(new Event("stirrup:redrawn"));
  if (held) document.querySelector(`.handle[data-path="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
  document.getElementById("strip").innerHTML = data.strip;
  const facts = document.getElementById("facts");
  if (facts && data.facts) facts.textContent = data.facts;
  const findings = document.getElementById("findings");
  if (findings && data.findings) findings.innerHTML = data.findings;
}

function fieldFor(path) {
  return document.querySelector(`form.field[data-path="${CSS.escape(path)}"] input[name=text]`);
}

async function ask() {
  if (asking) return;
  asking = true;
  while (pending) {
    const { path, value, since } = pending;
    pending = null;
    try {
      const data = await post(address("preview"), { base: Number(frame().number), change: change(path, value), ...shown() });
      showPreview(data);
      latencies.push(performance.now() - since);
      const input = fieldFor(path);
      if (input && data.read_as) input.value = data.read_as;
      if (drag) drag.problem = null;
    } catch (error) {
      if (!(error instanceof Refused)) break;
      if (drag) drag.problem = error.message;
      document.getElementById("saved").textContent = error.message;
    }
  }
  asking = false;
}

async function finish(path, value) {
  const body = { change: change(path, value) };
  try {
    await commit(body);
    await refresh();
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (error.problem.code === "stale") { askStale(error.problem, body); return; }
    await refresh();
    document.getElementById("saved").textContent = "not taken";
    const input = fieldFor(path);
    if (input) showError(input, error.message);
    else document.getElementById("saved").textContent = error.message;
  }
}

function moveSection(x) {
  const views = document.getElementById("views");
  views.dataset.at = x.toFixed(4);
  const url = new URL(location.href);
  url.searchParams.set("at", x.toFixed(3));
  return refresh(url.href);
}

function pointerDown(event) {
  const handle = event.target.closest(".handle");
  if (!handle || event.button !== 0) return;
  event.preventDefault();
  handle.focus({ preventScroll: true });
  const svg = handle.closest("svg");
  drag = {
    path: handle.dataset.path, section: handle.dataset.section, svg,
    scale: Number(svg.dataset.scale), direction: handle.dataset.direction, sign: Number(handle.dataset.sign),
    start: Number(handle.dataset.value), grabbed: { x: event.clientX, y: event.clientY }, value: null, problem: null,
    // the drawing is swapped while dragging: keep measuring against where it stood
    box: svg.getBoundingClientRect(),
  };
  document.body.classList.add("dragging");
}

function followSwap() {
  const live = drag.svg.isConnected ? drag.svg : document.querySelector(`svg[data-view="${drag.svg.dataset.view}"]`);
  if (live) drag.svg = live;
}

function pointerMove(event) {
  if (!drag) return;
  followSwap();
  const value = valueAt(event);
  if (value === drag.value) return;
  drag.value = value;
  if (drag.section) return;
  pending = { path: drag.path, value, since: performance.now() };
  ask();
}

function pointerUp(event) {
  if (!drag) return;
  // where it is let go counts, even if the last moves came too fast to be told one by one
  if (event.type === "pointerup" && drag.value !== null) { followSwap(); drag.value = valueAt(event); }
  const { path, value, section, start } = drag;
  drag = null;
  document.body.classList.remove("dragging");
  if (value === null || Math.abs(value - start) < 1e-6) return;
  pending = null;
  if (section) moveSection(value);
  else finish(path, value);
}

let nudge = null;

function nudgeBy(handle, steps) {
  const step = Number(frame().step);
  const start = nudge?.path === handle.dataset.path ? nudge.value : Number(handle.dataset.value);
  const value = rounded(start) + steps * step;
  if (handle.dataset.section) { moveSection(value); return; }
  clearTimeout(nudge?.timer);
  const path = handle.dataset.path;
  pending = { path, value, since: performance.now() };
  ask();
  nudge = { path, value, timer: setTimeout(() => { nudge = null; finish(path, value); }, 600) };
}

function keyDown(event) {
  const handle = event.target.closest?.(".handle");
  if (!handle) return;
  const vertical = handle.dataset.direction === "y";
  const ways = vertical ? { ArrowUp: 1, ArrowDown: -1 } : { ArrowRight: 1, ArrowLeft: -1 };
  const way = ways[event.key];
  if (!way) return;
  event.preventDefault();
  const large = handle.dataset.section ? 50 : 10;
  const inches = frame().units !== "mm" ? 16 : 10;
  nudgeBy(handle, way * (event.shiftKey ? inches : handle.dataset.section ? large : 1));
}

export function walkSection(way) {
  const grip = document.querySelector("[data-section]");
  if (grip) moveSection(Number(grip.dataset.value) + way * (frame().units === "mm" ? 0.05 : 0.0508));
}

export function listenToHandles() {
  document.addEventListener("pointerdown", pointerDown);
  document.addEventListener("pointermove", pointerMove);
  document.addEventListener("pointerup", pointerUp);
  document.addEventListener("pointercancel", pointerUp);
  document.addEventListener("keydown", keyDown);
}

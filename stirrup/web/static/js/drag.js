// Drag or nudge a lit edge: ask the server what follows, show it, commit at the end.
import { refresh } from "./refresh.js";
import { finish, forget, preview } from "./preview.js";
import { near } from "./snap.js";

const frame = () => document.getElementById("topline").dataset;
let drag = null;

const change = (path, value) => ({ do: "set", path: path.split("/").map(decodeURIComponent), value });
const rounded = (value) => {
  const step = Number(frame().step);
  return Math.round(value / step) * step;
};

// Edges of fittings may stop at something; readings of the survey are what the tape said
function bodyOf(path, value, reach) {
  if (!/^(fittings|items)\//.test(path)) return { change: change(path, value) };
  return { arrange: { act: "edge", path, value, near: reach } };
}

function valueAt(event) {
  const { svg, scale, direction, sign, grabbed, start } = drag;
  const box = svg.getBoundingClientRect();
  const pixels = svg.viewBox.baseVal.width / box.width;
  const moved = direction === "x" ? event.clientX - grabbed.x : event.clientY - grabbed.y;
  return rounded(start + (sign * moved * pixels) / scale);
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
    path: handle.dataset.path,
    section: handle.dataset.section,
    svg,
    scale: Number(svg.dataset.scale),
    direction: handle.dataset.direction,
    sign: Number(handle.dataset.sign),
    start: Number(handle.dataset.value),
    grabbed: { x: event.clientX, y: event.clientY },
    value: null,
    reach: 0,
  };
  document.body.classList.add("dragging");
}

// The drawing is swapped while dragging: keep measuring against the one that is there
function followSwap() {
  const live = drag.svg.isConnected
    ? drag.svg
    : document.querySelector(`svg[data-view="${drag.svg.dataset.view}"]`);
  if (live) drag.svg = live;
}

function pointerMove(event) {
  if (!drag) return;
  followSwap();
  const value = valueAt(event);
  if (value === drag.value) return;
  drag.value = value;
  drag.reach = near(drag.svg, event);
  if (!drag.section) preview(bodyOf(drag.path, value, drag.reach), drag.path);
}

function pointerUp(event) {
  if (!drag) return;
  // where it is let go counts, even if the last moves came too fast to be told one by one
  if (event.type === "pointerup" && drag.value !== null) {
    followSwap();
    drag.value = valueAt(event);
  }
  const { path, value, section, start, reach } = drag;
  drag = null;
  document.body.classList.remove("dragging");
  if (value === null || Math.abs(value - start) < 1e-6) return;
  forget();
  if (section) moveSection(value);
  else finish(bodyOf(path, value, reach), path);
}

let nudge = null;

function nudgeBy(handle, steps) {
  const step = Number(frame().step);
  const start = nudge?.path === handle.dataset.path ? nudge.value : Number(handle.dataset.value);
  const value = rounded(start) + steps * step;
  if (handle.dataset.section) {
    moveSection(value);
    return;
  }
  clearTimeout(nudge?.timer);
  const path = handle.dataset.path;
  preview(bodyOf(path, value, 0), path);
  nudge = {
    path,
    value,
    timer: setTimeout(() => {
      nudge = null;
      finish(bodyOf(path, value, 0), path);
    }, 600),
  };
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

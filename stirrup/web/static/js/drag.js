// Drag or nudge a lit edge: ask the server what follows, show it, commit at the end.
import { refresh } from "./refresh.js";
import { finish, forget, preview } from "./preview.js";
import { near } from "./snap.js";
import { draggable } from "./drag_loop.js";
import { slotOf } from "./hand.js";

const frame = () => document.getElementById("topline").dataset;

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

function moveSection(x) {
  const views = document.getElementById("views");
  views.dataset.at = x.toFixed(4);
  const url = new URL(location.href);
  url.searchParams.set("at", x.toFixed(3));
  return refresh(url.href);
}

function take(event) {
  const handle = event.target.closest(".handle");
  if (!handle) return null;
  event.preventDefault();
  handle.focus({ preventScroll: true });
  const { path, section, direction, sign, value } = handle.dataset;
  const start = Number(value);
  return {
    path,
    section,
    direction,
    sign: Number(sign),
    start,
    svg: handle.closest("svg"),
    value: null,
    reach: 0,
  };
}

function valueAt(drag, by) {
  return rounded(drag.start + drag.sign * (drag.direction === "x" ? by.right : by.down));
}

function move(drag, by, event) {
  const value = valueAt(drag, by);
  if (value === drag.value) return;
  drag.value = value;
  drag.reach = near(drag.svg, event);
  const hand = { path: drag.path, value, view: slotOf(drag.svg) };
  if (!drag.section) preview(bodyOf(drag.path, value, drag.reach), hand, drag.path);
}

function drop(drag, by) {
  if (!by) return;
  const value = valueAt(drag, by);
  if (Math.abs(value - drag.start) < 1e-6) return;
  forget();
  if (drag.section) moveSection(value);
  else finish(bodyOf(drag.path, value, drag.reach), drag.path);
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
  preview(bodyOf(path, value, 0), { path, value }, path);
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
  const { many, walkSteps } = frame();
  nudgeBy(handle, way * Number(event.shiftKey ? many : handle.dataset.section ? walkSteps : 1));
}

export function walkSection(way) {
  const grip = document.querySelector("[data-section]");
  if (grip) moveSection(Number(grip.dataset.value) + way * Number(frame().walk));
}

export function listenToHandles() {
  draggable({ take, move, drop });
  document.addEventListener("keydown", keyDown);
}

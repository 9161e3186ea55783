// Look closer at the drawings: wheel, pinch, drag on empty paper, keys, and one view alone.
// Views along her length share zoom and place, so that they stay under one another.
import { isTyping } from "./keys.js";
const MOST = 12;
const ALONG = ["profile", "plan"];
const looks = new Map(); // by group: zoom, left edge, top edges by view, all in pixels of the drawing
let only = "";
let held = null;
const fingers = new Map();

const views = () => [...document.querySelectorAll("#views svg.view")];
const groupOf = (svg) => (ALONG.includes(svg.dataset.view) ? "along" : svg.dataset.view);
const clamp = (value, low, high) => Math.min(Math.max(value, low), Math.max(low, high));

function fullOf(svg) {
  svg.dataset.full ??= svg.getAttribute("viewBox");
  const [, , width, height] = svg.dataset.full.split(" ").map(Number);
  return { width, height };
}

function lookOf(svg) {
  const group = groupOf(svg);
  if (!looks.has(group)) looks.set(group, { zoom: 1, x: 0, y: {} });
  return looks.get(group);
}

// Keeps the look inside the drawing; its size and place in pixels of the drawing
function place(svg) {
  const { width, height } = fullOf(svg);
  const look = lookOf(svg);
  const [w, h] = [width / look.zoom, height / look.zoom];
  look.x = clamp(look.x, 0, width - w);
  const y = (look.y[svg.dataset.view] = clamp(look.y[svg.dataset.view] ?? (height - h) / 2, 0, height - h));
  return { x: look.x, y, w, h, zoom: look.zoom };
}

function show(svg) {
  const { x, y, w, h, zoom } = place(svg);
  svg.setAttribute(
    "viewBox",
    zoom === 1 ? svg.dataset.full : `${x.toFixed(2)} ${y.toFixed(2)} ${w.toFixed(2)} ${h.toFixed(2)}`,
  );
  svg.style.setProperty("--z", zoom);
  svg.style.transform = "";
  svg.classList.toggle("zoomed", zoom > 1);
}

// While the paper is dragged the finished picture slides; it is drawn anew where it is let go
function slide(svg) {
  for (const other of views().filter((v) => groupOf(v) === groupOf(svg))) {
    const { x, y } = place(other);
    const now = other.viewBox.baseVal;
    const scale = other.clientWidth / now.width;
    other.style.transform = `translate(${((now.x - x) * scale).toFixed(1)}px, ${((now.y - y) * scale).toFixed(1)}px)`;
  }
}

export function showLooks() {
  const place = document.getElementById("views");
  if (!place) return;
  for (const svg of views()) show(svg);
  place.dataset.only = only;
  for (const button of document.querySelectorAll("[data-only]:not(#views)"))
    button.setAttribute("aria-pressed", String(button.dataset.only === only));
  document.dispatchEvent(new Event("stirrup:looked"));
}

// Pixel of the drawing under a place of the window
function under(svg, clientX, clientY) {
  const box = svg.getBoundingClientRect();
  const now = svg.viewBox.baseVal;
  return [
    now.x + ((clientX - box.left) / box.width) * now.width,
    now.y + ((clientY - box.top) / box.height) * now.height,
  ];
}

// Zoom so that what is under (clientX, clientY) stays there
function zoomAt(svg, clientX, clientY, factor) {
  const look = lookOf(svg);
  const zoom = clamp(look.zoom * factor, 1, MOST);
  if (zoom === look.zoom) return;
  const [x, y] = under(svg, clientX, clientY);
  const now = svg.viewBox.baseVal;
  const keep = look.zoom / zoom;
  for (const other of views().filter((v) => groupOf(v) === groupOf(svg))) {
    const { height } = fullOf(other);
    const middle = other === svg ? y : other.viewBox.baseVal.y + other.viewBox.baseVal.height / 2;
    const top = other === svg ? y - (y - now.y) * keep : middle - height / zoom / 2;
    look.y[other.dataset.view] = top;
  }
  look.x = x - (x - now.x) * keep;
  look.zoom = zoom;
  showLooks();
}

function pan(svg, dx, dy, sliding = false) {
  const look = lookOf(svg);
  const now = svg.viewBox.baseVal;
  look.x -= (dx / svg.clientWidth) * now.width;
  look.y[svg.dataset.view] -= (dy / svg.clientHeight) * now.height;
  if (sliding) slide(svg);
  else showLooks();
}

// The view that keys and buttons are about: the one alone, else the plan, else the first
const chosenView = () => views().find((v) => v.dataset.view === (only || "plan")) ?? views()[0];

function zoomMiddle(factor) {
  const svg = chosenView();
  if (!svg) return;
  const box = svg.getBoundingClientRect();
  zoomAt(svg, box.left + box.width / 2, box.top + box.height / 2, factor);
}

function fit() {
  looks.clear();
  showLooks();
}

function alone(view) {
  only = only === view ? "" : view;
  showLooks();
}

function onWheel(event) {
  const svg = event.target.closest?.("#views svg.view");
  if (!svg || (event.deltaY > 0 && lookOf(svg).zoom === 1)) return;
  event.preventDefault();
  zoomAt(svg, event.clientX, event.clientY, Math.exp(-event.deltaY / 400));
}

function onDown(event) {
  const svg = event.target.closest?.("#views svg.view");
  if (!svg || event.target.closest(".handle, .crew-grip")) return;
  const thing = event.target.closest("[data-select]");
  const moves =
    thing &&
    !thing.dataset.locked &&
    (thing.classList.contains("chosen") ||
      (event.pointerType === "mouse" && thing.matches(".thing, .lid")));
  fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
  if (
    fingers.size === 1 &&
    lookOf(svg).zoom > 1 &&
    event.button === 0 &&
    !moves &&
    !document.body.classList.contains("placing")
  )
    held = { svg, x: event.clientX, y: event.clientY, moved: false };
}

function onMove(event) {
  const was = fingers.get(event.pointerId);
  if (!was) return;
  if (fingers.size === 2) {
    const svg = event.target.closest?.("#views svg.view");
    const other = [...fingers].find(([id]) => id !== event.pointerId)[1];
    const before = Math.hypot(was.x - other.x, was.y - other.y);
    const after = Math.hypot(event.clientX - other.x, event.clientY - other.y);
    if (svg && before > 5)
      zoomAt(svg, (event.clientX + other.x) / 2, (event.clientY + other.y) / 2, after / before);
  } else if (held) {
    held.svg = held.svg.isConnected
      ? held.svg
      : views().find((v) => v.dataset.view === held.svg.dataset.view);
    document.body.classList.add("panning");
    if (held.svg) pan(held.svg, event.clientX - was.x, event.clientY - was.y, true);
    if (Math.hypot(event.clientX - held.x, event.clientY - held.y) > 4) held.moved = true;
  }
  fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
}

function onUp(event) {
  fingers.delete(event.pointerId);
  if (document.body.classList.contains("panning")) {
    document.body.classList.remove("panning");
    showLooks();
  }
  if (held?.moved)
    document.addEventListener(
      "click",
      (click) => {
        click.stopPropagation();
        click.preventDefault();
      },
      { capture: true, once: true },
    );
  setTimeout(() => {
    held = null;
  });
}

const ARROWS = { ArrowLeft: [60, 0], ArrowRight: [-60, 0], ArrowUp: [0, 60], ArrowDown: [0, -60] };

function onKey(event) {
  if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (!document.getElementById("look") || document.querySelector("dialog[open]")) return;
  const names = [...document.querySelectorAll("#look [data-only]")].map((b) => b.dataset.only);
  if (event.key === "+") zoomMiddle(1.5);
  else if (event.key === "-") zoomMiddle(1 / 1.5);
  else if (event.key === "0") fit();
  else if (/^[1-3]$/.test(event.key) && names[Number(event.key) - 1]) alone(names[Number(event.key) - 1]);
  else if (
    ARROWS[event.key] &&
    !document.getElementById("views")?.dataset.sel &&
    !event.target.closest?.(".handle") &&
    chosenView() &&
    lookOf(chosenView()).zoom > 1
  )
    pan(chosenView(), ...ARROWS[event.key]);
  else return;
  event.preventDefault();
}

function onClick(event) {
  const button = event.target.closest?.("#look button");
  if (!button) return;
  if (button.dataset.only) alone(button.dataset.only);
  else if (button.dataset.look === "fit") fit();
  else zoomMiddle(button.dataset.look === "in" ? 1.5 : 1 / 1.5);
}

export function listenToLooks() {
  document.addEventListener("wheel", onWheel, { passive: false });
  document.addEventListener("pointerdown", onDown);
  document.addEventListener("pointermove", onMove);
  document.addEventListener("pointerup", onUp);
  document.addEventListener("pointercancel", onUp);
  document.addEventListener("keydown", onKey);
  document.addEventListener("click", onClick);
  for (const name of ["stirrup:renewed", "stirrup:redrawn"]) document.addEventListener(name, showLooks);
  showLooks();
}

// Marks on a photo: a click sets the chosen one, a drag moves one, numbers may be typed as well.
import "./plain.js";
import { listenToScreen } from "./screen.js";

listenToScreen();

const NS = "http://www.w3.org/2000/svg";
const picture = document.getElementById("traced");
const layer = document.getElementById("marks");
const { width, height } = picture.viewBox.baseVal;
const choices = [...document.querySelectorAll("[data-which]")];
const names = choices.map((choice) => choice.dataset.which);
let held = null;

const field = (name) => document.getElementById(`p-${name}`);

function marked(name) {
  const numbers = field(name)
    .value.trim()
    .split(/[\s;,]+/)
    .map(Number);
  return numbers.length === 2 && numbers.every(Number.isFinite) ? numbers : null;
}

function draw() {
  const size = width / 70;
  layer.replaceChildren();
  names.forEach((name, k) => {
    const at = marked(name);
    if (!at) return;
    const group = document.createElementNS(NS, "g");
    group.setAttribute("class", k < 4 ? "mark" : "mark corner");
    group.setAttribute("transform", `translate(${(at[0] * width) / 100} ${(at[1] * height) / 100})`);
    group.dataset.mark = name;
    const ring = document.createElementNS(NS, "circle");
    ring.setAttribute("r", String(size));
    const dot = document.createElementNS(NS, "circle");
    dot.setAttribute("r", String(size / 6));
    dot.setAttribute("class", "dot");
    const text = document.createElementNS(NS, "text");
    text.setAttribute("x", String(1.2 * size));
    text.setAttribute("y", String(-0.8 * size));
    text.setAttribute("font-size", String(1.9 * size));
    text.textContent = String(k + 1);
    group.append(ring, dot, text);
    layer.append(group);
  });
}

function shares(event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  const clip = (v) => Math.min(100, Math.max(0, 100 * v)).toFixed(2);
  return `${clip(at.x / width)} ${clip(at.y / height)}`;
}

picture.addEventListener("pointerdown", (event) => {
  held = event.target.closest("[data-mark]")?.dataset.mark ?? null;
  if (held) choices[names.indexOf(held)].checked = true;
  const chosen = choices.findIndex((choice) => choice.checked);
  if (!held) {
    held = names[Math.max(0, chosen)];
    field(held).value = shares(event);
  }
  picture.setPointerCapture(event.pointerId);
  draw();
});
picture.addEventListener("pointermove", (event) => {
  if (!held) return;
  field(held).value = shares(event);
  draw();
});
picture.addEventListener("pointerup", () => {
  if (!held) return;
  const next = choices[names.indexOf(held) + 1];
  if (next) next.checked = true;
  held = null;
});
picture.addEventListener("pointercancel", () => (held = null));
document.addEventListener("input", draw);
document.getElementById("p-seen").addEventListener("change", (event) => event.target.form.submit());
draw();

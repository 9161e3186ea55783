// The scan as a turning cloud of points; a click sets the chosen pick to the nearest of them.
import "./plain.js";
import { listenToScreen } from "./screen.js";

listenToScreen();

const canvas = document.getElementById("cloud");
const pen = canvas.getContext("2d");
const names = ["aft", "fore", "top"];
let points = [];
let middle = [0, 0, 0];
let frame = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]; // forward, to port, up, as far as the server can guess
let reach = 1;
let turn = { about: 0, over: 0 };
let held = null;

const field = (name) => document.getElementById(`pick-${name}`);
const chosen = () => document.querySelector("[data-which]:checked").dataset.which;

// Right, up and towards the eye of a point: turned about her upright axis, then tilted
function seen(p) {
  const away = p.map((v, k) => v - middle[k]);
  const [x, y, z] = frame.map((axis) => axis[0] * away[0] + axis[1] * away[1] + axis[2] * away[2]);
  const a = Math.cos(turn.about),
    b = Math.sin(turn.about),
    c = Math.cos(turn.over),
    d = Math.sin(turn.over);
  const right = a * x + b * y,
    near = b * x - a * y;
  return [right, c * z - d * near, d * z + c * near];
}

const scale = () => Math.min(canvas.width / (2.1 * reach), canvas.height / (0.75 * reach));
function place(p) {
  const [u, v] = seen(p);
  return [canvas.width / 2 + u * scale(), canvas.height / 2 - v * scale()];
}

function picked(name) {
  const numbers = field(name)
    .value.trim()
    .split(/[\s;,]+/)
    .map(Number);
  return numbers.length === 3 && numbers.every(Number.isFinite) ? numbers : null;
}

function draw() {
  const look = getComputedStyle(canvas);
  pen.clearRect(0, 0, canvas.width, canvas.height);
  pen.fillStyle = look.color;
  pen.globalAlpha = 0.55;
  for (const p of points) {
    const [u, v] = place(p);
    pen.fillRect(u - 0.8, v - 0.8, 1.6, 1.6);
  }
  pen.globalAlpha = 1;
  pen.font = "600 15px sans-serif";
  names.forEach((name, k) => {
    const p = picked(name);
    if (!p) return;
    const [u, v] = place(p);
    pen.strokeStyle = pen.fillStyle = look.getPropertyValue("--pick").trim() || look.color;
    pen.lineWidth = name === chosen() ? 4 : 2;
    pen.beginPath();
    pen.arc(u, v, 8, 0, 2 * Math.PI);
    pen.stroke();
    pen.fillText(String(k + 1), u + 11, v - 8);
  });
}

function nearest(u, v) {
  let best = null,
    least = 14;
  for (const p of points) {
    const [a, b] = place(p);
    const away = Math.hypot(a - u, b - v) - 0.002 * seen(p)[2] * scale();
    if (away < least) {
      least = away;
      best = p;
    }
  }
  return best;
}

const at = (event) => {
  const box = canvas.getBoundingClientRect();
  return [
    ((event.clientX - box.left) * canvas.width) / box.width,
    ((event.clientY - box.top) * canvas.height) / box.height,
  ];
};

canvas.addEventListener("pointerdown", (event) => {
  held = { from: at(event), turn: { ...turn }, moved: false };
  canvas.setPointerCapture(event.pointerId);
});
canvas.addEventListener("pointermove", (event) => {
  if (!held) return;
  const [u, v] = at(event);
  const du = u - held.from[0],
    dv = v - held.from[1];
  if (Math.hypot(du, dv) > 4) held.moved = true;
  if (held.moved) {
    turn = { about: held.turn.about - du / 160, over: held.turn.over + dv / 160 };
    draw();
  }
});
canvas.addEventListener("pointerup", (event) => {
  const was = held;
  held = null;
  if (!was || was.moved) return;
  const p = nearest(...at(event));
  if (!p) return;
  field(chosen()).value = p.map((n) => Number(n.toPrecision(7))).join(" ");
  const next = names[(names.indexOf(chosen()) + 1) % 3];
  document.querySelector(`[data-which=${next}]`).checked = true;
  draw();
});
canvas.addEventListener("keydown", (event) => {
  const step = { ArrowLeft: [0.1, 0], ArrowRight: [-0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[
    event.key
  ];
  if (!step) return;
  event.preventDefault();
  turn = { about: turn.about + step[0], over: turn.over + step[1] };
  draw();
});
const WAYS = { side: [0, 0], above: [0, Math.PI / 2], behind: [-Math.PI / 2, 0] };
document.addEventListener("click", (event) => {
  const way = WAYS[event.target.closest("[data-turn]")?.dataset.turn];
  if (!way) return;
  turn = { about: way[0], over: way[1] };
  draw();
});
document.addEventListener("input", draw);
new MutationObserver(draw).observe(document.documentElement, {
  attributes: true,
  attributeFilter: ["data-theme"],
});

const response = await fetch(canvas.dataset.points, { headers: { Accept: "application/json" } });
if (response.ok) {
  ({ points, frame, middle } = await response.json());
  reach = Math.max(...points.map((p) => Math.hypot(...seen(p))));
  draw();
}

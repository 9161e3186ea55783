// A part dragged on its sheet: drawn under the hand, asked for when it is let go. R turns it by a quarter.
const SPARE = 4; // pixels that a hand shakes

let held = null;

function token() {
  return document.querySelector('meta[name="csrf"]')?.content ?? "";
}

function begin(event) {
  const part = event.target.closest("[data-nest] [data-part]");
  if (!part || event.button || event.pointerType === "touch") return; // a finger scrolls the page
  const nest = part.closest("[data-nest]");
  const svg = part.ownerSVGElement;
  const at = svg.createSVGPoint();
  held = { part, nest, svg, at, from: where(svg, event), turns: 0, moved: false };
  part.setPointerCapture?.(event.pointerId);
}

function where(svg, event) {
  const matrix = svg.getScreenCTM().inverse();
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  return [point.x, point.y];
}

function shown() {
  const { part, by, turns } = held;
  const box = part.getBBox();
  const middle = `${box.x + box.width / 2} ${box.y + box.height / 2}`;
  part.setAttribute("transform", `translate(${by[0]} ${by[1]}) rotate(${-90 * turns} ${middle})`);
}

function move(event) {
  if (!held) return;
  const now = where(held.svg, event);
  held.by = [now[0] - held.from[0], now[1] - held.from[1]];
  if (!held.moved && Math.hypot(...held.by) < SPARE) return;
  if (!held.moved) {
    held.moved = true;
    held.part.classList.add("held");
    held.part.parentNode.append(held.part);
  }
  event.preventDefault();
  shown();
}

function drop() {
  const was = held;
  held = null;
  if (!was) return;
  if (!was.moved) return;
  // where its own axes are then: turned about the middle of its box, as it was drawn under the hand
  const step = Number(was.part.dataset.step);
  const [rotation, x, y, flipped] = was.part.dataset.lies.split(" ").map(Number);
  const box = was.part.getBBox();
  const origin = was.svg.querySelector(".sheet-edge").getBBox();
  const metres = (u, v) => [(u - origin.x) * step, (origin.y + origin.height - v) * step];
  const [mx, my] = metres(box.x + box.width / 2, box.y + box.height / 2);
  let [ox, oy] = [x - mx, y - my];
  for (let k = 0; k < was.turns % 4; k++) [ox, oy] = [-oy, ox];
  const form = document.createElement("form");
  form.method = "post";
  form.action = was.nest.dataset.nest;
  const values = {
    csrf_token: token(),
    base: document.getElementById("topline").dataset.base ?? document.querySelector('[name="base"]').value,
    stock: was.nest.dataset.stock,
    number: was.nest.dataset.number,
    part: was.part.dataset.part,
    rotation: (rotation + 90 * was.turns) % 360,
    x: mx + was.by[0] * step + ox,
    y: my - was.by[1] * step + oy,
    flipped: flipped ? "true" : "false",
    act: "put",
  };
  for (const [name, value] of Object.entries(values)) {
    const input = document.createElement("input");
    input.type = "hidden";
    input.name = name;
    input.value = String(value);
    form.append(input);
  }
  document.body.append(form);
  form.submit();
}

export function listenToNest() {
  document.addEventListener("pointerdown", begin);
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", drop);
  document.addEventListener("pointercancel", () => {
    if (!held) return;
    held.part.removeAttribute("transform");
    held.part.classList.remove("held");
    held = null;
  });
  document.addEventListener("keydown", (event) => {
    if (!held || event.key.toLowerCase() !== "r") return;
    event.preventDefault();
    held.turns = (held.turns + 1) % 4;
    held.moved = true;
    held.by ??= [0, 0];
    shown();
  });
}

// The Float page: the crew map as it comes in, and people who are dragged about on it.
import "./build.js";
import { commit, Refused, address, post, shown } from "./server.js";
import { refresh } from "./refresh.js";
import { askStale } from "./stale.js";
import { showPreview } from "./preview.js";
import { draggable } from "./drag_loop.js";

const frame = () => document.getElementById("topline").dataset;
let stream = null;

async function loadMap() {
  const where = document.getElementById("where");
  if (!where) return;
  stream?.abort();
  const mine = new AbortController();
  stream = mine;
  const kind = document.getElementById("map-kind").value;
  const mass = document.getElementById("map-mass").value;
  const words = document.getElementById("map-words");
  for (const key of ["freeboard", "list"]) document.getElementById(`key-${key}`).hidden = key !== kind;
  const query = new URLSearchParams({ case: frame().case, kind, mass });
  try {
    const response = await fetch(`${where.dataset.url}?${query}`, { signal: mine.signal });
    const problem = document.getElementById("map-problem");
    problem.hidden = response.ok;
    if (!response.ok) {
      problem.textContent = (await response.json()).detail;
      return;
    }
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = "";
    let first = true;
    for (;;) {
      const { value, done } = await reader.read();
      if (done) break;
      const lines = (rest + value).split("\n");
      rest = lines.pop();
      for (const line of lines) {
        const part = JSON.parse(line);
        const cells = document.getElementById("map-cells");
        if (first) {
          cells.innerHTML = "";
          first = false;
        }
        if (part.cells) cells.insertAdjacentHTML("beforeend", part.cells);
        if (part.labels !== undefined) {
          document.getElementById("map-labels").innerHTML = part.labels;
          words.textContent = part.words;
          where.dataset.done = query.toString();
        }
      }
    }
  } catch (error) {
    if (error.name !== "AbortError") words.textContent = "The map could not be fetched.";
  }
}

let asking = false;
let pending = null;

function place(grip, x, y) {
  const svg = grip.ownerSVGElement;
  const { scale, ox, oy } = svg.dataset;
  const [px, py] = [Number(ox) + x * scale, Number(oy) - y * scale];
  for (const circle of grip.querySelectorAll("circle")) {
    circle.setAttribute("cx", px);
    circle.setAttribute("cy", py);
  }
  const text = grip.querySelector("text");
  text.setAttribute("x", px);
  text.setAttribute("y", py);
  grip.dataset.x = x;
  grip.dataset.y = y;
}

async function ask() {
  if (asking) return;
  asking = true;
  while (pending) {
    const person = pending;
    pending = null;
    try {
      showPreview(await post(address("preview"), { base: Number(frame().number), person, ...shown() }));
    } catch (error) {
      if (!(error instanceof Refused)) break;
      document.getElementById("saved").textContent = error.message;
    }
  }
  asking = false;
}

// person: as it was put, not as its grip says: that is renewed with the page meanwhile
async function putDown(person) {
  const body = { person, case: frame().case };
  try {
    await commit(body);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (error.problem.code === "stale") {
      askStale(error.problem, body);
      return;
    }
    await refresh();
    const place = document.getElementById("person-problem");
    place.textContent = error.message;
    place.hidden = false;
    return;
  }
  await refresh();
}

draggable({
  take(event) {
    const grip = event.target.closest?.(".crew-grip");
    if (!grip) return null;
    event.preventDefault();
    grip.setPointerCapture?.(event.pointerId);
    const { person, x, y } = grip.dataset;
    return { grip, svg: grip.ownerSVGElement, number: Number(person), x: Number(x), y: Number(y) };
  },
  move(held, by) {
    const [x, y] = [held.x + by.right, held.y - by.down];
    place(held.grip, x, y);
    pending = held.person = { number: held.number, x, y };
    ask();
  },
  drop({ person }, by) {
    pending = null;
    if (by) putDown(person);
  },
});

let later = 0;
document.addEventListener("keydown", (event) => {
  const grip = event.target.closest?.(".crew-grip");
  const way = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
  if (!grip || !way) return;
  event.preventDefault();
  const step = event.shiftKey ? 0.5 : 0.1;
  place(grip, Number(grip.dataset.x) + way[0] * step, Number(grip.dataset.y) + way[1] * step);
  const person = {
    number: Number(grip.dataset.person),
    x: Number(grip.dataset.x),
    y: Number(grip.dataset.y),
  };
  pending = person;
  ask();
  clearTimeout(later);
  later = setTimeout(() => putDown(person), 500);
});

document.addEventListener("change", (event) => {
  if (event.target.closest?.("#map-choice")) loadMap();
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches("#map-choice")) return;
  event.preventDefault();
  loadMap();
});
document.addEventListener("stirrup:renewed", loadMap);
loadMap();

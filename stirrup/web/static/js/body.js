// Drag what is chosen in any view, nudge it by keys; a click chooses, with Shift one more.
import { chosen, choose, light, toggle } from "./choose.js";
import { finish, forget, preview } from "./preview.js";
import { near } from "./snap.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;
const START_PX = 5;
// which way of the boat the two ways of each view are
const WAYS = { profile: ["x", 1, "z", -1], plan: ["x", 1, "y", -1], section: ["y", -1, "z", -1] };
let held = null;

const onLayout = () => frame().page === "layout" && document.getElementById("views");
const thingAt = (event) => event.target.closest?.("#views svg.view [data-select]");
// decks cover much of the drawing: they move only once they are chosen, and so does all under a finger
const isLarge = (thing) => thing.matches(".deck, .deck-side, .face-side, .opening");

function pointerDown(event) {
  if (!onLayout() || event.button !== 0 || document.body.classList.contains("placing")) return;
  const thing = thingAt(event);
  if (!thing || event.target.closest(".handle")) return;
  const id = thing.dataset.select;
  const mine = chosen().includes(id);
  const free =
    !thing.dataset.locked &&
    !event.shiftKey &&
    !event.ctrlKey &&
    (mine || (event.pointerType === "mouse" && !isLarge(thing)));
  held = {
    id,
    mine,
    free,
    svg: thing.closest("svg"),
    from: { x: event.clientX, y: event.clientY },
    by: null,
    reach: 0,
    adds: event.shiftKey || event.ctrlKey,
  };
}

function followSwap() {
  if (!held.svg.isConnected)
    held.svg = document.querySelector(`#views svg[data-view="${held.svg.dataset.view}"]`) ?? held.svg;
}

function moveAt(event) {
  followSwap();
  const box = held.svg.getBoundingClientRect();
  const metres = held.svg.viewBox.baseVal.width / box.width / Number(held.svg.dataset.scale);
  const step = Number(frame().step);
  const [a, signA, b, signB] = WAYS[held.svg.dataset.view];
  const round = (pixels) => Math.round((pixels * metres) / step) * step;
  const by = { x: 0, y: 0, z: 0 };
  by[a] = signA * round(event.clientX - held.from.x);
  by[b] = signB * round(event.clientY - held.from.y);
  return by;
}

const bodyOf = (things, by, reach) => ({ arrange: { act: "move", things, ...by, near: reach } });

function pointerMove(event) {
  if (!held || !held.free) return;
  if (!held.by && Math.hypot(event.clientX - held.from.x, event.clientY - held.from.y) < START_PX) return;
  if (!held.by) {
    document.body.classList.add("dragging");
    if (!held.mine) {
      document.getElementById("views").dataset.sel = held.id;
      light([held.id]);
    }
  }
  held.by = moveAt(event);
  held.reach = near(held.svg, event);
  if (held.by.x || held.by.y || held.by.z) preview(bodyOf(chosen(), held.by, held.reach));
}

// A click on what is chosen already goes on to what lies behind it
function behind(event, id) {
  const under = document
    .elementsFromPoint(event.clientX, event.clientY)
    .map((e) => e.closest?.("#views svg.view [data-select]")?.dataset.select)
    .filter(Boolean);
  const ids = [...new Set(under)];
  return ids[(ids.indexOf(id) + 1) % ids.length] ?? id;
}

async function pointerUp(event) {
  const was = held;
  if (!was) return;
  if (was.by && event.type === "pointerup") {
    held.by = moveAt(event);
    was.by = held.by;
  }
  held = null;
  document.body.classList.remove("dragging");
  if (!was.by) {
    const still = Math.hypot(event.clientX - was.from.x, event.clientY - was.from.y) < START_PX;
    if (event.type === "pointerup" && still) {
      if (was.adds) toggle(was.id);
      else choose([was.mine && chosen().length === 1 ? behind(event, was.id) : was.id]);
    }
    return;
  }
  forget();
  const url = new URL(location.href);
  url.searchParams.set("sel", chosen().join(","));
  history.replaceState(null, "", url.href);
  if (was.by.x || was.by.y || was.by.z) await finish(bodyOf(chosen(), was.by, was.reach));
  else await choose(chosen());
  const caught = document.getElementById("caught");
  if (caught) caught.textContent = "";
}

const KEYS = {
  ArrowRight: ["x", 1],
  ArrowLeft: ["x", -1],
  ArrowUp: ["y", 1],
  ArrowDown: ["y", -1],
  PageUp: ["z", 1],
  PageDown: ["z", -1],
};
let nudge = null;

function keyDown(event) {
  if (
    !onLayout() ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    document.querySelector("dialog[open]")
  )
    return;
  const way = KEYS[event.key];
  if (!way || !chosen().length || isTyping(event) || event.target.closest?.(".handle, [role=slider]"))
    return;
  event.preventDefault();
  const steps = event.shiftKey ? (frame().units === "mm" ? 10 : 16) : 1;
  const things = chosen();
  const by = nudge && nudge.things.join() === things.join() ? { ...nudge.by } : { x: 0, y: 0, z: 0 };
  by[way[0]] += way[1] * steps * Number(frame().step);
  clearTimeout(nudge?.timer);
  preview(bodyOf(things, by, 0));
  nudge = {
    things,
    by,
    timer: setTimeout(() => {
      nudge = null;
      finish(bodyOf(things, by, 0));
    }, 600),
  };
}

export function listenToBodies() {
  document.addEventListener("pointerdown", pointerDown);
  document.addEventListener("pointermove", pointerMove);
  document.addEventListener("pointerup", pointerUp);
  document.addEventListener("pointercancel", pointerUp);
  document.addEventListener("keydown", keyDown);
}

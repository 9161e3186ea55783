// Drag what is chosen in any view, nudge it by keys; a click chooses, with Shift one more.
import { chosen, choose, light, toggle } from "./choose.js";
import { finish, forget, preview } from "./preview.js";
import { near } from "./snap.js";
import { draggable } from "./drag_loop.js";
import { lead, slotOf, WAYS } from "./hand.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;
const START_PX = 5;

const onLayout = () => frame().page === "layout" && document.getElementById("views");
const thingAt = (event) => event.target.closest?.("#views svg.view [data-select]");
// decks cover much of the drawing: they move only once they are chosen, and so does all under a finger
const isLarge = (thing) => thing.matches(".deck, .deck-side, .face-side, .opening");

function take(event) {
  if (!onLayout() || document.body.classList.contains("placing")) return null;
  const thing = thingAt(event);
  if (!thing || event.target.closest(".handle")) return null;
  const id = thing.dataset.select;
  const mine = chosen().includes(id);
  const adds = event.shiftKey || event.ctrlKey;
  const loose = mine || (event.pointerType === "mouse" && !isLarge(thing));
  return {
    id,
    mine,
    adds,
    fixed: thing.dataset.locked || adds || !loose,
    svg: thing.closest("svg"),
    reach: 0,
  };
}

// Right and down on the screen as whole steps along the boat's axes
function onAxes(svg, { right, down }) {
  const step = Number(frame().step);
  const [a, signA, b, signB] = WAYS[svg.dataset.view];
  const by = { x: 0, y: 0, z: 0 };
  by[a] = signA * Math.round(right / step) * step;
  by[b] = signB * Math.round(down / step) * step;
  return by;
}

const bodyOf = (things, by, reach) => ({ arrange: { act: "move", things, ...by, near: reach } });

function move(held, moved, event) {
  if (!held.begun && !held.mine) {
    document.getElementById("views").dataset.sel = held.id;
    light([held.id]);
  }
  held.begun = true;
  const by = onAxes(held.svg, moved);
  held.reach = near(held.svg, event);
  const things = chosen();
  const hand = { things, by, view: slotOf(held.svg) };
  if (by.x || by.y || by.z) preview(bodyOf(things, by, held.reach), hand);
  else lead(hand);
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

async function drop(held, moved, event, still) {
  if (!moved) {
    if (event.type !== "pointerup" || !still) return;
    if (held.adds) toggle(held.id);
    else choose([held.mine && chosen().length === 1 ? behind(event, held.id) : held.id]);
    return;
  }
  const by = onAxes(held.svg, moved);
  forget();
  const url = new URL(location.href);
  url.searchParams.set("sel", chosen().join(","));
  history.replaceState(null, "", url.href);
  if (by.x || by.y || by.z) await finish(bodyOf(chosen(), by, held.reach));
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
  const steps = event.shiftKey ? Number(frame().many) : 1;
  const things = chosen();
  const by = nudge && nudge.things.join() === things.join() ? { ...nudge.by } : { x: 0, y: 0, z: 0 };
  by[way[0]] += way[1] * steps * Number(frame().step);
  clearTimeout(nudge?.timer);
  preview(bodyOf(things, by, 0), { things, by });
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
  draggable({ take, move, drop, from: START_PX });
  document.addEventListener("keydown", keyDown);
}

// Ask the server what follows from a change that is not made yet, and show it; one question at a time.
import { address, commit, post, Refused, shown } from "./server.js";
import { refresh, showError } from "./refresh.js";
import { answered, lead } from "./hand.js";
import { marks, redraw, relist, say } from "./redraw.js";
import { askStale } from "./stale.js";

const REST_MS = 100; // a hand that holds still this long is told what comes behind, too
const OTHERS_MS = 100; // the drawings that the hand is not in are drawn so often while it moves
const LIST_MS = 250; // a list that changes more often cannot be read, and costs the hand its frames

let asking = false;
let soft = false; // what the page shows is not of what is under the hand yet
let pending = null;
let round = 0; // an answer that comes after its drag has ended must not cover what was stored

const frame = () => document.getElementById("topline").dataset;
export const fieldFor = (path) =>
  document.querySelector(`form.field[data-path="${CSS.escape(path)}"] input[name=text]`);

// A field says what it would be; beside it stands the same in the other unit, or nothing
function show(input, text, other = "") {
  input.value = text;
  const beside = input.parentElement.querySelector(".read-as");
  if (beside) beside.textContent = other;
}

let unlisted = false; // list and facts are of an earlier step than the figures are
let listAsked = -LIST_MS; // when one was asked for last

// Findings and facts of an answer; without any they stay what they were, and soft
function list({ findings, facts }) {
  const [place, line] = ["findings", "facts"].map((id) => document.getElementById(id));
  unlisted = !findings;
  if (place && findings) relist(place, findings);
  if (line && facts) line.textContent = facts;
  for (const each of [place, line]) each?.classList.toggle("behind", soft || unlisted);
}

// Drawings that are of an earlier step are soft while the hand rests, if they stay so for long
function late(told, resting) {
  for (const place of document.querySelectorAll("#views [data-slot]"))
    place.classList.toggle("late", resting && !told.includes(place.dataset.slot));
}

export function showPreview(data) {
  // the swap must not take the focus away: the next key belongs to the same edge
  const held = document.activeElement?.closest?.(".handle")?.dataset.path;
  let other = false;
  for (const [slot, svg] of Object.entries(data.views)) {
    const place = document.querySelector(`[data-slot="${slot}"]`);
    if (place) other = redraw(place, svg) || other;
  }
  // what is measured of a drawing is not measured again for each of its parts
  document.dispatchEvent(new Event(other ? "stirrup:redrawn" : "stirrup:patched"));
  if (held && document.activeElement?.dataset?.path !== held)
    document.querySelector(`.handle[data-path="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
  say(document.getElementById("strip"), data.strip);
  list(data);
  for (const [path, [text, other]] of Object.entries(data.fields ?? {})) {
    const input = fieldFor(path);
    if (input && input !== document.activeElement) show(input, text, other);
  }
  const caught = document.getElementById("caught");
  if (caught) caught.textContent = (data.snaps ?? []).map((s) => s.reason).join(" · ");
}

// figures that are not those of what is under the hand yet are shown so
function behind(yes) {
  soft = yes;
  document.getElementById("strip")?.classList.toggle("behind", yes);
  for (const id of ["findings", "facts"])
    document.getElementById(id)?.classList.toggle("behind", yes || unlisted);
}

// which window asks, and how often it has asked: whoever still works for an earlier step gives up
const hand = crypto.randomUUID?.() ?? String(Math.random()).slice(2);
let step = 0;
let resting = 0;
let behindIt = null; // on its way: what comes behind
let allAsked = -OTHERS_MS; // when every drawing was asked for last

// Which drawings of the layout are asked for: at most steps the one that the hand is in; nothing for all
function due(pace, view) {
  const one = pace === "live" && view && frame().page === "layout";
  if (one && performance.now() - allAsked < OTHERS_MS) return [view];
  allAsked = performance.now();
  return undefined;
}

function ask(body, pace, view, signal) {
  step += 1;
  const page = { base: Number(frame().number), ...body, ...shown() };
  const listing = pace === "behind" || performance.now() - listAsked >= LIST_MS;
  if (listing) listAsked = performance.now();
  const views = due(pace, view);
  return post(address("preview"), { ...page, pace, listing, views, hand, step, has: marks() }, signal);
}

function dropBehind() {
  clearTimeout(resting);
  behindIt?.abort();
  behindIt = null;
}

// The checks that do not keep up with a hand, once it holds still
async function followUp({ body, hand: held }) {
  const asked = round;
  const mine = new AbortController();
  behindIt = mine;
  try {
    const data = await ask(body, "behind", "", mine.signal);
    if (asked !== round || pending || mine.signal.aborted) return;
    showPreview(data);
    answered(held, Object.keys(data.views));
    late([], false);
    document.dispatchEvent(new Event("stirrup:followed"));
  } catch (error) {
    // what is soft stays soft until the next step, or until it is let go
    if (error.name !== "AbortError" && !(error instanceof Refused)) throw error;
  } finally {
    if (behindIt === mine) behindIt = null;
  }
}

// What waits goes on its way: what was asked, in which round, and the answer to come
function send() {
  if (!pending) return null;
  const now = pending;
  pending = null;
  return { now, asked: round, answer: ask(now.body, "live", now.hand.view) };
}

// An answer that brings another drawing makes another one the page's own, which the next one is told against
const isPatch = (data) => Object.values(data.views).every((told) => typeof told !== "string" && !told.base);

// An answer is shown; ahead: what the server works at meanwhile
function take(data, now, ahead) {
  showPreview(data);
  const told = Object.keys(data.views);
  answered(now.hand, told);
  // the hand went on meanwhile
  const later = pending ?? ahead;
  late(told, !later);
  if (later) lead(later.hand);
  // since when somebody waited for it: for measuring
  document.dispatchEvent(new CustomEvent("stirrup:answered", { detail: now.since }));
  const input = now.path && fieldFor(now.path);
  if (input && data.read_as) show(input, data.read_as, data.fields?.[now.path]?.[1]);
  if (!later) resting = setTimeout(followUp, REST_MS, now);
}

// body: what a commit would send; hand: what is held and where, see hand.js, and in the drawing of which
// slot, if in one (`view`); path: the field that shows the value, if there is one.
export async function preview(body, held, path = "") {
  pending = { body, path, hand: held, since: performance.now() };
  lead(held);
  behind(true);
  dropBehind();
  if (asking) return;
  asking = true;
  let lost = false;
  let flight = send();
  while (flight) {
    const { now, asked, answer } = flight;
    flight = null;
    try {
      const data = await answer;
      if (asked === round) {
        // the server works at the next one while this one is drawn
        if (isPatch(data)) flight = send();
        take(data, now, flight?.now);
      }
    } catch (error) {
      lost = !(error instanceof Refused);
      if (lost) break;
      if (asked === round) document.getElementById("saved").textContent = error.message;
    }
    flight ??= send();
  }
  asking = false;
  // no answer: they stay those of before until the page is renewed
  if (!lost) behind(false);
}
document.addEventListener("stirrup:renewed", () => {
  unlisted = false;
  behind(false);
  late([], false);
});

export const forget = () => {
  pending = null;
  round += 1;
  dropBehind();
};

// Make the change that was previewed.
export async function finish(body, path = "") {
  forget();
  try {
    await commit(body);
    await refresh();
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (error.problem.code === "stale") {
      askStale(error.problem, body);
      return;
    }
    await refresh();
    document.getElementById("saved").textContent = "not taken";
    const input = path && fieldFor(path);
    if (input) showError(input, error.message);
    else document.getElementById("saved").textContent = error.message;
  }
}

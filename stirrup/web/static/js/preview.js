// Ask the server what follows from a change that is not made yet, and show it; one question at a time.
import { address, commit, post, Refused, shown } from "./server.js";
import { refresh, showError } from "./refresh.js";
import { answered, lead } from "./hand.js";
import { marks, redraw } from "./redraw.js";
import { askStale } from "./stale.js";

const REST_MS = 100; // a hand that holds still this long is told what comes behind, too

let asking = false;
let pending = null;
let round = 0; // an answer that comes after its drag has ended must not cover what was stored

const frame = () => document.getElementById("topline").dataset;
export const fieldFor = (path) =>
  document.querySelector(`form.field[data-path="${CSS.escape(path)}"] input[name=text]`);

// the same words again need no work
const texts = new WeakMap();
function say(place, html) {
  if (texts.get(place) === html) return;
  place.innerHTML = html;
  texts.set(place, html);
}
document.addEventListener("stirrup:renewed", () => {
  for (const id of ["strip", "findings"]) texts.delete(document.getElementById(id));
});

export function showPreview(data) {
  // the swap must not take the focus away: the next key belongs to the same edge
  const held = document.activeElement?.closest?.(".handle")?.dataset.path;
  for (const [slot, svg] of Object.entries(data.views)) {
    const place = document.querySelector(`[data-slot="${slot}"]`);
    if (place) redraw(place, svg);
  }
  document.dispatchEvent(new Event("stirrup:redrawn"));
  if (held)
    document.querySelector(`.handle[data-path="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
  say(document.getElementById("strip"), data.strip);
  const facts = document.getElementById("facts");
  if (facts && data.facts) facts.textContent = data.facts;
  const findings = document.getElementById("findings");
  if (findings && data.findings) say(findings, data.findings);
  for (const [path, text] of Object.entries(data.fields ?? {})) {
    const input = fieldFor(path);
    if (input && input !== document.activeElement) input.value = text;
  }
  const caught = document.getElementById("caught");
  if (caught) caught.textContent = (data.snaps ?? []).map((s) => s.reason).join(" · ");
}

// figures that are not those of what is under the hand yet are shown so
const behind = (yes) => document.body.classList.toggle("behind", yes);

// which window asks, and how often it has asked: whoever still works for an earlier step gives up
const hand = crypto.randomUUID?.() ?? String(Math.random()).slice(2);
let step = 0;
let resting = 0;
let behindIt = null; // on its way: what comes behind

function ask(body, pace, signal) {
  step += 1;
  const page = { base: Number(frame().number), ...body, ...shown() };
  return post(address("preview"), { ...page, pace, hand, step, has: marks() }, signal);
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
    const data = await ask(body, "behind", mine.signal);
    if (asked !== round || pending || mine.signal.aborted) return;
    showPreview(data);
    answered(held);
    document.dispatchEvent(new Event("stirrup:followed"));
  } catch (error) {
    // what is soft stays soft until the next step, or until it is let go
    if (error.name !== "AbortError" && !(error instanceof Refused)) throw error;
  } finally {
    if (behindIt === mine) behindIt = null;
  }
}

// body: what a commit would send; hand: what is held and where, see hand.js; path: the field that shows
// the value, if there is one.
export async function preview(body, held, path = "") {
  pending = { body, path, hand: held, since: performance.now() };
  lead(held);
  behind(true);
  dropBehind();
  if (asking) return;
  asking = true;
  let lost = false;
  while (pending) {
    const now = pending;
    pending = null;
    const asked = round;
    try {
      const data = await ask(now.body, "live");
      if (asked !== round) continue;
      showPreview(data);
      answered(now.hand);
      // the hand went on meanwhile
      if (pending) lead(pending.hand);
      // since when somebody waited for it: for measuring
      document.dispatchEvent(new CustomEvent("stirrup:answered", { detail: now.since }));
      const input = now.path && fieldFor(now.path);
      if (input && data.read_as) input.value = data.read_as;
      if (!pending) resting = setTimeout(followUp, REST_MS, now);
    } catch (error) {
      lost = !(error instanceof Refused);
      if (lost) break;
      if (asked === round) document.getElementById("saved").textContent = error.message;
    }
  }
  asking = false;
  // no answer: they stay those of before until the page is renewed
  if (!lost) behind(false);
}
document.addEventListener("stirrup:renewed", () => behind(false));

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

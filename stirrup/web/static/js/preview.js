// Ask the server what follows from a change that is not made yet, and show it; one question at a time.
import { address, commit, post, Refused, shown } from "./server.js";
import { refresh, showError } from "./refresh.js";
import { answered, lead } from "./hand.js";
import { askStale } from "./stale.js";

let asking = false;
let pending = null;
let round = 0; // an answer that comes after its drag has ended must not cover what was stored

const frame = () => document.getElementById("topline").dataset;
export const fieldFor = (path) =>
  document.querySelector(`form.field[data-path="${CSS.escape(path)}"] input[name=text]`);

export function showPreview(data) {
  // the swap must not take the focus away: the next key belongs to the same edge
  const held = document.activeElement?.closest?.(".handle")?.dataset.path;
  for (const [slot, svg] of Object.entries(data.views)) {
    const place = document.querySelector(`[data-slot="${slot}"]`);
    if (place) place.innerHTML = svg;
  }
  document.dispatchEvent(new Event("stirrup:redrawn"));
  if (held)
    document.querySelector(`.handle[data-path="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
  document.getElementById("strip").innerHTML = data.strip;
  const facts = document.getElementById("facts");
  if (facts && data.facts) facts.textContent = data.facts;
  const findings = document.getElementById("findings");
  if (findings && data.findings) findings.innerHTML = data.findings;
  for (const [path, text] of Object.entries(data.fields ?? {})) {
    const input = fieldFor(path);
    if (input && input !== document.activeElement) input.value = text;
  }
  const caught = document.getElementById("caught");
  if (caught) caught.textContent = (data.snaps ?? []).map((s) => s.reason).join(" · ");
}

// figures that are not those of what is under the hand yet are shown so
const behind = (yes) => document.body.classList.toggle("behind", yes);

// body: what a commit would send; hand: what is held and where, see hand.js; path: the field that shows
// the value, if there is one.
export async function preview(body, hand, path = "") {
  pending = { body, path, hand, since: performance.now() };
  lead(hand);
  behind(true);
  if (asking) return;
  asking = true;
  let lost = false;
  while (pending) {
    const { body: now, path: place, hand: held, since } = pending;
    pending = null;
    const asked = round;
    try {
      const data = await post(address("preview"), { base: Number(frame().number), ...now, ...shown() });
      if (asked !== round) continue;
      showPreview(data);
      answered(held);
      // the hand went on meanwhile
      if (pending) lead(pending.hand);
      // since when somebody waited for it: for measuring
      document.dispatchEvent(new CustomEvent("stirrup:answered", { detail: since }));
      const input = place && fieldFor(place);
      if (input && data.read_as) input.value = data.read_as;
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

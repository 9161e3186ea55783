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

// What did not change in a drawing stays the element that it is: most of it, at every step of a drag.
function renew(place, drawing) {
  const template = document.createElement("template");
  template.innerHTML = drawing;
  const [old, fresh] = [place.firstElementChild, template.content.firstElementChild];
  if (!old || !fresh || old.tagName !== fresh.tagName) {
    place.replaceChildren(template.content);
    return;
  }
  for (const { name, value } of fresh.attributes)
    if (old.getAttribute(name) !== value) old.setAttribute(name, value);
  const [was, now] = [[...old.childNodes], [...fresh.childNodes]];
  // one part more or less is somewhere in between: the ends are the same parts
  let head = 0;
  while (head < was.length && head < now.length && was[head].isEqualNode(now[head])) head += 1;
  let tail = 0;
  const most = Math.min(was.length, now.length) - head;
  while (tail < most && was[was.length - 1 - tail].isEqualNode(now[now.length - 1 - tail])) tail += 1;
  const [gone, come] = [was.slice(head, was.length - tail), now.slice(head, now.length - tail)];
  gone.forEach((node, k) => {
    if (k >= come.length) node.remove();
    else if (!node.isEqualNode(come[k])) node.replaceWith(come[k]);
  });
  if (come.length <= gone.length) return;
  const after = was[was.length - tail] ?? null;
  for (const node of come.slice(gone.length)) old.insertBefore(node, after);
}

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
    if (place) renew(place, svg);
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

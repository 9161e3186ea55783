// One part of a page becomes the new one in place: what is the same stays the element that it is,
// so the focus, the cursor, what can be undone in a field and where a list is scrolled to stay too.
import { Idiomorph } from "../vendor/idiomorph/idiomorph.min.js";

function nameOf(details) {
  return details.id || details.closest("li")?.querySelector("strong")?.textContent || "";
}

function keepOpen(from, to) {
  const open = new Map([...from.querySelectorAll("details")].map((d) => [nameOf(d), d.open]));
  to.querySelectorAll("details").forEach((d) => {
    const name = nameOf(d);
    if (name && open.has(name)) d.open = open.get(name);
  });
}

// What tells a field of a plain form from all others of the page: its form, its names, what goes along.
function draftKey(input) {
  const along = [...(input.form?.elements ?? [])].filter(
    (e) => e.type === "hidden" && !["csrf_token", "base"].includes(e.name),
  );
  return [
    input.form?.getAttribute("action"),
    input.id,
    input.name,
    ...along.map((e) => `${e.name}=${e.value}`),
  ].join("|");
}

const TYPED = "input:not([type=hidden], [type=checkbox], [type=radio], [type=file]), textarea";

const typable = (root) => [...root.querySelectorAll(TYPED)];

// what was sent is no draft any more, until somebody types into it again
document.addEventListener(
  "submit",
  (event) => {
    event.target.dataset.sent = "1";
  },
  true,
);
document.addEventListener(
  "input",
  (event) => {
    if (event.target.form) delete event.target.form.dataset.sent;
  },
  true,
);

// A value of the plan counts as typed only while it is being typed; a field of a plain form as long as
// it has not been sent. What was typed beside one thing is not said of the next one that is chosen.
function isDraft(input, same) {
  if (input.closest("form.field"))
    return input === document.activeElement && input.value !== (input.dataset.was ?? input.defaultValue);
  return same && !input.form?.dataset.sent && input.value !== input.defaultValue;
}

function keepBehind(from, to) {
  // a hint that is fetched behind the page stays until the new one is there
  for (const slot of to.querySelectorAll("[data-behind]")) {
    const old = from.querySelector(`[data-behind="${slot.dataset.behind}"]`);
    if (old) slot.innerHTML = old.innerHTML;
  }
  // so does what was fetched into a box that is open
  for (const box of to.querySelectorAll("details[data-fetch][id]")) {
    const old = from.querySelector(`#${CSS.escape(box.id)}[open] [data-fetched]`);
    if (old) box.querySelector("[data-fetched]").innerHTML = old.innerHTML;
  }
}

// Everything that is not a draft says what the page says, also where the page did not change.
function settle(root, drafts) {
  const waiting = new Map(drafts);
  for (const input of typable(root)) {
    const text = waiting.get(draftKey(input));
    if (text === undefined) {
      if (input.value !== input.defaultValue) input.value = input.defaultValue;
    } else if (input.value !== text) input.value = text;
  }
  for (const box of root.querySelectorAll("input[type=checkbox], input[type=radio]"))
    box.checked = box.defaultChecked;
  for (const option of root.querySelectorAll("option"))
    if (option.selected !== option.defaultSelected && option.closest("select").querySelector("[selected]"))
      option.selected = option.defaultSelected;
}

// What was refused has not gone anywhere: it is a draft again.
export function notTaken() {
  for (const form of document.querySelectorAll("form[data-sent]")) delete form.dataset.sent;
}

// from: the part as it stands; to: the new one, of a document that is thrown away; same: it is the
// same page, brought up to date.
export function mergePart(from, to, same) {
  keepOpen(from, to);
  keepBehind(from, to);
  const drafts = typable(from)
    .filter((input) => isDraft(input, same))
    .map((input) => [draftKey(input), input.value, input]);
  const held = new Map(drafts.map(([key, , input]) => [input, key]));
  const keys = new Map(typable(to).map((input) => [input, draftKey(input)]));
  let own = false; // the field that is being merged holds a draft of its own
  Idiomorph.morph(from, document.adoptNode(to), {
    callbacks: {
      beforeNodeMorphed(old, next) {
        own = held.has(old) && held.get(old) === keys.get(next);
        return old.nodeType !== Node.ELEMENT_NODE || !old.isEqualNode(next);
      },
      beforeAttributeUpdated: (name) => !(own && name === "value"),
    },
  });
  settle(from, drafts);
}

// Drawings renewed part by part: an answer names the parts that stay, of the drawing of the revision on
// the page, and brings those that are new. It is told against that drawing and no other answer, so that
// one that is lost or late does no harm.
const bases = new Map(); // by slot: mark and parts of the drawing that answers are told against
const brought = new Map(); // by slot: the new parts of the last answer, by their text

const svgOf = (place) => place.querySelector("svg.view");
const slots = () => [...document.querySelectorAll("[data-slot]")];

function parsed(html) {
  const template = document.createElement("template");
  template.innerHTML = html;
  return template.content;
}

function hold(slot, svg) {
  bases.set(slot, { of: svg.dataset.of ?? "", parts: [...svg.children] });
}

// Marks of the drawings that the page holds
export function marks() {
  const out = {};
  for (const place of slots()) {
    const { slot } = place.dataset;
    if (!bases.has(slot) && svgOf(place)) hold(slot, svgOf(place));
    if (bases.has(slot)) out[slot] = bases.get(slot).of;
  }
  return out;
}

// what the page gives an element, and no drawing does
const OWN = new Set(["style", "tabindex", "open"]);

function becomeInside(old, next) {
  const [was, now] = [[...old.childNodes], [...next.childNodes]];
  if (was.length !== now.length || was.some((node, k) => node.nodeName !== now[k].nodeName)) {
    old.replaceChildren(...now);
    return;
  }
  was.forEach((node, k) => {
    if (node.nodeType !== Node.ELEMENT_NODE) {
      if (node.data !== now[k].data) node.data = now[k].data;
    } else if (!node.isEqualNode(now[k])) become(node, now[k]);
  });
}

// One element becomes another of its kind in place: it keeps the focus, and only what is new is worked out
function become(old, next) {
  for (const { name } of [...old.attributes])
    if (!OWN.has(name) && !next.hasAttribute(name)) old.removeAttribute(name);
  for (const { name, value } of next.attributes)
    if (!OWN.has(name) && old.getAttribute(name) !== value) old.setAttribute(name, value);
  becomeInside(old, next);
  return old;
}

// A place of the page says something else
export function say(place, html) {
  becomeInside(place, parsed(html));
}

const likeness = (part) =>
  [part.nodeName, part.classList, part.dataset.select, part.dataset.path, part.children.length].join("|");

// New parts are read all at once, as parts of a drawing; one that the last answer brought already is
// that same part, and one like another that it brought becomes it
function fresh(slot, texts) {
  const known = brought.get(slot) ?? new Map();
  const wanted = texts.filter((text) => !known.has(text));
  const made = parsed(`<svg>${wanted.join("")}</svg>`).firstElementChild.children;
  const alike = new Map();
  for (const [text, part] of known)
    if (!texts.includes(text)) alike.set(likeness(part), [...(alike.get(likeness(part)) ?? []), part]);
  const nodes = [...made].map((next) => {
    const old = alike.get(likeness(next))?.shift();
    return old ? become(old, next) : next;
  });
  const now = new Map();
  for (const text of texts) {
    if (known.has(text)) now.set(text, known.get(text));
    else now.set(text, nodes[wanted.indexOf(text)]);
  }
  brought.set(slot, now);
  return now;
}

// The drawing as it was sent, without what pages do to it when they look closer
function whole(place, html) {
  const next = parsed(html).firstElementChild;
  const svg = svgOf(place);
  if (!svg || !next) {
    place.replaceChildren(...(next ? [next] : []));
    return;
  }
  for (const { name, value } of next.attributes)
    if (svg.getAttribute(name) !== value) svg.setAttribute(name, value);
  delete svg.dataset.full;
  svg.replaceChildren(...next.childNodes);
}

// told: a whole drawing, or {of, now: parts, base: the drawing that they are told against}; whether it
// is another drawing now, not the same with other parts
export function redraw(place, told) {
  const { slot } = place.dataset;
  if (typeof told === "string") {
    whole(place, told);
    bases.delete(slot);
    brought.delete(slot);
    return true;
  }
  if (told.base) {
    whole(place, told.base);
    hold(slot, svgOf(place));
    brought.delete(slot);
  }
  const base = bases.get(slot);
  if (base?.of !== told.of) return false; // the page was renewed meanwhile
  const made = fresh(
    slot,
    told.now.filter((step) => typeof step === "string"),
  );
  const parts = told.now.flatMap((step) =>
    typeof step === "string" ? [made.get(step)] : base.parts.slice(step[0], step[1]),
  );
  inOrder(svgOf(place), parts);
  return Boolean(told.base);
}

// These elements, and no other ones, in their order; those that stand there already are not touched
function inOrder(parent, parts) {
  const kept = new Set(parts);
  for (const part of [...parent.children]) if (!kept.has(part)) part.remove();
  let at = parent.firstElementChild;
  for (const part of parts) {
    if (part === at) at = at.nextElementSibling;
    else parent.insertBefore(part, at);
  }
}

const lists = new WeakMap(); // by place: the elements that were listed there last, by their text

// A list as it is told entry by entry: those that are told again stay the elements that they are
export function relist(place, texts) {
  const known = lists.get(place) ?? new Map();
  const now = new Map();
  for (const text of texts) {
    const there = known.get(text) ?? [];
    const one = there.shift() ?? parsed(text).firstElementChild;
    now.set(text, [...(now.get(text) ?? []), one]);
  }
  lists.set(place, now);
  const left = new Map([...now].map(([text, there]) => [text, [...there]]));
  inOrder(
    place,
    texts.map((text) => left.get(text).shift()),
  );
}

// The page's own drawing is another one now
document.addEventListener("stirrup:renewed", () => {
  bases.clear();
  brought.clear();
  lists.delete(document.getElementById("findings"));
});

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

// New parts are read all at once, as parts of a drawing; one that the last answer brought already is
// that same part
function fresh(slot, texts) {
  const known = brought.get(slot) ?? new Map();
  const wanted = texts.filter((text) => !known.has(text));
  const made = parsed(`<svg>${wanted.join("")}</svg>`).firstElementChild.children;
  const nodes = [...made];
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

// told: a whole drawing, or {of, now: parts, base: the drawing that they are told against}
export function redraw(place, told) {
  const { slot } = place.dataset;
  if (typeof told === "string") {
    whole(place, told);
    bases.delete(slot);
    brought.delete(slot);
    return;
  }
  if (told.base) {
    whole(place, told.base);
    hold(slot, svgOf(place));
    brought.delete(slot);
  }
  const base = bases.get(slot);
  if (base?.of !== told.of) return; // the page was renewed meanwhile
  const made = fresh(
    slot,
    told.now.filter((step) => typeof step === "string"),
  );
  const parts = told.now.flatMap((step) =>
    typeof step === "string" ? [made.get(step)] : base.parts.slice(step[0], step[1]),
  );
  const svg = svgOf(place);
  const kept = new Set(parts);
  for (const part of [...svg.children]) if (!kept.has(part)) part.remove();
  let at = svg.firstElementChild;
  for (const part of parts) {
    if (part === at) at = at.nextElementSibling;
    else svg.insertBefore(part, at);
  }
}

// The page's own drawing is another one now
document.addEventListener("stirrup:renewed", () => {
  bases.clear();
  brought.clear();
});

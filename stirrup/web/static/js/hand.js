// What is under the hand is drawn where the hand is, before the server has answered: an edge or a
// body is shifted on the page as it stands. The answer that follows says where it really comes to lie.

// which way of the boat the two ways of each view are: right, then down
export const WAYS = {
  profile: ["x", 1, "z", -1],
  plan: ["x", 1, "y", -1],
  section: ["y", -1, "z", -1],
};
const shown = new Map(); // by slot: the hand that the drawing there was made for
const shifted = new Map(); // what is not where it was drawn, and in which slot that is

// where a drawing stands on the page
export const slotOf = (svg) => svg.closest("[data-slot]")?.dataset.slot ?? "";

const put = (element, svg, right, down) => {
  element.style.translate = right || down ? `${right}px ${down}px` : "";
  shifted.set(element, slotOf(svg));
};

function leadEdge({ path, value }) {
  for (const handle of document.querySelectorAll(`.handle[data-path="${CSS.escape(path)}"]`)) {
    const { direction, sign, value: drawn } = handle.dataset;
    const svg = handle.closest("svg");
    const by = (value - Number(drawn)) * Number(sign) * Number(svg.dataset.scale);
    put(handle, svg, direction === "x" ? by : 0, direction === "x" ? 0 : by);
  }
}

function leadThings({ things, by }) {
  for (const svg of document.querySelectorAll("#views svg[data-view]")) {
    const [a, signA, b, signB] = WAYS[svg.dataset.view];
    const scale = Number(svg.dataset.scale);
    const last = shown.get(slotOf(svg));
    const drawn = last?.things?.join() === things.join() ? last.by : { x: 0, y: 0, z: 0 };
    const right = (by[a] - drawn[a]) * signA * scale;
    const down = (by[b] - drawn[b]) * signB * scale;
    for (const id of things)
      for (const part of svg.querySelectorAll(`[data-select="${CSS.escape(id)}"]`))
        put(part, svg, right, down);
  }
}

// hand: {path, value} of an edge, or {things, by} with by in metres along the boat's axes, both as asked
// for since the drag began
export function lead(hand) {
  if (hand.path) leadEdge(hand);
  else leadThings(hand);
}

// the drawings in these slots are now the answer to this hand: everything in them stands where it is drawn
export function answered(hand, slots) {
  for (const slot of slots) shown.set(slot, hand);
  for (const [element, slot] of shifted) {
    if (!slots.includes(slot)) continue;
    element.style.translate = "";
    shifted.delete(element);
  }
}

document.addEventListener("stirrup:renewed", () => {
  shown.clear();
  for (const element of shifted.keys()) element.style.translate = "";
  shifted.clear();
});

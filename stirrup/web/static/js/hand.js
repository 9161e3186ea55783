// What is under the hand is drawn where the hand is, before the server has answered: an edge or a
// body is shifted on the page as it stands. The answer that follows says where it really comes to lie.

// which way of the boat the two ways of each view are: right, then down
export const WAYS = {
  profile: ["x", 1, "z", -1],
  plan: ["x", 1, "y", -1],
  section: ["y", -1, "z", -1],
};
let shown = null; // the hand that the drawing on the page was made for
const shifted = new Set(); // what is not where it was drawn

const put = (element, right, down) => {
  element.style.translate = right || down ? `${right}px ${down}px` : "";
  shifted.add(element);
};

function leadEdge({ path, value }) {
  for (const handle of document.querySelectorAll(`.handle[data-path="${CSS.escape(path)}"]`)) {
    const { direction, sign, value: drawn } = handle.dataset;
    const by = (value - Number(drawn)) * Number(sign) * Number(handle.closest("svg").dataset.scale);
    put(handle, direction === "x" ? by : 0, direction === "x" ? 0 : by);
  }
}

function leadThings({ things, by }) {
  const drawn = shown?.things?.join() === things.join() ? shown.by : { x: 0, y: 0, z: 0 };
  for (const svg of document.querySelectorAll("#views svg[data-view]")) {
    const [a, signA, b, signB] = WAYS[svg.dataset.view];
    const scale = Number(svg.dataset.scale);
    const right = (by[a] - drawn[a]) * signA * scale;
    const down = (by[b] - drawn[b]) * signB * scale;
    for (const id of things)
      for (const part of svg.querySelectorAll(`[data-select="${CSS.escape(id)}"]`)) put(part, right, down);
  }
}

// hand: {path, value} of an edge, or {things, by} with by in metres along the boat's axes, both as asked
// for since the drag began
export function lead(hand) {
  if (hand.path) leadEdge(hand);
  else leadThings(hand);
}

// the drawing on the page is now the answer to this hand: everything stands where it is drawn
export function answered(hand) {
  shown = hand;
  for (const element of shifted) element.style.translate = "";
  shifted.clear();
}

document.addEventListener("stirrup:renewed", () => answered(null));

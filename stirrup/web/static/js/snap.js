// Whether dragging stops at something, and how near that must be: ten pixels, and no more than the server says.
import { widthOf } from "./drag_loop.js";

const KEY = "stirrup-snap";
const REACH_PX = 10;
const isOn = () => localStorage.getItem(KEY) !== "off";

export function near(svg, event) {
  if (!isOn() || event.altKey) return 0;
  const pixels = svg.viewBox.baseVal.width / widthOf(svg);
  const most = Number(document.getElementById("topline").dataset.reach);
  return Math.min(most, (REACH_PX * pixels) / Number(svg.dataset.scale));
}

function show() {
  document.querySelector("[data-snap]")?.setAttribute("aria-pressed", String(isOn()));
}

export function listenToSnap() {
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-snap]")) return;
    localStorage.setItem(KEY, isOn() ? "off" : "on");
    show();
  });
  document.addEventListener("stirrup:renewed", show);
  show();
}

// Whether dragging stops at something, and how near that must be: ten pixels, at most 50 mm.
const KEY = "stirrup-snap";
const isOn = () => localStorage.getItem(KEY) !== "off";

export function near(svg, event) {
  if (!isOn() || event.altKey) return 0;
  const pixels = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  return Math.min(0.05, (10 * pixels) / Number(svg.dataset.scale));
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

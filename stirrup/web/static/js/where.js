// Where a piece of gear would lie: drawn over plan and profile while its button is pressed.
const NS = "http://www.w3.org/2000/svg";

function draw(view, ring, words) {
  const svg = document.querySelector(`svg.view-${view}`);
  if (!svg || !ring) return;
  const [scale, ox, oy] = [svg.dataset.scale, svg.dataset.ox, svg.dataset.oy].map(Number);
  const shape = document.createElementNS(NS, "polygon");
  shape.setAttribute("class", "gear-here");
  shape.setAttribute(
    "points",
    ring
      .split(" ")
      .map((p) => {
        const [a, b] = p.split(",").map(Number);
        return `${(ox + a * scale).toFixed(1)},${(oy - b * scale).toFixed(1)}`;
      })
      .join(" "),
  );
  const title = document.createElementNS(NS, "title");
  title.textContent = words;
  shape.append(title);
  svg.append(shape);
}

function show() {
  for (const old of document.querySelectorAll(".gear-here")) old.remove();
  for (const button of document.querySelectorAll('[data-where][aria-pressed="true"]')) {
    const words = button.closest("li").querySelector("strong").textContent;
    draw("plan", button.dataset.plan, words);
    draw("profile", button.dataset.profile, words);
  }
}

export function listenToWhere() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-where]");
    if (!button) return;
    button.setAttribute("aria-pressed", String(button.getAttribute("aria-pressed") !== "true"));
    show();
  });
  document.addEventListener("stirrup:renewed", show);
}

// The one loop of everything that is dragged: taken by the pointer, moved in metres of the drawing
// that is there (it may be swapped meanwhile), put down where it is let go.

// The drawing as it is on the page now
function live(svg) {
  if (svg.isConnected || !svg.dataset.view) return svg;
  return document.querySelector(`svg[data-view="${svg.dataset.view}"]`) ?? svg;
}

// How wide a drawing is on the page: asked for at every move, measured once for each drag
let widths = new WeakMap();
for (const event of ["pointerdown", "resize", "stirrup:looked", "stirrup:renewed"])
  addEventListener(event, () => (widths = new WeakMap()), { capture: true });

export function widthOf(svg) {
  if (!widths.has(svg)) widths.set(svg, svg.getBoundingClientRect().width);
  return widths.get(svg);
}

export function metresPerPixel(svg) {
  return svg.viewBox.baseVal.width / widthOf(svg) / Number(svg.dataset.scale);
}

// take(event) gives what is held, with its `svg`, or nothing; then, as the pointer goes,
// move(held, by, event) once it is `from` pixels away, and drop(held, by, event) at the end.
// by: right and down on the screen [m]; null when it never moved, or was called off before.
export function draggable({ take, move, drop, from = 0 }) {
  let held = null;
  let start = null;
  let by = null;

  const measure = (event) => {
    held.svg = live(held.svg);
    const metres = metresPerPixel(held.svg);
    return { right: (event.clientX - start.x) * metres, down: (event.clientY - start.y) * metres };
  };

  document.addEventListener("pointerdown", (event) => {
    if (event.button !== 0) return;
    held = take(event) ?? null;
    start = { x: event.clientX, y: event.clientY };
    by = null;
  });
  document.addEventListener("pointermove", (event) => {
    if (!held || held.fixed) return;
    if (!by && Math.hypot(event.clientX - start.x, event.clientY - start.y) < from) return;
    if (!by) document.body.classList.add("dragging");
    by = measure(event);
    move(held, by, event);
  });
  const end = (event) => {
    if (!held) return;
    // where it is let go counts, even if the last moves came too fast to be told one by one
    if (by && event.type === "pointerup") by = measure(event);
    const [was, last] = [held, by];
    held = null;
    document.body.classList.remove("dragging");
    const still = Math.hypot(event.clientX - start.x, event.clientY - start.y) < from;
    drop(was, last, event, still);
  };
  document.addEventListener("pointerup", end);
  document.addEventListener("pointercancel", end);
}

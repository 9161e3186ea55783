// The window's size goes to the server, which draws for it. What a drawing's real width is off
// by, the size of its words makes up for; where it is off by much, the page is asked for anew.

const FAR = 0.18; // of the width that the server drew for
let last = "";
const told = () => `${innerWidth}x${innerHeight}`;
const { tellScreen } = globalThis; // of early.js: the first page tells it before anything is drawn

// Sets the words' size of every drawing; whether one is far from what it was drawn for
function fit() {
  let far = false;
  for (const svg of document.querySelectorAll("svg.view[data-wide]")) {
    const wide = svg.getBoundingClientRect().width;
    if (!wide) continue;
    const off = Number(svg.dataset.wide) / wide;
    svg.parentElement.style.setProperty("--fit", off.toFixed(4));
    if (svg.querySelector("text") && Math.abs(off - 1) > FAR) far = true;
  }
  return far;
}

async function settle(again) {
  tellScreen();
  const far = fit();
  if (!far || last === told()) {
    document.documentElement.dataset.fitted = "1";
    return;
  }
  last = told(); // asked once for each size of the window
  delete document.documentElement.dataset.fitted;
  await again();
}

let soon = 0;
// again: brings the page's drawings anew
export function listenToScreen(again = () => {}) {
  const later = () => {
    clearTimeout(soon);
    soon = setTimeout(() => settle(again), 200);
  };
  addEventListener("resize", later);
  for (const name of ["stirrup:renewed", "stirrup:redrawn", "stirrup:looked"])
    document.addEventListener(name, () => {
      fit();
      document.documentElement.dataset.fitted = "1";
    });
  settle(again);
}

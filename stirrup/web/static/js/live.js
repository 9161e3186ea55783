// Others at the same boat: their stored changes come in, and the top line says how many are here.
import { isSending } from "./server.js";
import { refresh } from "./refresh.js";

const START = 2500; // the page itself comes first
const AGAIN = 4000;
const frame = () => document.getElementById("topline")?.dataset;
let source = null;
let here = 1;
let others = [];
let lastTold = ""; // said once, not at every look

// Those with a name are named, the other windows counted.
function told() {
  if (!others.length) return here > 1 ? `${here} windows here` : "";
  return `with ${others.join(", ")}`;
}

function showHere() {
  const place = document.getElementById("here");
  if (!place) return;
  if (place.textContent !== told()) {
    place.textContent = told();
    if (told() && told() !== lastTold)
      document.dispatchEvent(new CustomEvent("stirrup:trouble", { detail: told() }));
    lastTold = told();
  }
  document.getElementById("who-is-here").hidden = here < 2;
  document.getElementById("who-list").textContent =
    `${here} windows show this boat${others.length ? `; besides you: ${others.join(", ")}` : ""}.`;
}

// Not under somebody's hands: a drag or a change on its way goes first, and renews the page itself
const busy = () => document.body.classList.contains("dragging") || isSending();

async function take(state) {
  ({ here, others } = state);
  showHere();
  const laid = frame().pending !== undefined && Number(frame().laid) !== state.laid;
  if (Number(frame().number) >= state.number && !laid) return;
  if (busy()) {
    setTimeout(() => take(state), 400);
    return;
  }
  const before = Number(frame().number);
  await refresh();
  if (before >= state.number) return;
  document.getElementById("saved").textContent =
    `revision ${state.number} · from ${state.author || "another window"}: ${state.words}`;
}

function listen() {
  if (source || document.hidden) return;
  source = new EventSource(`/api/builds/${frame().build}/events`);
  source.addEventListener("state", (event) => take(JSON.parse(event.data)));
  // a browser gives up after an answer that is no stream: it is asked again after a while
  source.addEventListener("error", () => {
    if (source?.readyState !== EventSource.CLOSED) return;
    source = null;
    setTimeout(listen, AGAIN);
  });
}

export function listenToOthers() {
  if (!frame()?.build) return;
  document.addEventListener("stirrup:renewed", showHere);
  // browsers keep few connections to one place: only the window that is looked at holds one
  document.addEventListener("visibilitychange", () => {
    if (document.hidden) {
      source?.close();
      source = null;
    } else listen();
  });
  // what is being worked out for this page comes soon
  setTimeout(listen, frame().pending === undefined ? START : 0);
}

// A build page: undo and redo, keys, and the modules for fields, handles and buttons.
import "./plain.js";
import { listenToFields } from "./fields.js";
import { listenToHandles, walkSection } from "./drag.js";
import { listenToButtons } from "./place.js";
import { listenToBodies } from "./body.js";
import { listenToChoosing } from "./choose.js";
import { listenToArranging } from "./arrange.js";
import { listenToPalette } from "./palette.js";
import { listenToSnap } from "./snap.js";
import { AWAY, isBehind, Refused, resume, stepBy } from "./server.js";
import { mergePart } from "./merge.js";
import { refresh } from "./refresh.js";
import { listenToLooks } from "./zoom.js";
import { listenToOthers } from "./live.js";
import { hasChanged, isTyping } from "./keys.js";
import { listenToWhere } from "./where.js";
import { listenToScreen } from "./screen.js";
import { listenToResults } from "./speak.js";
import { listenToRoving } from "./roving.js";
import { listenToFolding } from "./fold.js";
import { listenToNest } from "./nest.js";
import { listenToSearch } from "./search.js";

const frame = () => document.getElementById("topline").dataset;

async function step(way) {
  try {
    const { words } = await stepBy(way);
    document.dispatchEvent(
      new CustomEvent("stirrup:stored", {
        detail: `${way === "undo" ? "undone" : "done again"}: ${words}`,
      }),
    );
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    document.getElementById("saved").textContent =
      error.status === AWAY ? error.message : error.problem.title;
    return;
  }
  await refresh();
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-do]");
  if (!button || button.disabled) return;
  if (button.dataset.do === "undo" || button.dataset.do === "redo") {
    event.preventDefault();
    step(button.dataset.do);
  }
  if (["keys", "who"].includes(button.dataset.do)) document.getElementById(button.dataset.do).showModal();
});

document.addEventListener("keydown", (event) => {
  const typing = isTyping(event);
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !hasChanged(event)) {
    event.preventDefault();
    step(event.shiftKey ? "redo" : "undo");
    return;
  }
  if (event.altKey && /^[1-9]$/.test(event.key)) {
    event.preventDefault();
    document.querySelectorAll(".batten a")[Number(event.key) - 1]?.click();
    return;
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key.toLowerCase() === "h") document.getElementById("to-history").click();
  if (event.key === "?") document.getElementById("keys").showModal();
  if (event.key === "," || event.key === ".") walkSection(event.key === "." ? 1 : -1);
  if (event.key === "=") {
    event.preventDefault();
    document.querySelector("#sheet form.field input[name=text]:not([type=checkbox])")?.select();
  }
});

// Slow hints come behind the page, each into its own place.
async function fetchBehind() {
  for (const place of document.querySelectorAll("[data-behind]")) {
    const response = await fetch(place.dataset.behind, { headers: { Accept: "text/html" } });
    if (response.ok && place.isConnected) place.innerHTML = await response.text();
  }
}
document.addEventListener("stirrup:renewed", fetchBehind);

// What takes long is fetched when somebody opens its box, and again when the build has changed.
async function fetchInto(box) {
  const response = await fetch(box.dataset.fetch, { headers: { Accept: "text/html" } });
  const place = box.querySelector("[data-fetched]");
  if (!place?.isConnected) return;
  if (response.ok) {
    const next = place.cloneNode(false);
    next.innerHTML = await response.text();
    mergePart(place, next, true);
  } else place.textContent = "This could not be tried just now; open it again.";
}
document.addEventListener(
  "toggle",
  (event) => {
    if (event.target.dataset?.fetch && event.target.open) fetchInto(event.target);
  },
  true,
);
document.addEventListener("stirrup:renewed", () =>
  document.querySelectorAll("details[data-fetch][open]").forEach(fetchInto),
);
fetchBehind();

listenToFolding();
listenToNest();
listenToSearch();
listenToRoving();
listenToResults();
listenToFields();
listenToHandles();
listenToButtons();
listenToPalette();
listenToChoosing();
listenToBodies();
listenToArranging();
listenToSnap();
listenToLooks();
listenToOthers();
listenToWhere();
listenToScreen(refresh);
performance.mark("stirrup-usable");
resume().then((count) => {
  if (count || isBehind()) refresh();
});

// What is chosen on the Layout page: one thing or several, in the address, lit in all views at once.
import { refresh } from "./refresh.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;
export const chosen = () =>
  (document.getElementById("views")?.dataset.sel ?? "").split(",").filter(Boolean);

export function light(ids) {
  for (const element of document.querySelectorAll("#views [data-select]")) {
    element.classList.toggle("chosen", ids.includes(element.dataset.select));
  }
}

export async function choose(ids) {
  const views = document.getElementById("views");
  views.dataset.sel = ids.join(",");
  light(ids); // at once: the page that tells more about it comes behind
  await new Promise((painted) => requestAnimationFrame(() => setTimeout(painted)));
  const url = new URL(location.href);
  if (ids.length) url.searchParams.set("sel", ids.join(","));
  else url.searchParams.delete("sel");
  return refresh(url.href);
}

export function toggle(id) {
  const now = chosen();
  return choose(now.includes(id) ? now.filter((other) => other !== id) : [...now, id]);
}

function neighbour(way) {
  const all = [...document.querySelectorAll("[data-tick]")].map((box) => box.dataset.tick);
  const list = all.length ? all : JSON.parse(document.getElementById("views").dataset.all ?? "[]");
  if (!list.length) return;
  const here = list.indexOf(chosen()[0]);
  choose([list[here < 0 ? (way > 0 ? 0 : list.length - 1) : (here + way + list.length) % list.length]]);
}

// The room that use needs, or the members under the decks: shown until pressed again
function showOrHide(layer) {
  const url = new URL(location.href);
  if (document.getElementById("views").dataset[layer] === "1") url.searchParams.delete(layer);
  else url.searchParams.set(layer, "1");
  return refresh(url.href);
}

// Back to all things, at the one that was looked at
async function close() {
  const [was] = chosen();
  const held = document.activeElement !== document.body;
  await choose([]);
  if (held)
    document.querySelector(`[data-pick-thing="${CSS.escape(was ?? "")}"]`)?.focus({ preventScroll: true });
}

export function listenToChoosing() {
  document.addEventListener("click", (event) => {
    const shower = event.target.closest("[data-show]");
    if (shower) {
      showOrHide(shower.dataset.show);
      return;
    }
    if (event.target.closest("a.close-thing") && !event.ctrlKey && frame().page === "layout") {
      event.preventDefault();
      close();
      return;
    }
    const link = event.target.closest("[data-pick-thing], .findings a.place");
    if (!link || frame().page !== "layout" || event.metaKey || event.button !== 0) return;
    event.preventDefault();
    const id = link.dataset.pickThing ?? new URL(link.href).searchParams.get("sel");
    if (event.shiftKey || event.ctrlKey) toggle(id);
    else choose([id]);
  });
  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-tick]")) toggle(event.target.dataset.tick);
  });
  document.addEventListener("keydown", (event) => {
    // out of a field first, then out of the choice; what was typed is kept as on any other way out
    if (
      event.key === "Escape" &&
      isTyping(event) &&
      event.target.closest("#sheet") &&
      !document.querySelector("dialog[open]")
    ) {
      event.target.blur();
      return;
    }
    if (frame().page !== "layout" || isTyping(event) || document.querySelector("dialog[open]")) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "[" || event.key === "]") neighbour(event.key === "]" ? 1 : -1);
    if (event.key === "u") showOrHide("room");
    if (event.key === "f") showOrHide("frame");
    if (event.key === "Escape" && chosen().length && !document.body.classList.contains("placing")) close();
  });
}

// Bring the page up to date in place: the same page from the server, part by part.
// What somebody is typing into is never replaced under his hands: see merge.js.
import { mergePart } from "./merge.js";

const PARTS = ["topline", "drawing", "sheet", "strip", "palette-list"];

function focusKey(element) {
  if (!element || element === document.body) return null;
  if (element.id) return `#${CSS.escape(element.id)}`;
  if (element.dataset.person) return `[data-person="${CSS.escape(element.dataset.person)}"]`;
  if (element.dataset.path) return `[data-path="${CSS.escape(element.dataset.path)}"]`;
  if (element.dataset.pickThing) return `[data-pick-thing="${CSS.escape(element.dataset.pickThing)}"]`;
  const button = ["only", "look", "open", "do", "mend", "change", "remove", "act"].find(
    (name) => element.dataset[name],
  );
  if (button) return `[data-${button}="${CSS.escape(element.dataset[button])}"]`;
  const href = element.getAttribute("href");
  if (href) return `a[href="${CSS.escape(href)}"]`;
  return element.dataset.section ? "[data-section]" : null;
}

// Which revision the page shows, which may be an older one than the last that is stored.
const tellDrawn = () => {
  const number = document.getElementById("topline")?.dataset.number;
  if (number) document.body.dataset.drawn = number;
};
tellDrawn();

let asked = 0;

// Of several that are on their way only the one asked for last is shown: it knows the most.
export async function refresh(url = location.href) {
  const mine = ++asked;
  // what was typed beside one thing is not said of the next one that is chosen
  const same = url === location.href;
  if (url !== location.href) history.replaceState(null, "", url);
  const response = await fetch(url, { headers: { Accept: "text/html" } });
  if (mine !== asked) return;
  // while the database is away the page stays as it is; a later change or look brings it up to date
  if (response.status === 503) {
    setTimeout(() => {
      if (mine === asked) refresh(url);
    }, 3000);
    return;
  }
  if (!response.ok) {
    location.reload();
    return;
  }
  const text = await response.text();
  if (mine !== asked) return;
  const next = new DOMParser().parseFromString(text, "text/html");
  const focused = focusKey(document.activeElement);
  const wrong = [...document.querySelectorAll("input.wrong")].map((i) => ({
    id: i.id,
    value: i.value,
    text: document.getElementById(`${i.id}-error`)?.textContent,
  }));
  for (const id of PARTS) {
    const from = document.getElementById(id);
    const to = next.getElementById(id);
    if (from && to) mergePart(from, to, same);
  }
  document.title = next.title;
  const margins = 'link[media=print][href*="/print.css?number"]';
  const [old, fresh] = [document, next].map((d) => d.querySelector(margins)?.getAttribute("href"));
  if (old && fresh && old !== fresh) document.querySelector(margins).setAttribute("href", fresh);
  const batten = next.querySelector(".batten");
  if (batten) mergePart(document.querySelector(".batten"), batten, same);
  for (const { id, value, text } of wrong) {
    const input = document.getElementById(id);
    if (input && input !== document.activeElement) showError(input, text, value);
  }
  if (focused && focusKey(document.activeElement) !== focused) {
    // its element is gone, or has become another thing's
    let again = document.querySelector(focused);
    if (!again && document.activeElement === document.body) {
      // what held the focus is gone: it goes to the head of what has come in its place
      again = document.querySelector("#sheet h2");
      again?.setAttribute("tabindex", "-1");
    }
    again?.focus({ preventScroll: true });
  }
  tellDrawn();
  document.dispatchEvent(new Event("stirrup:renewed"));
}

export function showError(input, text, value = input.value) {
  input.value = value;
  input.classList.add("wrong");
  input.setAttribute("aria-invalid", "true");
  const place = document.getElementById(`${input.id}-error`);
  if (!place) return;
  place.textContent = text;
  place.hidden = false;
  input.setAttribute("aria-describedby", place.id);
}

export function clearError(input) {
  input.classList.remove("wrong");
  input.removeAttribute("aria-invalid");
  const place = document.getElementById(`${input.id}-error`);
  if (place) place.hidden = true;
}

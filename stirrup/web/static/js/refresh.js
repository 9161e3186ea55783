// Bring the page up to date in place: the same page from the server, part by part.
// What somebody is typing into is never replaced under his hands.
const PARTS = ["topline", "drawing", "sheet", "strip"];

function nameOf(details) {
  return details.id || details.closest("li")?.querySelector("strong")?.textContent || "";
}

function keepOpen(from, to) {
  const open = new Map([...from.querySelectorAll("details")].map((d) => [nameOf(d), d.open]));
  to.querySelectorAll("details").forEach((d) => {
    const name = nameOf(d);
    if (name && open.has(name)) d.open = open.get(name);
  });
}

function focusKey(element) {
  if (!element || element === document.body) return null;
  if (element.id) return `#${CSS.escape(element.id)}`;
  if (element.dataset.person) return `[data-person="${CSS.escape(element.dataset.person)}"]`;
  if (element.dataset.path) return `[data-path="${CSS.escape(element.dataset.path)}"]`;
  return element.dataset.section ? "[data-section]" : null;
}

const paths = (root) => [...root.querySelectorAll("form.field")].map((f) => f.dataset.path).join("\n");

// Renew everything in the sheet but the form that holds the focus.
function patchAround(from, to, focused) {
  const fresh = new Map([...to.querySelectorAll("form.field")].map((f) => [f.dataset.path, f]));
  for (const form of from.querySelectorAll("form.field")) {
    const next = fresh.get(form.dataset.path);
    if (form === focused) form.querySelector("[name=base]").value = next.querySelector("[name=base]").value;
    else form.replaceWith(document.adoptNode(next));
  }
  for (const id of ["facts", "findings"]) {
    const [old, next] = [from.querySelector(`#${id}`), to.querySelector(`#${id}`)];
    if (old && next) old.replaceWith(document.adoptNode(next));
  }
}

function replacePart(from, to) {
  const scroll = [from.scrollLeft, from.scrollTop];
  keepOpen(from, to);
  const form = document.activeElement?.closest?.("form.field");
  const typing = form && from.contains(form) && document.activeElement.matches("input[name=text]:not([type=checkbox])");
  if (typing && paths(from) === paths(to)) {
    patchAround(from, to, form);
    return;
  }
  from.replaceWith(document.adoptNode(to));
  [to.scrollLeft, to.scrollTop] = scroll;
}

export async function refresh(url = location.href) {
  const response = await fetch(url, { headers: { Accept: "text/html" } });
  if (!response.ok) { location.reload(); return; }
  const next = new DOMParser().parseFromString(await response.text(), "text/html");
  const focused = focusKey(document.activeElement);
  const wrong = [...document.querySelectorAll("input.wrong")].map((i) => ({ id: i.id, value: i.value, text: document.getElementById(`${i.id}-error`)?.textContent }));
  for (const id of PARTS) {
    const from = document.getElementById(id);
    const to = next.getElementById(id);
    if (from && to) replacePart(from, to);
  }
  const batten = next.querySelector(".batten");
  if (batten && !document.activeElement?.closest(".batten")) document.querySelector(".batten").replaceWith(document.adoptNode(batten));
  for (const { id, value, text } of wrong) {
    const input = document.getElementById(id);
    if (input && input !== document.activeElement) showError(input, text, value);
  }
  if (focused && document.activeElement === document.body) document.querySelector(focused)?.focus({ preventScroll: true });
  if (url !== location.href) history.replaceState(null, "", url);
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

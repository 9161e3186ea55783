// Bring the page up to date in place: the same page from the server, part by part.
const PARTS = ["topline", "drawing", "sheet", "strip"];

function keepOpen(from, to) {
  const open = [...from.querySelectorAll("details")].map((d) => d.open);
  to.querySelectorAll("details").forEach((d, k) => {
    if (k < open.length && !d.closest(".strip")) d.open = open[k];
  });
}

function focusKey(element) {
  if (!element || element === document.body) return null;
  if (element.id) return `#${CSS.escape(element.id)}`;
  if (element.dataset.path) return `[data-path="${CSS.escape(element.dataset.path)}"]`;
  return element.dataset.section ? "[data-section]" : null;
}

export async function refresh(url = location.href) {
  const response = await fetch(url, { headers: { Accept: "text/html" } });
  if (!response.ok) { location.reload(); return; }
  const next = new DOMParser().parseFromString(await response.text(), "text/html");
  const focused = focusKey(document.activeElement);
  // what is being typed stays as it is
  const typing = document.activeElement?.matches("input[name=text]") ? document.activeElement : null;
  const typed = typing && typing.value !== typing.dataset.was ? typing.value : null;
  const wrong = [...document.querySelectorAll("input.wrong")].map((i) => ({ id: i.id, value: i.value, text: document.getElementById(`${i.id}-error`)?.textContent }));
  for (const id of PARTS) {
    const from = document.getElementById(id);
    const to = next.getElementById(id);
    if (!from || !to) continue;
    const scroll = [from.scrollLeft, from.scrollTop];
    keepOpen(from, to);
    from.replaceWith(document.adoptNode(to));
    [to.scrollLeft, to.scrollTop] = scroll;
  }
  const batten = next.querySelector(".batten");
  if (batten) document.querySelector(".batten").replaceWith(document.adoptNode(batten));
  for (const { id, value, text } of wrong) {
    const input = document.getElementById(id);
    if (input) showError(input, text, value);
  }
  if (focused) {
    const again = document.querySelector(focused);
    again?.focus({ preventScroll: true });
    if (typed !== null && again) again.value = typed;
  }
  if (url !== location.href) history.replaceState(null, "", url);
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

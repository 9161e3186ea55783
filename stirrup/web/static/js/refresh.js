// Bring the page up to date in place: the same page from the server, part by part.
// What somebody is typing into is never replaced under his hands.
const PARTS = ["topline", "drawing", "sheet", "strip", "palette-list"];

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
  if (element.dataset.pickThing) return `[data-pick-thing="${CSS.escape(element.dataset.pickThing)}"]`;
  const button = ["only", "look", "open", "do", "mend", "change", "remove", "act"].find(
    (name) => element.dataset[name],
  );
  if (button) return `[data-${button}="${CSS.escape(element.dataset[button])}"]`;
  const href = element.getAttribute("href");
  if (href) return `a[href="${CSS.escape(href)}"]`;
  return element.dataset.section ? "[data-section]" : null;
}

// Renew everything around the form that holds the focus: at each level down to it, what stands
// before and after is replaced, and it stays where it is. False when the new page has no such form.
function renewAround(from, to, focused) {
  const path = `form.field[data-path="${CSS.escape(focused.dataset.path)}"]`;
  const twin = to.querySelector(path);
  if (!twin) return false;
  const levels = [];
  for (let [old, next] = [from, to]; old !== focused; ) {
    const a = [...old.children].find((c) => c.contains(focused));
    const b = [...next.children].find((c) => c.contains(twin));
    if (!b || a.tagName !== b.tagName || (a === focused) !== (b === twin)) return false;
    levels.push([a, b]);
    [old, next] = [a, b];
  }
  for (const [a, b] of levels) {
    const siblings = [...b.parentNode.childNodes];
    const place = siblings.indexOf(b);
    while (a.previousSibling) a.previousSibling.remove();
    while (a.nextSibling) a.nextSibling.remove();
    a.before(...siblings.slice(0, place).map((n) => document.adoptNode(n)));
    a.after(...siblings.slice(place + 1).map((n) => document.adoptNode(n)));
    if (a !== focused) a.className = b.className;
  }
  focused.querySelector("[name=base]").value = twin.querySelector("[name=base]").value;
  const [input, fresh] = [focused, twin].map((f) => f.querySelector("[name=text]"));
  // it holds the focus, but nobody has typed into it: the new value is welcome
  if (input.dataset.was !== undefined && input.value === input.dataset.was) {
    input.value = fresh.value;
    input.dataset.was = fresh.dataset.was;
  }
  return true;
}

// What tells a field of a plain form from all others of the page: its form, its names, what goes along.
function draftKey(input) {
  const along = [...(input.form?.elements ?? [])].filter(
    (e) => e.type === "hidden" && !["csrf_token", "base"].includes(e.name),
  );
  return [
    input.form?.getAttribute("action"),
    input.id,
    input.name,
    ...along.map((e) => `${e.name}=${e.value}`),
  ].join("|");
}

const drafts = (root) =>
  [
    ...root.querySelectorAll(
      "input:not([type=hidden], [type=checkbox], [type=radio], [type=file]), textarea",
    ),
  ].filter((input) => !input.closest("form.field") && !input.form?.dataset.sent);

// what was sent is no draft any more, until somebody types into it again
document.addEventListener(
  "submit",
  (event) => {
    event.target.dataset.sent = "1";
  },
  true,
);
document.addEventListener(
  "input",
  (event) => {
    if (event.target.form) delete event.target.form.dataset.sent;
  },
  true,
);

// Typed and not sent yet: it goes over into the new part, with the cursor where it was.
function keepDrafts(from, to) {
  const typed = drafts(from).filter((i) => i.value !== i.defaultValue || i === document.activeElement);
  if (!typed.length) return () => {};
  const fresh = new Map(drafts(to).map((i) => [draftKey(i), i]));
  let focus = () => {};
  for (const old of typed) {
    const twin = fresh.get(draftKey(old));
    if (!twin) continue;
    if (old.value !== old.defaultValue) twin.value = old.value;
    if (old !== document.activeElement) continue;
    const [start, end] = [old.selectionStart, old.selectionEnd];
    focus = () => {
      twin.focus({ preventScroll: true });
      if (start !== null) twin.setSelectionRange(start, end);
    };
  }
  return focus;
}

// What was refused has not gone anywhere: it is a draft again.
export function notTaken() {
  for (const form of document.querySelectorAll("form[data-sent]")) delete form.dataset.sent;
}

function replacePart(from, to, same) {
  const scroll = [from.scrollLeft, from.scrollTop];
  keepOpen(from, to);
  // a hint that is fetched behind the page stays until the new one is there
  for (const slot of to.querySelectorAll("[data-behind]")) {
    const old = from.querySelector(`[data-behind="${slot.dataset.behind}"]`);
    if (old) slot.innerHTML = old.innerHTML;
  }
  const form = document.activeElement?.closest?.("form.field");
  const typing =
    form && from.contains(form) && document.activeElement.matches("input[name=text]:not([type=checkbox])");
  if (typing && renewAround(from, to, form)) return;
  const focusAgain = same ? keepDrafts(from, to) : () => {};
  from.replaceWith(document.adoptNode(to));
  focusAgain();
  [to.scrollLeft, to.scrollTop] = scroll;
}

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
    if (from && to) replacePart(from, to, same);
  }
  document.title = next.title;
  const margins = 'link[media=print][href*="/print.css?number"]';
  const [old, fresh] = [document, next].map((d) => d.querySelector(margins)?.getAttribute("href"));
  if (old && fresh && old !== fresh) document.querySelector(margins).setAttribute("href", fresh);
  const batten = next.querySelector(".batten");
  if (batten && !document.activeElement?.closest(".batten"))
    document.querySelector(".batten").replaceWith(document.adoptNode(batten));
  for (const { id, value, text } of wrong) {
    const input = document.getElementById(id);
    if (input && input !== document.activeElement) showError(input, text, value);
  }
  if (focused && document.activeElement === document.body) {
    // what held the focus is gone: it goes to the head of what has come in its place
    const again = document.querySelector(focused) ?? document.querySelector("#sheet h2");
    if (again?.matches("h2")) again.setAttribute("tabindex", "-1");
    again?.focus({ preventScroll: true });
  }
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

// Typed entry: the text goes to the server as it stands; the server reads it.
import { address, commit, post, Refused } from "./server.js";
import { clearError, refresh, showError } from "./refresh.js";
import { askStale } from "./stale.js";

function textOf(input) {
  return input.type === "checkbox" ? (input.checked ? "on" : "") : input.value;
}

// The same field as it stands on the page now: an earlier change may have renewed its sheet while
// this one was on its way.
function shown(input) {
  return document.getElementById(input.id) ?? input;
}

async function send(input) {
  const form = input.closest("form.field");
  const body = { typed: { path: form.dataset.path, text: textOf(input) } };
  try {
    const done = await commit(body);
    const field = shown(input);
    clearError(field);
    if (done.read_as !== null) {
      field.value = done.read_as;
      field.dataset.was = done.read_as;
    }
    const url = new URL(location.href);
    // a case that got another name is still the one that is shown
    if (/^cases\/[^/]+\/name$/.test(form.dataset.path))
      url.searchParams.set("case", body.typed.text.trim());
    await refresh(url.href);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (error.problem.code === "stale") askStale(error.problem, body);
    else showError(shown(input), error.message, input.value);
  }
}

// A price belongs to the shop, not to the plan: it goes its own way, with the same manners.
async function sendPrice(input) {
  const response = await fetch(input.form.action, {
    method: "POST",
    body: new FormData(input.form),
    headers: { Accept: "application/json" },
  });
  if (response.ok) {
    const field = shown(input);
    field.dataset.was = field.defaultValue = field.value = input.value;
    clearError(field);
    await refresh();
    return;
  }
  const problem = await response.json();
  showError(shown(input), problem.detail || problem.title, input.value);
}

function listenToPrices() {
  document.addEventListener("change", (event) => {
    const input = event.target;
    if (input.matches("form.price [name=price]") && input.value !== input.dataset.was) sendPrice(input);
  });
  document.addEventListener("submit", (event) => {
    if (!event.target.matches("form.price")) return;
    event.preventDefault();
    event.target.querySelector("[name=price]").blur();
  });
}

// A block of cells from a spreadsheet goes to the server as it stands, for one table.
async function pasteBlock(event) {
  const input = event.target;
  const table = input.closest?.("#readings-table");
  const text = event.clipboardData?.getData("text/plain") ?? "";
  if (!table || !input.matches("[name=text]") || !/[\t\n]/.test(text.trim())) return;
  event.preventDefault();
  const body = {
    pasted: {
      path: input.closest("form.field").dataset.path,
      text,
      columns: table.dataset.columns.split(" "),
      by: table.dataset.by,
    },
  };
  try {
    await commit(body);
    input.blur();
    await refresh();
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (error.problem.code === "stale") askStale(error.problem, body);
    else showError(input, error.message);
  }
}

// While it is typed: how it will be read. "64" is 5' 4" where a shop works in feet and inches.
let echoing = 0;
async function echo(input) {
  const place = input.closest("form.field")?.querySelector("[data-echo]");
  if (!place) return;
  if (!input.value.trim() || input.value === input.dataset.was) {
    place.textContent = "";
    return;
  }
  const mine = ++echoing;
  try {
    const { read_as, other } = await post(address("read"), {
      path: input.closest("form.field").dataset.path,
      text: input.value,
    });
    if (mine === echoing)
      place.textContent = read_as ? `= ${[read_as, other].filter(Boolean).join(" = ")}` : "";
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    if (mine === echoing) place.textContent = "";
  }
}
let soon = 0;

export function listenToFields() {
  document.addEventListener("input", (event) => {
    if (!event.target.matches("form.field .typed [name=text]")) return;
    clearTimeout(soon);
    soon = setTimeout(() => echo(event.target), 150);
  });
  document.addEventListener("paste", pasteBlock);
  listenToPrices();
  document.addEventListener("change", (event) => {
    const input = event.target;
    if (!input.matches("form.field [name=text]")) return;
    if (input.dataset.was !== undefined && input.value === input.dataset.was) {
      clearError(input);
      return;
    }
    send(input);
  });
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches("form.field")) return;
    event.preventDefault();
    const input = form.querySelector("[name=text]");
    if (input.value !== input.dataset.was) input.blur();
    const next = [...document.querySelectorAll("form.field [name=text]")];
    next[next.indexOf(input) + 1]?.focus();
  });
}

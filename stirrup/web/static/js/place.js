// Place and remove things. First sizes come from the server.
import { address, commit, post, Refused } from "./server.js";
import { notTaken } from "./merge.js";
import { refresh } from "./refresh.js";
import { askStale } from "./stale.js";
import { isTyping } from "./keys.js";

const frame = () => document.getElementById("topline").dataset;

// problem: where to say what was wrong, if not in the top line
export async function run(body, next, problem = null) {
  try {
    await commit(body);
    await refresh(next);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    notTaken();
    if (error.problem.code === "stale") askStale(error.problem, body);
    else {
      const place = problem?.isConnected ? problem : document.getElementById("saved");
      place.textContent = error.message;
      place.hidden = false;
    }
  }
}

export async function place(kind, at = {}) {
  const views = document.getElementById("views");
  let first;
  try {
    first = await post(address("suggest"), {
      kind,
      case: frame().case,
      sel: views?.dataset.sel ?? "",
      ...at,
    });
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    const problem = document.getElementById("place-problem") ?? document.getElementById("saved");
    problem.textContent = error.message;
    problem.hidden = false;
    return;
  }
  const url = new URL(location.href);
  if (first.sel && frame().page === "layout") url.searchParams.set("sel", first.sel);
  if (first.case) url.searchParams.set("case", first.case);
  await run({ change: first.change }, url.href);
}

async function remove(path) {
  const url = new URL(location.href);
  const parts = path.split("/");
  if (parts[0] === "cases" && parts.length === 2) url.searchParams.delete("case");
  else if (parts.length < 3) url.searchParams.delete("sel");
  const first = await post(address("suggest-removal"), { path });
  if (!first.guests.length) {
    await run({ change: first.change }, url.href);
    return;
  }
  const fates = await askFates(first.guests);
  if (!fates) return;
  const { change } = await post(address("suggest-removal"), { path, fates });
  await run({ change }, url.href);
}

// What becomes of what lies in it or stands on it; null when nothing is to be taken out.
function askFates(guests) {
  const dialog = document.getElementById("guests");
  const list = document.getElementById("guest-list");
  list.replaceChildren(
    ...guests.map((guest) => {
      const row = document.createElement("p");
      const label = document.createElement("label");
      const select = document.createElement("select");
      label.textContent = `${guest.title} ${guest.words === "lies in" ? "lies in it" : "stands on it"}`;
      label.htmlFor = select.id = `fate-${guest.id}`;
      select.className = "form-select";
      select.name = guest.id;
      select.append(...guest.fates.map(([value, words]) => new Option(words, value)));
      row.append(label, select);
      return row;
    }),
  );
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((done) => {
    dialog.addEventListener(
      "close",
      () => {
        const chosen = [...list.querySelectorAll("select")].map((select) => [select.name, select.value]);
        done(dialog.returnValue === "go" ? Object.fromEntries(chosen) : null);
      },
      { once: true },
    );
  });
}

const KEYS = { d: '[data-place="copy"]', m: '[data-place="mirror"]', Delete: "[data-chosen]" };

export function listenToButtons() {
  document.addEventListener("keydown", (event) => {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
    const button = KEYS[event.key] && document.querySelector(KEYS[event.key]);
    if (!button || document.querySelector("dialog[open]")) return;
    event.preventDefault();
    button.click();
  });
  document.addEventListener("click", (event) => {
    const placer = event.target.closest("[data-place]");
    if (placer) {
      place(placer.dataset.place);
      return;
    }
    const remover = event.target.closest("[data-remove]");
    if (remover) {
      remove(remover.dataset.remove);
      return;
    }
    const changer = event.target.closest("[data-change]");
    if (changer) {
      // a tick shows at once what it means, and waits where there is no network
      if ("tick" in changer.dataset) {
        changer.setAttribute("aria-pressed", "true");
        changer.closest("li").classList.add("cut");
      }
      const url = new URL(location.href);
      if (changer.dataset.then === "clear")
        for (const name of ["trim", "list"]) url.searchParams.delete(name);
      run({ change: JSON.parse(changer.dataset.change) }, url.href);
      return;
    }
    const mender = event.target.closest("[data-mend]");
    if (mender) {
      run(JSON.parse(mender.dataset.mend), location.href);
      return;
    }
    const marked = event.target.closest("svg.view-mark");
    if (marked) {
      const box = marked.getBoundingClientRect();
      const pixels = marked.viewBox.baseVal.width / box.width;
      const { scale, ox, oy } = marked.dataset;
      place("place", {
        x: ((event.clientX - box.left) * pixels - ox) / scale,
        y: (oy - (event.clientY - box.top) * pixels) / scale,
      });
      return;
    }
  });
}

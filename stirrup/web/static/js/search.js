// How far a search for a closer layout is: asked for while the page shows one.
import { refresh } from "./refresh.js";

const EVERY = 500;

async function look() {
  for (const form of document.querySelectorAll("[data-search]")) {
    const response = await fetch(form.dataset.search, { headers: { Accept: "application/json" } }).catch(
      () => null,
    );
    if (!response?.ok) continue;
    const { share } = await response.json();
    const bar = form.querySelector("progress");
    if (share === null) await refresh();
    else if (bar) bar.value = share;
  }
}

export function listenToSearch() {
  let busy = false;
  setInterval(async () => {
    if (busy || document.hidden || !document.querySelector("[data-search]")) return;
    busy = true;
    try {
      await look();
    } finally {
      busy = false;
    }
  }, EVERY);
}

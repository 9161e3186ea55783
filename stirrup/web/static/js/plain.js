// What every page has: theme, selects that send themselves.
import { listenToPicks } from "./picks.js";

const KEY = "stirrup-theme";

function applyTheme(theme) {
  document.documentElement.dataset.theme = theme;
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-do=theme]");
  if (!button) return;
  const next = document.documentElement.dataset.theme === "night" ? "day" : "night";
  localStorage.setItem(KEY, next);
  applyTheme(next);
});

listenToPicks();

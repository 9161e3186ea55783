// What every page has: theme, selects that send themselves.
const KEY = "stirrup-theme";

function applyTheme(theme) {
  document.documentElement.dataset.theme = theme;
}

applyTheme(localStorage.getItem(KEY) ?? "day");

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-do=theme]");
  if (!button) return;
  const next = document.documentElement.dataset.theme === "night" ? "day" : "night";
  localStorage.setItem(KEY, next);
  applyTheme(next);
});

document.addEventListener("change", (event) => {
  const select = event.target;
  if (select.matches("#units-pick, #case-pick")) select.form.submit();
});

// Pressed or chosen before the page's modules listen: kept, and done again once they do.
// A plain script at the head of the page; modules run just before DOMContentLoaded.
globalThis.tellScreen = () => {
  document.cookie = `stirrup-screen=${innerWidth}x${innerHeight}; path=/; max-age=31536000; SameSite=Lax`;
};
globalThis.tellScreen();
// before anything is shown: what needs scripts may show itself, and the shed has its light
document.documentElement.classList.add("js");
{
  let light = null;
  try {
    light = localStorage.getItem("stirrup-theme");
  } catch {
    /* keeping things may be forbidden */
  }
  document.documentElement.dataset.theme =
    light ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "day");
}
(() => {
  const kept = [];
  const keepClick = (event) => {
    const button = event.target.closest?.("button[type=button]");
    if (button) kept.push(() => button.isConnected && button.click());
  };
  const keepChange = ({ target }) =>
    kept.push(() => target.isConnected && target.dispatchEvent(new Event("change", { bubbles: true })));
  document.addEventListener("click", keepClick, true);
  document.addEventListener("change", keepChange, true);
  document.addEventListener("DOMContentLoaded", () => {
    document.removeEventListener("click", keepClick, true);
    document.removeEventListener("change", keepChange, true);
    kept.forEach((again) => again());
  });
})();

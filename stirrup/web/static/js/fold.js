// On a telephone the bars make room while somebody reads on, and come back when he turns back.
const SMALL = matchMedia("(max-width: 900px)");
const FEW = 8; // px that a resting finger moves
let last = 0;

function onScroll() {
  const now = Math.max(0, scrollY);
  if (Math.abs(now - last) < FEW) return;
  const open = document.querySelector(".topline.open");
  document.body.classList.toggle("scrolled", SMALL.matches && now > last && now > 100 && !open);
  last = now;
}

function slideEnd({ target }) {
  if (target.id === "strip")
    target.classList.toggle("at-end", target.scrollLeft + target.clientWidth >= target.scrollWidth - 4);
}

function toggleMore(button) {
  const bar = button.closest(".topline");
  const open = bar.classList.toggle("open");
  button.setAttribute("aria-expanded", String(open));
}

// Esc closes the working that is open over the strip, and what it was opened with has the focus again
function onEscape(event) {
  if (event.key !== "Escape" || document.querySelector("dialog[open]")) return;
  const more = document.querySelector(".topline.open .more-tools");
  const open =
    document.querySelector("#strip details[open]") ??
    event.target.closest?.("#sheet .findings details[open], #sheet .fig[open]");
  if (!more && !open) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (open) {
    open.open = false;
    open.querySelector("summary").focus();
    return;
  }
  toggleMore(more);
  more.focus();
}

export function listenToFolding() {
  addEventListener("scroll", onScroll, { passive: true });
  document.addEventListener("scroll", slideEnd, { passive: true, capture: true });
  document.addEventListener("keydown", onEscape, true);
  // whatever is reached by key is seen: the bars come back with it
  document.addEventListener("focusin", (event) => {
    if (event.target.closest(".topline, .batten")) document.body.classList.remove("scrolled");
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-do=more]");
    if (button) toggleMore(button);
  });
}

// Choose, then apply: arrow keys walk through a list's words, Enter or leaving the list takes one.
// A build page is then brought up to date in place, so that nobody loses where he was.
import { refresh } from "./refresh.js";

const PICKS = "#units-pick, #case-pick";
const walked = new WeakMap(); // lists that are walked through by key, with what they showed before

async function take(select) {
  walked.delete(select);
  if (!document.getElementById("topline")?.dataset.build) {
    select.form.submit();
    return;
  }
  if (select.id === "case-pick") {
    const url = new URL(location.href);
    url.searchParams.set("case", select.value);
    await refresh(url.href);
    return;
  }
  const response = await fetch(select.form.action, {
    method: "POST",
    body: new FormData(select.form),
    redirect: "manual",
  });
  if (response.ok || response.type === "opaqueredirect") await refresh();
  else select.form.submit();
}

export function listenToPicks() {
  document.addEventListener("keydown", (event) => {
    const select = event.target.closest?.(PICKS);
    if (!select) return;
    if (event.key === "Enter" && walked.has(select)) {
      event.preventDefault();
      take(select);
      return;
    }
    if (event.key === "Escape" && walked.has(select)) {
      select.value = walked.get(select);
      walked.delete(select);
      return;
    }
    if (
      !["Tab", "Shift", "Control", "Alt", "Meta", "Enter", "Escape"].includes(event.key) &&
      !walked.has(select)
    )
      walked.set(select, select.value);
  });
  document.addEventListener("pointerdown", (event) => {
    const select = event.target.closest?.(PICKS);
    if (select) walked.delete(select);
  });
  document.addEventListener("change", (event) => {
    const select = event.target;
    if (select.matches?.(PICKS) && !walked.has(select)) take(select);
  });
  document.addEventListener("focusout", (event) => {
    const select = event.target;
    if (!walked.has(select)) return;
    if (walked.get(select) !== select.value) take(select);
    else walked.delete(select);
  });
}

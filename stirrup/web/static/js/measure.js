// Quick start: the hull is drawn anew while the readings are typed. The server computes it.
import "./plain.js";
import { listenToScreen } from "./screen.js";

const form = document.getElementById("quick");
let later = 0;
let running = false;
let again = false;

function showProblems(problems) {
  for (const place of form.querySelectorAll(".field-error")) {
    const name = place.id.slice(2, -6);
    const text = problems[name] ?? "";
    place.textContent = text;
    place.hidden = !text;
    const input = document.getElementById(`q-${name}`);
    input?.classList.toggle("wrong", Boolean(text));
    if (text) input?.setAttribute("aria-invalid", "true");
    else input?.removeAttribute("aria-invalid");
  }
}

async function redraw() {
  if (running) {
    again = true;
    return;
  }
  running = true;
  try {
    const response = await fetch("/api/measure", {
      method: "POST",
      body: new FormData(form),
      headers: { Accept: "application/json" },
    });
    const data = await response.json();
    if (response.ok) {
      showProblems(data.problems);
      // what this shape family makes nothing of is not asked for; what was typed there stays
      if (data.unread)
        for (const field of form.querySelectorAll("[data-reading]"))
          field.hidden = data.unread.includes(field.dataset.reading);
      for (const [slot, svg] of Object.entries(data.views ?? {}))
        document.querySelector(`[data-slot="${slot}"]`).innerHTML = svg;
      showTape();
      document.dispatchEvent(new Event("stirrup:redrawn"));
      if (data.facts) document.getElementById("facts").innerHTML = data.facts;
    }
  } finally {
    running = false;
    if (again) {
      again = false;
      redraw();
    }
  }
}

// Where the tape goes for the field that is typed into.
function showTape() {
  const name = document.activeElement?.closest?.("#quick") ? document.activeElement.name : "";
  for (const tape of document.querySelectorAll("[data-tape]"))
    tape.classList.toggle("on", tape.dataset.tape === name);
}
form.addEventListener("focusin", showTape);
form.addEventListener("focusout", () => setTimeout(showTape));

listenToScreen(redraw);
form.addEventListener("input", () => {
  clearTimeout(later);
  later = setTimeout(redraw, 120);
});

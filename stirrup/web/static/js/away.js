// The database does not answer: look now and then, and go on by itself once it does.
import "./plain.js";

const EVERY = 2000;
const main = document.getElementById("main");
const form = document.getElementById("away-form");
let sent = false;
form?.addEventListener("submit", () => {
  sent = true;
});

async function ready() {
  try {
    return (await fetch("/api/ready", { headers: { Accept: "application/json" } })).ok;
  } catch {
    return false;
  }
}

async function look() {
  if (sent) return;
  if (!(await ready())) {
    setTimeout(look, EVERY);
    return;
  }
  if (main.dataset.target) {
    location.replace(main.dataset.target);
    return;
  }
  // a file has to be chosen again by hand; everything else goes as it was typed
  if (form?.querySelector("[type=file]"))
    document.getElementById("away-state").textContent = "It answers again.";
  else form?.requestSubmit();
}
setTimeout(look, EVERY);

// What a change did, in one polite sentence, once: the words of the change and the figures that moved.
// as it is read: what is only drawn (a fraction's bar) has words beside it
function read(element) {
  const copy = element?.cloneNode(true);
  copy?.querySelectorAll("[aria-hidden=true]").forEach((drawn) => drawn.remove());
  return copy?.textContent.replace(/\s+/g, " ").trim() ?? "";
}
const figures = () =>
  new Map(
    [...document.querySelectorAll("#strip .figure")].map((f) => [
      read(f.querySelector(".what")),
      read(f.querySelector("b")),
    ]),
  );
let before = figures();
let words = "";

export function speak(text) {
  const place = document.getElementById("said");
  // a lost connection is tried again and again, and told once
  if (place && text && place.textContent !== text) place.textContent = text;
}

function tell() {
  const now = figures();
  const moved = [...now]
    .filter(([what, value]) => before.get(what) !== value)
    .map(([what, value]) => `${what.toLowerCase()} ${value}`);
  before = now;
  if (!words) return;
  const text = `${words}. ${moved.length ? moved.join(", ") : "The figures stay as they were"}.`;
  words = "";
  // the part that holds it has just been replaced: it must be there before it is filled
  setTimeout(() => speak(text), 60);
}

export function listenToResults() {
  before = figures();
  document.addEventListener("stirrup:stored", (event) => {
    words = event.detail;
  });
  document.addEventListener("stirrup:renewed", tell);
  document.addEventListener("stirrup:trouble", (event) => speak(event.detail));
}

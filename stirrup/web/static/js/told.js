// A form whose work takes a while: how far it is stands beside its button, then the page goes on.
import "./plain.js";

const KIND = "application/x-ndjson";

function show(place, text, share = null) {
  place.hidden = false;
  place.querySelector("span").textContent = text;
  const bar = place.querySelector("progress");
  bar.hidden = share === null;
  if (share !== null) bar.value = share;
}

function hear(place, line) {
  const said = JSON.parse(line);
  if (said.to) location.href = said.to;
  else if (said.problem) show(place, said.problem);
  else show(place, `${said.done} of ${said.of} kept`, said.done / said.of);
  return Boolean(said.to || said.problem);
}

async function send(form, button) {
  const place = form.querySelector("[data-far]");
  const body = new URLSearchParams(new FormData(form));
  body.append(button.name, button.value);
  button.disabled = true;
  show(place, "reading …", 0);
  let ended = false;
  try {
    const response = await fetch(form.action, { method: "POST", body, headers: { Accept: KIND } });
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = "";
    for (let { value, done } = await reader.read(); !done; { value, done } = await reader.read()) {
      const lines = (rest + value).split("\n");
      rest = lines.pop();
      for (const line of lines) ended = hear(place, line) || ended;
    }
  } catch {
    // told below
  }
  if (!ended) show(place, "no answer: send it again, nothing is taken twice");
  button.disabled = false;
}

document.addEventListener("submit", (event) => {
  const { target: form, submitter } = event;
  if (!form.matches("[data-told]") || submitter?.value !== "take") return;
  event.preventDefault();
  send(form, submitter);
});

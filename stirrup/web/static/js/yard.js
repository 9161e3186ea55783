// The yard: boats whose figures were not at hand are worked out one after another, each shown as it comes.
import "./plain.js";

async function workOut() {
  for (const place of document.querySelectorAll("[data-card]")) {
    const response = await fetch(place.dataset.card, { headers: { Accept: "text/html" } });
    if (response.ok) place.innerHTML = await response.text();
    else
      place.querySelector("[data-waits]").textContent = "Could not be worked out just now; open the boat.";
    delete place.dataset.card;
  }
}
workOut();

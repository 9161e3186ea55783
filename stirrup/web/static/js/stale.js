// Somebody changed the same thing: both versions are shown, the user decides.
import { commit, Refused } from "./server.js";
import { refresh } from "./refresh.js";

export function askStale(problem, body) {
  const dialog = document.getElementById("stale");
  document.getElementById("stale-theirs").textContent = problem.theirs;
  document.getElementById("stale-yours").textContent = problem.yours;
  const close = () => {
    dialog.close();
  };
  document.getElementById("stale-mine").onclick = async () => {
    close();
    try {
      await commit({ ...body, base: problem.number });
    } catch (error) {
      if (error instanceof Refused && error.problem.code === "stale") {
        askStale(error.problem, body);
        return;
      }
      throw error;
    }
    await refresh();
  };
  document.getElementById("stale-keep").onclick = async () => {
    close();
    await refresh();
  };
  dialog.showModal();
}

// Talk to the server. Changes wait in a queue in their order; a lost connection keeps them.
const token = () => document.querySelector("meta[name=csrf]").content;
const frame = () => document.getElementById("topline").dataset;

export class Refused extends Error {
  constructor(status, problem) {
    super(problem.detail || problem.title);
    this.status = status;
    this.problem = problem;
  }
}

export const AWAY = 503; // the database does not answer, or too much is asked at once: it will pass
const MOST_KEPT = 60000; // browsers let at most 64 kB outlive the page

export async function post(path, body, signal) {
  const text = JSON.stringify(body ?? {});
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json", Accept: "application/json", "X-CSRF-Token": token() },
    body: text,
    signal,
    // a change on its way goes on when the page is left or loaded again
    keepalive: !signal && text.length < MOST_KEPT,
  });
  const data = await response.json();
  if (!response.ok) throw new Refused(response.status, data);
  return data;
}

export const address = (tail) => `/api/builds/${frame().build}/${tail}`;

export function shown() {
  const views = document.getElementById("views");
  return {
    page: frame().page,
    case: frame().case,
    sel: views?.dataset.sel ?? "",
    at: views?.dataset.at ? Number(views.dataset.at) : null,
    room: views?.dataset.room === "1",
    frame: views?.dataset.frame === "1",
    line: views?.dataset.line ?? "",
    side: views?.dataset.side ?? "lines",
  };
}

const QUEUE_KEY = "stirrup-waiting";
const waiting = [];
let running = false;

function remember() {
  const plain = waiting.map(({ build, body }) => ({ build, body }));
  if (plain.length) localStorage.setItem(QUEUE_KEY, JSON.stringify(plain));
  else localStorage.removeItem(QUEUE_KEY);
}

function say(text, late = false) {
  const place = document.getElementById("saved");
  place.textContent = text;
  place.classList.toggle("waiting", late);
  if (late) document.dispatchEvent(new CustomEvent("stirrup:trouble", { detail: text }));
}

// A change that made a load case of its own is looked at in it.
function showCase(name) {
  const url = new URL(location.href);
  url.searchParams.set("case", name);
  history.replaceState(null, "", url.href);
  frame().case = name;
}

async function work() {
  if (running) return;
  running = true;
  while (waiting.length) {
    const job = waiting[0];
    try {
      say("saving …");
      const done = await post(`/api/builds/${job.build}/changes`, job.body);
      waiting.shift();
      remember();
      sessionStorage.setItem(`stirrup-number-${job.build}`, done.number);
      if (job.build === frame().build) {
        frame().number = done.number;
        if (done.case) showCase(done.case);
        for (const next of waiting) if (next.build === job.build) next.body.base = done.number;
      }
      say(`revision ${done.number} · saved`);
      document.dispatchEvent(new CustomEvent("stirrup:stored", { detail: done.words }));
      job.resolve?.(done);
    } catch (error) {
      if (error instanceof Refused && error.status !== AWAY) {
        waiting.shift();
        remember();
        say(`revision ${frame().number} · not taken`, true);
        if (job.reject) job.reject(error);
        else {
          say(`a waiting change was not taken: ${error.message}`, true);
          job.resolve?.(null);
        }
      } else {
        const why = error instanceof Refused ? error.problem.title.toLowerCase() : "no connection";
        say(`${why} · ${waiting.length} ${waiting.length === 1 ? "change waits" : "changes wait"}`, true);
        await new Promise((wake) => setTimeout(wake, 1500));
      }
    }
  }
  running = false;
}

// Resolves when the change is stored; rejects with Refused when it cannot be.
export function commit(body) {
  return new Promise((resolve, reject) => {
    const full = {
      base: Number(frame().number),
      token: crypto.randomUUID?.() ?? String(Math.random()).slice(2) + Date.now(),
      ...body,
    };
    waiting.push({ build: frame().build, body: full, resolve, reject });
    remember();
    work();
  });
}

let steps = 0;

export const isSending = () => waiting.length > 0 || steps > 0;

// Take the latest change back, or make it again. Its news comes by the stream of changes too, perhaps
// before the answer: while it is on its way that is this window's own.
export async function stepBy(way) {
  steps += 1;
  try {
    const done = await post(address(way));
    frame().number = done.number;
    return done;
  } finally {
    steps -= 1;
  }
}

// Whether this page was made before the last change that this window knows to be stored.
export const isBehind = () =>
  Number(sessionStorage.getItem(`stirrup-number-${frame().build}`) ?? 0) > Number(frame().number);

// Changes that waited when the page was closed go first, each once (the token sees to that).
// Resolves to how many there were, once all of them are stored or refused.
export async function resume() {
  const left = JSON.parse(localStorage.getItem(QUEUE_KEY) ?? "[]");
  const done = left.map((job) => new Promise((resolve) => waiting.push({ ...job, resolve })));
  if (left.length) work();
  await Promise.all(done);
  return left.length;
}

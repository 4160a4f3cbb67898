// Work that takes its time: shown in the strip after a moment, with how far it
// is and a way to end it. Each job has an id under which the server reports.

import { post } from "../lib/api.js";
import { $ } from "../lib/page.js";
import { atWork } from "../lib/title.js";

const showAfter = 400; // ms; shorter work would only flicker
const running = new Map(); // id -> {text, share, cancel}
let timer = null;

const newId = () =>
  [...crypto.getRandomValues(new Uint8Array(8))].map((b) => b.toString(16).padStart(2, "0")).join("");

// run does act(job) under a text. job.signal ends it, job.say changes the text.
// A job that may be ended has a button; onCancel tells that it was pressed.
export async function run(text, act, { cancel = true, onCancel = null } = {}) {
  const id = newId();
  const abort = new AbortController();
  const end = () => {
    abort.abort();
    post(`/jobs/${id}/cancel`).catch(() => {});
    onCancel?.();
  };
  const entry = { text, share: 0, since: performance.now(), cancel: cancel ? end : null };
  running.set(id, entry);
  show();
  try {
    return await act({
      id,
      signal: abort.signal,
      abort: () => abort.abort(),
      say: (t) => report(id, t, 0),
      report: (share) => report(id, entry.text, share),
    });
  } finally {
    running.delete(id);
    show();
  }
}

// quiet waits until no job runs: what nobody waits for does not hold up what somebody looks at.
export function quiet() {
  return new Promise((done) => {
    const look = () => (running.size ? setTimeout(look, 80) : done());
    setTimeout(look, 30);
  });
}

// report says how far a job is.
export function report(id, what, share) {
  const job = running.get(id);
  if (!job) return;
  if (what !== job.text || share < job.share) job.since = performance.now();
  job.text = what;
  job.share = share;
  show();
}

// left words how long a job still takes once that can be told, if it is worth a word.
function left(job) {
  const spent = (performance.now() - job.since) / 1000;
  if (job.share < 0.02 || spent < 3) return "";
  const seconds = (spent * (1 - job.share)) / job.share;
  return seconds < 15 ? "" : ` · about ${about(seconds)} left`;
}

// about words how long something takes.
export function about(seconds) {
  if (seconds < 90) return `${Math.ceil(seconds / 10) * 10} s`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`;
  return `${Math.round(seconds / 3600)} h`;
}

// show draws the job that began last.
function show() {
  const job = [...running.values()].at(-1);
  if (!job) {
    clearTimeout(timer);
    timer = null;
    $("busy").hidden = true;
    atWork("");
    return;
  }
  $("busytext").textContent = job.text + left(job);
  $("cancel").hidden = !job.cancel;
  $("cancel").onclick = job.cancel;
  const bar = $("busy").querySelector("progress");
  if (job.share > 0) bar.value = 100 * job.share;
  else bar.removeAttribute("value");
  if (!$("busy").hidden) atWork(job.text, job.share);
  timer ??= setTimeout(() => {
    $("busy").hidden = running.size === 0;
    show();
  }, showAfter);
}

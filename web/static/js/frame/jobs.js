// Work that takes its time: shown in the strip after a moment, with how far it
// is and a way to end it. Each job has an id under which the server reports.

import { post } from "../lib/api.js";
import { $ } from "../lib/page.js";

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
  const entry = { text, share: 0, cancel: cancel ? end : null };
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

// report says how far a job is.
export function report(id, what, share) {
  const job = running.get(id);
  if (!job) return;
  job.text = what;
  job.share = share;
  show();
}

// show draws the job that began last.
function show() {
  const job = [...running.values()].at(-1);
  if (!job) {
    clearTimeout(timer);
    timer = null;
    $("busy").hidden = true;
    return;
  }
  $("busytext").textContent = job.text;
  $("cancel").hidden = !job.cancel;
  $("cancel").onclick = job.cancel;
  const bar = $("busy").querySelector("progress");
  if (job.share > 0) bar.value = 100 * job.share;
  else bar.removeAttribute("value");
  timer ??= setTimeout(() => {
    $("busy").hidden = running.size === 0;
  }, showAfter);
}

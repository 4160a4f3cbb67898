// What the server tells a window on its own: that the piece has a new revision,
// made here or in another window, and how far jobs are. A hidden window lets
// go, for browsers keep few connections to one server.

import { report } from "./jobs.js";

// listen calls changed(rev) for every revision, also for the one in force when
// the window comes back.
export function listen(base, changed) {
  let source = null;
  const open = () => {
    if (source || document.hidden) return;
    source = new EventSource(`${base}/data/events`);
    source.addEventListener("revision", (e) => changed(JSON.parse(e.data)));
    source.addEventListener("orders", () => dispatchEvent(new Event("orders")));
    source.addEventListener("progress", (e) => {
      const { job, what, share } = JSON.parse(e.data);
      report(job, what, share);
    });
  };
  const close = () => {
    source?.close();
    source = null;
  };
  document.addEventListener("visibilitychange", () => (document.hidden ? close() : open()));
  addEventListener("pagehide", close);
  addEventListener("pageshow", open);
  open();
}

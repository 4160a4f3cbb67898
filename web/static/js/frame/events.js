// What the server tells a window on its own: that the piece has a new revision,
// made here or in another window, and how far jobs are. A hidden window lets
// go, for browsers keep few connections to one server. A stream that breaks off is
// opened again, and the page says so as long as there is no contact.

import { get } from "../lib/api.js";
import { report } from "./jobs.js";

const firstWait = 1000; // ms before it is tried again; then twice as long each time
const longestWait = 15_000;

// listen calls changed(rev) for every revision, also for the one in force when
// the window comes back, and contact(there) when the contact is lost or found.
export function listen(base, changed, contact) {
  let source = null;
  let wait = firstWait;
  let timer = null;
  const open = () => {
    clearTimeout(timer);
    if (source || document.hidden) return;
    source = new EventSource(`${base}/data/events`);
    source.addEventListener("open", () => {
      wait = firstWait;
      contact(true);
    });
    source.addEventListener("revision", (e) => changed(JSON.parse(e.data)));
    source.addEventListener("orders", () => dispatchEvent(new Event("orders")));
    source.addEventListener("progress", (e) => {
      const { job, what, share } = JSON.parse(e.data);
      report(job, what, share);
    });
    source.addEventListener("error", lost);
  };
  // lost is what browsers tell of a line that broke, which they try again by themselves or not.
  const lost = () => {
    contact(false);
    close();
    timer = setTimeout(again, wait);
    wait = Math.min(longestWait, wait * 2);
  };
  // again asks for something first: it is this that tells of a session that is over.
  const again = async () => {
    try {
      await get("/token");
      open();
    } catch {
      if (!document.hidden) timer = setTimeout(again, wait);
      wait = Math.min(longestWait, wait * 2);
    }
  };
  const close = () => {
    clearTimeout(timer);
    source?.close();
    source = null;
  };
  document.addEventListener("visibilitychange", () => (document.hidden ? close() : open()));
  addEventListener("pagehide", close);
  addEventListener("pageshow", open);
  open();
}

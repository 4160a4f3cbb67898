// What goes on and what is ready: series, pictures and prints, wherever they were begun.

import { get, post } from "../lib/api.js";
import { $, complain, el } from "../lib/page.js";
import { count } from "../lib/length.js";

const every = 1500; // ms between two questions while something is at work
const prints = { done: "printed", failed: "failed", cancelled: "cancelled", lost: "waits for the printer", sending: "is sent" };

// watchWork lists it as long as the page is open; act.series(id) shows a series.
export function watchWork(act) {
  const box = $("work");
  let timer = null;
  let told = "";
  const show = ({ work }) => {
    const text = JSON.stringify(work);
    if (text !== told) {
      // A button that has the focus keeps it.
      const held = box.contains(document.activeElement) ? document.activeElement.dataset.at : null;
      box.hidden = !work.length;
      $("worklist").replaceChildren(...work.map((w) => row(w, act, show)));
      if (held) box.querySelector(`[data-at="${CSS.escape(held)}"]`)?.focus();
    }
    told = text;
    document.body.dataset.work = String(work.length);
    clearTimeout(timer);
    if (work.some((w) => w.going)) timer = setTimeout(ask, every);
  };
  const ask = async () => {
    try {
      show(await get("/work"));
    } catch {
      timer = setTimeout(ask, every * 4);
    }
  };
  addEventListener("work", ask);
  addEventListener("pageshow", ask);
  ask();
}

// words tells how far something is.
function words(w) {
  if (w.kind === "print") return prints[w.state] ?? w.state;
  const parts = [];
  if (w.going) parts.push(`${count(w.going)} to go`);
  if (w.ready) parts.push(`${count(w.ready)} ready`);
  if (w.bad) parts.push(`${count(w.bad)} stopped or failed`);
  return parts.join(", ");
}

const titles = { series: "Many at once", pictures: "Pictures", print: "Print" };

function row(w, act, show) {
  const key = `${w.kind} ${w.id || w.piece}`;
  const step = w.kind === "print" ? "release" : "show";
  const name = w.name || "the usual measures";
  const open =
    w.kind === "series"
      ? el("button", { class: "plainbutton", type: "button", "data-at": `open ${key}`, onclick: () => act.series(w.id).catch(complain) }, "Show")
      : el("a", { class: "plainbutton", href: `/pieces/${w.piece}/${step}`, "data-at": `open ${key}` }, "Show");
  const remove = async () => {
    try {
      show(await post(`/series/${w.id}/remove`));
    } catch (e) {
      complain(e);
    }
  };
  const say = w.going ? "Stop and delete" : "Delete";
  const gone = el("button", { class: "plainbutton danger", type: "button", "data-at": `remove ${key}`, onclick: remove }, say);
  const bar = el("progress", { class: "progress is-small is-primary", max: 1, value: w.share, "aria-label": "How far it is" });
  bar.hidden = !w.going;
  return el(
    "li",
    { "data-work": w.kind },
    el("b", {}, `${titles[w.kind]}: ${name}`),
    el("span", { class: "soft" }, words(w)),
    bar,
    el(
      "span",
      { class: "acts" },
      open,
      w.kind === "series" ? gone : null,
    ),
    w.note ? el("p", { class: "reason" }, w.note) : null,
  );
}

// What was typed and is not kept yet. Whoever leaves it is asked.

import { above } from "./above.js";
import { el } from "./el.js";

const drafts = new Set(); // of {field, what, base}

// draft watches a field whose text is kept by some act of its own; what names it, as "the name of
// this version". It returns settled(), to be called when the text has been kept or taken back. A
// field with keeps is kept as soon as one leaves it; one with a signal counts until that, even while
// it is not shown.
export function draft(field, what, { keeps = false, signal = null } = {}) {
  const d = { field, what, base: field.value, hidden: !!signal };
  signal?.addEventListener("abort", () => drafts.delete(d));
  drafts.add(d);
  const settled = () => (d.base = field.value);
  if (keeps) {
    field.addEventListener("focus", settled);
    field.addEventListener("change", settled);
  }
  return settled;
}

// unsaved lists what is typed and not kept within an element, or on the whole page; of figures that
// is the one at work.
export function unsaved(within = document.body) {
  const out = [];
  for (const d of drafts) {
    if (!d.field.isConnected && !d.hidden) drafts.delete(d);
    else if ((within.contains(d.field) || !d.field.isConnected) && d.field.value !== d.base && d.field.value.trim()) out.push(d);
  }
  const at = document.activeElement;
  if (at?.dataset?.dirty && within.contains(at)) out.push({ field: at, what: at.getAttribute("aria-label") ?? "a figure" });
  return out;
}

// leaving resolves to whether what is typed within some elements may be left: at once when there is
// nothing.
export function leaving(...places) {
  const list = [...new Set(places.flatMap((p) => unsaved(p)))].filter((d) => !d.field.dataset.dirty);
  if (!list.length) return Promise.resolve(true);
  return new Promise((resolve) => {
    let answer = false;
    const choose = (v) => () => {
      answer = v;
      dialog.close();
    };
    const text = list.map((d) => `${d.what}, “${short(d.field.value)}”`).join("; ");
    const stay = el("button", { class: "button is-primary", type: "button", "data-act": "stay", onclick: choose(false) }, "Stay");
    const leave = el("button", { class: "button", type: "button", "data-act": "leave", onclick: choose(true) }, "Leave without it");
    const dialog = el(
      "dialog",
      { class: "ask unsaved", "aria-labelledby": "unsavedtitle" },
      el("h2", { id: "unsavedtitle" }, "Typed, but not saved yet"),
      el("p", {}, `${text[0].toUpperCase()}${text.slice(1)}.`),
      el("div", { class: "buttons" }, stay, leave),
    );
    dialog.addEventListener("close", () => {
      if (!answer) list[0].field.focus();
      resolve(answer);
    });
    above(dialog);
    stay.focus();
  });
}

const short = (text) => (text.length > 60 ? `${text.slice(0, 59)}…` : text);

// A page that is left or loaded anew asks by the browser's own dialog.
addEventListener("beforeunload", (e) => {
  if (unsaved().length) e.preventDefault();
});

// What there is to know where one is: the keys, and the few words that are our own.

import { words } from "../made/terms.js";
import { above } from "./above.js";
import { activeScopes } from "./acts.js";
import { keysOf } from "./combo.js";
import { el } from "./el.js";

const keysOfAct = (act) => act.keys.flatMap((c, i) => [i ? " " : null, ...keysOf(c).map((k) => el("kbd", {}, k))]);

const listOfKeys = ({ title, acts }) =>
  el(
    "section",
    {},
    el("h3", {}, title),
    el("dl", {}, ...acts.flatMap((a) => [el("dt", {}, ...keysOfAct(a)), el("dd", {}, a.label)])),
  );

const listOfWords = () =>
  el(
    "section",
    {},
    el("p", { class: "hint" }, "These few are ours. All others are those of the trade."),
    el("dl", {}, ...words.flatMap((w) => [el("dt", {}, w.name), el("dd", {}, w.means)])),
  );

// helpDialog shows the keys first.
export function helpDialog() {
  if (document.querySelector("dialog.helpdialog")) return;
  const keys = el("div", { class: "helppart keyparts" }, ...activeScopes().map(listOfKeys));
  const own = el("div", { class: "helppart wordpart", hidden: true }, listOfWords());
  const pages = [
    [keys, "Keys"],
    [own, "Words"],
  ];
  const choose = (page) => {
    for (const [p] of pages) p.hidden = p !== page;
    for (const b of picks) b.setAttribute("aria-pressed", String(b.textContent === pages.find(([p]) => p === page)[1]));
  };
  const picks = pages.map(([page, name]) =>
    el("button", { type: "button", "aria-pressed": String(page === keys), onclick: () => choose(page) }, name),
  );
  const d = el(
    "dialog",
    { class: "helpdialog wide", "aria-labelledby": "helptitle" },
    el("div", { class: "helphead" }, el("h2", { id: "helptitle" }, "Help"), el("div", { class: "choices" }, ...picks)),
    keys,
    own,
    el("button", { class: "button is-small", type: "button", onclick: () => d.close() }, "Close"),
  );
  above(d);
}

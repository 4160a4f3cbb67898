// Versions: states of a piece that are kept under a name, compared, and gone back to.

import { get, post } from "../lib/api.js";
import { twins } from "./twins.js";
import { ask, bringBack, complain, el, say } from "../lib/page.js";
import { draft, leaving } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";

// versions opens the dialog; take shows a state of the piece that the server has sent.
export async function versions(piece, take) {
  const list = el("ul", { class: "versionlist" });
  const name = el("input", { class: "input", maxlength: longestName, placeholder: "Name of this state", "aria-label": "Name of this state" });
  const keep = el("button", { class: "button is-primary", type: "submit" }, "Save");
  const form = el("form", { class: "versionform" }, name, keep);
  const foot = el(
    "p",
    { class: "versionfoot" },
    el("a", { class: "button is-small", href: `${piece.base}/piece.zip`, download: "" }, "The piece as one file"),
    el("span", { class: "hint" }, "with artwork, fonts and versions; drop it on the page of all pieces to bring it back"),
    el("button", { class: "button is-small", type: "button", onclick: () => leave() }, "Close"),
  );
  const dialog = ask("Versions", "versions", form, list, foot);
  draft(name, "the name of this state");
  const leave = async () => (await leaving(dialog)) && dialog.close();
  dialog.addEventListener("cancel", (e) => {
    if (e.target !== dialog) return;
    e.preventDefault();
    leave();
  });
  const working = async (act) => {
    try {
      return await act();
    } catch (e) {
      complain(e);
      return null;
    }
  };
  const show = (answer) => {
    if (!answer) return;
    const rows = answer.versions.map((v) => row(piece, v, working, show, (state) => {
      take(state);
      dialog.close();
      say(`Back to ${v.name}`, { stay: 2500 });
    }));
    list.replaceChildren(
      ...(rows.length ? rows : [el("li", { class: "hint" }, "None yet. A version stays, whatever is done and undone later.")]),
    );
    dialog.dataset.versions = answer.versions.length;
  };
  form.addEventListener("submit", async (e) => {
    e.preventDefault();
    const answer = await working(() => post(`${piece.base}/versions`, { name: name.value }));
    if (answer) name.value = "";
    show(answer);
  });
  show(await working(() => get(`${piece.base}/data/versions`)));
  name.focus();
}

function row(piece, v, working, show, back) {
  const base = `${piece.base}/versions/${v.id}`;
  const apart = el("div", { class: "apart", hidden: true });
  const button = (text, label, act) =>
    el("button", { class: "plainbutton", type: "button", "aria-label": `${label} ${v.name}`, onclick: act }, text);
  const compare = async () => {
    if (!apart.hidden) {
      apart.hidden = true;
      return;
    }
    const found = await working(() => get(`${base}/compare`));
    if (!found) return;
    apart.replaceChildren(...differences(piece, v.id, base, found));
    apart.hidden = false;
  };
  return el(
    "li",
    {},
    el("img", { src: `${base}/thumb.svg`, alt: "", width: 56, height: 56, loading: "lazy" }),
    el("span", { class: "about" }, el("b", {}, v.name), el("small", {}, v.made)),
    el(
      "span",
      { class: "acts" },
      button("Compare", "Compare with", compare),
      button("Go back to it", "Go back to", async () => {
        const state = await working(() => post(`${base}/back`));
        if (state) back(state);
      }),
      button("Delete", "Delete", async () => {
        const answer = await working(() => post(`${base}/drop`));
        if (!answer) return;
        show(answer);
        const back = () => bringBack("version", v.id, async () => show(await get(`${piece.base}/data/versions`)));
        say(`${v.name} is deleted. It waits on the page of all pieces for 30 days.`, { action: "Undo", stay: 12_000, act: back });
      }),
    ),
    apart,
  );
}

// differences shows a version and the piece as it is over each other and side by side, and what
// differs.
function differences(piece, id, base, found) {
  if (!found.all) return [el("p", { class: "hint" }, "It is as the piece is now.")];
  const rows = found.differences.map((d) =>
    el("tr", {}, el("td", {}, d.path), el("td", { class: "then" }, d.then || "–"), el("td", { class: "now" }, d.now || "–")),
  );
  const picture = (src, kind, what) => el("img", { class: kind, src, alt: what });
  const more = found.all - found.differences.length;
  return [
    el(
      "div",
      { class: "overeach" },
      picture(`${base}/thumb.svg`, "then", "As it was then"),
      picture(`${piece.base}/thumb.svg?rev=${piece.state.rev}`, "now", "As it is now"),
    ),
    twins(piece, id),
    el(
      "table",
      { class: "figures" },
      el("thead", {}, el("tr", {}, el("th", {}, "Decision"), el("th", {}, "Then"), el("th", {}, "Now"))),
      el("tbody", {}, ...rows),
    ),
    ...(more > 0 ? [el("p", { class: "hint" }, `and ${more} more`)] : []),
  ];
}

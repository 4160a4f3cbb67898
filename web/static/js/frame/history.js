// The history: all steps of a piece with a picture of each, the newest first. One can go to any of them; what comes
// after it waits to be done again until something else is changed.

import { get, post } from "../lib/api.js";
import { ask, el } from "../lib/page.js";

export async function history(piece) {
  new History(piece).open();
}

class History {
  constructor(piece) {
    this.piece = piece;
    this.list = el("ol", { class: "historylist", "aria-label": "Steps, the newest first" });
    this.list.addEventListener("keydown", (e) => this.walk(e));
  }

  async open() {
    const close = el("button", { class: "button is-small", type: "button", onclick: () => this.dialog.close() }, "Close");
    const says = el("p", { class: "soft" }, "Go to any step; later ones stay until something else is changed.");
    this.dialog = ask("History", "history", says, this.list, close);
    await this.show();
    this.focus(this.list.querySelector("[aria-current=step]"));
  }

  async show() {
    const { steps } = await get(`${this.piece.base}/data/history`);
    const now = steps.findIndex((s) => s.now);
    this.list.replaceChildren(...steps.map((s, i) => this.row(s, i < now)));
    this.dialog.dataset.steps = String(steps.length);
  }

  row(s, undone) {
    const about = el("span", { class: "about" }, el("b", {}, s.label), el("small", {}, `${s.made}${s.now ? ", now" : undone ? ", undone" : ""}`));
    const picture = el("img", { src: `${this.piece.base}/history/${s.rev}/thumb.svg`, alt: "", width: 52, height: 52, loading: "lazy" });
    const attrs = { type: "button", "data-step-rev": s.rev, "aria-current": s.now ? "step" : null, class: undone ? "undone" : null };
    return el("li", {}, el("button", { ...attrs, onclick: () => this.go(s) }, picture, about));
  }

  async go(s) {
    if (s.now) return;
    await this.piece.changeBy(() => post(`${this.piece.base}/history/${s.rev}?base=${this.piece.state.rev}`));
    await this.show();
    this.focus(this.list.querySelector(`[data-step-rev="${s.rev}"]`));
    this.piece.say(`At: ${s.label}`, { stay: 2500 });
  }

  focus(button) {
    button?.focus();
    button?.scrollIntoView({ block: "nearest" });
  }

  walk(e) {
    const all = [...this.list.querySelectorAll("button")];
    const at = all.indexOf(document.activeElement);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: all.length - 1 }[e.key];
    if (to === undefined) return;
    e.preventDefault();
    this.focus(all[Math.max(0, Math.min(all.length - 1, to))]);
  }
}

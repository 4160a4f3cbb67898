// The steps of a piece in one page. A step is a module with
//
//   mount(ctx)        draws the step and returns {update(state), select(), takes(files), unmount()};
//                     all but the first may be missing; takes reports whether it took files
//
// ctx is {piece, view, panel, list, signal, on(target, type, f), stand()}. What
// a step listens to beyond its own elements goes through on or signal, and ends
// with the step.

import { $ } from "../lib/page.js";
import { known } from "../lib/known.js";
import { leaving } from "../lib/unsaved.js";
import { titled } from "../lib/title.js";

const modules = {
  intake: () => import("../intake/intake.js"),
  mend: () => import("../mend/mend.js"),
  size: () => import("../size/size.js"),
  raise: () => import("../raise/raise.js"),
  show: () => import("../show/show.js"),
  release: () => import("../release/release.js"),
};

// Steps shows one step at a time. stand() makes the one stand that all steps
// share which show the solid; shown() is called for every step.
export class Steps {
  constructor(piece, stand, shown) {
    this.piece = piece;
    this.stand = stand;
    this.shown = shown;
    this.key = null;
    this.step = null;
    this.round = 0;
  }

  // go shows a step; push says that the address is to name it. It returns false where one stays,
  // because of something typed there.
  async go(key, push) {
    const info = known.steps.find((s) => s.key === key);
    if (!info || key === this.key) return true;
    if (!(await leaving($("view"), $("panel"), $("parts")))) return false;
    const round = ++this.round;
    const module = await modules[key]();
    if (round !== this.round) return true; // another step was asked for meanwhile
    this.leave();
    this.key = key;
    if (push) history.pushState({ step: key }, "", `${this.piece.base}/${key}`);
    this.dress(info);
    this.abort = new AbortController();
    const signal = this.abort.signal;
    this.step = module.mount({
      piece: this.piece,
      view: $("view"),
      panel: $("panel"),
      list: $("parts"),
      signal,
      on: (target, type, f, options = {}) => target.addEventListener(type, f, { ...options, signal }),
      stand: this.stand,
    });
    this.shown();
    if (this.piece.state) this.step.update(this.piece.state);
    document.body.dataset.step = key;
    return true;
  }

  leave() {
    this.abort?.abort();
    this.step?.unmount?.();
    this.step = null;
    delete document.body.dataset.step;
    delete document.body.dataset.solids;
    delete document.body.dataset.checked;
    for (const id of ["view", "panel", "parts"]) $(id).replaceChildren();
  }

  // dress makes the frame fit a step.
  dress(info) {
    document.body.className = `piece step-${info.key}`;
    titled(`${this.piece.state?.name ?? $("piecename").value} · ${info.name} · Bildhauer`);
    $("partspane").setAttribute("aria-label", info.pane);
    $("partspane").querySelector("h2").textContent = info.pane;
    $("work").dataset.step = info.key;
    for (const a of document.querySelectorAll(".rail a")) {
      if (a.dataset.step === info.key) a.setAttribute("aria-current", "step");
      else a.removeAttribute("aria-current");
    }
  }

  get info() {
    return known.steps.find((s) => s.key === this.key);
  }
}

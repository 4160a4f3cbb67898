// How a piece can stand on the bed: all ways compared, the best first, each with what speaks for it and against it.

import { withKey } from "../lib/acts.js";
import { get } from "../lib/api.js";
import { figure } from "../lib/length.js";
import { complain, el } from "../lib/page.js";

const title = "Compare how it can stand";

// stands makes the rows that compare; element belongs into the fields of how a piece lies.
export function stands({ piece }) {
  return new Stands(piece);
}

class Stands {
  constructor(piece) {
    this.piece = piece;
    this.list = el("ol", { class: "stands", "aria-live": "polite", hidden: true });
    const compare = { class: "button is-small is-fullwidth mt-2", type: "button", "data-act": "compare-stands" };
    this.button = el(
      "button",
      { ...compare, title: withKey("All faces and sides it can stand on", "release.stands"), onclick: () => this.compare() },
      title,
    );
    this.element = el("div", {}, this.button, this.list);
    this.open = false;
    this.basis = ""; // what it is compared for
    this.job = null; // the comparison at work
    this.kept = [];
  }

  close() {
    this.job?.abort?.();
    this.job = null;
    this.open = false;
    this.list.hidden = true;
    this.list.replaceChildren();
    this.button.textContent = title;
    this.button.classList.remove("is-loading");
    delete document.body.dataset.stands;
  }

  // now reports whether it stands so.
  now(d) {
    const { roll = 0, tilt = 0 } = this.piece.state.print;
    return Math.abs(d.roll - roll) < 0.01 && Math.abs(d.tilt - tilt) < 0.01;
  }

  row(d) {
    const facts = `${figure(d.contact / 100)} cm² on the bed, ${figure(d.tall)} mm high`;
    const take = () => this.piece.change(`Stand ${d.name}`, { kind: "print", roll: d.roll, tilt: d.tilt });
    const button = { class: "button is-small", type: "button", "data-act": "take-stand", title: facts, onclick: take };
    return el(
      "li",
      { "data-stand": d.name, class: d.best ? "best" : null },
      el("b", {}, d.name),
      d.best ? el("span", { class: "tag" }, "best") : null,
      el("span", { class: "soft" }, d.why),
      el("button", { ...button, disabled: this.now(d) || null }, this.now(d) ? "Stands so" : "Stand it so"),
    );
  }

  // compare does not hold its button: pressed once more it ends the comparison.
  compare() {
    if (this.open || this.job) this.close();
    else this.begin();
  }

  async begin() {
    const mine = {};
    this.job = mine;
    this.button.classList.add("is-loading");
    try {
      const got = await this.piece.run("Comparing how it can stand", (j) => {
        mine.abort = j.abort;
        return get(`${this.piece.base}/data/stands`, j);
      });
      if (this.job !== mine) return;
      this.open = true;
      this.kept = got.stands;
      this.list.replaceChildren(...this.kept.map((d) => this.row(d)));
      this.list.hidden = false;
      this.button.textContent = "Close the comparison";
      document.body.dataset.stands = String(this.kept.length);
    } catch (e) {
      if (this.job === mine && e.name !== "AbortError" && e.kind !== "cancelled") complain(e);
    } finally {
      if (this.job === mine) this.job = null;
      this.button.classList.remove("is-loading");
    }
  }

  // update marks how it stands now; when the solid, the machine or how Size lays it is another one, the comparison is over.
  update(state, other) {
    const { roll: _roll, tilt: _tilt, ...rest } = state.print;
    const key = JSON.stringify([state.size.lying ?? "", rest]);
    const over = other || key !== this.basis;
    this.basis = key;
    if (!this.open) return;
    if (over) this.close();
    else this.list.replaceChildren(...this.kept.map((d) => this.row(d)));
  }
}

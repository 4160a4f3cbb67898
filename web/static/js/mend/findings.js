// The list of findings, grouped by kind, each with a picture of the spot.

import { post } from "../lib/api.js";
import { el, say } from "../lib/page.js";

export class Findings {
  constructor(desk, box) {
    this.desk = desk;
    this.box = box;
    this.at = 0;
    this.way = new Map(); // chosen fix by finding, if not the first
    desk.marked = () => this.open().map((f, i) => ({ finding: f, number: i + 1, on: f === this.current() }));
    desk.pick = (f) => this.pick(f);
    desk.lit = () => {
      if (desk.mode === "shapes" || desk.mode === "nodes") return desk.tools.shapes.chosen;
      return new Set(desk.mode === "findings" ? this.current()?.shapes : []);
    };
    // Pictures are drawn when they come into sight.
    this.sight = new IntersectionObserver((seen) => {
      for (const s of seen) {
        if (!s.isIntersecting) continue;
        this.sight.unobserve(s.target);
        s.target.append(el("use", { href: "#mendart" }));
      }
    });
    desk.ctx.signal.addEventListener("abort", () => this.sight.disconnect());
  }

  // open returns the open findings in the order of the list.
  open() {
    return this.ordered(false);
  }

  ordered(left) {
    const { data } = this.desk;
    return data.kinds.flatMap((k) => data.findings.filter((f) => f.kind === k.name && f.left === left));
  }

  current() {
    return this.all()[this.at];
  }

  all() {
    return [...this.ordered(false), ...this.ordered(true)];
  }

  draw() {
    const list = this.all();
    this.at = Math.max(0, Math.min(this.at, list.length - 1));
    const top = this.box.scrollTop;
    const kids = [];
    const { data } = this.desk;
    let number = 0;
    for (const k of data.kinds) {
      const own = data.findings.filter((f) => f.kind === k.name && !f.left);
      if (!own.length) continue;
      kids.push(this.head(k, own));
      for (const f of own) kids.push(this.row(f, ++number));
    }
    const left = this.ordered(true);
    if (left.length) {
      kids.push(el("div", { class: "findhead left" }, el("b", {}, `Left as they are (${left.length})`)));
      for (const f of left) kids.push(this.row(f, "–"));
    }
    if (!kids.length) kids.push(el("p", { class: "soft nothing" }, "No findings: the outlines are sound."));
    else if (this.open().length) kids.unshift(this.allButton());
    this.box.replaceChildren(...kids);
    this.box.scrollTop = top;
    this.reveal();
  }

  allButton() {
    const n = this.open().length;
    return el(
      "button",
      { class: "button is-small is-primary takeall", type: "button", onclick: () => this.takeAll([]) },
      `Take all ${n} proposals`,
    );
  }

  head(kind, own) {
    const take = el(
      "button",
      {
        class: "plainbutton",
        type: "button",
        title: "Take all of this kind (Shift Enter)",
        "data-takeall": kind.name,
        onclick: () => this.takeAll([kind.name]),
      },
      own.length > 1 ? `Take all ${own.length}` : "Take",
    );
    return el("div", { class: "findhead" }, el("b", {}, kind.title), take);
  }

  row(f, number) {
    const on = f === this.current();
    const row = el(
      "div",
      {
        class: `finding${on ? " on" : ""}${f.left ? " left" : ""}`,
        role: "button",
        tabindex: on ? "0" : "-1",
        "aria-current": String(on),
        "data-finding": f.kind,
        onclick: () => this.pick(f),
      },
      this.picture(f),
      el(
        "div",
        { class: "what" },
        el("span", { class: "measure" }, el("i", {}, number), f.measure),
        el("p", {}, this.fix(f).will, "."),
        on ? this.acts(f) : null,
      ),
    );
    return row;
  }

  picture(f) {
    const [x, y, w, h] = f.box;
    const whole = Math.max(...this.desk.data.box.slice(2));
    const size = Math.max(w, h, whole * 0.05) * 1.5;
    const box = `${x + w / 2 - size / 2} ${y + h / 2 - size / 2} ${size} ${size}`;
    const svg = el("svg", { class: "spot", viewBox: box, "aria-hidden": "true" });
    this.sight.observe(svg);
    return svg;
  }

  fix(f) {
    return f.fixes[this.way.get(sign(f)) ?? 0] ?? f.fixes[0];
  }

  acts(f) {
    const button = (text, title, act, more = "") =>
      el(
        "button",
        {
          class: `button is-small ${more}`,
          type: "button",
          title,
          onclick: (e) => {
            e.stopPropagation();
            act();
          },
        },
        text,
      );
    const kids = [];
    if (f.left) {
      kids.push(button("Open again", "Open again (L)", () => this.leave(f)));
    } else {
      kids.push(button("Take", "Take the proposal (Enter)", () => this.take(f), "is-primary"));
      kids.push(button("Leave", "Leave it as it is (L)", () => this.leave(f)));
    }
    if (f.fixes.length > 1 && !f.left) {
      const pick = el(
        "select",
        { class: "otherways", "aria-label": "What to do", onclick: (e) => e.stopPropagation() },
        ...f.fixes.map((x, i) => {
          const chosen = i === (this.way.get(sign(f)) ?? 0);
          return el("option", { value: i, selected: chosen }, x.will);
        }),
      );
      pick.addEventListener("change", () => {
        this.way.set(sign(f), Number(pick.value));
        this.draw();
      });
      kids.push(pick);
    }
    return el("div", { class: "findacts" }, ...kids);
  }

  // seek picks the finding of a kind that is nearest to a place, px of the page.
  seek(kind, [x, y]) {
    const far = (f) => Math.hypot(f.at[0] - x, f.at[1] - y);
    const near = this.all().filter((f) => f.kind === kind).sort((a, b) => far(a) - far(b))[0];
    if (near) this.pick(near);
    else say("Mend finds nothing there: the place comes about by how parts are raised. Change it in Raise.");
  }

  pick(f) {
    const i = this.all().indexOf(f);
    if (i < 0) return;
    this.at = i;
    if (this.desk.mode !== "findings") this.desk.go("findings");
    this.draw();
    this.desk.view.draw();
    this.show(f);
  }

  show(f = this.current()) {
    if (f) this.desk.view.go(f.box);
  }

  reveal() {
    this.box.querySelector(".finding.on")?.scrollIntoView({ block: "nearest" });
  }

  step(by) {
    const list = this.all();
    if (!list.length) return;
    this.pick(list[(this.at + by + list.length) % list.length]);
    this.box.querySelector(".finding.on")?.focus({ preventScroll: true });
  }

  take(f) {
    const x = this.fix(f);
    return this.desk.piece.change(x.will, { kind: "mends", list: x.do });
  }

  takeAll(kinds) {
    const { piece } = this.desk;
    return piece.changeBy(() =>
      piece.run("Taking the proposals", (job) =>
        post(`${piece.base}/mend?base=${piece.state.rev}`, { kinds }, job),
      ),
    );
  }

  leave(f) {
    const one = { kind: f.kind, shapes: f.shapes, at: f.at };
    const { piece } = this.desk;
    if (!f.left) return piece.change(`Leave: ${f.measure}`, { kind: "leave", list: [one] });
    return piece.change(`Open again: ${f.measure}`, { kind: "leave", list: [one], reopen: true });
  }

  key(e) {
    const f = this.current();
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      this.step(e.key === "ArrowDown" ? 1 : -1);
      return true;
    }
    if (!f) return false;
    if (e.key === "Enter" && e.shiftKey) this.takeAll([f.kind]);
    else if (e.key === "Enter" && !f.left) this.take(f);
    else if (e.key.toLowerCase() === "l") this.leave(f);
    else if (e.key.toLowerCase() === "g") this.show(f);
    else return false;
    return true;
  }
}

const sign = (f) => `${f.kind} ${f.shapes.join()} ${f.at.join()}`;

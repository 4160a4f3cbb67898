// The tape: the distance between two picked points, which can be made any
// length.

import { withKey } from "../lib/acts.js";
import { el } from "../lib/page.js";
import { field } from "../lib/field.js";
import { mm } from "../lib/length.js";

const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

export class Tape {
  constructor(ctx, drawing, redraw) {
    this.piece = ctx.piece;
    this.drawing = drawing;
    this.redraw = redraw;
    this.on = false;
    this.points = []; // mm from the middle, y down
    this.cross = null; // where the keys are, the same
  }

  toggle() {
    if (this.on) this.stop();
    else {
      this.on = true;
      this.points = [];
      this.show();
    }
  }

  stop() {
    this.on = false;
    this.points = [];
    this.cross = null;
    this.show();
  }

  show() {
    this.drawing.svg.classList.toggle("taping", this.on);
    this.button.setAttribute("aria-pressed", String(this.on));
    this.says.textContent = this.words();
    this.make.row.hidden = this.points.length < 2;
    if (this.points.length === 2) this.make.set(this.length());
    this.redraw();
  }

  words() {
    if (!this.on) return "Measure between two points, or make that distance a length you know.";
    const [a, b] = this.points;
    if (!b) return `Click the ${a ? "second" : "first"} point, or move the cross with the arrow keys and press Enter.`;
    const across = mm(Math.abs(b[0] - a[0]));
    return `${mm(this.length())}: ${across} across, ${mm(Math.abs(b[1] - a[1]))} up`;
  }

  length() {
    const [a, b] = this.points;
    return Math.hypot(b[0] - a[0], b[1] - a[1]);
  }

  // onPage returns both points in px of the page.
  onPage() {
    const { pxPerMm, middle, size } = this.piece.state;
    return this.points.map(([x, y]) => [middle[0] + x * pxPerMm, middle[1] + (y * pxPerMm) / (size.stretch || 1)]);
  }

  panel(make) {
    this.says = el("p", { class: "soft", role: "status" });
    this.button = el(
      "button",
      { class: "button is-small", type: "button", "aria-pressed": "false", title: withKey("Measure between two points", "size.tape"), onclick: () => this.toggle() },
      "Tape",
    );
    this.make = field({ of: "distance", value: 0, done: (v) => make(v) });
    const box = el("div", { class: "tape" }, this.button, this.says, this.make.row);
    queueMicrotask(() => this.show());
    return box;
  }

  // update follows a change of size, so that the tape stays on its points.
  update(s) {
    if (this.was && this.points.length && this.was.pxPerMm !== s.pxPerMm) {
      const k = this.was.pxPerMm / s.pxPerMm;
      this.points = this.points.map(([x, y]) => [x * k, y * k]);
      this.show();
    }
    this.was = { pxPerMm: s.pxPerMm };
  }

  grab(e) {
    if (!this.on) return false;
    this.cross = null;
    this.set(this.drawing.place(e));
    return true;
  }

  set(place) {
    if (this.points.length === 2) this.points = [];
    this.points.push([...place]);
    this.show();
  }

  // key moves the cross, by a hundredth of the larger side, and sets points where it is.
  key(e) {
    if (!this.on || e.ctrlKey || e.metaKey || e.altKey) return false;
    const by = arrows[e.key];
    if (!by && e.key !== "Enter") return false;
    this.cross ??= [0, 0];
    if (by) {
      const { width, height } = this.piece.state;
      const step = (Math.max(width, height) / 100) * (e.shiftKey ? 10 : 1);
      this.cross = this.cross.map((v, i) => Number((v + by[i] * step).toFixed(3)));
      this.show();
    } else this.set(this.cross);
    return true;
  }

  overlay() {
    const r = Math.max(this.piece.state.width, this.piece.state.height) * 0.02;
    const [x, y] = this.cross ?? [];
    const cross = this.cross ? [el("path", { class: "tapecross", d: `M${x - r} ${y}h${2 * r}M${x} ${y - r}v${2 * r}` })] : [];
    return [...cross, ...this.line()];
  }

  line() {
    if (!this.points.length) return [];
    const [a, b] = this.points;
    const dot = ([x, y]) => el("path", { class: "nodedots picked", d: `M${x} ${y}h0` });
    if (!b) return [dot(a)];
    const side = Math.max(this.piece.state.width, this.piece.state.height);
    return [
      el("path", { class: "dimline tapeline", d: `M${a[0]} ${a[1]}L${b[0]} ${b[1]}` }),
      dot(a),
      dot(b),
      el(
        "text",
        { class: "dimtext", x: (a[0] + b[0]) / 2, y: (a[1] + b[1]) / 2 - side * 0.015, "font-size": side * 0.03 },
        mm(this.length()),
      ),
    ];
  }
}

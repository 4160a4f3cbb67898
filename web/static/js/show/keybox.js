// What is known of the selected keys, with fields to change it; and what is to move next.

import { drag, helpFingers } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { exact, read } from "../lib/length.js";
import { gesture } from "../lib/keys.js";
import { say } from "../lib/page.js";
import { firstOf, optionsOf } from "../lib/field.js";
import { within } from "../lib/terms.js";
import { figures } from "../made/terms.js";
import { eased, trackOf, usualCurve, usualSpring } from "./ease.js";

const wide = 92; // px of the drawn way
const high = 56;

// handleAt is the handle of a curve nearest to a place, where there may be one.
const handleAt = (x, y) => [within("share", x), within("handle", y)].map((v) => Math.round(v * 100) / 100);

export class KeyBox {
  constructor({ timeline }) {
    this.timeline = timeline;
    const field = (name, label, done) => {
      const input = el("input", { class: "num", "data-key-field": name, "aria-label": label });
      input.addEventListener("change", () => done(input.value));
      input.addEventListener("keydown", (e) => {
        const by = { ArrowUp: 1, ArrowDown: -1 }[e.key];
        if (!by) return;
        e.preventDefault();
        const { value: v } = this.reads(name, input.value);
        input.value = exact((Number.isFinite(v) ? v : 0) + by * (e.shiftKey ? 10 : 1));
        gesture(e, input, () => done(input.value));
      });
      return input;
    };
    this.frame = field("frame", "Frame of the key", (v) => this.setFrame(v));
    this.value = field("value", "Value of the key", (v) => this.setValue(v));
    this.color = el("input", { type: "color", "data-key-field": "color", "aria-label": "Colour of the key" });
    this.color.addEventListener("change", () => this.change({ color: this.color.value }));
    this.ease = el("select", { "data-key-field": "ease", "aria-label": "Easing to the next key" });
    this.ease.append(...optionsOf("ease").map(([e, text, title]) => el("option", { value: e, title }, text)));
    this.ease.addEventListener("change", () => timeline.ease(this.ease.value, this.ease.value === "drawn" ? { curve: usualCurve } : {}));
    this.swings = field("swings", figures.swings.help, (v) => this.setSpring(0, v));
    this.damping = field("damping", figures.damping.help, (v) => this.setSpring(1, v));
    const button = (name, text, title, onclick) =>
      el("button", { type: "button", class: "plainbutton", "data-time": name, title, onclick }, text);
    this.title = el("b", {});
    this.unit = el("span", { class: "soft" });
    this.way = el("svg", {
      class: "way",
      viewBox: `-6 -12 ${wide + 12} ${high + 24}`,
      role: "img",
      "aria-label": "The easing to the next key; drag the handles",
    });
    helpFingers(this.way, "[data-handle]");
    this.way.addEventListener("pointerdown", (e) => this.down(e));
    this.way.addEventListener("keydown", (e) => this.nudge(e));
    this.keys = el(
      "div",
      { class: "keyfields" },
      this.title,
      el("label", {}, "frame ", this.frame),
      (this.valueRow = el("label", {}, el("span", {}, "value "), this.value, this.unit)),
      this.color,
      el("label", {}, "easing ", this.ease),
      (this.springRow = el("span", {}, el("label", {}, "swings ", this.swings), " ", el("label", {}, "damping ", this.damping))),
      this.way,
      button("copy-here", "Copy to here", "The first comes at the frame that is shown", () => timeline.copyHere()),
      button("drop-keys", "Delete", "Delete the selected keys (Delete)", () => timeline.drop()),
    );
    this.thing = el("select", { "data-time": "thing", "aria-label": "What is to move" });
    this.what = el("select", { "data-time": "what", "aria-label": "How it moves" });
    this.thing.addEventListener("change", () => this.fillWhat());
    this.into = el("select", { "data-time": "into", "aria-label": "The part that it becomes" });
    this.what.addEventListener("change", () => this.showInto());
    this.set = button("set-key", "Set a key here", "At the frame that is shown (K)", () => this.setHere());
    this.path = button("path", "Path …", "A path in space for it (W)", () => this.openPath());
    this.next = el("div", { class: "keyfields" }, el("b", {}, "Move"), this.thing, this.what, this.into, this.set, this.path);
    this.note = el("p", { class: "soft timenote" });
    this.element = el("div", { class: "keybox" }, this.next, el("div", { class: "keyrow" }, this.keys, this.note));
  }

  setHere() {
    return this.timeline.setHere(this.thing.value, this.what.value, this.into.value);
  }

  openPath() {
    const t = this.timeline.things().find((o) => o.id === this.thing.value);
    if (t && t.id !== "scene") this.timeline.act.openPath(t.id, t.kind);
  }

  // showInto offers the parts that a part can become.
  showInto() {
    const on = this.what.value === "becoming";
    const list = on ? this.timeline.things().filter((o) => o.kind === "part" && ![this.thing.value, "piece"].includes(o.id)) : [];
    const t = this.timeline.tracks.find((o) => o.of === this.thing.value && o.what === "becoming");
    const was = this.into.value || t?.into;
    this.into.hidden = !on;
    this.into.replaceChildren(...list.map((o) => el("option", { value: o.id }, o.name)));
    if (list.some((o) => o.id === was)) this.into.value = was;
    this.set.disabled = on && !list.length;
  }

  fillWhat() {
    const t = this.timeline.things().find((o) => o.id === this.thing.value);
    const was = this.what.value;
    this.what.replaceChildren(...(t?.what ?? []).map((w) => el("option", { value: w }, trackOf(w).label)));
    if (t?.what.includes(was)) this.what.value = was;
    this.path.disabled = this.thing.value === "scene";
    this.showInto();
  }

  // one returns the only selected key and its track, or the first of several.
  one() {
    for (const t of this.timeline.tracks) {
      const k = t.keys.find((o) => this.timeline.picked.has(`${t.of}|${t.what}|${o.frame}`));
      if (k) return { t, k };
    }
    return null;
  }

  show() {
    const { timeline } = this;
    if (!timeline.act.piece.state) return;
    const things = timeline.things();
    const key = JSON.stringify(things);
    if (key !== this.thingsKey) {
      const was = this.thing.value;
      this.thing.replaceChildren(...things.map((t) => el("option", { value: t.id }, t.name)));
      if (things.some((t) => t.id === was)) this.thing.value = was;
      this.fillWhat();
    }
    this.thingsKey = key;
    const n = timeline.picked.size;
    this.keys.hidden = !n;
    this.note.hidden = n > 0;
    if (!n) return;
    const { t, k } = this.one();
    this.title.textContent = n === 1 ? `${trackOf(t.what).label}:` : `${n} keys:`;
    this.frame.closest("label").hidden = n > 1;
    this.valueRow.hidden = n > 1 || t.what === "colour";
    this.color.hidden = n > 1 || t.what !== "colour";
    if (document.activeElement !== this.frame) this.frame.value = exact(k.frame);
    if (document.activeElement !== this.value) this.value.value = exact(k.value);
    this.unit.textContent = ` ${trackOf(t.what).unit}`;
    if (k.color) this.color.value = k.color;
    this.ease.value = k.ease || firstOf("ease");
    this.springRow.hidden = k.ease !== "spring";
    const spring = k.spring ?? usualSpring;
    [this.swings, this.damping].forEach((f, i) => document.activeElement !== f && (f.value = exact(spring[i])));
    this.drawWay(k);
  }

  // drawWay draws how one gets to the next key; the handles of a drawn one can be dragged.
  drawWay(k) {
    const c = this.held ?? k.curve ?? usualCurve;
    const key = { ...k, curve: c };
    const at = (x, y) => `${(x * wide).toFixed(1)} ${((1 - y) * high).toFixed(1)}`;
    const line = Array.from({ length: 41 }, (_, i) => at(i / 40, eased(key, i / 40)));
    const kids = [el("rect", { x: 0, y: 0, width: wide, height: high }), el("polyline", { points: line.join(" ") })];
    if ((k.ease || firstOf("ease")) === "drawn")
      kids.push(
        el("path", { class: "lever", d: `M${at(0, 0)}L${at(c[0], c[1])}M${at(1, 1)}L${at(c[2], c[3])}` }),
        ...[0, 2].map((i) => el("circle", { "data-handle": i, cx: c[i] * wide, cy: (1 - c[i + 1]) * high, r: 6, tabindex: 0 })),
      );
    const held = this.way.contains(document.activeElement) ? document.activeElement.dataset.handle : undefined;
    this.way.replaceChildren(...kids);
    this.curve = c;
    if (held !== undefined) this.way.querySelector(`[data-handle="${held}"]`)?.focus();
  }

  // nudge moves the handle that has the focus by an arrow key.
  nudge(e) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    const i = Number(e.target.dataset.handle);
    if (!by || Number.isNaN(i)) return;
    e.preventDefault();
    e.stopPropagation();
    const c = [...(this.held ?? this.curve)];
    const step = e.shiftKey ? 0.2 : 0.05;
    [c[i], c[i + 1]] = handleAt(c[i] + by[0] * step, c[i + 1] + by[1] * step);
    this.held = c;
    this.drawWay(this.one().k);
    gesture(e, this.way, () => this.up());
  }

  down(e) {
    const i = e.target.dataset.handle;
    if (i === undefined) return;
    this.handle = Number(i);
    this.held = [...this.curve];
    const undo = () => {
      this.held = null;
      this.drawWay(this.one().k);
    };
    drag(e, this.way, { move: (f) => this.move(f), end: () => this.up(), undo });
  }

  move(e) {
    const b = this.way.getBoundingClientRect();
    const k = (wide + 12) / b.width;
    const x = ((e.clientX - b.left) * k - 6) / wide;
    const y = 1 - ((e.clientY - b.top) * k - 12) / high;
    [this.held[this.handle], this.held[this.handle + 1]] = handleAt(x, y);
    this.drawWay(this.one().k);
  }

  up() {
    if (!this.held) return;
    const c = this.held;
    this.held = null;
    this.timeline.ease("drawn", { curve: c });
  }

  // reads reads a field: a frame is a number, a value may have the unit of what moves.
  reads(name, text) {
    const { t } = this.one() ?? {};
    return read(text, name === "value" && t ? trackOf(t.what).unit : "");
  }

  setFrame(text) {
    const { value, why } = this.reads("frame", text);
    const one = this.one();
    if (!one) return;
    if (value >= 0) this.timeline.shift(value - one.k.frame, false);
    else this.refuse(this.frame, one.k.frame, why || "A clip begins at frame 0");
  }

  setValue(text) {
    const { value, why } = this.reads("value", text);
    const one = this.one();
    if (!one) return;
    if (why) this.refuse(this.value, one.k.value, why);
    else this.change({ value });
  }

  setSpring(at, text) {
    const { value, why } = this.reads("spring", text);
    const one = this.one();
    if (!one) return;
    const now = one.k.spring ?? usualSpring;
    if (why) this.refuse(at ? this.damping : this.swings, now[at], why);
    else this.timeline.ease("spring", { spring: now.map((v, i) => (i === at ? value : v)) });
  }

  // refuse says why a text is not taken, and puts back what holds.
  refuse(input, holds, why) {
    say(`${input.value}: ${why}.`, { bad: true });
    input.value = exact(holds);
  }

  change(patch) {
    const { t, k } = this.one() ?? {};
    if (!k) return;
    this.timeline.setKey(t.of, t.what, { ...k, ...patch });
  }
}

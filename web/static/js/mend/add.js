// Added shapes: placed by figures or by a pointer, united with what they touch.

import { reach } from "../lib/drag.js";
import { complain, el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { field } from "../lib/field.js";
import { mm } from "../lib/length.js";
import { additions, figures } from "../made/terms.js";
import { hitShape } from "./shapes.js";

export class AddTools {
  constructor(desk) {
    this.desk = desk;
    this.kind = "plate";
    this.values = {};
    this.way = {};
    this.text = el("textarea", { class: "lettering", rows: 2, maxlength: figures.mendText.max, "aria-label": "Lettering" });
    this.settled = draft(this.text, "the lettering", { signal: desk.ctx.signal });
    this.font = "";
    this.places = []; // px of the page
    this.ghost = el("g", { class: "ghost" });
  }

  get what() {
    return additions.find((a) => a.name === this.kind);
  }

  /** @param {import("../made/terms.js").Amount} amount */
  value({ name, usual }) {
    return this.values[`${this.kind} ${name}`] ?? usual;
  }

  panel() {
    const k = this.what;
    const pick = el(
      "select",
      { class: "pagepick", "aria-label": "What to add", "data-add": "kind" },
      ...additions.map((a) => el("option", { value: a.name, selected: a.name === this.kind }, a.label)),
    );
    pick.addEventListener("change", () => {
      this.kind = pick.value;
      this.places = [];
      this.desk.go("add");
    });
    const fields = k.figures.map(
      (amount) =>
        field({
          of: "mendLength",
          name: `add-${amount.name}`,
          label: amount.label,
          value: this.value(amount),
          done: (v) => {
            this.values[`${this.kind} ${amount.name}`] = v;
            this.desk.view.draw();
          },
        }).row,
    );
    return [
      pick,
      ...(k.writes ? this.lettering() : []),
      ...fields,
      ...(k.ways ? [this.ways(k)] : []),
      ...this.placeFields(k),
      el(
        "button",
        { class: "button is-small is-primary", type: "button", "data-add": "do", onclick: () => this.add() },
        `Add the ${k.label.toLowerCase()}`,
      ),
      el("p", { class: "soft" }, k.hint),
    ];
  }

  ways(k) {
    const pick = el(
      "select",
      { class: "pagepick", "aria-label": "Form" },
      ...k.ways.map((w) => el("option", { value: w.name, selected: w.name === this.way[this.kind] }, w.label)),
    );
    pick.addEventListener("change", () => {
      this.way[this.kind] = pick.value;
    });
    return pick;
  }

  lettering() {
    const { fonts } = this.desk.data;
    const font = el(
      "select",
      { class: "pagepick", "aria-label": "Font" },
      ...fonts.map((f) => el("option", { value: f, selected: f === this.font }, f)),
    );
    font.addEventListener("change", () => (this.font = font.value));
    this.font ||= fonts[0];
    return [this.text, font];
  }

  // placeFields give places by figures, from the middle of the piece.
  placeFields(k) {
    const { desk } = this;
    const [bx, by, w, h] = desk.data.box;
    const mid = [bx + w / 2, by + h / 2];
    while (this.places.length < k.places) this.places.push([...mid]);
    this.places.length = k.places;
    return this.places.flatMap((p, i) => {
      const which = k.places > 1 ? (i ? ", end" : ", start") : "";
      const coordinate = (axis, value, set) =>
        field({
          of: "mendLength",
          name: `at${axis}${i}`,
          label: `${axis.toUpperCase()}${which}`,
          value,
          done: (v) => {
            set(v);
            desk.view.draw();
          },
        }).row;
      return [
        coordinate("x", desk.mm(p[0] - mid[0]), (v) => (p[0] = mid[0] + desk.px(v))),
        coordinate("y", desk.mm(mid[1] - p[1]), (v) => (p[1] = mid[1] - desk.px(v))),
      ];
    });
  }

  // mend returns what the figures say.
  mend() {
    const k = this.what;
    /** @type {any} */
    const out = { do: this.kind, mm: k.figures.map((f) => this.value(f)), at: this.places.map((p) => [...p]) };
    if (k.ways) out.how = this.way[this.kind] ?? k.ways[0].name;
    if (this.kind === "plate") {
      const [w, h, c, f] = out.mm;
      const stake = out.how === "stake";
      const [top, foot] = stake ? ["round", "point"] : [out.how, out.how];
      out.how = `${top},${top},${foot},${foot}`;
      out.mm = [w, h, c, c, stake ? f || h / 4 : c, stake ? f || h / 4 : c];
    }
    if (this.kind === "disc" && !out.mm[1]) out.mm = [out.mm[0]];
    if (k.writes) Object.assign(out, { text: this.text.value, font: this.font });
    if (this.kind === "bridge") out.shapes = this.joined();
    return out;
  }

  // joined returns the shapes at both ends of a bridge.
  joined() {
    const { data, view } = this.desk;
    const keys = this.places.map((p) => hitShape(view, data, p) ?? nearest(data, p));
    return [...new Set(keys)];
  }

  async add() {
    const m = this.mend();
    if (m.shapes?.includes(undefined)) {
      complain(new Error("There is no shape to bridge."));
      return;
    }
    const kept = await this.desk.act(`Add: ${this.what.label.toLowerCase()} ${mm(m.mm[0])}`, m);
    if (kept && m.text) this.settled();
  }

  overlay() {
    const k = this.what;
    const p = this.places;
    const r = (i) => this.desk.px(this.value(k.figures[i])) / 2;
    const kids = [];
    if (this.kind === "plate") {
      kids.push(el("rect", { x: p[0][0] - r(0), y: p[0][1] - r(1), width: 2 * r(0), height: 2 * r(1) }));
    } else if (this.kind === "bridge") {
      kids.push(
        el("line", { x1: p[0][0], y1: p[0][1], x2: p[1][0], y2: p[1][1], "stroke-width": 2 * r(0), class: "bar" }),
      );
    } else if (k.places && !k.writes) {
      kids.push(...k.figures.map((_, i) => el("circle", { cx: p[0][0], cy: p[0][1], r: Math.max(0, r(i)) })));
    }
    for (const [x, y] of p) kids.push(el("path", { class: "nodedots picked", d: `M${x} ${y}h0` }));
    this.ghost.replaceChildren(...kids);
    return [this.ghost];
  }

  // grab moves the nearest place to the pointer and lets it follow.
  grab(e) {
    const { view } = this.desk;
    const at = view.drawing.place(e);
    const far = reach(e, 14) * view.drawing.perPx();
    const i = this.places.findIndex((p) => Math.hypot(p[0] - at[0], p[1] - at[1]) < far);
    if (i >= 0) {
      const was = this.places[i];
      return view.drag(
        e,
        (f) => {
          this.places[i] = view.drawing.place(f);
          view.draw();
        },
        () => this.desk.go("add"),
        () => {
          this.places[i] = was;
          view.draw();
        },
      );
    }
    return () => {
      if (!this.places.length) return;
      this.turn = ((this.turn ?? -1) + 1) % this.places.length;
      this.places[this.turn] = at;
      this.desk.go("add");
    };
  }

  key(e) {
    if (e.key !== "Enter") return false;
    this.add();
    return true;
  }
}

function nearest(data, [x, y]) {
  let best;
  let least = Infinity;
  for (const s of data.shapes) {
    const [bx, by, w, h] = s.box;
    const d = Math.hypot(Math.max(bx - x, 0, x - bx - w), Math.max(by - y, 0, y - by - h));
    if (d <= least) [best, least] = [s.key, d];
  }
  return best;
}

// Added shapes: placed by figures or by a pointer, united with what they touch.

import { reach } from "../lib/drag.js";
import { complain, el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { field } from "../lib/field.js";
import { mm } from "../lib/length.js";
import { hitShape } from "./shapes.js";

// Every kind: its figures [name, what, usual], its ways, and what of the page it
// asks for: a place, two places, or nothing.
const kinds = {
  plate: {
    name: "Plate",
    figures: [
      ["w", "Width", 60],
      ["h", "Height", 20],
      ["c", "Corners", 3],
      ["f", "Foot", 0],
    ],
    ways: [
      ["round", "round corners"],
      ["chamfer", "chamfered corners"],
      ["square", "square corners"],
      ["stake", "pointed foot"],
    ],
    places: 1,
  },
  disc: {
    name: "Disc or ring",
    figures: [
      ["d", "Diameter", 20],
      ["o", "Opening", 0],
    ],
    places: 1,
  },
  border: {
    name: "Backing border",
    figures: [["n", "Beyond the outline", 3]],
    ways: [
      ["", "holes filled"],
      ["holes", "holes kept"],
    ],
    places: 0,
  },
  strip: {
    name: "Base strip",
    figures: [
      ["h", "Height", 4],
      ["m", "Longer by", 2],
      ["i", "Up into the artwork", 1],
    ],
    places: 0,
  },
  eyelet: {
    name: "Eyelet",
    figures: [
      ["d", "Diameter", 9],
      ["o", "Opening", 4],
    ],
    places: 1,
  },
  punch: { name: "Hanging hole", figures: [["d", "Diameter", 4]], places: 1 },
  bridge: { name: "Bridge", figures: [["w", "Width", 1.2]], places: 2 },
  lettering: { name: "Lettering", figures: [["h", "Height of capitals", 8]], places: 1, text: true },
};

export class AddTools {
  constructor(desk) {
    this.desk = desk;
    this.kind = "plate";
    this.values = {};
    this.way = {};
    this.text = el("textarea", { class: "lettering", rows: 2, maxlength: 400, "aria-label": "Lettering" });
    this.settled = draft(this.text, "the lettering", { signal: desk.ctx.signal });
    this.font = "";
    this.places = []; // px of the page
    this.ghost = el("g", { class: "ghost" });
  }

  value(name, usual) {
    return this.values[`${this.kind} ${name}`] ?? usual;
  }

  panel() {
    const k = kinds[this.kind];
    const pick = el(
      "select",
      { class: "pagepick", "aria-label": "What to add", "data-add": "kind" },
      ...Object.entries(kinds).map(([key, { name }]) => el("option", { value: key, selected: key === this.kind }, name)),
    );
    pick.addEventListener("change", () => {
      this.kind = pick.value;
      this.places = [];
      this.desk.go("add");
    });
    const fields = k.figures.map(
      ([name, label, usual]) =>
        field({
          of: "mendLength",
          name: `add-${name}`,
          label,
          value: this.value(name, usual),
          done: (v) => {
            this.values[`${this.kind} ${name}`] = v;
            this.desk.view.draw();
          },
        }).row,
    );
    return [
      pick,
      ...(k.text ? this.lettering() : []),
      ...fields,
      ...(k.ways ? [this.ways(k)] : []),
      ...this.placeFields(k),
      el(
        "button",
        { class: "button is-small is-primary", type: "button", "data-add": "do", onclick: () => this.add() },
        `Add the ${k.name.toLowerCase()}`,
      ),
      el("p", { class: "soft" }, hints[k.places]),
    ];
  }

  ways(k) {
    const pick = el(
      "select",
      { class: "pagepick", "aria-label": "Form" },
      ...k.ways.map(([key, text]) => el("option", { value: key, selected: key === this.way[this.kind] }, text)),
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
    const k = kinds[this.kind];
    const v = (i) => this.value(k.figures[i][0], k.figures[i][2]);
    const out = { do: this.kind, mm: k.figures.map((_, i) => v(i)), at: this.places.map((p) => [...p]) };
    if (k.ways) out.how = this.way[this.kind] ?? k.ways[0][0];
    if (this.kind === "plate") {
      const [w, h, c, f] = out.mm;
      const stake = out.how === "stake";
      const [top, foot] = stake ? ["round", "point"] : [out.how, out.how];
      out.how = `${top},${top},${foot},${foot}`;
      out.mm = [w, h, c, c, stake ? f || h / 4 : c, stake ? f || h / 4 : c];
    }
    if (this.kind === "disc" && !out.mm[1]) out.mm = [out.mm[0]];
    if (k.text) Object.assign(out, { text: this.text.value, font: this.font });
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
    const kept = await this.desk.act(`Add: ${kinds[this.kind].name.toLowerCase()} ${mm(m.mm[0])}`, m);
    if (kept && m.text) this.settled();
  }

  overlay() {
    const k = kinds[this.kind];
    const p = this.places;
    const r = (i) => this.desk.px(this.value(k.figures[i][0], k.figures[i][2])) / 2;
    const kids = [];
    if (this.kind === "plate") {
      kids.push(el("rect", { x: p[0][0] - r(0), y: p[0][1] - r(1), width: 2 * r(0), height: 2 * r(1) }));
    } else if (this.kind === "bridge") {
      kids.push(
        el("line", { x1: p[0][0], y1: p[0][1], x2: p[1][0], y2: p[1][1], "stroke-width": 2 * r(0), class: "bar" }),
      );
    } else if (k.places && !k.text) {
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

const hints = [
  "It goes by the outline of everything.",
  "Click where it belongs, drag its middle, or write the figures. Enter adds it.",
  "Click where it begins and where it ends, or write the figures. Enter adds it.",
];

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

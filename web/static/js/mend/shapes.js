// Hand tools for whole shapes: choosing them, solid and hole, one with another,
// growing, rings, placing.

import { el } from "../lib/page.js";
import { gesture } from "../lib/keys.js";
import { choice, field } from "../lib/field.js";
import { count, mm } from "../lib/length.js";
import { optionsOf } from "../lib/terms.js";

export class ShapeTools {
  constructor(desk) {
    this.desk = desk;
    this.chosen = new Set(); // keys
    this.corner = "round";
    this.where = "inside";
    this.amounts = { grow: 0.5, ring: 2, x: 0, y: 0 };
    this.turn = 15;
  }

  shapes() {
    return this.desk.data.shapes.filter((s) => this.chosen.has(s.key));
  }

  panel() {
    // What a change took away is chosen no more.
    const have = new Set(this.desk.data.shapes.map((s) => s.key));
    for (const k of this.chosen) if (!have.has(k)) this.chosen.delete(k);
    return [this.summary(), this.alike(), this.roles(), this.sets(), this.growing(), this.placing()];
  }

  summary() {
    const list = this.shapes();
    if (!list.length) {
      return el(
        "p",
        { class: "soft" },
        "Click a shape, or draw round several with Shift held down. Comma and full stop step through them.",
      );
    }
    const one = list[0];
    const text =
      list.length === 1
        ? `${one.name}: ${count(one.contours)} contours, ${count(one.nodes)} nodes`
        : `${count(list.length)} shapes chosen`;
    return el("p", { class: "chosenline" }, text);
  }

  button(text, title, act, least = 1) {
    const off = this.chosen.size < least;
    return el("button", { class: "plainbutton", type: "button", title, disabled: off, onclick: act }, text);
  }

  row(name, ...buttons) {
    return el("div", { class: "toolrow" }, el("span", {}, name), el("div", {}, ...buttons));
  }

  alike() {
    const like = (same) => () => {
      const of = this.shapes();
      this.choose(this.desk.data.shapes.filter((s) => of.some((o) => same(s, o))).map((s) => s.key));
    };
    const size = (s) => Math.max(s.box[2], s.box[3]);
    return this.row(
      "Select similar",
      this.button("colour", "All of the same colour", like((a, b) => a.color === b.color)),
      this.button("layer", "All of the same layer", like((a, b) => a.layer === b.layer)),
      this.button("size", "All of about the same size", like((a, b) => Math.abs(size(a) / size(b) - 1) < 0.1)),
    );
  }

  // order returns the chosen keys, the shape below the others first.
  order() {
    return this.shapes().map((s) => s.key);
  }

  act(label, mend) {
    return this.desk.act(label, { shapes: this.order(), ...mend });
  }

  name() {
    const list = this.shapes();
    return list.length === 1 ? list[0].name : `${list.length} shapes`;
  }

  roles() {
    return el(
      "div",
      {},
      this.row(
        "Make",
        this.button("solid", "Fill the holes of the shapes", () => this.fill()),
        this.button("hole", "Cut it out of what lies below", () => this.act(`Make ${this.name()} a hole`, { do: "hole" })),
        this.button("out", "Delete it (Delete)", () => this.act(`Delete ${this.name()}`, { do: "drop" })),
      ),
      this.row(
        "Keep",
        this.button("only these", "Delete all others", () => this.act(`Keep only ${this.name()}`, { do: "only" })),
        this.button("without crossings", "Draw the outline as it fills", () =>
          this.act(`Draw ${this.name()} without crossings`, { do: "resolve" }),
        ),
      ),
    );
  }

  // fill makes every hole of the chosen shapes solid, one mend a shape.
  fill() {
    const mends = this.shapes().map((s) => ({
      do: "contour",
      how: "solid",
      shapes: [s.key],
      nodes: Array.from({ length: s.contours }, (_, i) => [i, 0]),
    }));
    return this.desk.act(`Fill the holes of ${this.name()}`, ...mends);
  }

  sets() {
    const two = (text, title, label, mend) => this.button(text, title, () => this.act(label, mend), 2);
    return el(
      "div",
      {},
      this.row(
        "Together",
        two("unite", "One shape of all", `Unite ${this.name()}`, { do: "unite" }),
        two("subtract", "Cut the upper ones out of the lowest", `Subtract from the lowest of ${this.name()}`, {
          do: "subtract",
        }),
        two("intersect", "Keep what all share", `Intersect ${this.name()}`, { do: "intersect" }),
        two("divide", "Cut them along each other", `Divide ${this.name()}`, { do: "divide" }),
      ),
      this.row(
        "Islands",
        this.button("split", "A shape of every island", () => this.act(`Split ${this.name()}`, { do: "split" })),
        two("join", "One shape of all contours; what lies inside another is a hole", `Join ${this.name()}`, {
          do: "compound",
        }),
      ),
    );
  }

  length(name, label, value, set) {
    return field({ of: "mendLength", name, label, value, done: (v) => set(v) }).row;
  }

  growing() {
    const { amounts } = this;
    const corner = choice(
      "Corners",
      optionsOf("mend.corners"),
      this.corner,
      (v) => (this.corner = v),
    );
    const where = choice(
      "Ring",
      optionsOf("mend.side"),
      this.where,
      (v) => (this.where = v),
    );
    const grow = (sign, word) => () =>
      this.act(`${word} ${this.name()} by ${mm(amounts.grow)}`, {
        do: "grow",
        mm: [sign * amounts.grow],
        how: this.corner,
      });
    const ring = () =>
      this.act(`Make ${this.name()} a ring of ${mm(amounts.ring)}`, {
        do: "ring",
        mm: [amounts.ring],
        how: this.where,
      });
    return el(
      "div",
      {},
      el("h3", {}, "Width"),
      this.length("grow", "By", amounts.grow, (v) => (amounts.grow = v)),
      corner.row,
      this.row("", this.button("grow", "", grow(1, "Grow")), this.button("thin", "", grow(-1, "Thin"))),
      this.length("ring", "Ring of", amounts.ring, (v) => (amounts.ring = v)),
      where.row,
      this.row("", this.button("make a ring", "", ring)),
    );
  }

  middle() {
    const list = this.shapes();
    const x = list.flatMap((s) => [s.box[0], s.box[0] + s.box[2]]);
    const y = list.flatMap((s) => [s.box[1], s.box[1] + s.box[3]]);
    return [(Math.min(...x) + Math.max(...x)) / 2, (Math.min(...y) + Math.max(...y)) / 2];
  }

  move(x, y) {
    if (!this.chosen.size || (!x && !y)) return;
    this.act(`Move ${this.name()} by ${mm(x)}, ${mm(y)}`, {
      do: "move",
      at: [[this.desk.px(x), this.desk.px(-y)]],
    });
  }

  // nudge moves the chosen shapes by an arrow key; it is one mend, however long the key is held.
  nudge(e, by, step) {
    const was = this.way ?? [0, 0];
    this.way = [0, 1].map((i) => Number((was[i] + by[i] * step).toFixed(3)));
    const [x, y] = this.way;
    this.desk.view.chosen.setAttribute("transform", `translate(${this.desk.px(x)} ${this.desk.px(-y)})`);
    gesture(e, this, () => {
      this.way = null;
      this.desk.view.chosen.removeAttribute("transform");
      this.move(x, y);
    });
  }

  placing() {
    const { amounts } = this;
    const degrees = field({ of: "mendTurn", name: "turn", value: this.turn, done: (v) => (this.turn = v) });
    const turn = (sign) => () =>
      this.act(`Rotate ${this.name()} by ${sign * this.turn}°`, {
        do: "turn",
        turn: sign * this.turn,
        at: [this.middle()],
      });
    const mirror = (how, word) => () =>
      this.act(`Mirror ${this.name()} ${word}`, { do: "mirror", how, at: [this.middle()] });
    return el(
      "div",
      {},
      el("h3", {}, "Place"),
      this.length("movex", "X", amounts.x, (v) => (amounts.x = v)),
      this.length("movey", "Y", amounts.y, (v) => (amounts.y = v)),
      this.row("", this.button("move", "", () => this.move(amounts.x, amounts.y))),
      degrees.row,
      this.row(
        "",
        this.button("turn right", "", turn(1)),
        this.button("turn left", "", turn(-1)),
      ),
      this.row(
        "Mirror",
        this.button("left and right", "", mirror("upright", "left and right")),
        this.button("up and down", "", mirror("level", "up and down")),
      ),
    );
  }

  choose(keys, add = false) {
    if (!add) this.chosen.clear();
    for (const k of keys) this.chosen.add(k);
    this.desk.go("shapes");
  }

  // grab takes a pointer that goes down on a chosen shape (to move it), or with
  // Shift beside them (to draw round some).
  grab(e) {
    const { view, data } = this.desk;
    const at = view.drawing.place(e);
    const hit = hitShape(view, data, at);
    if (e.shiftKey && !hit) {
      return view.rope(e, (inside) => {
        if (!inside) return;
        const mid = (s) => [s.box[0] + s.box[2] / 2, s.box[1] + s.box[3] / 2];
        this.choose(
          data.shapes.filter((s) => inside(...mid(s))).map((s) => s.key),
          true,
        );
      });
    }
    if (hit && this.chosen.has(hit) && !e.shiftKey) {
      return view.drag(
        e,
        (f) => {
          const to = view.drawing.place(f);
          view.chosen.setAttribute("transform", `translate(${to[0] - at[0]} ${to[1] - at[1]})`);
        },
        (f, moved) => {
          const to = view.drawing.place(f);
          view.chosen.removeAttribute("transform");
          if (moved) this.move(this.desk.mm(to[0] - at[0]), this.desk.mm(at[1] - to[1]));
          else this.choose([hit]);
        },
        () => view.chosen.removeAttribute("transform"),
      );
    }
    if (!hit) return () => this.chosen.size && this.choose([]);
    return view.drag(
      e,
      () => {},
      (f, moved) => {
        if (moved) return;
        if (e.shiftKey && this.chosen.delete(hit)) this.desk.go("shapes");
        else this.choose([hit], e.shiftKey);
      },
    );
  }

  key(e) {
    const { data, view } = this.desk;
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (by && this.chosen.size) {
      this.nudge(e, by, e.shiftKey ? 1 : 0.1);
      return true;
    }
    if ([",", ".", "<", ">", ";", ":"].includes(e.key)) {
      const forth = [".", ">", ":"].includes(e.key);
      const keys = data.shapes.map((s) => s.key);
      const at = keys.indexOf([...this.chosen].at(-1));
      const next = keys[(at + (forth ? 1 : -1) + keys.length + (at < 0 && !forth ? 1 : 0)) % keys.length];
      this.choose([next], e.shiftKey);
      return true;
    }
    if (e.key === "Delete" && this.chosen.size) this.act(`Delete ${this.name()}`, { do: "drop" });
    else if (e.key === "Escape") this.choose([]);
    else if (e.key.toLowerCase() === "g" && this.chosen.size) view.go(boxOf(this.shapes()));
    else return false;
    return true;
  }
}

export function boxOf(shapes) {
  const x = Math.min(...shapes.map((s) => s.box[0]));
  const y = Math.min(...shapes.map((s) => s.box[1]));
  const r = Math.max(...shapes.map((s) => s.box[0] + s.box[2]));
  const b = Math.max(...shapes.map((s) => s.box[1] + s.box[3]));
  return [x, y, r - x, b - y];
}

// hitShape returns the key of the topmost shape at a place, or undefined.
export function hitShape(view, data, [x, y]) {
  const p = new DOMPoint(x, y);
  for (let i = data.shapes.length - 1; i >= 0; i--) {
    const s = data.shapes[i];
    const [bx, by, w, h] = s.box;
    if (x < bx || y < by || x > bx + w || y > by + h) continue;
    if (view.paths.get(s.key)?.isPointInFill(p)) return s.key;
  }
  return undefined;
}

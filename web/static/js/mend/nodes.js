// Nodes of one shape on its real curves. While they are dragged the outline is
// drawn here; the server hears of it when they are let go.

import { get } from "../lib/api.js";
import { reach } from "../lib/drag.js";
import { complain, el } from "../lib/page.js";
import { choice, field } from "../lib/field.js";
import { gesture } from "../lib/keys.js";
import { count, mm } from "../lib/length.js";
import { boxOf, hitShape } from "./shapes.js";

const near = 9; // screen px within which a node is taken

export class NodeTools {
  constructor(desk) {
    this.desk = desk;
    this.key_ = null; // of the shape whose nodes are shown
    this.contours = [];
    this.chosen = new Set(); // "contour node"
    this.snap = "nodes";
    this.outline = el("path", { class: "nodeline" });
    this.dots = el("path", { class: "nodedots" });
    this.picked = el("path", { class: "nodedots picked" });
    this.arms = el("path", { class: "nodearms" });
    this.grips = el("path", { class: "nodegrips" });
  }

  async shown() {
    const { chosen } = this.desk.tools.shapes;
    const want = [...chosen].at(-1) ?? this.desk.data.shapes.at(-1)?.key ?? null;
    if (want !== this.key_) {
      this.chosen.clear();
      await this.fetch(want);
      this.desk.go("nodes");
    }
  }

  async refresh() {
    if (!this.key_) return;
    if (!this.desk.data.shapes.some((s) => s.key === this.key_)) {
      this.key_ = null;
      this.contours = [];
      this.chosen.clear();
      return;
    }
    await this.fetch(this.key_);
  }

  async fetch(key) {
    this.key_ = key;
    this.contours = [];
    if (!key) return;
    try {
      const { piece } = this.desk;
      const got = await get(`${piece.base}/data/nodes?shape=${encodeURIComponent(key)}`);
      if (got.key !== this.key_) return;
      this.contours = got.contours;
      for (const id of this.chosen) if (!this.at(id)) this.chosen.delete(id);
    } catch (e) {
      complain(e);
    }
  }

  at(id) {
    const [c, k] = id.split(" ").map(Number);
    return this.contours[c]?.at[k];
  }

  list() {
    return [...this.chosen].map((id) => id.split(" ").map(Number));
  }

  path() {
    return this.contours.map(contourPath).join("");
  }

  overlay() {
    this.redraw();
    return [this.outline, this.arms, this.dots, this.picked, this.grips];
  }

  redraw() {
    this.outline.setAttribute("d", this.path());
    let all = "";
    let mine = "";
    let arms = "";
    let grips = "";
    this.contours.forEach((c, i) =>
      c.at.forEach(([x, y, ix, iy, ox, oy], k) => {
        if (!this.chosen.has(`${i} ${k}`)) {
          all += `M${x} ${y}h0`;
          return;
        }
        mine += `M${x} ${y}h0`;
        for (const [hx, hy] of [
          [ix, iy],
          [ox, oy],
        ]) {
          if (hx === x && hy === y) continue;
          arms += `M${x} ${y}L${hx} ${hy}`;
          grips += `M${hx} ${hy}h0`;
        }
      }),
    );
    this.dots.setAttribute("d", all);
    this.picked.setAttribute("d", mine);
    this.arms.setAttribute("d", arms);
    this.grips.setAttribute("d", grips);
  }

  // mends on the selected nodes.
  act(label, how, more = {}) {
    const nodes = this.list();
    if (!nodes.length) return null;
    const [x, y] = this.at([...this.chosen][0]);
    return this.desk.act(label, {
      do: "nodes",
      how,
      shapes: [this.key_],
      nodes,
      at: [[x, y], ...(more.at ?? [])],
    });
  }

  words() {
    return this.chosen.size === 1 ? "a node" : `${count(this.chosen.size)} nodes`;
  }

  panel() {
    const n = this.contours.reduce((sum, c) => sum + c.at.length, 0);
    const shape = this.desk.data.shapes.find((s) => s.key === this.key_);
    if (!shape) return [el("p", { class: "soft" }, "Click a shape to see its nodes.")];
    const button = (text, title, act, off = !this.chosen.size) =>
      el("button", { class: "plainbutton", type: "button", title, disabled: off, onclick: act }, text);
    const row = (name, ...kids) => el("div", { class: "toolrow" }, el("span", {}, name), el("div", {}, ...kids));
    const simple = (text, title, how, label) => button(text, title, () => this.act(`${label} ${this.words()}`, how));
    const contour = (how, title) => button(how, title, () => this.role(how));
    const snap = choice(
      "Snap to",
      [
        ["nodes", "nodes"],
        ["figures", "0.1 mm"],
        ["none", "nothing"],
      ],
      this.snap,
      (v) => (this.snap = v),
    );
    return [
      el("p", { class: "chosenline" }, `${shape.name}: ${count(n)} nodes, ${count(this.chosen.size)} chosen`),
      row(
        "Form",
        simple("corner", "Turn the handles to the neighbours", "corner", "Corner at"),
        simple("smooth", "Bring both handles into one line", "smooth", "Smooth"),
        simple("symmetric", "One line and one length", "symmetric", "Symmetric"),
      ),
      row(
        "Segment",
        simple("line", "Straight between selected nodes, or behind one", "line", "Line at"),
        simple("curve", "A curve with handles", "curve", "Curve at"),
        button("add node", "In the middle after the selected one (+)", () => this.add(), this.chosen.size !== 1),
      ),
      row(
        "Outline",
        simple("drop", "Keep the form as well as one curve can (Delete)", "delete", "Delete"),
        button("cut open", "", () => this.act("Cut the outline open", "cut"), this.chosen.size !== 1),
        button("join ends", "Join two ends", () => this.join(), this.chosen.size !== 2),
      ),
      row(
        "Contour",
        contour("solid", "Fill the contour of the selected node"),
        contour("hole", "Cut the contour of the selected node out of the shape"),
        contour("out", "Delete the contour of the selected node"),
      ),
      row(
        "Align",
        simple("upright", "Onto a vertical line through their middle", "upright", "Align vertically"),
        simple("level", "Onto a horizontal line through their middle", "level", "Align horizontally"),
      ),
      snap.row,
      ...this.figures(),
    ];
  }

  // figures are the place of the node that was chosen last, from the middle of
  // the piece.
  figures() {
    const id = [...this.chosen].at(-1);
    const p = id && this.at(id);
    if (!p) return [];
    const { desk } = this;
    const mid = middleOf(desk.data.box);
    const coordinate = (name, label, value, by) =>
      field({ of: "mendLength", name, label, value, done: (v) => this.moveBy(...by(v - value)) }).row;
    return [
      coordinate("nodex", "X", desk.mm(p[0] - mid[0]), (d) => [d, 0]),
      coordinate("nodey", "Y", desk.mm(mid[1] - p[1]), (d) => [0, d]),
      ...this.handleFields(id, p),
    ];
  }

  // handleFields are where the handles of a node lie, from the node.
  handleFields(id, p) {
    const { desk } = this;
    return [
      { side: 2, how: "in", label: "Handle before" },
      { side: 4, how: "out", label: "Handle after" },
    ].flatMap(({ side, how, label }) =>
      [0, 1].map((axis) => {
        const sign = axis ? -1 : 1;
        const value = sign * desk.mm(p[side + axis] - p[axis]);
        const done = (v) => {
          const to = [p[side], p[side + 1]];
          to[axis] = p[axis] + sign * desk.px(v);
          const keep = this.chosen;
          this.chosen = new Set([id]);
          this.act("Pull a handle", how, { at: [to] });
          this.chosen = keep;
        };
        const name = `${how}${axis ? "up" : "right"}`;
        return field({ of: "mendLength", name, label: `${label} ${axis ? "Y" : "X"}`, value, done }).row;
      }),
    );
  }

  moveBy(x, y) {
    return this.act(`Move ${this.words()} by ${mm(x)}, ${mm(y)}`, "move", {
      at: [[this.desk.px(x), this.desk.px(-y)]],
    });
  }

  // nudge moves the selected nodes by an arrow key; it is one mend, however long the key is held.
  nudge(e, by, step) {
    this.way ??= { from: this.contours, mm: [0, 0] };
    const { from, mm } = this.way;
    this.way.mm = [0, 1].map((i) => Number((mm[i] + by[i] * step).toFixed(3)));
    const [x, y] = this.way.mm;
    this.contours = shifted(from, this.chosen, [this.desk.px(x), this.desk.px(-y)]);
    this.redraw();
    gesture(e, this, () => {
      this.contours = this.way.from;
      this.way = null;
      if (x || y) this.moveBy(x, y);
      else this.redraw();
    });
  }

  add() {
    return this.act("Add a node", "add", { at: [[0.5, 0]] });
  }

  // role makes the contours of the selected nodes solid or holes, or leaves them out.
  role(how) {
    const nodes = [...new Set(this.list().map(([c]) => c))].map((c) => [c, 0]);
    const what = { solid: "Fill a contour", hole: "Make a contour a hole", out: "Delete a contour" }[how];
    this.desk.act(what, { do: "contour", how, shapes: [this.key_], nodes });
  }

  join() {
    const ends = this.list().map(([c, k]) => {
      const { closed, at } = this.contours[c];
      return closed || (k !== 0 && k !== at.length - 1) ? null : [c, k === 0 ? 0 : 1];
    });
    if (ends.includes(null)) {
      complain(new Error("Choose two ends of open outlines."));
      return;
    }
    this.desk.act("Join two ends", { do: "link", shapes: [this.key_], nodes: ends });
  }

  nearest([x, y], far) {
    let best = null;
    let least = far * far;
    this.contours.forEach((c, i) =>
      c.at.forEach((p, k) => {
        const d = (p[0] - x) ** 2 + (p[1] - y) ** 2;
        if (d < least) {
          least = d;
          best = `${i} ${k}`;
        }
      }),
    );
    return best;
  }

  handleAt([x, y], far) {
    for (const id of this.chosen) {
      const p = this.at(id);
      for (const side of [2, 4]) {
        if ((p[side] !== p[0] || p[side + 1] !== p[1]) && Math.hypot(p[side] - x, p[side + 1] - y) < far) {
          return { id, side };
        }
      }
    }
    return null;
  }

  grab(e) {
    const { view, data } = this.desk;
    const at = view.drawing.place(e);
    const far = reach(e, near) * view.drawing.perPx();
    const handle = this.handleAt(at, far);
    if (handle) return this.dragHandle(e, handle);
    const id = this.nearest(at, far);
    if (id) return this.dragNode(e, id, at);
    if (e.shiftKey) {
      return view.rope(e, (inside) => {
        if (!inside) return;
        this.contours.forEach((c, i) =>
          c.at.forEach((p, k) => inside(p[0], p[1]) && this.chosen.add(`${i} ${k}`)),
        );
        this.desk.go("nodes");
      });
    }
    if (e.detail === 2) return this.addAt(at, far);
    const hit = hitShape(view, data, at);
    return () => {
      this.chosen.clear();
      if (hit && hit !== this.key_) this.desk.tools.shapes.chosen = new Set([hit]);
      this.desk.go("nodes");
    };
  }

  // addAt puts a node on the outline where it was clicked twice.
  addAt(at, far) {
    let best = null;
    let least = far;
    for (const [i, c] of this.contours.entries()) {
      for (let k = 0; k < c.straight.length; k++) {
        for (let t = 0.02; t < 1; t += 0.02) {
          const p = pointOf(c, k, t);
          const d = Math.hypot(p[0] - at[0], p[1] - at[1]);
          if (d < least) [best, least] = [{ i, k, t }, d];
        }
      }
    }
    if (!best) return false;
    const { i, k, t } = best;
    this.chosen = new Set([`${i} ${k}`]);
    this.act("Add a node", "add", { at: [[Number(t.toFixed(3)), 0]] });
    return true;
  }

  dragNode(e, id, from) {
    const { view } = this.desk;
    if (!this.chosen.has(id) && !e.shiftKey) this.chosen.clear();
    const again = this.chosen.has(id);
    this.chosen.add(id);
    const start = structuredClone(this.contours);
    const grip = this.at(id).slice(0, 2);
    /** @type {any} */
    let by = [0, 0];
    this.redraw();
    const back = () => {
      this.contours = start;
      this.redraw();
    };
    return view.drag(
      e,
      (f) => {
        const p = view.drawing.place(f);
        by = this.snapped(grip, [p[0] - from[0], p[1] - from[1]]);
        this.contours = shifted(start, this.chosen, by);
        this.redraw();
      },
      (f, moved) => {
        if (!moved) {
          if (e.shiftKey && again) this.chosen.delete(id);
          this.desk.go("nodes");
          return;
        }
        this.contours = start;
        this.moveBy(this.desk.mm(by[0]), this.desk.mm(-by[1]));
      },
      back,
    );
  }

  // snapped returns the way of a node, so that it ends on another node or on a
  // whole tenth of a millimetre.
  snapped(from, by) {
    const to = [from[0] + by[0], from[1] + by[1]];
    if (this.snap === "figures") {
      const mid = middleOf(this.desk.data.box);
      const step = this.desk.px(0.1);
      const on = (v, m) => m + Math.round((v - m) / step) * step;
      return [on(to[0], mid[0]) - from[0], on(to[1], mid[1]) - from[1]];
    }
    if (this.snap === "nodes") {
      const far = near * this.desk.view.drawing.perPx();
      for (const [i, c] of this.contours.entries()) {
        for (const [k, p] of c.at.entries()) {
          if (this.chosen.has(`${i} ${k}`)) continue;
          if (Math.hypot(p[0] - to[0], p[1] - to[1]) < far) return [p[0] - from[0], p[1] - from[1]];
        }
      }
    }
    return by;
  }

  dragHandle(e, { id, side }) {
    const { view } = this.desk;
    const [c, k] = id.split(" ").map(Number);
    const start = structuredClone(this.contours);
    let to = null;
    return view.drag(
      e,
      (f) => {
        to = view.drawing.place(f);
        this.contours = structuredClone(start);
        const p = this.contours[c].at[k];
        if (!f.altKey) mirrorHandle(p, side, to);
        [p[side], p[side + 1]] = to;
        this.redraw();
      },
      (f, moved) => {
        this.contours = start;
        if (!moved) return;
        const keep = this.chosen;
        this.chosen = new Set([id]);
        const how = `${side === 2 ? "in" : "out"}${f.altKey ? " free" : ""}`;
        this.act("Pull a handle", how, { at: [to] });
        this.chosen = keep;
      },
      () => {
        this.contours = start;
        this.redraw();
      },
    );
  }

  key(e) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (by && this.chosen.size) {
      this.nudge(e, by, e.shiftKey ? 1 : 0.1);
      return true;
    }
    if ([",", ".", "<", ">", ";", ":"].includes(e.key)) {
      const ids = this.contours.flatMap((c, i) => c.at.map((_, k) => `${i} ${k}`));
      if (!ids.length) return true;
      const at = ids.indexOf([...this.chosen].at(-1));
      const forth = [".", ">", ":"].includes(e.key);
      const next = forth ? at + 1 : at < 0 ? -1 : at - 1;
      if (!e.shiftKey) this.chosen.clear();
      this.chosen.add(ids[(next + ids.length) % ids.length]);
      this.desk.go("nodes");
      return true;
    }
    if (e.key === "+" && this.chosen.size === 1) this.add();
    else if (e.key === "Delete" && this.chosen.size) this.act(`Delete ${this.words()}`, "delete");
    else if (e.key === "Escape") {
      this.chosen.clear();
      this.desk.go("nodes");
    } else if (e.key.toLowerCase() === "g" && this.key_) {
      this.desk.view.go(boxOf(this.desk.data.shapes.filter((s) => s.key === this.key_)));
    } else return false;
    return true;
  }
}

const middleOf = ([x, y, w, h]) => [x + w / 2, y + h / 2];

// contourPath draws a contour from its nodes.
function contourPath({ at, straight, closed }) {
  if (!at.length) return "";
  let d = `M${at[0][0]} ${at[0][1]}`;
  straight.forEach((line, k) => {
    const p = at[k];
    const q = at[(k + 1) % at.length];
    d += line ? `L${q[0]} ${q[1]}` : `C${p[4]} ${p[5]} ${q[2]} ${q[3]} ${q[0]} ${q[1]}`;
  });
  return closed ? `${d}Z` : d;
}

function pointOf({ at, straight }, k, t) {
  const p = at[k];
  const q = at[(k + 1) % at.length];
  if (straight[k]) return [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t];
  const u = 1 - t;
  const on = (i) =>
    u ** 3 * p[i] + 3 * u * u * t * p[4 + i] + 3 * u * t * t * q[2 + i] + t ** 3 * q[i];
  return [on(0), on(1)];
}

function shifted(contours, chosen, [dx, dy]) {
  return contours.map((c, i) => ({
    ...c,
    at: c.at.map((p, k) =>
      chosen.has(`${i} ${k}`)
        ? [p[0] + dx, p[1] + dy, p[2] + dx, p[3] + dy, p[4] + dx, p[5] + dy]
        : p,
    ),
  }));
}

// mirrorHandle turns the other handle along where the node was smooth, as the
// server does (core/mend, path.go).
function mirrorHandle(p, side, to) {
  const other = side === 2 ? 4 : 2;
  const a = [p[side] - p[0], p[side + 1] - p[1]];
  const b = [p[other] - p[0], p[other + 1] - p[1]];
  const la = Math.hypot(...a);
  const lb = Math.hypot(...b);
  if (!la || !lb || Math.abs(a[0] * b[1] - a[1] * b[0]) > 1e-3 * la * lb || a[0] * b[0] + a[1] * b[1] > 0) return;
  const d = [to[0] - p[0], to[1] - p[1]];
  const l = Math.hypot(...d);
  if (!l) return;
  const long = Math.abs(la - lb) < 1e-3 * la ? l : lb;
  p[other] = p[0] - (d[0] / l) * long;
  p[other + 1] = p[1] - (d[1] / l) * long;
}

// The outlines on the plate: shapes in their colours, edges of holes broken, findings as numbered marks. While
// outlines are edited, or on a key, what is solid is hatched; on another key the change that is proposed shows.

import { drag } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { Drawing } from "../lib/drawing.js";
import { several } from "../lib/told.js";

export class OutlineView {
  constructor(ctx, box, desk) {
    this.desk = desk;
    this.drawing = new Drawing(ctx, box, "The outlines, with findings marked");
    this.hatch = el("pattern", { id: "mendhatch", width: 7, height: 7, patternUnits: "userSpaceOnUse" });
    this.hatch.append(el("path", { d: "M0 7L7 0", class: "hatchline" }));
    this.dots = el("pattern", { id: "gaindots", width: 6, height: 6, patternUnits: "userSpaceOnUse" });
    this.dots.append(el("circle", { cx: 3, cy: 3, r: 1.6, class: "gainmark" }));
    this.bars = el("pattern", { id: "lossbars", width: 6, height: 6, patternUnits: "userSpaceOnUse" });
    this.bars.append(el("path", { d: "M-1 1L1 -1M0 6L6 0M5 7L7 5", class: "lossmark" }));
    this.change = el("g", { class: "proposed", visibility: "hidden" });
    this.art = el("g", { id: "mendart", class: "mendart" });
    this.solid = el("path", { class: "solidarea", "fill-rule": "evenodd" });
    this.edges = el("path", { class: "solidedge" });
    this.holes = el("path", { class: "holeedge" });
    this.was = el("g", { class: "was", visibility: "hidden" });
    this.chosen = el("g", { class: "chosen" });
    this.marks = el("g", { class: "findmarks" });
    this.over = el("g", { class: "handwork" });
    // What is only asked about must be in the page to answer.
    this.probes = el("g", { visibility: "hidden", "pointer-events": "none" });
    this.drawing.svg.append(
      el("defs", {}, this.hatch, this.dots, this.bars),
      this.art,
      this.solid,
      this.edges,
      this.holes,
      this.was,
      this.change,
      this.chosen,
      this.marks,
      this.over,
      this.probes,
    );
    this.label = el("div", { class: "depthlabel", hidden: true });
    this.lasso = el("path", { class: "lasso" });
    this.legend = el("div", { class: "changelegend", hidden: true, role: "status" });
    box.append(this.label, this.legend);
    this.drawing.seen = () => this.scale();
    this.drawing.grab = (e) => this.desk.tools?.[this.desk.mode]?.grab?.(e) ?? false;
    this.framed = "";
    this.paths = new Map();
    this.listen(ctx);
  }

  load() {
    const { data } = this.desk;
    this.paths.clear();
    this.art.replaceChildren(
      ...data.shapes.map((s) => {
        const p = el("path", { d: s.path, fill: s.color, "fill-rule": rule(s), "data-key": s.key });
        this.paths.set(s.key, p);
        return p;
      }),
    );
    this.was.replaceChildren(
      ...data.was.map((s) => el("path", { d: s.path, fill: s.color, "fill-rule": rule(s) })),
    );
    const part = (odd) =>
      data.loops
        .filter((l) => l.depth % 2 === odd)
        .map((l) => l.path)
        .join("");
    this.solid.setAttribute("d", data.loops.map((l) => l.path).join(""));
    this.edges.setAttribute("d", part(0));
    this.holes.setAttribute("d", part(1));
    this.rings = null;
    const [x, y, w, h] = data.box;
    const pad = Math.max(w, h) * 0.08;
    const frame = [x - pad, y - pad, w + 2 * pad, h + 2 * pad];
    // A change that moves the box a little leaves the view as it is.
    const rough = frame.map((v) => Math.round(v / (pad || 1))).join();
    if (rough !== this.framed) this.drawing.frame(...frame);
    else this.drawing.home = frame;
    this.framed = rough;
  }

  // draw shows the marks, what is chosen, and what the tool at hand adds.
  draw() {
    const { desk } = this;
    this.list = desk.marked?.() ?? [];
    this.laid = "";
    this.marks.classList.toggle("quiet", desk.mode !== "findings");
    this.hatched();
    const keys = desk.lit?.() ?? new Set();
    this.drawing.tell(
      `The outlines: ${several(this.paths.size, "shape")}, ${several(this.list.length, "mark")}`,
      keys.size && `Selected: ${several(keys.size, "shape")}`,
    );
    this.chosen.replaceChildren(
      ...[...keys].flatMap((k) => {
        const p = this.paths.get(k);
        return p ? [el("path", { d: p.getAttribute("d") })] : [];
      }),
    );
    this.over.replaceChildren(...(desk.tools[desk.mode]?.overlay?.() ?? []));
    this.scale();
  }

  // scale keeps marks and hatching as large as they are on the screen.
  scale() {
    const k = this.drawing.perPx();
    if (!Number.isFinite(k) || k <= 0) return;
    for (const p of [this.hatch, this.dots, this.bars]) p.setAttribute("patternTransform", `scale(${k})`);
    this.layMarks(k);
    this.desk.tools?.[this.desk.mode]?.scaled?.(k);
  }

  // layMarks gathers marks that would cover each other, until one comes nearer.
  layMarks(k) {
    const groups = gathered(this.list ?? [], k * crowded);
    const laid = groups.map((g) => `${g.at.join()} ${g.list.map((m) => m.number).join()} ${g.on}`).join("|");
    if (laid !== this.laid) {
      this.laid = laid;
      this.marks.replaceChildren(...groups.map((g) => this.mark(g)));
    }
    for (const g of this.marks.children)
      g.setAttribute("transform", `translate(${g.dataset.x} ${g.dataset.y}) scale(${k})`);
  }

  mark(g) {
    const [x, y] = g.at;
    const { list } = g;
    const one = list.length === 1;
    // Those in one place do not part however near one comes: one after the other.
    const box = around(list.map((m) => m.finding.at));
    const together = Math.max(box[2], box[3]) < this.drawing.home[2] / 2000;
    let next = 0;
    const act = () =>
      one || together ? this.desk.pick(list[next++ % list.length].finding) : this.go(box, 0.01);
    return el(
      "g",
      { class: `findmark${g.on ? " on" : ""}${one ? "" : " many"}`, "data-x": x, "data-y": y, onclick: act },
      el("title", {}, one ? list[0].finding.measure : `${list.length} findings: press to come nearer`),
      one ? el("path", { d: "M0 -12L12 0L0 12L-12 0Z" }) : el("path", { d: "M-15 -11H15V11H-15Z" }),
      el("text", { y: 4, class: one && list[0].number > 99 ? "long" : "" }, one ? list[0].number : `${list.length}×`),
    );
  }

  // hatched shows what is solid by hatching while outlines are edited, or when asked.
  hatched(on = this.asked) {
    this.asked = on;
    this.drawing.svg.classList.toggle("hatched", Boolean(on) || this.desk.mode === "nodes");
  }

  // foresee shows what the proposal at hand would change.
  foresee(on) {
    this.foreseeing = on;
    this.drawing.svg.classList.toggle("foreseeing", on);
    this.foreseen();
  }

  foreseen() {
    const trial = this.foreseeing ? this.desk.trial?.() : null;
    this.change.setAttribute("visibility", trial ? "visible" : "hidden");
    this.legend.hidden = !this.foreseeing;
    if (!this.foreseeing) return;
    if (!trial) {
      this.legend.textContent = "Choose a finding to see what its proposal changes.";
      return;
    }
    const area = (d, kind) => (d ? [el("path", { d, class: kind, "fill-rule": "evenodd" })] : []);
    this.change.replaceChildren(...area(trial.lost, "lost"), ...area(trial.other, "swapped"), ...area(trial.gained, "gained"));
    const key = (kind, text) => el("span", {}, el("i", { class: kind }), text);
    this.legend.replaceChildren(
      el("b", {}, trial.effect),
      ...(trial.gained ? [key("gained", "comes")] : []),
      ...(trial.lost ? [key("lost", "goes")] : []),
      ...(trial.other ? [key("swapped", "another colour")] : []),
      ...(trial.swaps ?? []).filter((s) => s.from && s.to).slice(0, 3).map(swap),
    );
  }

  before(on) {
    this.was.setAttribute("visibility", on ? "visible" : "hidden");
    this.drawing.svg.classList.toggle("asitcame", on);
  }

  go([x, y, w, h], least) {
    const pad = Math.max(w, h) * 0.7;
    this.drawing.show(x - pad, y - pad, w + 2 * pad, h + 2 * pad, least);
  }

  listen({ signal }) {
    let due = null;
    const svg = this.drawing.svg;
    svg.addEventListener(
      "pointermove",
      (e) => {
        due ??= requestAnimationFrame(() => {
          due = null;
          this.depthAt(e);
        });
        if (due) this.last = e;
      },
      { signal },
    );
    svg.addEventListener("pointerleave", () => (this.label.hidden = true), { signal });
  }

  // depthAt says what lies under the pointer: solid or hole, and how deep.
  depthAt(e) {
    if (!this.desk.data || e.buttons) {
      this.label.hidden = true;
      return;
    }
    if (!this.rings) {
      this.rings = this.desk.data.loops.map((l) => el("path", { d: l.path }));
      this.probes.replaceChildren(...this.rings);
    }
    const p = new DOMPoint(...this.drawing.place(e));
    let n = 0;
    for (const r of this.rings) if (r.isPointInFill(p)) n++;
    const box = this.drawing.svg.getBoundingClientRect();
    this.label.hidden = n === 0;
    this.label.textContent = `${n % 2 ? "solid" : "hole"}, depth ${n - 1}`;
    this.label.style.left = `${Math.min(e.clientX - box.left + 14, box.width - 120)}px`;
    this.label.style.top = `${e.clientY - box.top + 14}px`;
  }

  // drag follows a pointer until it is let go: move(e) on the way, end(e, moved); undo where it is given up.
  drag(e, move, end, undo) {
    return drag(e, this.drawing.svg, { move, end, undo });
  }

  // draws a lasso from a pointer that went down; end(inside) gets a test of
  // places.
  rope(e, end) {
    const pts = [this.drawing.place(e)];
    const line = () => pts.map((p, i) => `${i ? "L" : "M"}${p[0]} ${p[1]}`).join("");
    this.over.append(this.lasso);
    const away = () => {
      this.lasso.setAttribute("d", "");
      this.lasso.remove();
    };
    return this.drag(
      e,
      (f) => {
        pts.push(this.drawing.place(f));
        this.lasso.setAttribute("d", `${line()}Z`);
      },
      (f, moved) => {
        const d = `${line()}Z`;
        away();
        const area = el("path", { d });
        this.probes.append(area);
        end(moved ? (x, y) => area.isPointInFill(new DOMPoint(x, y)) : null, f);
        area.remove();
      },
      away,
    );
  }
}

const rule = (s) => (s.evenOdd ? "evenodd" : "nonzero");

// swap shows which colour becomes which.
function swap({ from, to }) {
  const patch = (color) => {
    const i = el("i", { class: "patch" });
    i.style.background = color; // an attribute is against the page's policy
    return i;
  };
  return el("span", { title: `${from} becomes ${to}` }, patch(from), "→", patch(to));
}

// So many px apart, marks do not cover each other.
const crowded = 32;

// gathered puts marks that lie nearer than far to another one together: {at, list, on}.
function gathered(marks, far) {
  const out = [];
  const cells = new Map();
  const cell = ([x, y], dx = 0, dy = 0) => `${Math.floor(x / far) + dx} ${Math.floor(y / far) + dy}`;
  for (const m of marks) {
    const { at } = m.finding;
    if (m.on) { // the one at hand stays by itself
      out.push({ at, list: [m], on: true });
      continue;
    }
    let best = null;
    for (let i = 0; i < 9 && !best; i++)
      best = (cells.get(cell(at, (i % 3) - 1, Math.floor(i / 3) - 1)) ?? []).find(
        (g) => Math.hypot(g.at[0] - at[0], g.at[1] - at[1]) < far,
      );
    if (best) best.list.push(m);
    else {
      const g = { at, list: [m], on: false };
      out.push(g);
      cells.set(cell(at), [...(cells.get(cell(at)) ?? []), g]);
    }
  }
  return out;
}

// around returns the box of some places.
/** @returns {[number, number, number, number]} */
function around(places) {
  const [xs, ys] = [0, 1].map((i) => places.map((p) => p[i]));
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return [x, y, Math.max(...xs) - x, Math.max(...ys) - y];
}

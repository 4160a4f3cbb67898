// The path of one thing: its fields beside the view, and what the view and the plan draw of it and take hold of.

import { field } from "../lib/field.js";
import { el, say } from "../lib/page.js";
import { during, gesture } from "../lib/keys.js";
import { figures } from "../made/terms.js";
import { line, handle, moved, starting, widened } from "./paths.js";

const { min: fewest, max: most } = figures.points;
const help =
  "Drag points and their handles in the view or on the plan, where arrow keys move a point and Page Up lifts it. " +
  "A click on the line adds a point; with Alt a handle moves alone.";
const steps = {
  ArrowLeft: [-1, 0, 0],
  ArrowRight: [1, 0, 0],
  ArrowUp: [0, 0, -1],
  ArrowDown: [0, 0, 1],
  PageUp: [0, 1, 0],
  PageDown: [0, -1, 0],
};

export class PathBox {
  // act is {piece, change(label, ...edits), redraw(), name(of), look(of) (see paths.js, starting), base(of), frames(),
  // end()}.
  constructor(act) {
    this.act = act;
    this.of = null;
    this.point = 0;
    this.tried = null;
    this.name = ""; // of what it belongs to
    this.kind = ""; // "part", "camera" or "lamp"
    const button = (name, text, title, onclick) =>
      el("button", { class: "button is-small", type: "button", "data-path": name, title, onclick }, text);
    this.title = el("h2", {});
    this.which = el("span", { class: "soft" });
    this.fields = ["right", "up", "ahead"].map((way, k) =>
      field({
        of: `path.${"xyz"[k]}`,
        name: `path.${way}`,
        value: 0,
        live: (v) => this.place(k, v, false),
        done: (v) => this.place(k, v, true),
      }),
    );
    const tick = (name, text, title, done) => {
      const box = el("input", { type: "checkbox", "data-path": name });
      box.addEventListener("change", () => done(box.checked));
      const words = el("span", {}, ` ${text}`);
      return { box, words, row: el("label", { class: "checkline", title }, box, words) };
    };
    this.corner = tick("corner", "corner", "Straight to both neighbours, without handles", (on) => this.patchPoint({ corner: on }));
    this.closed = tick("closed", "closed", "It leads back to its first point", (on) => this.patch({ closed: on }));
    this.even = tick("even", "the same speed everywhere", "Else each piece between two points takes as long", (on) => this.patch({ even: on }));
    this.faces = tick("faces", "", "", (on) => this.patch({ faces: on }));
    this.smooth = button("smooth", "Smooth handles", "Handles that make the path smooth", () =>
      this.patchPoint({ lead: undefined, trail: undefined, corner: false }),
    );
    this.drop = button("drop-point", "Delete the point", "Delete", () => this.remove());
    this.element = el(
      "div",
      { class: "pathbox" },
      this.title,
      el("p", { class: "soft" }, help),
      el("section", { class: "showgroup" }, this.which, ...this.fields.map((f) => f.row), this.corner.row,
        el("div", { class: "buttons" }, button("add", "Add a point", "After this one", () => this.add()), this.smooth, this.drop)),
      el("section", { class: "showgroup" }, this.closed.row, this.even.row, this.faces.row),
      el("div", { class: "buttons" },
        button("end", "Done", "Back to the panel of before (Escape)", () => act.end()),
        button("drop-path", "Delete the path", "With the keys that tell how far along it is", () => this.dropPath())),
    );
  }

  get stored() {
    return this.act.piece.state?.scene.motion?.paths?.find((p) => p.of === this.of) ?? null;
  }

  get path() {
    return this.of ? (this.tried ?? this.stored) : null;
  }

  // open takes the path of something up; without one it gets its first, and keys along it. Until that is there, the one
  // of before stays: a state that comes meanwhile has no path yet.
  async open(of, kind) {
    const name = this.act.name(of); // lamps are not told while a state is taken up
    if (!this.has(of) && !(await this.begin(of, kind))) return false;
    Object.assign(this, { of, kind, name, point: 0, tried: null });
    return true;
  }

  has(of) {
    return (this.act.piece.state?.scene.motion?.paths ?? []).some((p) => p.of === of);
  }

  begin(of, kind) {
    const frames = this.act.frames();
    const from = kind === "part" ? this.act.frame() : 0;
    const ease = kind === "part" ? "soft out" : "both";
    const key = (frame, value) => ({ kind: "key", of, what: "along", key: { frame, value, ease } });
    /** @type {object[]} */
    const edits = [{ kind: "path", path: starting(of, kind, this.act.look(of)) }, key(from < frames - 1 ? from : 0, 0), key(frames - 1, 1)];
    if (!this.act.piece.state.scene.motion?.frames) edits.push({ kind: "retime", frames });
    return this.act.change(`Path of ${this.act.name(of)}`, ...edits);
  }

  close() {
    this.of = null;
    this.tried = null;
  }

  keep(path) {
    this.tried = null;
    return this.act.change(`Path of ${this.name}`, { kind: "path", path });
  }

  patch(what) {
    this.keep({ ...this.path, ...what });
  }

  patchPoint(what) {
    this.patch({ points: this.path.points.map((q, i) => (i === this.point ? { ...q, ...what } : q)) });
  }

  place(k, v, done) {
    const path = this.stored;
    const by = [0, 0, 0];
    by[k] = v - path.points[this.point].at[k];
    this.tried = moved(path, { point: this.point, side: 0 }, by);
    if (done) this.keep(this.tried);
    else this.act.redraw();
  }

  pick(point) {
    this.point = point;
    this.show();
    this.act.redraw();
  }

  // add puts a point in the middle of the way to the next one; after the last one, on along the way.
  async add() {
    const path = this.path;
    if (path.points.length >= most) return say(`A path has up to ${most} points.`, { bad: true });
    const last = !path.closed && this.point === path.points.length - 1;
    const at = path.points[this.point].at;
    const here = last
      ? { at: at.map((v, k) => v - 3 * handle(path, this.point, -1)[k]), bend: this.point }
      : line(path).find((p) => p.bend === this.point && p.t === 0.5);
    this.point += 1;
    if (!(await this.keep(widened(path, here)))) this.point -= 1;
  }

  remove() {
    const path = this.path;
    if (path.points.length <= fewest) return say(`A path has ${fewest} points at least; delete the path instead.`, { bad: true });
    const points = path.points.filter((_, i) => i !== this.point);
    this.point = Math.min(this.point, points.length - 1);
    return this.keep({ ...path, points });
  }

  dropPath() {
    const { of, name } = this;
    this.act.end();
    return this.act.change(`Delete the path of ${name}`, { kind: "path", path: { of, points: [] } });
  }

  show() {
    const path = this.path;
    if (!path) return;
    this.point = Math.min(this.point, path.points.length - 1);
    const q = path.points[this.point];
    this.title.textContent = `Path of ${this.name}`;
    const from = this.kind === "part" ? "from where it rests" : "from the middle of the piece";
    this.which.textContent = `Point ${this.point + 1} of ${path.points.length}, ${from}`;
    this.fields.forEach((f, k) => f.set(q.at[k]));
    this.corner.box.checked = !!q.corner;
    this.closed.box.checked = !!path.closed;
    this.even.box.checked = !!path.even;
    this.faces.box.checked = !!path.faces;
    this.faces.row.hidden = this.kind === "lamp";
    this.faces.words.textContent = this.kind === "camera" ? " looks along the way" : " turns with the way";
    this.smooth.disabled = !q.lead && !q.trail && !q.corner;
    this.drop.disabled = path.points.length <= fewest;
  }

  // ---- what the view and the plan draw: places from the middle of the piece

  drawing() {
    const { path } = this;
    if (!path) return null;
    const base = this.act.base(this.of);
    const from = (v) => v.map((x, k) => x + base[k]);
    const q = path.points[this.point];
    const tip = (side) => q.at.map((v, k) => v + handle(path, this.point, side)[k]);
    const sides = q && !q.corner ? [-1, 1].filter((s) => path.closed || (s < 0 ? this.point > 0 : this.point < path.points.length - 1)) : [];
    return {
      line: line(path).map((p) => ({ ...p, at: from(p.at) })),
      points: path.points.map((p, i) => ({ at: from(p.at), point: i, picked: i === this.point, up: p.at[1] })),
      handles: sides.map((side) => ({ at: from(tip(side)), of: from(q.at), point: this.point, side })),
    };
  }

  // take takes hold of a point, a handle or, of the line, a new point.
  take(what) {
    const path = this.stored;
    if (what.line) {
      if (path.points.length >= most) return;
      const base = this.act.base(this.of);
      const on = what.line;
      this.tried = widened(path, { ...on, at: on.at.map((x, k) => x - base[k]) });
      what = { point: on.bend + 1 };
    }
    this.point = what.point;
    this.held = { what, was: this.tried ?? path, moved: !!this.tried };
    this.show();
    this.act.redraw();
  }

  // drag moves what is held by so much since it was taken.
  drag(by, alone) {
    if (!this.held) return;
    this.held.moved = true;
    this.tried = moved(this.held.was, this.held.what, by, alone);
    this.show();
    this.act.redraw();
  }

  // giveUp lets go of what is held; nothing has moved.
  giveUp() {
    if (!this.held) return;
    this.held = null;
    this.tried = null;
    this.show();
    this.act.redraw();
  }

  let() {
    const { held } = this;
    this.held = null;
    if (held?.moved) this.keep(this.tried);
  }

  // key is a key on a point of the plan.
  key(e, point) {
    const step = (e.shiftKey ? 0.2 : 0.04) * this.act.look(this.of).reach;
    const by = steps[e.key];
    if (by) {
      if (!during(this)) {
        this.take({ point });
        this.by = [0, 0, 0];
      }
      this.by = this.by.map((v, k) => v + by[k] * step);
      this.drag(this.by, false);
      gesture(e, this, () => this.let());
    } else if (e.key === "Delete" || e.key === "Backspace") {
      this.point = point;
      this.remove();
    } else if (e.key === "Enter" || e.key === "+" || e.key === "Insert") {
      this.point = point;
      this.add();
    } else if (e.key === " ") this.pick(point);
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
}

// Bed draws what lies on the bed of a printer, seen from above. It can be neared by the wheel and
// drawn along.

import { drag, pinch } from "../lib/drag.js";
import { el } from "../lib/page.js";

// colors of the kinds of paths, in the order of their words.
export const colors = ["#8d8577", "#b9a88f", "#c98b5b", "#8a371d", "#5a4d8c", "#1f7468", "#86b8aa", "#c23a6b"];

export class Bed {
  constructor() {
    this.ways = false; // whether the ways between lines are drawn
    this.canvas = el("canvas", { class: "bedcanvas", role: "img", "aria-label": "A layer on the bed, from above", tabindex: "0" });
    this.element = el("div", { class: "bedview" }, this.canvas);
    this.pen = this.canvas.getContext("2d");
    this.mark = null;
    this.again = () => this.clear();
    this.sight = new ResizeObserver(() => this.fit(false));
    this.sight.observe(this.element);
    this.canvas.addEventListener("wheel", (e) => this.near(e), { passive: false });
    pinch(this.canvas, (by, dx, dy, at) => {
      if (!this.job) return;
      this.slide(dx, dy);
      this.zoomAt(by, at);
    });
    this.canvas.addEventListener("pointerdown", (e) => this.grab(e));
    this.canvas.addEventListener("dblclick", () => this.other());
  }

  dispose() {
    this.sight.disconnect();
  }

  load(job) {
    const before = this.job;
    this.job = job;
    const shape = (j) => String([j.bed, j.places, j.size]);
    if (!before || shape(before) !== shape(job)) this.fit(true);
  }

  // room returns how far what lies on the bed reaches from its middle, with some air; or the
  // bed itself.
  room() {
    const { bed, places, size } = this.job;
    if (this.wide) return [bed[0] / 2, bed[1] / 2];
    const reach = (k) => Math.max(...places.map((p) => Math.abs(p[k]) + size[p[2] % 2 ? 1 - k : k] / 2));
    return [0, 1].map((k) => Math.min(bed[k] / 2, reach(k) * 1.1 + 8));
  }

  // other shows all of the bed, or what lies on it.
  other() {
    this.wide = !this.wide;
    this.fit(true);
  }

  clear() {
    this.again = () => this.clear();
    this.pen.setTransform(1, 0, 0, 1, 0, 0);
    this.pen.clearRect(0, 0, this.canvas.width, this.canvas.height);
  }

  // fit gives the canvas the room there is; whole brings all that lies there into it.
  fit(whole) {
    const { clientWidth: w, clientHeight: h } = this.element;
    if (!w || !h) return;
    const dense = devicePixelRatio || 1;
    if (this.canvas.width !== Math.round(w * dense) || this.canvas.height !== Math.round(h * dense)) {
      [this.canvas.width, this.canvas.height] = [Math.round(w * dense), Math.round(h * dense)];
      whole ||= !this.moved;
    }
    if (whole && this.job) {
      const [x, y] = this.room();
      this.scale = Math.min(w / x, h / y) * 0.47 || 1;
      this.middle = [0, 0];
      this.moved = false;
    }
    this.again();
  }

  near(e) {
    e.preventDefault();
    if (this.job) this.zoomAt(Math.exp(-e.deltaY / 400), e);
  }

  // zoomAt nears about a pointer.
  zoomAt(by, { clientX, clientY }) {
    const box = this.canvas.getBoundingClientRect();
    this.zoom(by, clientX - box.left - box.width / 2, clientY - box.top - box.height / 2);
  }

  // zoom nears by a factor; the place under (x, y), px from the middle, stays.
  zoom(by, x = 0, y = 0) {
    const to = Math.max(0.5, Math.min(400, this.scale * by));
    const k = 1 / this.scale - 1 / to;
    this.middle = [this.middle[0] + x * k, this.middle[1] - y * k];
    this.scale = to;
    this.moved = true;
    this.again();
  }

  grab(e) {
    if (this.job) drag(e, this.canvas, { move: (_, dx, dy) => this.slide(dx, dy) });
  }

  // slide moves the bed by px.
  slide(dx, dy) {
    this.middle = [this.middle[0] - dx / this.scale, this.middle[1] + dy / this.scale];
    this.moved = true;
    this.again();
  }

  // begin draws the empty bed, its millimetres along the edges.
  begin() {
    const { pen, job } = this;
    const dense = devicePixelRatio || 1;
    const k = this.scale * dense;
    pen.setTransform(1, 0, 0, 1, 0, 0);
    pen.clearRect(0, 0, this.canvas.width, this.canvas.height);
    pen.setTransform(k, 0, 0, -k, this.canvas.width / 2 - this.middle[0] * k, this.canvas.height / 2 + this.middle[1] * k);
    const [w, d] = job.bed;
    pen.fillStyle = "#fbf8f3";
    pen.fillRect(-w / 2, -d / 2, w, d);
    pen.strokeStyle = "#d5cabb";
    pen.lineWidth = 1 / this.scale;
    pen.strokeRect(-w / 2, -d / 2, w, d);
    pen.beginPath();
    for (let v = 10; v < w; v += 10) {
      const long = v % 50 ? 2 : 4;
      pen.moveTo(v - w / 2, -d / 2);
      pen.lineTo(v - w / 2, -d / 2 + long);
    }
    for (let v = 10; v < d; v += 10) {
      const long = v % 50 ? 2 : 4;
      pen.moveTo(-w / 2, v - d / 2);
      pen.lineTo(-w / 2 + long, v - d / 2);
    }
    pen.stroke();
    pen.lineJoin = "round";
  }

  // draw shows all of a layer.
  draw(paths, first) {
    this.again = () => this.draw(paths, first);
    if (!this.job || !this.scale) return;
    this.begin();
    if (first) this.lay(this.job.around, [0, 0, 0]);
    for (const place of this.job.places) this.lay(paths, place);
    this.ring();
  }

  lay(paths, [dx, dy, turn]) {
    const { pen } = this;
    pen.save();
    pen.translate(dx, dy);
    pen.rotate((turn * Math.PI) / 2);
    for (const p of paths) {
      pen.strokeStyle = colors[p.k];
      const n = p.p.length / 2;
      // A hair of the ground stays between lines, so that each can be told.
      if (p.v) {
        pen.lineCap = "round";
        for (let i = 0; i + 1 < n; i++) {
          pen.beginPath();
          pen.lineWidth = p.v[i] * 0.86;
          pen.moveTo(p.p[2 * i], p.p[2 * i + 1]);
          pen.lineTo(p.p[2 * i + 2], p.p[2 * i + 3]);
          pen.stroke();
        }
        pen.lineCap = "butt";
      } else {
        pen.lineWidth = p.w * 0.86;
        pen.beginPath();
        for (let i = 0; i < n; i++) pen.lineTo(p.p[2 * i], p.p[2 * i + 1]);
        pen.stroke();
      }
      if (p.c && p.k === 3) this.dot(p.p[0], p.p[1], p.w * 0.45, "#2b221d"); // the seam
    }
    if (this.ways) this.between(paths);
    pen.restore();
  }

  // between draws the ways of the nozzle from path to path; on dashed ones the filament is drawn back.
  between(paths) {
    const { pen } = this;
    pen.lineWidth = 1.4 / this.scale;
    pen.strokeStyle = "#2b221d";
    paths.forEach((p, i) => {
      if (!i) return;
      const from = paths[i - 1].p;
      pen.setLineDash(p.d ? [4 / this.scale, 3 / this.scale] : []);
      pen.beginPath();
      pen.moveTo(from[from.length - 2], from[from.length - 1]);
      for (let k = 0; k < (p.y?.length ?? 0); k += 2) pen.lineTo(p.y[k], p.y[k + 1]);
      pen.lineTo(p.p[0], p.p[1]);
      pen.stroke();
    });
    pen.setLineDash([]);
  }

  dot(x, y, r, color) {
    this.pen.fillStyle = color;
    this.pen.beginPath();
    this.pen.arc(x, y, r, 0, 2 * Math.PI);
    this.pen.fill();
  }

  // drawCourse shows a layer as far as a share of its time.
  drawCourse(course, share) {
    this.again = () => this.drawCourse(course, share);
    if (!this.job || !this.scale) return;
    this.begin();
    const { gone, at, way } = course.upTo(share);
    const { pen } = this;
    const line = (x, y, u, v, kind, width) => {
      pen.beginPath();
      pen.strokeStyle = colors[kind];
      pen.lineWidth = width * 0.86;
      pen.moveTo(x, y);
      pen.lineTo(u, v);
      pen.stroke();
    };
    for (let i = 0; i < gone; i++) {
      const [x, y, u, v, kind, width] = course.ways[i];
      if (kind >= 0) line(x, y, u, v, kind, width);
    }
    if (way && way[4] >= 0) line(way[0], way[1], ...at, way[4], way[5]);
    if (at) this.dot(...at, 5 / this.scale, "#a9492b");
    this.ring();
  }

  // ring marks the place of a finding.
  ring() {
    if (!this.mark) return;
    const { pen } = this;
    for (const [dx, dy, turn] of this.job.places.slice(0, 1)) {
      let [x, y] = this.mark;
      for (let k = 0; k < turn; k++) [x, y] = [-y, x];
      for (const { width, color } of [{ width: 5, color: "#fbf8f3" }, { width: 2.5, color: "#9a6200" }]) {
        pen.beginPath();
        pen.strokeStyle = color;
        pen.lineWidth = width / this.scale;
        pen.arc(x + dx, y + dy, Math.max(2, 16 / this.scale), 0, 2 * Math.PI);
        pen.stroke();
      }
    }
  }
}

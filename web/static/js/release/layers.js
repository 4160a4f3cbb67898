// The layers on the bed, as the nozzle lays them: coloured by what is laid, played as it goes.

import { lineKinds } from "../made/terms.js";
import { get } from "../lib/api.js";
import { count, duration, figure } from "../lib/length.js";
import { complain, el } from "../lib/page.js";
import { tell } from "../lib/told.js";

import { Bed, colors } from "./bed.js";
import { Course } from "./course.js";

// faster is how many times faster than real layers are played.
const faster = 20;

export class Layers {
  constructor({ piece }) {
    this.piece = piece;
    this.kept = new Map(); // paths by layer
    this.bed = new Bed();
    this.slider = el("input", { type: "range", min: 1, max: 1, step: 1, value: 1, "data-scene": "layer", "aria-label": "Layer" });
    this.text = el("output", { "data-layer": "text" });
    this.playButton = el(
      "button",
      { class: "button is-small", type: "button", "data-act": "play-layers", title: "Play from here on (Space)", onclick: () => this.toggle() },
      "Play",
    );
    this.legend = el("div", { class: "kinds" });
    this.ways = el("input", { type: "checkbox", "data-act": "ways", onchange: () => this.between(this.ways.checked) });
    const ways = el(
      "label",
      { class: "waysbox", title: "How the nozzle gets from path to path; on dashed ways the filament is drawn back (W)" },
      this.ways,
      " travel",
    );
    this.sums = el("p", { class: "printsums" });
    this.element = el(
      "div",
      { class: "layersview" },
      el("div", { class: "layerstop" }, this.sums, this.legend, ways),
      this.bed.element,
      el("div", { class: "layerline" }, this.playButton, this.slider, this.text),
    );
    this.slider.addEventListener("input", () => this.go(Number(this.slider.value)));
  }

  // load takes a rehearsal; spots are the places of findings.
  load(job) {
    this.stop();
    if (job.key !== this.job?.key) this.kept.clear();
    this.job = job;
    const n = job.layers.length;
    this.slider.max = n;
    const at = Math.min(this.layer ?? n, n);
    this.sums.textContent =
      `${duration(job.time)}, ${figure(job.filament)} m of filament, ${figure(job.mass)} g, costs ${figure(job.cost)}` +
      (job.places.length > 1 ? `; ${job.places.length} copies` : "");
    this.bed.load(job);
    this.go(at);
  }

  fail(text) {
    this.stop();
    this.job = null;
    this.bed.clear();
    this.sums.textContent = text;
    this.text.textContent = "";
    this.legend.replaceChildren();
  }

  // go shows a layer, from 1.
  async go(n) {
    if (!this.job) return;
    n = Math.max(1, Math.min(this.job.layers.length, n));
    this.layer = n;
    this.slider.value = n;
    this.share = null;
    const l = this.job.layers[n - 1];
    const before = this.job.layers.slice(0, n - 1).reduce((sum, x) => sum + x.t, 0);
    this.text.textContent = `${n} of ${count(this.job.layers.length)}, ${figure(l.z)} mm up, ${duration(l.t)}; after ${duration(before)}`;
    try {
      const paths = await this.paths(n);
      if (this.layer !== n || !paths) return;
      this.shown = paths;
      this.key(paths, n);
      this.bed.draw(paths, n === 1);
      tell(this.bed.canvas, `Layer ${this.text.textContent} on the bed, from above`);
      document.body.dataset.layer = String(n);
    } catch (e) {
      complain(e);
    }
  }

  async paths(n) {
    const { key } = this.job;
    if (!this.kept.has(n)) {
      const got = await get(`${this.piece.base}/data/layer?n=${n - 1}`);
      if (this.job?.key !== key || got.key !== key) return null; // it has changed meanwhile
      if (this.kept.size > 40) this.kept.delete(this.kept.keys().next().value);
      this.kept.set(n, got.paths);
    }
    return this.kept.get(n);
  }

  // key lists the kinds of paths that a layer has, with words beside their colours.
  key(paths, n) {
    const all = n === 1 ? [...this.job.around, ...paths] : paths;
    const have = new Set(all.map((p) => p.k));
    this.legend.replaceChildren(
      ...lineKinds.flatMap((name, k) => {
        if (!have.has(k)) return [];
        const dab = el("i", {});
        dab.style.background = colors[k];
        return [el("span", {}, dab, name)];
      }),
    );
  }

  // between shows the ways of the nozzle between paths, or not.
  between(on) {
    this.ways.checked = on;
    this.bed.ways = on;
    this.bed.again();
  }

  // show marks a place in its layer.
  show(layer, spot) {
    this.bed.mark = spot;
    this.go(layer);
  }

  // ---- playing

  toggle() {
    if (this.playing) this.stop();
    else this.play();
  }

  async play() {
    if (!this.job || this.playing) return;
    this.playing = true;
    this.playButton.textContent = "Stop";
    document.body.dataset.laying = "1";
    let last = performance.now();
    let course = null;
    let at = 0;
    const step = async (now) => {
      if (!this.playing) return;
      at += ((now - last) / 1000) * faster;
      last = now;
      if (!course) {
        const paths = await this.paths(this.layer);
        if (!paths || !this.playing) return this.stop();
        course = new Course(this.job, paths, this.layer === 1);
        at = 0;
        last = performance.now();
      }
      const time = this.job.layers[this.layer - 1].t;
      const share = Math.min(1, at / Math.max(time, 1e-6));
      this.bed.drawCourse(course, share);
      document.body.dataset.laid = share.toFixed(3);
      if (share >= 1) {
        if (this.layer >= this.job.layers.length) return this.stop();
        await this.go(this.layer + 1);
        course = null;
      }
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }

  stop() {
    if (!this.playing) return;
    this.playing = false;
    this.playButton.textContent = "Play";
    delete document.body.dataset.laying;
    delete document.body.dataset.laid;
    if (this.shown && this.job) this.bed.draw(this.shown, this.layer === 1);
  }
}

// Release: the checks, the layers, the printer; the files, and how the piece is printed.

import { inScope } from "../lib/acts.js";
import { get } from "../lib/api.js";
import { choice } from "../lib/field.js";
import { complain, el } from "../lib/page.js";

import { facts, inks, table, troubles, verdict } from "./checks.js";
import { files } from "./files.js";
import { Layers } from "./layers.js";
import { Machine } from "./machine.js";
import { settings } from "./settings.js";

const views = [
  ["checks", "Checks"],
  ["layers", "Layers"],
  ["printer", "Printer"],
];
const panels = [
  ["files", "Files"],
  ["print", "Print"],
];

export function mount(ctx) {
  return new Release(ctx);
}

// memory keeps what is shown over a visit to another step.
const memory = { view: "checks", panel: "files" };

class Release {
  constructor(ctx) {
    this.ctx = ctx;
    this.piece = ctx.piece;
    this.round = 0;
    this.shown = ""; // the solids that were checked
    this.laid = ""; // how they lay when the print was looked at
    this.box = el("div", { class: "checks" });
    this.section = el("section", { class: "printing" });
    this.checksView = el("div", { class: "checksview scroll" }, this.box, this.section);
    this.layers = new Layers({ piece: this.piece });
    this.machine = new Machine({ piece: this.piece, layer: (n) => this.follow(n) });
    this.files = files({ piece: this.piece });
    this.settings = settings({ piece: this.piece });
    this.views = choice("What is shown", views, memory.view, (v) => this.view(v));
    this.panels = choice("What is shown beside", panels, memory.panel, (p) => this.panel(p));
    this.views.row.lastChild.classList.add("releasetabs");
    this.stage = el("div", { class: "releasestage" });
    ctx.view.append(el("div", { class: "releaseview" }, this.views.row.lastChild, this.stage));
    this.beside = el("div", {});
    ctx.panel.append(el("div", { class: "showtabs" }, this.panels.row.lastChild), this.beside);
    this.view(memory.view);
    this.panel(memory.panel);
    inScope("release", this.does(), ctx.signal);
  }

  // ---- what is shown

  view(name) {
    memory.view = name;
    this.views.set(name);
    document.body.dataset.releaseview = name;
    this.stage.className = `releasestage ${name}`;
    if (name !== "layers") this.layers.stop();
    if (name === "printer") this.machine.watch();
    else this.machine.stop();
    const shown = { checks: [this.checksView], layers: [this.layers.element], printer: [this.machine.element, this.layers.element] };
    this.stage.replaceChildren(...shown[name]);
  }

  panel(name) {
    memory.panel = name;
    this.panels.set(name);
    this.beside.replaceChildren((name === "files" ? this.files : this.settings).element);
  }

  // does tells what the acts of this step do (web/acts).
  does() {
    const { layers } = this;
    return {
      checks: () => this.view("checks"),
      layers: () => this.view("layers"),
      printer: () => this.view("printer"),
      face: () => this.settings.facedown(),
      stands: () => {
        this.panel("print");
        this.settings.compare();
      },
      travel: () => layers.between(!layers.ways.checked),
      up: () => layers.go(layers.layer + 1),
      down: () => layers.go(layers.layer - 1),
      fit: () => layers.bed.other(),
      nearer: () => layers.bed.zoom(1.25),
      farther: () => layers.bed.zoom(0.8),
      play: () => memory.view === "layers" && layers.toggle(),
      send: () => {
        this.view("printer");
        this.machine.sendPiece();
      },
    };
  }

  // follow shows the layer at which the printer is.
  follow(n) {
    if (memory.view === "printer" && n && n !== this.layers.layer) this.layers.go(n);
  }

  // ---- the checks

  heading() {
    return el("h1", {}, "Checks");
  }

  async check() {
    const mine = ++this.round;
    this.abort?.();
    this.forget();
    const begin = performance.now();
    this.box.replaceChildren(
      this.heading(),
      el("p", { class: "soft" }, "Going over every edge and every pair of triangles…"),
    );
    const fetch = (job) => {
      this.abort = job.abort;
      return get(`${this.piece.base}/data/checks`, job);
    };
    const again = el("button", { class: "button is-small mt-3", type: "button", onclick: () => this.check() }, "Check again");
    const stopped = () => this.box.replaceChildren(this.heading(), el("p", { class: "soft" }, "The check was cancelled."), again);
    try {
      const list = (await this.piece.run("Checking the solids", fetch, { onCancel: stopped })).parts;
      if (mine !== this.round) return;
      this.sound(list, performance.now() - begin);
      this.look(); // one after the other: both look at all solids
    } catch (e) {
      if (mine !== this.round || e.name === "AbortError" || e.kind === "cancelled") return;
      this.box.replaceChildren(this.heading(), el("p", { class: "verdict bad" }, e.message));
    }
  }

  sound(list, ms) {
    const bad = list.filter((p) => !p.sound);
    this.box.replaceChildren(this.heading(), verdict(list, bad), table(list));
    const triangles = list.reduce((n, p) => n + p.triangles, 0);
    this.piece.measure({
      depth: Math.max(...list.map((p) => p.depth)),
      triangles,
      watertight: bad.length === 0,
      ms,
    });
    document.querySelector('.rail a[data-step="release"] i').className = bad.length ? "bad" : "good";
    document.body.dataset.checked = "1";
  }

  // look asks what is to be known of the print, then lays it out.
  async look() {
    const mine = ++this.round;
    this.abort?.();
    this.forget();
    const ask = (what) => (job) => {
      this.abort = job.abort;
      return get(`${this.piece.base}/data/${what}`, job);
    };
    const gone = (e) => mine !== this.round || e.name === "AbortError" || e.kind === "cancelled";
    try {
      const r = await this.piece.run("Cutting it into layers", ask("print"));
      if (mine !== this.round) return;
      this.report(r);
    } catch (e) {
      if (gone(e)) return;
      this.section.replaceChildren(el("h1", {}, "On the printer"), el("p", { class: "verdict bad" }, e.message));
      this.layers.fail(e.message);
      if (!e.status) complain(e);
      document.body.dataset.printed = document.body.dataset.rehearsed = "failed";
      return;
    }
    try {
      const job = await this.piece.run("Laying out the print", ask("rehearsal"));
      if (mine !== this.round) return;
      this.layers.load(job);
      document.body.dataset.rehearsed = job.key;
    } catch (e) {
      if (gone(e)) return;
      this.layers.fail(e.message);
      document.body.dataset.rehearsed = "failed";
    }
  }

  report(r) {
    this.layers.bed.mark = null;
    const act = {
      show: (i) => {
        this.view("layers");
        this.layers.show(r.findings[i].layer, r.spots[i]);
      },
      mend: (i) => this.mend(r.findings[i], r.page[i]),
    };
    this.section.replaceChildren(el("h1", {}, "On the printer"), troubles(r, act), facts(r), ...inks(r.changes));
    document.body.dataset.printed = String(r.findings.length);
  }

  // mend leads to Mend with a finding open there.
  mend(f, at) {
    sessionStorage.setItem("bildhauer:finding", JSON.stringify({ kind: f.mend, limit: f.limit, at }));
    document.querySelector('.rail a[data-step="mend"]').click();
  }

  forget() {
    delete document.body.dataset.printed;
    delete document.body.dataset.rehearsed;
    delete document.body.dataset.layer;
  }

  update(s) {
    this.files.enable(!s.problem);
    const solids = s.parts.map((p) => `${p.name} ${p.out} ${p.key}`).join();
    this.settings.update(s, solids !== this.shown);
    if (s.problem) {
      this.box.replaceChildren(this.heading(), el("p", { class: "verdict bad" }, s.problem));
      this.section.replaceChildren();
      this.layers.fail(s.problem);
      return;
    }
    const lies = JSON.stringify([s.size.lying ?? "", s.all, s.print]);
    if (solids !== this.shown) this.check();
    else if (lies !== this.laid) this.look();
    [this.shown, this.laid] = [solids, lies];
  }

  unmount() {
    this.round++;
    this.abort?.();
    this.machine.stop();
    this.settings.close();
    this.layers.stop();
    this.layers.bed.dispose();
    this.forget();
    delete document.body.dataset.releaseview;
  }
}

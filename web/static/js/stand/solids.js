// Fetches the solids of a piece's parts and hands them to the stand. The server
// names each solid by a key (core/stages); a part whose key is the one that is
// shown needs nothing.

import { complain, say } from "../lib/page.js";
import { run } from "../frame/jobs.js";
import { streamSolids } from "./records.js";

const few = 12; // bodies are drawn as they come; more, now and then

export class Solids {
  constructor(piece, stand) {
    this.piece = piece;
    this.stand = stand;
    this.have = new Map(); // part -> solid
    this.round = 0; // of the state that is shown; previews of an older one are late
    this.next = null; // measures to try when the last ones are there
    this.trying = false;
    this.onBuilt = null;
    this.edges = false; // those of polygons are wanted, for the wire
    stand.wantsEdges = () => this.withEdges();
  }

  // withEdges asks for all bodies again with the edges of their polygons.
  withEdges() {
    if (this.edges) return;
    this.edges = true;
    for (const s of this.have.values()) s.key = "";
    this.show().catch(complain);
  }

  put(id, solid) {
    this.have.set(id, solid);
    this.stand.put(id, solid);
  }

  // limitsOf says what of a body's measures could not be.
  limitsOf(id) {
    return this.have.get(id)?.limits ?? [];
  }

  // gotOf returns what a body really has: heights of its bevels, the width of a pillow.
  gotOf(id) {
    const s = this.have.get(id);
    return s && !this.trying ? { high: s.high, low: s.low, reach: s.reach, depth: s.depth, widest: s.widest, narrow: s.spots.length > 0 } : null;
  }

  // stop ends what runs; the solids that are there stay.
  stop() {
    this.round++;
    this.next = null;
    this.abort?.();
  }

  // show brings the stand up to the state in force, building what changed.
  async show() {
    this.stop();
    const round = this.round;
    const state = this.piece.state;
    // Details are faces of the body that they belong to.
    const parts = state.parts.filter((p) => !p.out && p.host === p.id);
    for (const id of [...this.have.keys()]) {
      if (parts.some((p) => p.id === id)) continue;
      this.have.delete(id);
      this.stand.remove(id);
    }
    this.stand.recolor(new Map(state.parts.map((p) => [p.id, p.color])));
    const todo = parts.filter((p) => this.have.get(p.id)?.key !== p.key || this.have.get(p.id).tried);
    let failed = null; // a body that can't be made; the others are shown
    if (todo.length) await this.build(todo, round).catch((e) => (failed = e));
    if (round !== this.round) return;
    this.stand.settle(state);
    if (todo.some((p) => !this.have.has(p.id))) this.piece.measure({ triangles: null, watertight: null, ms: null });
    else this.measure();
    if (failed) throw failed;
  }

  // build asks for the bodies of parts in one stream and shows each as it comes.
  async build(todo, round) {
    const cancelled = () => {
      this.round++;
      const again = () => this.show().catch(complain);
      say("Build cancelled. The view shows the solids from before.", { action: "Build again", act: again });
    };
    const all = todo.length === this.piece.state.parts.filter((p) => !p.out && p.host === p.id).length;
    const have = Object.fromEntries([...this.have].filter(([, s]) => !s.tried).map(([id, s]) => [id, s.key]));
    let came = 0;
    performance.mark("solids asked");
    const work = async (job) => {
      this.abort = job.abort;
      job.say(todo.length > 1 ? `Raising ${todo.length} parts` : `Raising ${todo[0].name}`);
      this.stand.coming?.(todo.length > few);
      const edges = this.edges;
      const wanted = { parts: all ? [] : todo.map((p) => p.id), have, edges };
      await streamSolids(this.piece.base, wanted, this.have, job, (solid) => {
        if (round !== this.round) return;
        this.put(solid.part, solid);
        if (!came++) performance.mark("solids first");
        if (came === todo.length) performance.mark("solids all");
        if (came % Math.ceil(todo.length / 20) === 0) job.report(came / todo.length); // each is drawn
      }, (checked) => this.looked(checked));
    };
    try {
      await run(`Raising ${todo[0].name}`, work, { onCancel: cancelled });
    } catch (e) {
      if (round === this.round) throw e;
    } finally {
      if (round === this.round) this.stand.coming?.(false);
    }
  }

  // looked takes what a look at bodies has found.
  looked(checked) {
    for (const [id, found] of Object.entries(checked)) Object.assign(this.have.get(id) ?? {}, found);
  }

  measure() {
    const all = [...this.have.values()].filter((s) => s.triangles > 0); // of some parts nothing is left
    this.onBuilt?.();
    if (!all.length) {
      this.piece.measure({ triangles: null, watertight: null, ms: null });
      return;
    }
    const sum = (f) => all.reduce((n, s) => n + f(s), 0);
    this.piece.measure({
      // What is there counts, not what was asked for: where two bevels meet in
      // a ridge, a part may stay lower than its depth.
      depth: Math.max(...all.map((s) => s.bottom + s.rise)) - Math.min(...all.map((s) => s.bottom)),
      triangles: sum((s) => s.triangles),
      watertight: all.every((s) => s.watertight || s.open),
      open: all.some((s) => s.open),
      ms: sum((s) => s.ms),
    });
    document.body.dataset.solids = String(Number(document.body.dataset.solids ?? 0) + 1);
  }

  // preview shows measures that are being dragged, by part; only the latest counts, and what they do not
  // change is not asked for.
  async preview(tried) {
    this.next = tried;
    if (this.trying) return;
    this.trying = true;
    while (this.next) {
      const wanted = this.next;
      this.next = null;
      const round = this.round;
      const hosts = this.piece.state.parts.filter((p) => p.id in wanted || "*" in wanted).map((p) => p.host);
      const parts = [...new Set(hosts)].filter((id) => this.have.has(id));
      const have = Object.fromEntries(parts.map((id) => [id, this.have.get(id).key]));
      if (!parts.length) continue;
      try {
        this.stand.coming?.(true);
        const ask = { parts, have, try: wanted, edges: this.edges };
        const before = parts.map((id) => [id, this.have.get(id)]);
        await streamSolids(this.piece.base, ask, before, undefined, (solid) => {
          if (round !== this.round) return;
          // It is looked at when it is kept; until then it passes for what the one before was.
          const { watertight, open } = this.have.get(solid.part) ?? {};
          this.put(solid.part, Object.assign(solid, { tried: true, watertight, open }));
        });
        this.stand.coming?.(false, true);
        if (round === this.round) this.measure();
      } catch (e) {
        this.stand.coming?.(false);
        complain(e);
      }
    }
    this.trying = false;
  }
}

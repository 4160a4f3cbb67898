// Fetches the solids of a piece's parts and hands them to the stand. The server
// names each solid by a key (core/stages); a part whose key is the one that is
// shown needs nothing.

import { BufferAttribute, BufferGeometry } from "../../vendor/three.min.js";
import { postBinary } from "../lib/api.js";
import { complain, say } from "../lib/page.js";
import { about, run } from "../frame/jobs.js";

// After some parts it is known how long all of them take; who would have to wait for longer than
// this is asked first.
const sample = 20;
const longBuild = 90; // s

// readSolid takes the server's binary form apart (see web/raise.go).
export function readSolid(buffer) {
  const n = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, n)));
  let at = 4 + n;
  const positions = new Float32Array(buffer, at, 3 * head.corners);
  at += 12 * head.corners;
  const normals = new Int16Array(buffer, at, 4 * head.corners);
  at += 8 * head.corners;
  const indices = new Uint32Array(buffer, at, 3 * head.triangles);
  const edges = new Uint32Array(buffer, at + 12 * head.triangles, 2 * head.edges);
  return { ...head, positions, normals, indices, edges };
}

// geometryOf makes what three draws of a solid.
export function geometryOf(solid) {
  const g = new BufferGeometry();
  g.setAttribute("position", new BufferAttribute(solid.positions, 3));
  const n = new Int16Array((solid.normals.length / 4) * 3);
  for (let i = 0, j = 0; i < solid.normals.length; i += 4) {
    n[j++] = solid.normals[i];
    n[j++] = solid.normals[i + 1];
    n[j++] = solid.normals[i + 2];
  }
  g.setAttribute("normal", new BufferAttribute(n, 3, true));
  g.setIndex(new BufferAttribute(solid.indices, 1));
  return g;
}

export class Solids {
  constructor(piece, stand) {
    this.piece = piece;
    this.stand = stand;
    this.have = new Map(); // part -> solid
    this.round = 0; // of the state that is shown; previews of an older one are late
    this.next = null; // measures to try when the last ones are there
    this.trying = false;
    this.agreed = 0; // how many parts may take as long as they do
    this.onBuilt = null;
  }

  fetch(part, tried, job) {
    return postBinary(`${this.piece.base}/data/solid`, { part, try: tried }, job).then(readSolid);
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
    const todo = parts.filter((p) => this.have.get(p.id)?.key !== p.key);
    if (todo.length) await this.build(todo, round);
    if (round !== this.round) return;
    this.stand.settle(state);
    if (todo.some((p) => !this.have.has(p.id))) this.piece.measure({ triangles: null, watertight: null, ms: null });
    else this.measure();
  }

  // ask says how long the rest would take, and waits for an answer.
  ask(left, seconds) {
    const others = left.toLocaleString("en");
    const text =
      `Raising the other ${others} parts would take about ${about(seconds)}. Fewer parts are quicker: choose what ` +
      "makes a part above their list. Release writes them all without this view.";
    const act = () => {
      this.agreed = left;
      this.show().catch(complain);
    };
    say(text, { action: "Raise them", act, stay: 120_000 });
  }

  async build(todo, round) {
    const cancelled = () => {
      this.round++;
      const again = () => this.show().catch(complain);
      say("Build cancelled. The view shows the solids from before.", { action: "Build again", act: again });
    };
    const work = async (job) => {
      this.abort = job.abort;
      const begun = performance.now();
      if (todo.length > sample) job.say("Raising the parts");
      for (const [i, p] of todo.entries()) {
        const seconds = ((performance.now() - begun) / 1000 / i) * (todo.length - i);
        if (i === sample && todo.length > this.agreed && seconds > longBuild) {
          this.ask(todo.length - i, seconds);
          return;
        }
        if (todo.length > sample) job.report(i / todo.length);
        else job.say(`Raising ${p.name} (${i + 1} of ${todo.length})`);
        const solid = await this.fetch(p.id, undefined, job);
        if (round !== this.round) return;
        this.put(p.id, solid);
      }
    };
    try {
      await run(`Raising ${todo[0].name}`, work, { onCancel: cancelled });
    } catch (e) {
      if (round === this.round) throw e;
    }
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

  // preview shows measures that are being dragged, by part; only the latest counts.
  async preview(tried) {
    this.next = tried;
    if (this.trying) return;
    this.trying = true;
    while (this.next) {
      const wanted = this.next;
      this.next = null;
      const round = this.round;
      const one = async (id) => {
        const solid = await this.fetch(id, wanted);
        if (round === this.round) this.put(id, solid);
      };
      const hosts = this.piece.state.parts.filter((p) => p.id in wanted || "*" in wanted).map((p) => p.host);
      try {
        await Promise.all([...new Set(hosts)].filter((id) => this.have.has(id)).map(one));
        if (round === this.round) this.measure();
      } catch (e) {
        complain(e);
      }
    }
    this.trying = false;
  }
}

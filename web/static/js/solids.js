// Fetches the solids of a piece's parts and hands them to the stand.

import { postBinary, post } from "./api.js";
import { complain, say } from "./page.js";

// readSolid takes the server's binary form apart (see web/solid.go).
export function readSolid(buffer) {
  const n = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, n)));
  let at = 4 + n;
  const positions = new Float32Array(buffer, at, 3 * head.corners);
  at += 12 * head.corners;
  const normals = new Int8Array(buffer, at, 4 * head.corners);
  at += 4 * head.corners;
  return { ...head, positions, normals, indices: new Uint32Array(buffer, at, 3 * head.triangles) };
}

export class Solids {
  constructor(piece, stand) {
    this.piece = piece; this.stand = stand;
    this.have = new Map(); // part -> {key, head}
    this.round = 0;
    this.trying = null; this.next = null;
  }

  // keyOf names what the solid of a part depends on.
  keyOf(p) {
    const { size, tolerance, overlap, choice } = this.piece.state.recipe;
    const { name, out, ...how } = p.recipe;
    return JSON.stringify([size, tolerance, overlap, choice, how]);
  }

  async fetch(part, patch, signal) {
    return readSolid(await postBinary(`${this.piece.base}/data/solid`, { part, patch }, signal));
  }

  // show brings the stand up to the state in force, building what changed.
  async show() {
    const round = ++this.round, state = this.piece.state;
    this.next = null;
    this.abort?.abort();
    const parts = state.parts.filter((p) => !p.recipe.out);
    for (const id of [...this.have.keys()]) if (!parts.some((p) => p.id === id)) { this.have.delete(id); this.stand.remove(id); }
    const todo = parts.filter((p) => this.have.get(p.id)?.key !== this.keyOf(p));
    const abort = new AbortController();
    this.abort = abort;
    let done = 0;
    const cancel = async () => {
      abort.abort();
      this.piece.done();
      await post(`${this.piece.base}/cancel`).catch(() => {});
      say("Build cancelled. The view shows the solids from before.", { action: "Build again", act: () => this.show().catch(complain) });
    };
    try {
      for (const p of todo) {
        this.piece.busy(`Raising ${p.name} (${done + 1} of ${todo.length})`, cancel);
        const key = this.keyOf(p);
        const solid = await this.fetch(p.id, undefined, abort.signal);
        if (round !== this.round) return;
        this.stand.put(p.id, solid);
        this.have.set(p.id, { key, solid });
        done++;
      }
    } catch (e) {
      if (e.name === "AbortError" || e.status === 409) return;
      throw e;
    } finally {
      if (round === this.round) this.piece.done();
    }
    this.stand.settle(state);
    this.measure();
  }

  measure() {
    const all = [...this.have.values()].map((h) => h.solid);
    if (!all.length) { this.piece.measure({ triangles: null, watertight: null, ms: null }); return; }
    // What is there counts, not what was asked for: where two bevels meet in a
    // ridge, a part may stay lower than its depth.
    const d = Math.max(...all.map((s) => s.rise));
    this.piece.measure({ depth: d, triangles: all.reduce((n, s) => n + s.triangles, 0), watertight: all.every((s) => s.watertight), ms: all.reduce((n, s) => n + s.ms, 0) });
    document.body.dataset.solids = String(Number(document.body.dataset.solids ?? 0) + 1);
  }

  // preview shows measures that are being dragged; only the latest counts.
  async preview(ids, patch) {
    this.next = { ids, patch };
    if (this.trying) return;
    while (this.next) {
      const { ids, patch } = this.next;
      this.next = null;
      const round = this.round;
      this.trying = Promise.all(ids.filter((id) => this.have.has(id)).map(async (id) => {
        const solid = await this.fetch(id, patch);
        if (round !== this.round) return;
        this.stand.put(id, solid);
        this.have.set(id, { key: "tried", solid });
      }));
      try { await this.trying; this.measure(); } catch (e) { if (e.status !== 409 && e.name !== "AbortError") complain(e); }
      this.trying = null;
    }
  }
}

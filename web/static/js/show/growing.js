// Bodies that have another form at each frame: written so far, become another one so far. Each form is asked for when
// its frame is shown, one after the other, and kept; until it is there the one of before stands.

import { streamSolids } from "../stand/records.js";

const most = 400; // bodies that are kept

export class Growing {
  // act is {piece, live, redraw()}.
  constructor(act) {
    this.act = act;
    this.forms = new Map(); // id and form -> body, the oldest first
    this.frames = [];
    this.bodies = [];
  }

  // take takes what the server told of the frames; forms of another state are of no use.
  take(data, state) {
    const { motion } = state.scene;
    const growing = (motion?.tracks ?? []).filter((t) => ["written", "becoming", "depth", "bevel"].includes(t.what));
    const key = JSON.stringify([state.parts.map((p) => [p.key, p.out]), growing.map((t) => [t.of, t.what, t.into]), state.size]);
    if (key !== this.key) this.clear();
    this.key = key;
    this.frames = data.frames;
    this.from = data.from;
    this.bodies = data.bodies;
  }

  // missing lets the forms of a frame stand that are there, and lists the bodies whose are not.
  missing(frame) {
    const all = this.frames[Math.max(0, Math.min(this.frames.length - 1, frame - this.from))]?.grown;
    return this.bodies.filter((id) => {
      const g = all?.[id];
      const other = !!g && ((g.written > 0 && g.written < 1) || (g.into && g.became !== 0));
      const form = JSON.stringify([id, g]);
      if (!other) this.act.live.stands(id, undefined);
      else if (this.forms.has(form)) this.act.live.stands(id, this.forms.get(form));
      return other && !this.forms.has(form);
    });
  }

  // show brings the forms of a frame up; the last one that is asked for is the next one made.
  show(frame) {
    this.wanted = frame;
    if (!this.missing(frame).length || this.asking) return this.asking;
    this.asking = this.work().finally(() => (this.asking = null));
    return this.asking;
  }

  async work() {
    const { piece, live, redraw } = this.act;
    for (let tries = 0; tries < 3; ) {
      const frame = this.wanted;
      const parts = this.missing(frame);
      if (!parts.length) break;
      const key = this.key;
      const all = this.frames[frame - this.from]?.grown;
      this.abort = new AbortController();
      document.body.dataset.growing = "1";
      try {
        await streamSolids(piece.base, { parts, frame }, [], { signal: this.abort.signal }, (solid) => {
          if (key === this.key) this.keep(JSON.stringify([solid.part, all?.[solid.part]]), live.bodyOf(solid));
        });
      } catch (e) {
        if (e.name === "AbortError") break;
        tries++; // a part that can't be raised so is drawn as it is at rest; the picture says why
      }
      if (this.missing(frame).length === parts.length) tries++;
      redraw();
    }
    delete document.body.dataset.growing;
    document.body.dataset.grown = String(Number(document.body.dataset.grown ?? 0) + 1);
  }

  keep(form, body) {
    this.forms.set(form, body);
    for (const [old, b] of this.forms) {
      if (this.forms.size <= most) break;
      if ([...this.act.live.grown.values()].includes(b)) continue;
      this.act.live.free(b);
      this.forms.delete(old);
    }
  }

  // wait waits until the forms of a frame stand.
  async wait(frame) {
    await this.asking;
    await this.show(frame);
    this.missing(frame);
  }

  clear() {
    this.abort?.abort();
    for (const id of [...this.act.live.grown.keys()]) this.act.live.stands(id, undefined);
    for (const b of this.forms.values()) this.act.live.free(b);
    this.forms.clear();
  }

  dispose() {
    this.clear();
    for (const k of ["growing", "grown"]) delete document.body.dataset[k];
  }
}

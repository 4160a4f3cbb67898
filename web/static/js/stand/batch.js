// The bodies on the stand in a few meshes, however many there are: a mesh holds as many as 16 bits number
// the corners of. What changes of one body is written into the mesh it is in.

import { BufferAttribute, BufferGeometry, Color, LineSegments, Mesh } from "../../vendor/three.min.js";
import { thin } from "./thin.js";

const most = 65536; // corners of a mesh
const mostMoving = 12_000; // triangles while the view moves: some 40 ms where there is no graphics card

export class Batch {
  constructor(group) {
    this.group = group;
    this.entries = new Map(); // id -> {id, solid, key, chunk, corner, from, colors}
    this.chunks = [];
    this.material = null;
    this.quick = null; // in its place while the view moves
    this.lineMaterial = null; // where edges are drawn
    this.moving = false;
  }

  get triangles() {
    let n = 0;
    for (const e of this.entries.values()) n += e.solid.triangles;
    return n;
  }

  // put shows a solid in the place of the one that was there.
  put(id, solid) {
    const old = this.entries.get(id);
    const alike = old && old.solid.corners === solid.corners && old.solid.triangles === solid.triangles;
    if (alike && old.solid.edges.length === solid.edges.length) {
      // The list for moving holds as long as triangles are the same ones.
      const same = old.solid.indices === solid.indices || old.solid.indices.every((v, i) => v === solid.indices[i]);
      if (old.solid.normals !== solid.normals) old.chunk.turned = true;
      Object.assign(old, { solid, thinned: same ? old.thinned : null });
      old.chunk.rewritten.add(old);
      if (!same) old.chunk.dirty = true;
      return old;
    }
    if (old) this.remove(id);
    const chunk = this.chunks.find((c) => c.corners + solid.corners <= most) ?? this.newChunk();
    const entry = { id, solid, chunk, corner: 0, from: 0, colors: null, thinned: null };
    this.entries.set(id, entry);
    chunk.add(entry);
    return entry;
  }

  newChunk() {
    const chunk = new Chunk();
    this.chunks.push(chunk);
    return chunk;
  }

  remove(id) {
    const entry = this.entries.get(id);
    if (!entry) return;
    this.entries.delete(id);
    entry.chunk.drop(entry);
    if (entry.chunk.entries.length) return;
    entry.chunk.dispose(this.group);
    this.chunks.splice(this.chunks.indexOf(entry.chunk), 1);
  }

  // paint gives the faces of a body the colours of their parts; colorOf(run) is #rrggbb.
  paint(entry, colorOf) {
    entry.colors = entry.solid.runs.map(colorOf);
    entry.chunk.repainted.add(entry);
  }

  // refresh brings meshes up to date before they are drawn.
  refresh() {
    for (const c of this.chunks) c.refresh(this);
  }

  // dress gives all meshes a material, one for moving, and lines where there is one for these.
  dress(material, quick, lineMaterial) {
    this.material?.dispose();
    this.quick?.dispose();
    this.quick = quick;
    this.lineMaterial?.dispose();
    this.material = material;
    this.lineMaterial = lineMaterial;
    for (const c of this.chunks) c.dressed = false;
  }

  meshes() {
    return this.chunks.map((c) => c.mesh).filter(Boolean);
  }

  // thinOut works out what is drawn while the view moves, a body at a time; it returns whether something is
  // left to do.
  thinOut(span) {
    const total = this.triangles;
    if (total <= mostMoving) return false;
    // Triangles of a surface become fewer with the square of the cell's side.
    const cell = (span / 120) * (this.coarser ?? Math.max(1, Math.sqrt(total / 100_000)));
    let left = false;
    const until = performance.now() + 10;
    for (const e of this.entries.values()) {
      if (e.thinned?.cell === cell) continue;
      if (performance.now() > until) {
        left = true;
        break;
      }
      e.thinned = { cell, indices: thin(e.solid, cell) };
      e.chunk.thinStale = true;
    }
    if (left) return true;
    let kept = 0;
    for (const e of this.entries.values()) kept += e.thinned.indices.length / 3;
    const wide = cell / (span / 120);
    if (kept <= mostMoving || wide > 20) return false;
    this.coarser = wide * Math.max(1.15, Math.sqrt(kept / mostMoving));
    return true;
  }

  // move tells that the view moves, or rests again.
  move(on) {
    const can = on && this.triangles > mostMoving && [...this.entries.values()].every((e) => e.thinned);
    if (can === this.moving) return;
    this.moving = can;
    document.body.dataset.drawn = can ? "less" : "all"; // for whoever drives the page
    for (const c of this.chunks) c.swap(can, this);
  }
}

// Chunk is one mesh.
class Chunk {
  constructor() {
    this.entries = [];
    this.corners = 0;
    this.dirty = true;
    this.dressed = false;
    this.thinStale = true;
    this.turned = false; // some normals are others
    this.rewritten = new Set();
    this.repainted = new Set();
    this.mesh = null; // shows whole, or coarse while the view moves
    this.whole = null;
    this.coarse = null;
    this.wire = null;
  }

  add(entry) {
    this.entries.push(entry);
    this.corners += entry.solid.corners;
    this.dirty = true;
  }

  drop(entry) {
    this.entries.splice(this.entries.indexOf(entry), 1);
    this.corners -= entry.solid.corners;
    this.dirty = true;
  }

  refresh(batch) {
    if (this.dirty) this.build(batch);
    for (const e of this.rewritten) this.write(e);
    if (this.rewritten.size) this.touch("position");
    if (this.turned) this.touch("normal");
    this.turned = false;
    for (const e of this.repainted) this.colour(e);
    if (this.repainted.size) this.touch("color");
    this.rewritten.clear();
    this.repainted.clear();
    if (this.dressed) return;
    this.dressed = true;
    this.mesh.material = (batch.moving && batch.quick) || batch.material;
    this.mesh.visible = Boolean(batch.material);
    this.unwire(batch.group);
    if (batch.lineMaterial) this.draw(batch);
  }

  touch(...names) {
    for (const n of names) this.whole.getAttribute(n).needsUpdate = true;
  }

  // build lays all bodies out anew.
  build(batch) {
    let count = 0;
    let corner = 0;
    for (const e of this.entries) {
      e.corner = corner;
      e.from = count;
      corner += e.solid.corners;
      count += e.solid.indices.length;
    }
    const g = new BufferGeometry();
    g.setAttribute("position", new BufferAttribute(new Float32Array(3 * corner), 3));
    g.setAttribute("normal", new BufferAttribute(new Int16Array(4 * corner), 4, true));
    g.setAttribute("color", new BufferAttribute(new Uint16Array(4 * corner), 4, true));
    const kind = corner > most ? Uint32Array : Uint16Array;
    this.full = new BufferAttribute(new kind(count), 1);
    for (const e of this.entries) shifted(this.full.array, e.from, e.solid.indices, e.corner);
    g.setIndex(this.full);
    this.forget();
    if (this.mesh) this.whole.dispose();
    else {
      this.mesh = new Mesh();
      this.mesh.frustumCulled = false;
      batch.group.add(this.mesh);
    }
    this.mesh.geometry = this.whole = g;
    batch.moving = false;
    this.thinStale = true;
    this.turned = true;
    this.dressed = false;
    this.dirty = false;
    for (const e of this.entries) {
      this.rewritten.add(e);
      this.repainted.add(e);
    }
  }

  write(e) {
    this.whole.getAttribute("position").array.set(e.solid.positions, 3 * e.corner);
    if (this.turned) this.whole.getAttribute("normal").array.set(e.solid.normals, 4 * e.corner);
  }

  colour(e) {
    if (!e.colors) return;
    const four = this.whole.getAttribute("color").array;
    const out = new BigUint64Array(four.buffer); // a corner's colour as one number
    const [first] = e.colors;
    if (e.colors.every((c) => c === first)) {
      if (first) out.fill(packed(first), e.corner, e.corner + e.solid.corners);
      return;
    }
    e.solid.runs.forEach((r, i) => {
      const colour = packed(e.colors[i]);
      for (let k = 3 * r.start; k < 3 * (r.start + r.count); k++) out[e.corner + e.solid.indices[k]] = colour;
    });
  }

  // draw draws the edges of polygons.
  draw(batch) {
    const g = new BufferGeometry();
    g.setAttribute("position", this.whole.getAttribute("position"));
    const kind = this.full.array.constructor;
    const list = new kind(this.entries.reduce((n, e) => n + e.solid.edges.length, 0));
    let at = 0;
    for (const e of this.entries) {
      shifted(list, at, e.solid.edges, e.corner);
      at += e.solid.edges.length;
    }
    g.setIndex(new BufferAttribute(list, 1));
    this.wire = new LineSegments(g, batch.lineMaterial);
    this.wire.frustumCulled = false;
    batch.group.add(this.wire);
  }

  unwire(group) {
    if (!this.wire) return;
    group.remove(this.wire);
    this.wire.geometry.deleteAttribute("position"); // the mesh's own
    this.wire.geometry.dispose();
    this.wire = null;
  }

  // swap lets the mesh show fewer triangles, or all again.
  swap(fewer, batch) {
    if (!this.mesh) return;
    if (fewer && (this.thinStale || !this.coarse)) {
      const list = new this.full.array.constructor(
        this.entries.reduce((n, e) => n + e.thinned.indices.length, 0),
      );
      let at = 0;
      for (const e of this.entries) {
        shifted(list, at, e.thinned.indices, e.corner);
        at += e.thinned.indices.length;
      }
      this.forget();
      this.coarse = new BufferGeometry().setIndex(new BufferAttribute(list, 1));
      for (const [name, own] of Object.entries(this.whole.attributes)) this.coarse.setAttribute(name, own);
      this.thinStale = false;
    }
    this.mesh.geometry = fewer ? this.coarse : this.whole;
    this.mesh.material = (fewer && batch.quick) || batch.material;
    if (this.wire) this.wire.visible = !fewer;
  }

  // forget lets go of the list for moving; corners belong to the whole.
  forget() {
    if (!this.coarse) return;
    if (this.mesh) this.mesh.geometry = this.whole;
    for (const name of Object.keys(this.coarse.attributes)) this.coarse.deleteAttribute(name);
    this.coarse.dispose();
    this.coarse = null;
  }

  dispose(group) {
    this.unwire(group);
    if (!this.mesh) return;
    this.forget();
    group.remove(this.mesh);
    this.whole.dispose();
  }
}

// packed returns a colour as four shares of 16 bits, the last one whole.
function packed(colour) {
  const { r, g, b } = new Color(colour);
  return new BigUint64Array(Uint16Array.of(...[r, g, b, 1].map((v) => Math.round(65535 * v))).buffer)[0];
}

// shifted writes indices into a list, each larger by corner.
function shifted(list, at, indices, corner) {
  for (let i = 0; i < indices.length; i++) list[at + i] = indices[i] + corner;
}

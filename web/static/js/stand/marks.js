// What is laid over bodies on the stand: parts that are selected, the face under the pointer, and places
// where the artwork is narrower than two bevels. Faces and edges are lists of corners of the meshes that
// show the bodies: where a body moves, they move with it.

import {
  BufferAttribute,
  BufferGeometry,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  Points,
  PointsMaterial,
} from "../../vendor/three.min.js";

const crowded = 60; // places that are marked with smaller dots
const nearer = (by) => ({ polygonOffset: true, polygonOffsetFactor: by, polygonOffsetUnits: by });
const tint = (color, opacity) =>
  new MeshBasicMaterial({ color, opacity, transparent: true, depthWrite: false, ...nearer(-1) });
const dots = (size) => new PointsMaterial({ color: "#c98a1b", size, sizeAttenuation: false, ...nearer(-2) });

export class Marks {
  constructor(group) {
    this.group = group;
    this.list = [];
    this.made = ""; // what list shows
    this.looks = {
      selected: tint("#2f9c8b", 0.55),
      edges: new LineBasicMaterial({ color: "#0f5249" }),
      hovered: tint("#e8b05c", 0.35),
      dots: dots(5),
      smallDots: dots(3),
    };
  }

  clear() {
    for (const m of this.list) {
      this.group.remove(m);
      if (!m.isPoints) m.geometry.deleteAttribute("position"); // of the mesh that shows the body
      m.geometry.dispose();
    }
    this.list = [];
  }

  // show shows them or not.
  show(on) {
    for (const m of this.list) m.visible = on;
  }

  get triangles() {
    return this.list.reduce((n, m) => n + (m.isMesh ? m.geometry.index.count / 3 : 0), 0);
  }

  // lay marks the parts that are selected and the face group {part, face} of a body under the pointer.
  lay(entries, parts, hovered, planes) {
    for (const look of Object.values(this.looks)) look.clippingPlanes = planes;
    const picked = [...entries]
      .map((e) => ({ e, runs: e.solid.runs.filter((r) => parts.has(r.part)) }))
      .filter(({ runs }) => runs.length);
    const under = hovered.entry?.solid.runs.filter((r) => r.part === hovered.part && r.face === hovered.face) ?? [];
    // Where triangles change, a mesh gets a geometry of its own.
    const of = ({ e, runs }) => [e.chunk.whole.id, e.corner, ...runs.map((r) => r.start)].join(" ");
    const spots = picked.flatMap(({ e }) => e.solid.spots ?? []);
    const wanted = [...picked.map(of), under.length ? of({ e: hovered.entry, runs: under }) : "", spots].join("|");
    if (wanted === this.made) return;
    this.made = wanted;
    this.clear();
    this.faces(picked, this.looks.selected);
    this.edges(picked);
    this.spot(spots);
    if (under.length) this.faces([{ e: hovered.entry, runs: under }], this.looks.hovered);
  }

  add(object) {
    object.frustumCulled = false;
    this.list.push(object);
    this.group.add(object);
  }

  faces(picked, look) {
    for (const [chunk, list] of byChunk(picked)) {
      const corners = list.flatMap(({ e, runs }) => runs.map((r) => [e, e.solid.indices.subarray(3 * r.start, 3 * (r.start + r.count))]));
      this.add(new Mesh(over(chunk, corners), look));
    }
  }

  edges(picked) {
    for (const [chunk, list] of byChunk(picked)) {
      this.add(new LineSegments(over(chunk, list.map(({ e, runs }) => [e, edgesOf(e.solid, runs)])), this.looks.edges));
    }
  }

  spot(spots) {
    if (!spots.length) return;
    const at = new BufferAttribute(new Float32Array(spots.flat()), 3);
    const look = spots.length > crowded ? this.looks.smallDots : this.looks.dots;
    this.add(new Points(new BufferGeometry().setAttribute("position", at), look));
  }
}

function byChunk(picked) {
  const out = new Map();
  for (const p of picked) out.set(p.e.chunk, [...(out.get(p.e.chunk) ?? []), p]);
  return out;
}

// over makes a geometry of corners of a chunk, lists of [entry, corners of its solid].
function over(chunk, lists) {
  const index = new Uint32Array(lists.reduce((n, [, c]) => n + c.length, 0));
  let at = 0;
  for (const [e, corners] of lists) for (const c of corners) index[at++] = c + e.corner;
  const g = new BufferGeometry().setAttribute("position", chunk.whole.getAttribute("position"));
  return g.setIndex(new BufferAttribute(index, 1));
}

// edgesOf lists where faces meet at an angle: corners have a normal each, so such an edge belongs to one
// triangle alone.
function edgesOf({ indices, corners }, runs) {
  const seen = new Map();
  for (const r of runs)
    for (let k = 3 * r.start; k < 3 * (r.start + r.count); k += 3)
      for (let i = 0; i < 3; i++) {
        const a = indices[k + i];
        const b = indices[k + ((i + 1) % 3)];
        const key = Math.min(a, b) * corners + Math.max(a, b);
        seen.set(key, (seen.get(key) ?? 0) + 1);
      }
  const out = [];
  for (const [key, n] of seen) if (n === 1) out.push(Math.floor(key / corners), key % corners);
  return out;
}

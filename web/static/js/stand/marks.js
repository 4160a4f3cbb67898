// What is laid over bodies on the stand: parts that are selected, the face under the pointer, and places
// where the artwork is narrower than two bevels.

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
const nearer = { polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -1 };

export class Marks {
  constructor(group) {
    this.group = group;
    this.list = [];
  }

  clear() {
    for (const m of this.list) {
      this.group.remove(m);
      m.geometry.dispose();
      m.material.dispose();
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

  add(object) {
    object.frustumCulled = false;
    this.list.push(object);
    this.group.add(object);
  }

  // select tints the runs of bodies that belong to parts and draws the edges around their faces.
  select(entries, parts, planes) {
    for (const e of entries) {
      const runs = e.solid.runs.filter((r) => parts.has(r.part));
      if (!runs.length) continue;
      this.add(
        new Mesh(
          facesOf(e.solid, runs),
          new MeshBasicMaterial({
            color: "#2f9c8b",
            transparent: true,
            opacity: 0.55,
            depthWrite: false,
            clippingPlanes: planes,
            ...nearer,
          }),
        ),
      );
      this.add(
        new LineSegments(
          edgesOf(e.solid, runs),
          new LineBasicMaterial({ color: "#0f5249", clippingPlanes: planes }),
        ),
      );
      if (e.solid.spots?.length) this.spot(e.solid.spots, planes);
    }
  }

  // hover tints one face group.
  hover(entry, { part, face }, planes) {
    const runs = entry.solid.runs.filter((r) => r.part === part && r.face === face);
    this.add(
      new Mesh(
        facesOf(entry.solid, runs),
        new MeshBasicMaterial({
          color: "#e8b05c",
          transparent: true,
          opacity: 0.35,
          depthWrite: false,
          clippingPlanes: planes,
          ...nearer,
        }),
      ),
    );
  }

  spot(spots, planes) {
    const g = new BufferGeometry().setAttribute(
      "position",
      new BufferAttribute(new Float32Array(spots.flat()), 3),
    );
    const look = {
      color: "#c98a1b",
      size: spots.length > crowded ? 3 : 5,
      sizeAttenuation: false,
      polygonOffset: true,
      polygonOffsetFactor: -2,
    };
    this.add(new Points(g, new PointsMaterial({ ...look, clippingPlanes: planes })));
  }
}

function facesOf(solid, runs) {
  const g = new BufferGeometry().setAttribute("position", new BufferAttribute(solid.positions, 3));
  const list = new solid.indices.constructor(runs.reduce((n, r) => n + 3 * r.count, 0));
  let at = 0;
  for (const r of runs) {
    list.set(solid.indices.subarray(3 * r.start, 3 * (r.start + r.count)), at);
    at += 3 * r.count;
  }
  return g.setIndex(new BufferAttribute(list, 1));
}

// edgesOf draws where faces meet at an angle: corners have a normal each, so such an edge belongs to one
// triangle alone.
function edgesOf(solid, runs) {
  const { indices, corners } = solid;
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
  const g = new BufferGeometry().setAttribute("position", new BufferAttribute(solid.positions, 3));
  return g.setIndex(new BufferAttribute(corners > 65536 ? new Uint32Array(out) : new Uint16Array(out), 1));
}

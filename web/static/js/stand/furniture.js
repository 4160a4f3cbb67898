// What stands around the piece: the disc with its rings, the shadow on it, and
// the dimension lines, as in a workshop drawing.

import {
  BufferGeometry,
  CylinderGeometry,
  Float32BufferAttribute,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshPhongMaterial,
  Vector3,
} from "../../vendor/three.min.js";
import { shadow } from "./shadow.js";

// furnish fills the group for a body of the given size, which lies about the
// origin once it is shifted. It returns where the labels of width, height and depth belong.
export function furnish(group, meshes, shift, size, state) {
  for (const old of group.children) {
    old.geometry.dispose();
    old.material.map?.dispose();
    old.material.dispose();
  }
  group.clear();
  const { x, y, z } = size;
  const span = Math.max(x, y, z);
  const floor = -y / 2 - span * 0.004;
  const radius = Math.max(Math.hypot(x, z) * 0.56, span * 0.3);
  const thick = span * 0.03;
  const plaster = new MeshPhongMaterial({ color: "#f1e9dd", shininess: 4 });
  const disc = new Mesh(new CylinderGeometry(radius, radius * 1.015, thick, 96), plaster);
  disc.position.y = floor - thick / 2;
  group.add(
    disc,
    lines(rings(radius, floor + span * 0.001), "#c4b39e"),
    shadow(state, size, floor + span * 0.0005, radius),
  );
  const corner = upperRight(meshes, shift, size);
  const { points, labels } = dimensions(size, span, corner);
  group.add(lines(points, "#1f7468"));
  return labels;
}

function lines(points, color) {
  const g = new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points, 3));
  return new LineSegments(g, new LineBasicMaterial({ color }));
}

// rings returns the engraved circles, one for each round number of mm, every
// fifth unbroken, and the graduation at the rim.
function rings(radius, at) {
  const out = [];
  const ring = 96; // pieces of a circle
  const step = 10 ** Math.floor(Math.log10(radius / 2));
  const put = (r, a, s, b) =>
    out.push(r * Math.cos(a), at, r * Math.sin(a), s * Math.cos(b), at, s * Math.sin(b));
  for (let r = step, i = 1; r < radius; r += step, i++) {
    for (let k = 0; k < ring; k++) {
      if (i % 5 && k % 2) continue;
      put(r, (k / ring) * 2 * Math.PI, r, ((k + 1) / ring) * 2 * Math.PI);
    }
  }
  for (let k = 0; k < 72; k++) {
    const a = (k / 72) * 2 * Math.PI;
    put(radius * (k % 6 ? 0.975 : 0.94), a, radius, a);
  }
  return out;
}

// upperRight returns the point of the body that lies farthest to the upper
// right, within its box: there the depth is measured.
function upperRight(meshes, shift, size) {
  let best = -Infinity;
  const at = new Vector3(size.x / 2, size.y / 2, 0);
  for (const mesh of meshes) {
    const list = mesh.geometry.getAttribute("position").array;
    for (let i = 0; i < list.length; i += 3) {
      const px = list[i] + shift.x;
      const py = list[i + 1] + shift.y;
      const far = px / size.x + py / size.y;
      if (far <= best) continue;
      best = far;
      at.set(px, py, 0);
    }
  }
  return at;
}

// dimensions returns the lines of width, height and depth and their labels.
function dimensions({ x, y, z }, span, corner) {
  const points = [];
  const off = span * 0.07;
  const tick = span * 0.012;
  const front = z / 2;
  const line = (...p) => points.push(...p);
  const top = y / 2 + off;
  line(-x / 2, top, front, x / 2, top, front);
  for (const end of [-x / 2, x / 2]) line(end, top - tick, front, end, top + tick, front);
  const left = -x / 2 - off;
  line(left, -y / 2, front, left, y / 2, front);
  for (const end of [-y / 2, y / 2]) line(left - tick, end, front, left + tick, end, front);
  // The depth hangs on the point of the edge by two thin lines.
  const dx = corner.x + off * 0.62;
  const dy = corner.y + off * 0.62;
  line(dx, dy, -front, dx, dy, front);
  for (const end of [-front, front]) {
    line(dx - tick * 0.7, dy - tick * 0.7, end, dx + tick * 0.7, dy + tick * 0.7, end);
    line(corner.x + off * 0.12, corner.y + off * 0.12, end, dx - tick * 0.7, dy - tick * 0.7, end);
  }
  const labels = [
    new Vector3(0, top + off * 0.55, front),
    new Vector3(left - off * 0.1, 0, front),
    new Vector3(dx + off * 0.8, dy + off * 0.55, 0),
  ];
  return { points, labels };
}

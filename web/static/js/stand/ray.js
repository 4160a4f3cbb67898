// Where a ray first meets the front of a body.

import { Box3, Matrix4, Vector3 } from "../../vendor/three.min.js";

// firstHit returns {entry, triangle, point} of the nearest place, or null. entries are those of a Batch,
// which lie in body; seen(point) tells whether a place is not cut away.
export function firstHit(ray, entries, body, seen) {
  const local = ray.clone().applyMatrix4(new Matrix4().copy(body.matrixWorld).invert());
  const box = new Box3();
  const at = new Vector3();
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  let best = null;
  let nearest = Infinity;
  for (const entry of entries.values()) {
    const { lo, side, positions, indices } = entry.solid;
    box.min.set(...lo);
    box.max.set(lo[0] + side[0], lo[1] + side[1], lo[2] + side[2]);
    if (!local.intersectBox(box, at)) continue;
    if (!box.containsPoint(local.origin) && at.distanceTo(local.origin) > nearest) continue;
    for (let i = 0; i < indices.length; i += 3) {
      a.fromArray(positions, 3 * indices[i]);
      b.fromArray(positions, 3 * indices[i + 1]);
      c.fromArray(positions, 3 * indices[i + 2]);
      if (!local.intersectTriangle(a, b, c, true, at)) continue;
      const far = at.distanceTo(local.origin);
      if (far >= nearest) continue;
      const point = at.clone().applyMatrix4(body.matrixWorld);
      if (!seen(point)) continue;
      nearest = far;
      best = { entry, triangle: i / 3, point };
    }
  }
  return best;
}

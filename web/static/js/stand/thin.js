// What is drawn of a body while the view moves and drawing is slow: its triangles with corners of a cell of
// space taken together, those that vanish left out (Rossignac and Borrel 1993). The corners stay as they
// are, so a body whose corners move a little can be drawn by the same list.

const scratch = new Map();
const flat = 32_000; // of 32,767: a normal nearly upright

// thin returns the indices that are left of a solid where cells are so wide, mm.
export function thin(solid, cell) {
  const { positions: p, normals, indices } = solid;
  const first = scratch;
  first.clear();
  const of = new Uint32Array(p.length / 3);
  for (let v = 0, i = 0; i < p.length; v++, i += 3) {
    // Corners of flat sides stay apart from others, so that flat sides keep their light.
    const z = normals[4 * v + 2];
    const way = z > flat ? 0 : z < -flat ? 1 : 2;
    const key =
      ((Math.round(p[i] / cell) * 4099 + Math.round(p[i + 1] / cell)) * 4099 + Math.round(p[i + 2] / cell)) *
        3 +
      way;
    const at = first.get(key);
    if (at === undefined) {
      first.set(key, v);
      of[v] = v;
    } else of[v] = at;
  }
  const out = new indices.constructor(indices.length);
  let n = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const a = of[indices[i]];
    const b = of[indices[i + 1]];
    const c = of[indices[i + 2]];
    if (a === b || b === c || a === c) continue;
    out[n++] = a;
    out[n++] = b;
    out[n++] = c;
  }
  first.clear();
  return out.slice(0, n);
}

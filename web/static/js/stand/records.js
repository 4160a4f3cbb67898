// Reads bodies as the server streams them (see web/stream.go): one record after the other.

import { BufferAttribute, BufferGeometry } from "../../vendor/three.min.js";
import { Refusal, postStream } from "../lib/api.js";

const whole = 65535; // 16 bits

// solidOf reads a body: the head of its record, and positions (3 floats a corner, mm), normals (4 int16 a
// corner, the last one idle), indices of triangles and edges. What is the same as before is taken from there.
function solidOf(bytes, before) {
  const n = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + n)));
  if (head.error || head.checked) return head;
  const wide = head.wide ? 4 : 2;
  const kind = head.wide ? Uint32Array : Uint16Array;
  let at = bytes.byteOffset + 4 + n;
  const take = (type, count) => {
    const list = new type(bytes.buffer, at, count);
    at += Math.ceil((count * type.BYTES_PER_ELEMENT) / 4) * 4;
    return list;
  };
  const shares = take(Uint16Array, 3 * head.corners);
  const positions = unboxed(shares, head);
  if (head.same) {
    const { normals, indices, edges } = before.get(head.part);
    return { ...head, positions, normals, indices, edges };
  }
  const folded = take(Int16Array, 2 * head.corners);
  const indices = take(kind, 3 * head.triangles).slice();
  const edges = take(kind, 2 * head.edges).slice();
  if (wide * indices.length !== indices.byteLength) throw new Error("a body came in pieces");
  return { ...head, positions, normals: unfolded(folded), indices, edges };
}

// unboxed turns shares of a box into mm.
function unboxed(shares, { lo, side }) {
  const out = new Float32Array(shares.length);
  const k = side.map((s) => s / whole);
  for (let i = 0; i < shares.length; i += 3) {
    out[i] = lo[0] + k[0] * shares[i];
    out[i + 1] = lo[1] + k[1] * shares[i + 1];
    out[i + 2] = lo[2] + k[2] * shares[i + 2];
  }
  return out;
}

// unfolded turns directions folded into a square (octahedral) into vectors.
function unfolded(folded) {
  const out = new Int16Array(2 * folded.length);
  for (let i = 0, j = 0; i < folded.length; i += 2, j += 4) {
    let x = folded[i] / 32767;
    let y = folded[i + 1] / 32767;
    const z = 1 - Math.abs(x) - Math.abs(y);
    if (z < 0) {
      const was = x;
      x = (1 - Math.abs(y)) * (x < 0 ? -1 : 1);
      y = (1 - Math.abs(was)) * (y < 0 ? -1 : 1);
    }
    const k = 32767 / Math.hypot(x, y, z);
    out[j] = x * k;
    out[j + 1] = y * k;
    out[j + 2] = z * k;
  }
  return out;
}

// streamSolids asks for bodies of a piece and calls each(solid) as they come, and looked({part:
// {watertight, open}}) when all are there. body is what web/stream.go takes; before is the bodies that are there
// already, by part, of which only positions come where only these change. A body that can't be made is a
// Refusal that is thrown when all others are there.
export async function streamSolids(base, body, before, job, each, looked) {
  before = new Map(before);
  const forms = Object.fromEntries([...before].map(([id, s]) => [id, s.form]));
  const reader = (await postStream(`${base}/data/solids`, { ...body, forms }, job)).getReader();
  let store = new Uint8Array(1 << 16);
  let have = 0;
  let failed = null;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    if (have + value.length > store.length) {
      const larger = new Uint8Array(Math.max(2 * store.length, have + value.length));
      larger.set(store.subarray(0, have));
      store = larger;
    }
    store.set(value, have);
    have += value.length;
    let at = 0;
    while (have - at >= 4) {
      const n = new DataView(store.buffer).getUint32(at, true);
      if (have - at < 4 + n) break;
      const solid = solidOf(store.slice(at + 4, at + 4 + n), before);
      at += 4 + n;
      if (solid.checked) looked?.(solid.checked);
      else if (solid.error) failed ??= new Refusal(solid.error, 422, solid);
      else each(solid);
    }
    store.copyWithin(0, at, have);
    have -= at;
  }
  if (failed) throw failed;
}

// geometryOf makes what three draws of a solid.
export function geometryOf(solid) {
  const g = new BufferGeometry();
  g.setAttribute("position", new BufferAttribute(solid.positions, 3));
  g.setAttribute("normal", new BufferAttribute(solid.normals, 4, true));
  g.setIndex(new BufferAttribute(solid.indices, 1));
  return g;
}

// Paths in space as the page draws them, by the curves of made/curves.js, which is core/curves. A place is
// [right, up, ahead], mm.

import { bends as bendsOf, handleOf, onBend } from "../made/curves.js";

const none = [0, 0, 0];
const add = (a, b, k = 1) => a.map((v, i) => v + k * b[i]);
const times = (a, k) => a.map((v) => v * k);

// whole fills in what points need not say.
const whole = (path) => path.points.map((q) => ({ at: q.at, lead: q.lead ?? none, trail: q.trail ?? none, corner: !!q.corner }));

// handle is where the handle of point i lies from it: toward the next point (sign 1) or the one before (-1).
export const handle = (path, i, sign) => handleOf(whole(path), !!path.closed, i, sign);

// bends returns the curves of a path, each by four places.
export const bends = (path) => bendsOf(whole(path), !!path.closed);

const steps = 24; // of a bend, when it is drawn

// line returns places along a path, with the bend that each is on and how far along that.
export function line(path) {
  return bends(path).flatMap((b, bend) =>
    Array.from({ length: steps + 1 }, (_, k) => {
      const t = k / steps;
      return { at: onBend(b, t), bend, t };
    }),
  );
}

// widened returns a path with a point at a place of its line.
export function widened(path, { at, bend }) {
  const points = [...path.points];
  points.splice(bend + 1, 0, { at: at.map((v) => Math.round(v * 10) / 10) });
  return { ...path, points };
}

const round = (v) => v.map((x) => Math.round(x * 10) / 10);

// moved returns a path on which what is held has moved by so much: a point with its handles, or a handle, which takes
// the one on the other side along unless it is alone.
export function moved(path, { point, side }, by, alone) {
  const points = path.points.map((q) => ({ ...q }));
  const q = points[point];
  if (!side) q.at = round(add(q.at, by));
  else {
    const to = round(add(handle(path, point, side), by));
    const other = round(handle(path, point, -side));
    delete q.corner;
    if (alone) [q.lead, q.trail] = side > 0 ? [to, other] : [other, to];
    else {
      q.lead = times(to, side);
      delete q.trail;
    }
  }
  return { ...path, points };
}

// starting is the path that something gets first: of a camera around the piece, of a lamp to the other side, of what is
// a part from the left to where it rests.
export function starting(of, kind, { eye, lamp, reach }) {
  const around = ([x, y, z], degrees) => {
    const [s, c] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
    return [c * x + s * z, y, -s * x + c * z];
  };
  const r = Math.max(reach, 1);
  let list = [[-2.2 * r, 0.3 * r, 0.5 * r], [-0.9 * r, 0.5 * r, 0.9 * r], [0, 0, 0]];
  if (kind === "camera") list = [-40, 0, 40].map((a) => around(eye, a));
  if (kind === "lamp") list = [lamp, around(lamp, 60), around(lamp, 120)];
  return { of, points: list.map((at) => ({ at: round(at) })), even: true };
}

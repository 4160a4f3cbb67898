// Paths in space as the page draws them: the same curves as core/show, paths.go. A place is [right, up, ahead], mm.

const add = (a, b, k = 1) => a.map((v, i) => v + k * b[i]);
const sub = (a, b) => a.map((v, i) => v - b[i]);
const long = (a) => Math.hypot(...a);
const given = (v) => !!v && v.some((x) => x !== 0);
const times = (a, k) => a.map((v) => v * k);

// handle is where the handle of point i lies from it: toward the next point (sign 1) or the one before (-1).
export function handle(path, i, sign) {
  const n = path.points.length;
  const at = (k) => path.points[(k + n) % n].at;
  const q = path.points[i];
  const next = at(i + sign);
  if (q.corner) return times(sub(next, q.at), 1 / 3);
  if (sign < 0 && given(q.trail)) return q.trail;
  if (given(q.lead)) return times(q.lead, sign);
  if (sign > 0 && given(q.trail)) return times(q.trail, -1);
  let way = times(sub(at(i + 1), at(i - 1)), sign);
  if (!path.closed && (i === 0 || i === n - 1)) {
    way = sub(next, q.at);
    const k = i + sign;
    if (k > 0 && k < n - 1) way = add(way, handle(path, k, -sign));
  }
  const l = long(way);
  return l < 1e-9 ? [0, 0, 0] : times(way, long(sub(next, q.at)) / 3 / l);
}

// bends returns the curves of a path, each by four places.
export function bends(path) {
  const n = path.points.length;
  return Array.from({ length: path.closed ? n : n - 1 }, (_, i) => {
    const j = (i + 1) % n;
    const [a, b] = [path.points[i].at, path.points[j].at];
    return [a, add(a, handle(path, i, 1)), add(b, handle(path, j, -1)), b];
  });
}

const steps = 24; // of a bend, when it is drawn

// line returns places along a path, with the bend that each is on and how far along that.
export function line(path) {
  return bends(path).flatMap((b, bend) =>
    Array.from({ length: steps + 1 }, (_, k) => {
      const t = k / steps;
      const u = 1 - t;
      const share = [u ** 3, 3 * u * u * t, 3 * u * t * t, t ** 3];
      return { at: [0, 1, 2].map((c) => b.reduce((sum, p, i) => sum + share[i] * p[c], 0)), bend, t };
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

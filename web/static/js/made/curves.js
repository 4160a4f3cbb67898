// Made by go generate ./core/terms. What is wrong here is mended there.

/**
 * eased returns how far one is along the way from a key to the next, s from 0 to 1. curve is the handles of
 * "drawn", spring how "spring" swings.
 * @param {string} ease
 * @param {[number, number, number, number]} curve
 * @param {[number, number]} spring
 * @param {number} s
 * @returns {number}
 */
export function eased(ease, curve, spring, s) {
  switch (ease) {
    case "hold":
      {
        return 0;
      }
    case "even":
      {
        return s;
      }
    case "soft in":
      {
        return softIn(s);
      }
    case "soft out":
      {
        return 1 - softIn(1 - s);
      }
    case "overshoot":
      {
        return overshot(s);
      }
    case "bounce":
      {
        return bounced(s);
      }
    case "spring":
      {
        return sprung(spring, s);
      }
    case "drawn":
      {
        return bezier(curve, s);
      }
  }
  return s * s * (3 - 2 * s);
}

/**
 * softIn starts at rest and arrives at full speed.
 * @param {number} s
 * @returns {number}
 */
function softIn(s) {
  return s * s * (2 - s);
}

/**
 * overshot is a cubic that starts at full speed, passes the end by a tenth and comes back to it.
 * @param {number} s
 * @returns {number}
 */
function overshot(s) {
  let k = 1.70158;
  let r = s - 1;
  return r * r * (2.70158 * r + k) + 1;
}

/**
 * bounced falls to the end and springs back from it three times, each a quarter as high as before: so each takes half
 * as long, and all of them, with the fall, eleven quarters of that.
 * @param {number} s
 * @returns {number}
 */
function bounced(s) {
  let fall = 0.36363636363636365;
  if (s < fall) {
    return s * s / 0.1322314049586777;
  }
  let [from, long, high] = [fall, fall, 0.25];
  for (let round = 0; round < 3; round++) {
    if (s < from + long) {
      let x = 2 * (s - from) / long - 1;
      return 1 - high * (1 - x * x);
    }
    [from, long, high] = [from + long, long / 2, high / 4];
  }
  return 1;
}

/**
 * sprung swings about the end as a damped spring that is let go does, weaker and weaker; what is left of it at the
 * end is taken off evenly, so that it stands still there.
 * @param {[number, number]} spring
 * @param {number} s
 * @returns {number}
 */
function sprung(spring, s) {
  return 1 - (Math.exp(-spring[1] * s) - Math.exp(-spring[1]) * s) * Math.cos(6.283185307179586 * spring[0] * s);
}

/**
 * bezier is a cubic Bezier curve from 0, 0 to 1, 1 with the handles c, read at x = s (as CSS
 * Easing Functions Level 1, 2.3.1 has it). With the x of handles from 0 to 1, x grows along it.
 * @param {[number, number, number, number]} c
 * @param {number} s
 * @returns {number}
 */
function bezier(c, s) {
  let [lo, hi] = [0, 1];
  for (let round = 0; round < 40; round++) {
    let mid = (lo + hi) / 2;
    if (cubic(c[0], c[2], mid) < s) {
      lo = mid;
    } else {
      hi = mid;
    }
  }
  return cubic(c[1], c[3], (lo + hi) / 2);
}

/**
 * @param {number} a
 * @param {number} b
 * @param {number} t
 * @returns {number}
 */
function cubic(a, b, t) {
  return 3 * a * t * (1 - t) * (1 - t) + 3 * b * t * t * (1 - t) + t * t * t;
}

/**
 * @typedef {object} Stance
 * @property {[number, number, number]} at
 * @property {[number, number, number]} way
 * @property {[number, number, number]} across
 * @property {[number, number, number]} up
 * @property {number} far
 */

const nearest = 1e-06;
const smallest = 0.001;
/**
 * stanceOf returns the stance of a lamp wide by high mm that faces its aim, upright as far as that goes. One that
 * has moved into what it aims at shines down.
 * @param {[number, number, number]} at
 * @param {[number, number, number]} aim
 * @param {number} wide
 * @param {number} high
 * @returns {Stance}
 */
export function stanceOf(at, aim, wide, high) {
  /** @type {[number, number, number]} */
  let way = plus(aim, -1, at);
  let far = long(way);
  if (far < nearest) {
    way = [0, -1e-06, 0];
    far = nearest;
  }
  way = times(way, 1 / far);
  /** @type {[number, number, number]} */
  let right = [-way[2], 0, way[0]];
  if (long(right) < nearest) {
    right = [1, 0, 0];
  }
  right = times(right, 1 / long(right));
  /** @type {[number, number, number]} */
  let back = times(way, -1);
  /** @type {[number, number, number]} */
  let up = [back[1] * right[2] - back[2] * right[1], back[2] * right[0] - back[0] * right[2], back[0] * right[1] - back[1] * right[0]];
  return { at: at, way: way, far: far, across: times(right, -Math.max(wide, smallest) / 2), up: times(up, Math.max(high, smallest) / 2) };
}

/** @typedef {[number, number, number]} Place */

/**
 * @typedef {object} Point
 * @property {[number, number, number]} at
 * @property {[number, number, number]} lead
 * @property {[number, number, number]} trail
 * @property {boolean} corner
 */

/**
 * @param {[number, number, number]} a
 * @param {number} k
 * @param {[number, number, number]} b
 * @returns {[number, number, number]}
 */
function plus(a, k, b) {
  return [a[0] + k * b[0], a[1] + k * b[1], a[2] + k * b[2]];
}

/**
 * @param {[number, number, number]} a
 * @param {number} k
 * @returns {[number, number, number]}
 */
function times(a, k) {
  return [a[0] * k, a[1] * k, a[2] * k];
}

/**
 * @param {[number, number, number]} a
 * @returns {number}
 */
function long(a) {
  return Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
}

/**
 * at returns the place of point i; a path that is closed goes on at its start.
 * @param {Point[]} points
 * @param {number} i
 * @returns {[number, number, number]}
 */
function at(points, i) {
  let n = points.length;
  return points[(i + n) % n].at;
}

/**
 * handleOf returns where the handle of point i lies from it: toward the next point (sign 1) or the one before (-1).
 * Where none is given it points as the way from the point before to the one after does (Catmull and Rom, A class of
 * local interpolating splines, 1974), at an open end toward the tip of its neighbour's, and is a third as long as the
 * way to the point that it leads to, so that points at uneven distances make no loops.
 * @param {Point[]} points
 * @param {boolean} closed
 * @param {number} i
 * @param {number} sign
 * @returns {[number, number, number]}
 */
export function handleOf(points, closed, i, sign) {
  let n = points.length;
  let q = points[i];
  /** @type {[number, number, number]} */
  let next = at(points, i + sign);
  if (q.corner) {
    return times(plus(next, -1, q.at), 0.3333333333333333);
  }
  if (sign < 0 && long(q.trail) > 0) {
    return q.trail;
  }
  if (long(q.lead) > 0) {
    return times(q.lead, (sign));
  }
  if (sign > 0 && long(q.trail) > 0) {
    return times(q.trail, -1);
  }
  /** @type {[number, number, number]} */
  let way = times(plus(at(points, i + 1), -1, at(points, i - 1)), (sign));
  if (!closed && (i === 0 || i === n - 1)) {
    way = plus(next, -1, q.at);
    let k = i + sign;
    if (k > 0 && k < n - 1) {
      way = plus(way, 1, handleOf(points, closed, k, -sign));
    }
  }
  let l = long(way);
  if (l < 1e-09) {
    return [0, 0, 0];
  }
  return times(way, long(plus(next, -1, q.at)) / 3 / l);
}

/**
 * bends returns the cubic Bezier curves of a path, each by four places.
 * @param {Point[]} points
 * @param {boolean} closed
 * @returns {[[number, number, number], [number, number, number], [number, number, number], [number, number, number]][]}
 */
export function bends(points, closed) {
  let n = points.length;
  let count = n - 1;
  if (closed) {
    count = n;
  }
  /** @type {[[number, number, number], [number, number, number], [number, number, number], [number, number, number]][]} */
  let out = [];
  for (let i = 0; i < count; i++) {
    let j = (i + 1) % n;
    let [a, b] = [points[i].at, points[j].at];
    out.push([a, plus(a, 1, handleOf(points, closed, i, 1)), plus(b, 1, handleOf(points, closed, j, -1)), b]);
  }
  return out;
}

/**
 * onBend returns the place on a bend at t from 0 to 1.
 * @param {[[number, number, number], [number, number, number], [number, number, number], [number, number, number]]} b
 * @param {number} t
 * @returns {[number, number, number]}
 */
export function onBend(b, t) {
  let u = 1 - t;
  return plus(plus(plus(times(b[0], u * u * u), 3 * u * u * t, b[1]), 3 * u * t * t, b[2]), t * t * t, b[3]);
}

/**
 * @typedef {object} Piece
 * @property {string} form
 * @property {number} t
 * @property {number} f
 * @property {boolean} half
 */

/**
 * @typedef {object} Knot
 * @property {number} t
 * @property {number} f
 * @property {number} bend
 */

/**
 * @typedef {object} Facet
 * @property {number} t
 * @property {number} f
 * @property {[number, number]} d0
 * @property {[number, number]} d1
 */

/**
 * @param {Facet[]} out
 * @param {number} t
 * @param {number} f
 * @returns {Facet[]}
 */
function line(out, t, f) {
  let [t0, f0] = endOf(out);
  let to = Math.max(t, t0);
  /** @type {[number, number]} */
  let d = [to - t0, f - f0];
  return [...out, { t: to, f: f, d0: d, d1: d }];
}

/**
 * @param {Facet[]} out
 * @returns {[number, number]}
 */
function endOf(out) {
  if (out.length === 0) {
    return [0, 0];
  }
  let last = out[out.length - 1];
  return [last.t, last.f];
}

/**
 * quarter goes on along a quarter of an ellipse in n facets: one that starts upright and arrives level, or
 * (cove) the other way round.
 * @param {Facet[]} out
 * @param {number} t
 * @param {number} f
 * @param {number} n
 * @param {boolean} cove
 * @returns {Facet[]}
 */
function quarter(out, t, f, n, cove) {
  let [t0, f0] = endOf(out);
  let [w, h] = [t - t0, f - f0];
  for (let i = 0; i < n; i++) {
    let [a, b] = [1.5707963267948966 * (i) / (n), 1.5707963267948966 * (i + 1) / (n)];
    let [s, k] = [Math.sin(b), Math.cos(b)];
    if (i === n - 1) {
      [s, k] = [1, 0];
    }
    if (cove) {
      out.push({ t: t0 + w * s, f: f0 + h * (1 - k), d0: [w * Math.cos(a), h * Math.sin(a)], d1: [w * k, h * s] });
    } else {
      out.push({ t: t0 + w * (1 - k), f: f0 + h * s, d0: [w * Math.sin(a), h * Math.cos(a)], d1: [w * s, h * k] });
    }
  }
  return out;
}

/**
 * handle returns where the middle handle of a piece of one's own profile lies: half way at no bend, in the
 * upper left corner of the box at 1.
 * @param {number} t0
 * @param {number} f0
 * @param {number} t1
 * @param {number} f1
 * @param {number} bend
 * @returns {[number, number]}
 */
export function handle(t0, f0, t1, f1, bend) {
  let up = bend;
  if (f1 < f0) {
    up = -bend;
  }
  return [t0 + (t1 - t0) * (1 - up) / 2, f0 + (f1 - f0) * (1 + up) / 2];
}

/**
 * bent goes on along a piece of a profile of one's own.
 * @param {Facet[]} out
 * @param {Knot} k
 * @param {number} n
 * @returns {Facet[]}
 */
function bent(out, k, n) {
  let [t0, f0] = endOf(out);
  if (k.t <= t0 || Math.abs(k.bend) < 0.001 || k.f === f0) {
    return line(out, k.t, k.f);
  }
  /** @type {[number, number]} */
  let h = handle(t0, f0, k.t, k.f, k.bend);
  for (let i = 0; i < n; i++) {
    let [a, u] = [(i) / (n), (i + 1) / (n)];
    let v = 1 - u;
    out.push({ t: v * v * t0 + 2 * u * v * h[0] + u * u * k.t, f: v * v * f0 + 2 * u * v * h[1] + u * u * k.f, d0: [(1 - a) * (h[0] - t0) + a * (k.t - h[0]), (1 - a) * (h[1] - f0) + a * (k.f - h[1])], d1: [v * (h[0] - t0) + u * (k.t - h[0]), v * (h[1] - f0) + u * (k.f - h[1])] });
  }
  return out;
}

/**
 * @param {number} v
 * @returns {number}
 */
function unit(v) {
  return Math.max(0, Math.min(1, v));
}

/**
 * drawn walks along a profile of one's own. What lies outside the unit square is brought to its edge, what
 * reaches back under the knot before stands upright, and the last knot is brought to the full width.
 * @param {Knot[]} knots
 * @param {number} n
 * @returns {Facet[]}
 */
export function drawn(knots, n) {
  /** @type {Facet[]} */
  let out = [];
  for (let i = 0; i < knots.length; i++) {
    let [t0, ] = endOf(out);
    let k = { t: Math.max(t0, unit(knots[i].t)), f: unit(knots[i].f), bend: Math.max(-1, Math.min(1, knots[i].bend)) };
    if (i === 0) {
      k = { t: 0, f: k.f, bend: 0 };
    }
    out = bent(out, k, n);
    if (i === knots.length - 1 && k.t < 1) {
      return line(out, 1, k.f);
    }
  }
  let [t0, ] = endOf(out);
  if (t0 < 1) {
    out = line(out, 1, 1);
  }
  return out;
}

/**
 * profile walks along a profile from the rim, with n facets a curve.
 * @param {Piece[]} pieces
 * @param {number} n
 * @returns {Facet[]}
 */
export function profile(pieces, n) {
  /** @type {Facet[]} */
  let out = [];
  for (const p of pieces) {
    let facets = n;
    if (p.half) {
      facets = Math.max(1, Math.trunc((n + 1) / 2));
    }
    switch (p.form) {
      case "round":
        {
          out = quarter(out, p.t, p.f, facets, false);
          break;
        }
      case "cove":
        {
          out = quarter(out, p.t, p.f, facets, true);
          break;
        }
      case "stairs":
        {
          let [t0, f0] = endOf(out);
          for (let i = 0; i < facets; i++) {
            let [s, e] = [(i) / (facets), (i + 1) / (facets)];
            out = line(out, t0 + (p.t - t0) * e, f0 + (p.f - f0) * s);
            out = line(out, t0 + (p.t - t0) * e, f0 + (p.f - f0) * e);
          }
          break;
        }
      default:
        {
          out = line(out, p.t, p.f);
          break;
        }
    }
  }
  return out;
}


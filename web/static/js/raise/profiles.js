// The profiles of bevels: on the unit square t runs from the rim inward and f up, as
// core/raise traces them.

const arc = (n, at) => Array.from({ length: n }, (_, i) => at((Math.PI / 2) * ((i + 1) / n)));

const round = (t0, f0, t1, f1, n) =>
  arc(n, (a) => [t0 + (t1 - t0) * (1 - Math.cos(a)), f0 + (f1 - f0) * Math.sin(a)]);
const cove = (t0, f0, t1, f1, n) =>
  arc(n, (a) => [t0 + (t1 - t0) * Math.sin(a), f0 + (f1 - f0) * (1 - Math.cos(a))]);

// bend goes from a point to a knot: a quadratic curve whose handle lies on the diagonal
// of the box between them.
function bend([t0, f0], k, n) {
  if (k.t <= t0 || Math.abs(k.bend ?? 0) < 1e-3 || k.f === f0) return [[Math.max(t0, k.t), k.f]];
  const up = k.f < f0 ? -k.bend : k.bend;
  const h = [t0 + ((k.t - t0) * (1 - up)) / 2, f0 + ((k.f - f0) * (1 + up)) / 2];
  return Array.from({ length: n }, (_, i) => {
    const u = (i + 1) / n;
    const v = 1 - u;
    return [v * v * t0 + 2 * u * v * h[0] + u * u * k.t, v * v * f0 + 2 * u * v * h[1] + u * u * k.f];
  });
}

function custom(curve, n) {
  const out = [[0, curve[0]?.f ?? 0]];
  for (const k of curve.slice(1)) out.push(...bend(out[out.length - 1], k, n));
  const last = out[out.length - 1];
  if (last[0] < 1) out.push([1, curve.length > 1 ? last[1] : 1]);
  return out;
}

// points returns a profile as a line from the rim inward. Where two have one t, it
// stands upright.
export function points(rim) {
  const n = Math.max(1, rim.segments);
  const half = Math.max(1, Math.floor((n + 1) / 2));
  const start = [[0, 0]];
  switch (rim.profile) {
    case "round":
    case "pillow":
    case "dome":
      return [...start, ...round(0, 0, 1, 1, n)];
    case "cove":
      return [...start, ...cove(0, 0, 1, 1, n)];
    case "ogee":
      return [...start, ...cove(0, 0, 0.5, 0.5, half), ...round(0.5, 0.5, 1, 1, half)];
    case "bead":
      return [...start, ...round(0, 0, 0.5, 1, n), ...cove(0.5, 1, 1, 0.5, n), [1, 1]];
    case "step":
      return [
        ...start,
        ...Array.from({ length: n }, (_, i) => [
          [(i + 1) / n, i / n],
          [(i + 1) / n, (i + 1) / n],
        ]).flat(),
      ];
    case "custom":
      return custom(rim.curve ?? [], n);
  }
  return [...start, [1, 1]];
}

// names lists the profiles as they are chosen from.
export const names = ["chamfer", "round", "cove", "ogee", "bead", "step", "pillow", "dome", "custom"];

// full tells the profiles that are as wide as the part.
export const full = (name) => name === "pillow" || name === "dome";

// rises tells whether a rim is bevelled.
export const rises = (rim) => rim.height > 0 && (rim.width > 0 || full(rim.profile));

// icon is the path of a profile in a box of 20 by 16.
export function icon(name, curve) {
  if (full(name)) return whole(name);
  const shown = { profile: name, segments: name === "step" ? 3 : 6, curve: curve ?? [{ t: 0, f: 0.3 }, { t: 1, f: 1, bend: -1 }] };
  const line = points(shown).map(([t, f]) => `${(2 + 12 * t).toFixed(1)} ${(14 - 11 * f).toFixed(1)}`);
  return `M2 15V${line[0].split(" ")[1]}L${line.join("L")}H19`;
}

// whole is the icon of a profile from rim to rim: with an edge in the middle, or without.
function whole(name) {
  const half = points({ profile: name, segments: 8 });
  const up = name === "dome" ? half : half.filter(([t]) => t <= 0.5).map(([t, f]) => [2 * t, f]);
  const side = (turn) => up.map(([t, f]) => `${(10 + turn * (1 - t) * 8).toFixed(1)} ${(14 - 11 * f).toFixed(1)}`);
  return `M2 15L${side(-1).join("L")}L${side(1).reverse().join("L")}V15`;
}

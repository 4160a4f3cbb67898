// The profiles of bevels: on the unit square t runs from the rim inward and f up. Their lines are computed by
// made/curves.js, which is core/curves.

import { drawn, profile } from "../made/curves.js";
import { profiles } from "../made/terms.js";

const byName = Object.fromEntries(profiles.map((p) => [p.name, p]));

// whole fills in what knots need not say.
const whole = (curve) => curve.map((k) => ({ t: k.t, f: k.f, bend: k.bend ?? 0 }));

/**
 * points returns a profile as a line from the rim inward. Where two have one t, it stands upright.
 * @param {{ profile: string, segments: number, curve?: { t: number, f: number, bend?: number }[] }} rim
 * @returns {number[][]}
 */
export function points(rim) {
  const n = Math.max(1, rim.segments);
  const own = byName[rim.profile];
  const curve = rim.curve ?? [];
  const facets = own?.drawn ? drawn(whole(curve), n) : profile((own?.lines ?? []).map((l) => ({ half: false, ...l })), n);
  return [[0, own?.drawn ? (curve[0]?.f ?? 0) : 0], ...facets.map(({ t, f }) => [t, f])];
}

// full tells the profiles that are as wide as the part.
export const full = (name) => !!byName[name]?.full;

// ownProfile is the name of the profile that is drawn by hand.
export const ownProfile = profiles.find((p) => p.drawn).name;

// rises tells whether a rim is bevelled.
export const rises = (rim) => rim.height > 0 && (rim.width > 0 || full(rim.profile));

// shownSegments is with how many facets an icon is drawn; stairs are seen by few.
const shownSegments = (name) => (byName[name].lines?.some((l) => l.form === "stairs") ? 3 : 6);

const at = ([t, f]) => `${(2 + 12 * t).toFixed(1)} ${(14 - 11 * f).toFixed(1)}`;

// icon is the path of a profile in a box of 20 by 16.
export function icon(name, curve = [{ t: 0, f: 0.3 }, { t: 1, f: 1, bend: -1 }]) {
  if (full(name)) return rimToRim(name);
  const line = points({ profile: name, segments: shownSegments(name), curve }).map(at);
  return `M2 15V${line[0].split(" ")[1]}L${line.join("L")}H19`;
}

// rimToRim is the icon of a profile as wide as the part: with an edge in the middle, or without.
function rimToRim(name) {
  const half = points({ profile: name, segments: 8 });
  const up = name === "dome" ? half : half.filter(([t]) => t <= 0.5).map(([t, f]) => [2 * t, f]);
  const side = (turn) => up.map(([t, f]) => `${(10 + turn * (1 - t) * 8).toFixed(1)} ${(14 - 11 * f).toFixed(1)}`);
  return `M2 15L${side(-1).join("L")}L${side(1).reverse().join("L")}V15`;
}

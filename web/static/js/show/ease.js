// What moves over time, and how keys lead from one to the next (made/curves.js, which is core/curves).

import { usual } from "../lib/terms.js";
import { eased as easedBy } from "../made/curves.js";
import { tracks } from "../made/terms.js";

const byName = Object.fromEntries(tracks.map((t) => [t.name, t]));

// trackOf tells how a track is called, its unit, and what it is at rest.
export const trackOf = (what) => byName[what] ?? { name: what, label: what, unit: "", rest: 0, of: [] };

// movable lists what can change of a kind: "part" (the piece, too), "camera", "scene" or "lamp".
export const movable = (kind) => tracks.filter((t) => t.of.includes(kind)).map((t) => t.name);

// usualSpring is how often a spring swings until the next key, and how much weaker by then.
export const usualSpring = [usual("swings"), usual("damping")];

// usualCurve is a drawn easing that nobody has changed yet.
export const usualCurve = [0.3, 0, 0.3, 1];

// eased returns how far one is along the way from a key to the next, s from 0 to 1.
export const eased = (key, s) => easedBy(key.ease ?? "", key.curve ?? usualCurve, key.spring ?? usualSpring, s);

// valueAt returns a track's value at a frame.
export function valueAt(track, frame) {
  const keys = track.keys;
  const i = keys.findIndex((k) => k.frame > frame);
  if (i === 0) return keys[0].value;
  if (i < 0) return keys.at(-1).value;
  const [a, b] = [keys[i - 1], keys[i]];
  return a.value + (b.value - a.value) * eased(a, (frame - a.frame) / (b.frame - a.frame));
}

// jumps returns the tracks that are not, one frame after the last one, what they are at the first: a clip that goes
// round and round jumps there. Who is at the end of a closed path is at its start.
export function jumps(list, paths, frames) {
  return list.filter((t) => {
    if (t.what === "colour") return t.keys.length > 1 && t.keys[0].color !== t.keys.at(-1).color;
    let d = Math.abs(valueAt(t, frames) - valueAt(t, 0));
    if (t.what === "along" && paths.some((p) => p.of === t.of && p.closed)) d = Math.min(d % 1, 1 - (d % 1));
    if (trackOf(t.what).unit === "°") d = Math.min(d % 360, 360 - (d % 360));
    return d > 1e-3;
  });
}

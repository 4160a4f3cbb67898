// How keys lead from one to the next, and what moves in which unit (core/show, ease.go).

// measures tells of what moves its name, unit, and what it is at rest.
export const measures = {
  right: ["to the right", "mm", 0],
  up: ["up", "mm", 0],
  ahead: ["ahead", "mm", 0],
  turn: ["turned", "°", 0],
  tilt: ["tilted forward", "°", 0],
  lean: ["leaning", "°", 0],
  swing: ["swung at its left", "°", 0],
  "pivot right": ["pivot to the right", "mm", 0],
  "pivot up": ["pivot up", "mm", 0],
  size: ["size", "×", 1],
  shown: ["shown (1) or not (0)", "", 1],
  glow: ["glow", "×", 0],
  colour: ["colour", "", 0],
  depth: ["depth", "×", 1],
  bevel: ["bevel's height", "×", 1],
  along: ["along its path", "of it", 0],
  written: ["written", "of it", 1],
  becoming: ["becoming", "of it", 0],
  height: ["height", "°", 0],
  distance: ["farther away", "mm", 0],
  focal: ["focal length", "mm", 0],
  level: ["leaning", "°", 0],
  strength: ["strength", "stops", 0],
  exposure: ["exposure", "stops", 0],
  around: ["surroundings turned", "°", 0],
  "aim right": ["aims to the right", "mm", 0],
  "aim up": ["aims up", "mm", 0],
  "aim ahead": ["aims ahead", "mm", 0],
};

// movable lists what can change of the piece or a part, the camera, the scene, a lamp.
export const movable = {
  part: [
    ...["right", "up", "ahead", "turn", "tilt", "lean", "swing", "pivot right", "pivot up", "size", "shown", "colour", "glow"],
    ...["depth", "bevel", "written", "becoming", "along"],
  ],
  camera: ["along", "turn", "height", "distance", "focal", "level"],
  scene: ["exposure", "around"],
  lamp: ["strength", "along", "right", "up", "ahead", "aim right", "aim up", "aim ahead"],
};

const softIn = (s) => s * s * (2 - s);

function drawn([a, b, c, d], s) {
  const at = (p, q, t) => 3 * p * t * (1 - t) ** 2 + 3 * q * t * t * (1 - t) + t ** 3;
  let [lo, hi] = [0, 1];
  for (let i = 0; i < 30; i++) {
    const mid = (lo + hi) / 2;
    if (at(a, c, mid) < s) lo = mid;
    else hi = mid;
  }
  return at(b, d, (lo + hi) / 2);
}

function bounced(s) {
  const fall = 4 / 11;
  if (s < fall) return (s / fall) ** 2;
  let [from, long, high] = [fall, fall, 0.25];
  for (let i = 0; i < 3; i++) {
    if (s < from + long) return 1 - high * (1 - ((2 * (s - from)) / long - 1) ** 2);
    [from, long, high] = [from + long, long / 2, high / 4];
  }
  return 1;
}

// usualSpring is how often a spring swings until the next key, and how much weaker by then.
export const usualSpring = [3, 6];

const sprung = ([n, d], s) => 1 - (Math.exp(-d * s) - Math.exp(-d) * s) * Math.cos(2 * Math.PI * n * s);

export function eased(key, s) {
  switch (key.ease || "both") {
    case "hold":
      return 0;
    case "even":
      return s;
    case "soft in":
      return softIn(s);
    case "soft out":
      return 1 - softIn(1 - s);
    case "overshoot": {
      const r = s - 1;
      return r * r * (2.70158 * r + 1.70158) + 1;
    }
    case "bounce":
      return bounced(s);
    case "spring":
      return sprung(key.spring ?? usualSpring, s);
    case "drawn":
      return drawn(key.curve ?? [0.3, 0, 0.7, 1], s);
  }
  return s * s * (3 - 2 * s);
}

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
export function jumps(tracks, paths, frames) {
  return tracks.filter((t) => {
    if (t.what === "colour") return t.keys.length > 1 && t.keys[0].color !== t.keys.at(-1).color;
    let d = Math.abs(valueAt(t, frames) - valueAt(t, 0));
    if (t.what === "along" && paths.some((p) => p.of === t.of && p.closed)) d = Math.min(d % 1, 1 - (d % 1));
    if (measures[t.what][1] === "°") d = Math.min(d % 360, 360 - (d % 360));
    return d > 1e-3;
  });
}

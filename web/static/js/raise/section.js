// The section drawing: the rim of a part cut through, hatched, with grips.

import { drag, helpFingers } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { during, gesture } from "../lib/keys.js";
import { mm } from "../lib/length.js";
import { figures } from "../made/terms.js";
import { full, points, rises } from "./profiles.js";

const W = 286;
const H = 190;
const x0 = 74; // the wall
const top = 34;
const bottom = 152;
const right = W - 26; // where the drawing breaks off

// The grips: what each is called, its figure, and which way it grows.
const grips = {
  depth: { name: "Depth", figure: "depth", way: [0, -1] },
  frontWidth: { name: "Bevel width", figure: "bevelWidth", rim: "front", key: "width", way: [1, 0] },
  frontHeight: { name: "Bevel height", figure: "bevelHeight", rim: "front", key: "height", way: [0, 1] },
  backWidth: { name: "Width behind", figure: "bevelWidth", rim: "back", key: "width", way: [1, 0] },
  backHeight: { name: "Height behind", figure: "bevelHeight", rim: "back", key: "height", way: [0, -1] },
  wall: { name: "Wall", figure: "wall", way: [1, 0] },
};
const arrows = { ArrowUp: [0, -1], ArrowRight: [1, 0], ArrowDown: [0, 1], ArrowLeft: [-1, 0] };

const valueOf = (m, g) => (g.rim ? m[g.rim][g.key] : m[g.figure]);

// section makes the drawing. set(measures, got, kind) draws it, got being what the solid
// really has ({high, low, reach} or null) and kind the part's role: a recess is drawn as
// what it takes away from below a face; live(patch) and done(patch, label) report what
// a grip does. Of measures with {given: true} the depth has no grip.
export function section(act) {
  const drawing = new Section(act);
  return { element: drawing.svg, set: (measures, real, role) => drawing.set(measures, real, role) };
}

class Section {
  constructor({ live, done }) {
    this.live = live;
    this.done = done;
    this.layer = el("g");
    this.handles = el("g"); // who is at a grip stays there when the rest is drawn anew
    this.svg = el(
      "svg",
      { class: "cutview", viewBox: `0 0 ${W} ${H}`, role: "group", "aria-label": "Section through the rim" },
      hatch(),
      this.layer,
      this.handles,
    );
    this.m = null; // the measures drawn
    this.got = null;
    this.kind = "";
    this.scale = 1; // px a mm
    this.held = null; // the grip that is dragged
    helpFingers(this.svg, ".grip");
  }

  set(measures, real = null, role = this.kind) {
    if (this.held || Object.keys(grips).some((name) => during(`grip ${name}`))) return;
    this.kind = role;
    // Of a detail only the front counts.
    const detail = role === "recess" || role === "raised";
    this.m = { wall: 0, ...measures, ...(detail ? { wall: 0, outward: false, back: { ...measures.back, height: 0 } } : {}) };
    this.got = real;
    if (role === "tube" && !this.m.tube?.own) this.m = roundTube(this.m, real);
    this.fit();
    this.draw();
  }

  fit() {
    const { m, got } = this;
    const wide = Math.max(widthOf(m.front, got), widthOf(m.back, got), m.wall);
    const across = Math.max(wide * 1.9, m.depth * 0.9, 0.1);
    this.scale = Math.min((right - x0 - 18) / across, (bottom - top) / m.depth);
  }

  draw() {
    const { m, got, handles } = this;
    if (m.round) {
      handles.replaceChildren();
      this.layer.replaceChildren(...tubeCut(m.depth, this.scale));
      return;
    }
    const c = cutOf(m, got, this.scale, this.kind === "recess");
    this.layer.replaceChildren(
      el("path", { class: "body", d: c.path }),
      el("path", { class: "break", d: `M${right} ${c.Y(m.depth) - 8}V${c.Y(0) + 8}` }),
      ...marks(m, c, got),
      ...dimensions(m, c),
    );
    const list = gripsFor(m, c);
    for (const g of [...handles.children]) if (!list.some(([name]) => name === g.dataset.grip)) g.remove();
    for (const [name, x, y] of list) {
      const g = handles.querySelector(`[data-grip="${name}"]`) ?? handles.appendChild(this.grip(name));
      const v = valueOf(m, grips[name]);
      const now = { cx: x, cy: y, "aria-valuenow": v, "aria-valuetext": mm(v) };
      for (const [k, value] of Object.entries(now)) g.setAttribute(k, value);
    }
  }

  grip(name) {
    return el("circle", {
      class: "grip",
      r: 6,
      tabindex: "0",
      role: "slider",
      "aria-label": grips[name].name,
      "data-grip": name,
      onpointerdown: (e) => this.take(e, name),
      onkeydown: (e) => this.nudge(e, name),
    });
  }

  patchFor(name, v) {
    const g = grips[name];
    const { min, max } = figures[g.figure];
    const value = Number(Math.min(max, Math.max(name === "depth" ? 0.05 : min, v)).toFixed(2));
    if (!g.rim) return { [g.figure]: value };
    const rim = this.m[g.rim];
    // A bevel that had no extent starts even.
    const even = rim.width === 0 || rim.height === 0;
    return { [g.rim]: even ? { width: value, height: value } : { [g.key]: value } };
  }

  // wayOf is which way a grip grows; a recess is drawn upside down.
  wayOf(name) {
    const [x, y] = grips[name].way;
    return [x, y * (this.kind === "recess" ? -1 : 1)];
  }

  take(e, name) {
    e.preventDefault();
    this.held = { name, x: e.clientX, y: e.clientY, from: valueOf(this.m, grips[name]), scale: this.scale, start: this.m };
    drag(e, this.svg, { move: (f) => this.pull(f), end: () => this.let(), undo: () => this.back() });
  }

  // back shows what was there before the grip was dragged.
  back() {
    const { name, from, start, patch } = this.held;
    this.held = null;
    this.m = start;
    this.fit();
    this.draw();
    if (patch) this.live(this.patchFor(name, from));
  }

  pull(e) {
    const { held } = this;
    const perPx = W / this.svg.getBoundingClientRect().width / held.scale;
    const way = this.wayOf(held.name);
    const by = ((e.clientX - held.x) * way[0] + (e.clientY - held.y) * way[1]) * perPx;
    this.m = held.start;
    held.patch = this.patchFor(held.name, held.from + by);
    this.m = patched(held.start, held.patch);
    this.draw();
    this.live(held.patch);
  }

  let() {
    const { patch, name } = this.held;
    this.held = null;
    this.fit();
    this.draw();
    if (patch) this.done(patch, grips[name].name);
  }

  nudge(e, name) {
    const by = arrows[e.key];
    if (!by) return;
    e.preventDefault();
    const way = this.wayOf(name);
    const along = by[0] * way[0] + by[1] * way[1] || -(by[0] * way[1]) - by[1] * way[0];
    const patch = this.patchFor(name, valueOf(this.m, grips[name]) + figures[grips[name].figure].step * along);
    this.m = patched(this.m, patch);
    this.fit();
    this.draw();
    this.live(patch);
    gesture(e, `grip ${name}`, () => this.done(patch, grips[name].name));
  }
}

// tubeCut draws a round tube cut across.
function tubeCut(wide, scale) {
  const r = (wide * scale) / 2;
  const mid = (top + bottom) / 2;
  const circle = el("circle", { class: "body", cx: x0 + r, cy: mid, r });
  return [circle, ...upright(mid - r, mid + r, 18, mm(Number(wide.toFixed(3))))];
}

// roundTube returns the measures of a tube that is round, as wide as it really is.
function roundTube(m, got) {
  const wide = got?.depth ?? (m.tube?.width || m.depth);
  const rim = { width: wide / 2, height: wide / 2, profile: "round", segments: 12 };
  return { ...m, wall: 0, depth: wide, front: rim, back: rim, round: true };
}

// picture is a small section of measures, for lists.
export function picture(measures) {
  const m = { wall: 0, ...measures };
  const wide = Math.max(widthOf(m.front, null), widthOf(m.back, null), m.wall, m.depth * 0.5);
  const scale = Math.min((right - x0) / (wide * 1.6), (bottom - top) / m.depth);
  const c = cutOf(m, null, scale);
  const box = `${x0 - 8} ${top - 12} ${right - x0 + 16} ${bottom - top + 24}`;
  return el("svg", { class: "cutpicture", viewBox: box, "aria-hidden": "true" }, el("path", { d: c.path }));
}

// patched returns measures with a patch.
export function patched(m, patch) {
  const out = { ...m, ...patch };
  for (const rim of ["front", "back"]) if (patch[rim]) out[rim] = { ...m[rim], ...patch[rim] };
  return out;
}

function hatch() {
  const pattern = {
    id: "hatch",
    width: 7,
    height: 7,
    patternUnits: "userSpaceOnUse",
    patternTransform: "rotate(45)",
  };
  return el(
    "defs",
    {},
    el(
      "pattern",
      pattern,
      el("rect", { width: 7, height: 7, fill: "#f6e9df" }),
      el("line", { x1: 0, y1: 0, x2: 0, y2: 7, class: "hatchline" }),
    ),
  );
}

// widthOf returns how wide a rim is: a pillow or dome as wide as the part.
function widthOf(rim, got) {
  if (!rises(rim)) return 0;
  return full(rim.profile) ? (got?.reach ?? Math.max(rim.width, rim.height * 2)) : rim.width;
}

// heights returns what both bevels get: lowered alike where the depth has no room.
function heights(m, got) {
  const front = rises(m.front) ? m.front.height : 0;
  const back = rises(m.back) && !m.wall ? m.back.height : 0;
  if (got) return [front && Math.min(front, got.high || front), back && Math.min(back, got.low || back)];
  const k = Math.min(1, m.depth / Math.max(front + back, 1e-9));
  return [front * k, back * k];
}

// ceiling returns the inside of a hollow part below the line of its front, level beyond its end: what a
// disc as thick as the wall leaves free that rolls along it (docs/meaning.md). Places are mm from the rim.
function ceiling(front, wall) {
  const [end] = front[front.length - 1];
  const at = (d) => {
    let low = Infinity;
    const touch = (x, z) => {
      const off = Math.abs(x - d);
      if (off <= wall) low = Math.min(low, z - Math.sqrt(wall * wall - off * off));
    };
    const parts = 24;
    for (const [i, [x, z]] of front.entries()) {
      touch(x, z);
      const [px, pz] = front[Math.max(0, i - 1)];
      for (let k = 1; k < parts; k++) touch(px + ((x - px) * k) / parts, pz + ((z - pz) * k) / parts);
    }
    touch(Math.max(d, end), front[front.length - 1][1]);
    return Math.max(0, low);
  };
  const steps = 40;
  return Array.from({ length: steps + 1 }, (_, i) => wall + (end * i) / steps).map((d) => [d, at(d)]);
}

// cutOf works out the outline of the cut: X and Y map mm to the drawing.
function cutOf(m, got, scale, recess = false) {
  const [high, low] = heights(m, got);
  const w = widthOf(m.front, got);
  const wb = m.wall ? 0 : widthOf(m.back, got);
  const mid = (top + bottom) / 2 + (m.depth * scale) / 2;
  const X = (v) => x0 + v * scale;
  // A recess is the same form upside down, and the body is what surrounds it.
  const Y = (v) => (recess ? mid - (m.depth - v) * scale : mid - v * scale);
  const upper = high
    ? points(m.front).map(([t, f]) => [X(t * w), Y(m.depth - high + f * high)])
    : [[X(0), Y(m.depth)]];
  const lower = low ? points(m.back).map(([t, f]) => [X(t * wb), Y(low - f * low)]) : [[X(0), Y(0)]];
  if (m.wall && m.wall < m.depth) {
    const face = high ? points(m.front).map(([t, f]) => [t * w, m.depth - high + f * high]) : [[0, m.depth]];
    lower.push([X(m.wall), Y(0)], ...ceiling(face, m.wall).map(([d, z]) => [X(d), Y(z)]));
  }
  if (recess) {
    const floor = H - 10;
    const line = [...upper, [right, upper[upper.length - 1][1]]].map(([x, y]) => `${Math.min(x, right).toFixed(1)} ${y.toFixed(1)}`);
    const path = `M${x0 - 56} ${Y(0).toFixed(1)}H${X(0)}V${line[0].split(" ")[1]}L${line.join("L")}V${floor}H${x0 - 56}Z`;
    return { w, wb: 0, high, low: 0, X, Y, path, scale };
  }
  const ends = [upper[upper.length - 1][1], lower[lower.length - 1][1]];
  const edge = [[right, ends[1]], ...lower.reverse(), ...upper, [right, ends[0]]];
  const path = `M${edge.map(([x, y]) => `${Math.min(x, right).toFixed(1)} ${y.toFixed(1)}`).join("L")}Z`;
  return { w, wb, high, low, X, Y, path, scale };
}

// marks says in the drawing what lines can't: where the artwork's outline is, which side
// is open.
function marks(m, c, got) {
  const out = [];
  const wide = Math.max(c.w, c.wb);
  if (m.outward && wide > 0) {
    const x = Math.min(c.X(wide), right - 2);
    out.push(el("path", { class: "artline", d: `M${x} ${c.Y(m.depth) - 12}V${c.Y(0) + 12}` }));
    out.push(el("text", { x, y: H - 8, "text-anchor": "middle" }, "artwork"));
  }
  if (got?.narrow && c.high && !full(m.front.profile)) {
    const narrow = got.widest < c.w - 0.01;
    const x = Math.min(c.X(narrow ? got.widest : c.w), right);
    out.push(el("path", { class: "narrowline", d: `M${x} ${c.Y(m.depth) - 4}V${c.Y(0)}` }));
    const text = narrow ? `ridge at ${mm(Number(got.widest.toFixed(2)))} at most` : "ridges in narrow places";
    out.push(el("text", { class: "narrowtext", x: right, y: H - 6, "text-anchor": "end" }, text));
  }
  const open = (y, text) => {
    out.push(el("path", { class: "openline", d: `M${c.X(0) + 6} ${y}H${right}` }));
    out.push(el("text", { x: right - 4, y: y > 100 ? y + 14 : y - 5, "text-anchor": "end" }, text));
  };
  if (m.openFront) open(c.Y(m.depth), "open");
  if (m.openBack) open(c.Y(0), "open");
  return out;
}

function gripsFor(m, c) {
  const list = [["frontHeight", c.X(0), c.Y(m.depth - c.high)]];
  if (!m.given) list.unshift(["depth", (Math.min(c.X(c.w), right - 30) + right) / 2, c.Y(m.depth)]);
  if (!full(m.front.profile)) list.push(["frontWidth", Math.min(c.X(c.w), right), c.Y(m.depth)]);
  if (c.low) list.push(["backHeight", c.X(0), c.Y(c.low)], ["backWidth", Math.min(c.X(c.wb), right), c.Y(0)]);
  if (m.wall) list.push(["wall", Math.min(c.X(m.wall), right), c.Y(0) - 10]);
  return list;
}

// dimensions returns the dimension lines.
function dimensions(m, c) {
  const { X, Y } = c;
  const d = m.depth;
  const out = upright(Y(d), Y(0), 18, mm(d));
  const label = (h) => (h * c.scale > 30 ? mm(h) : "");
  if (c.high) {
    out.push(...upright(Y(d), Y(d - c.high), 52, label(c.high)));
    out.push(...level(X(0), Math.min(X(c.w), right), Y(d) - 12, Y(d) - 3, mm(c.w), -6));
  }
  if (c.low) {
    out.push(...upright(Y(c.low), Y(0), 52, label(c.low)));
    out.push(...level(X(0), Math.min(X(c.wb), right), Y(0) + 12, Y(0) + 3, mm(c.wb), 14));
  } else if (m.wall) {
    out.push(...level(X(0), Math.min(X(m.wall), right), Y(0) + 12, Y(0) + 3, mm(m.wall), 14));
  }
  return out;
}

function upright(a, b, at, text) {
  const turn = `rotate(-90 ${at - 6} ${(a + b) / 2})`;
  return [
    el("path", { class: "ext", d: `M${x0 - 3} ${a}H${at - 4}M${x0 - 3} ${b}H${at - 4}` }),
    el("path", { class: "dim", d: `M${at} ${a}V${b}M${at - 3} ${a}h6M${at - 3} ${b}h6` }),
    el("text", { x: at - 6, y: (a + b) / 2, "text-anchor": "middle", transform: turn }, text),
  ];
}

function level(a, b, at, from, text, off) {
  return [
    el("path", { class: "ext", d: `M${a} ${from}V${at}M${b} ${from}V${at}` }),
    el("path", { class: "dim", d: `M${a} ${at}H${b}M${a} ${at - 3}v6M${b} ${at - 3}v6` }),
    el("text", { x: (a + b) / 2, y: at + off, "text-anchor": "middle" }, text),
  ];
}

// The section drawing: the rim of a part cut through, hatched, with grips.

import { el } from "../lib/page.js";
import { mm } from "../lib/length.js";
import { limit } from "../lib/known.js";

const W = 286;
const H = 190;
const x0 = 74; // the rim
const y0 = 150; // the back
const right = W - 26; // where the drawing breaks off

const labels = { depth: "Depth", bevelWidth: "Bevel width", bevelHeight: "Bevel height" };
const spoken = { depth: "Depth", bevelWidth: "Width of the bevel", bevelHeight: "Height of the bevel" };
const arrows = { ArrowUp: 0.5, ArrowRight: 0.5, ArrowDown: -0.5, ArrowLeft: -0.5 };

// section makes the drawing. set(measures) draws it; live(patch) and
// done(patch, label) report what a grip does.
export function section({ live, done }) {
  const layer = el("g");
  const svg = el(
    "svg",
    { class: "cutview", viewBox: `0 0 ${W} ${H}`, role: "group", "aria-label": "Section through the rim" },
    hatch(),
    layer,
  );
  let m = null; // the measures drawn
  let scale = 1; // px a mm
  let drag = null;

  const fit = () => {
    const across = Math.max(m.bevelWidth * 1.9, m.depth * 0.9, 0.1);
    scale = Math.min((W - x0 - 44) / across, (y0 - 30) / m.depth);
  };
  const draw = () => {
    const c = cutOf(m, scale);
    layer.replaceChildren(
      el("path", { class: "body", d: c.path }),
      el("path", { class: "break", d: `M${right} ${c.Y(m.depth) - 8}V${c.Y(0) + 8}` }),
      el("text", { x: x0, y: H - 12 }, c.back ? "back, bevelled" : "back, flat"),
      ...dimensions(m, c),
      grip("depth", (c.X(c.w) + right) / 2, c.Y(m.depth)),
      grip("bevelWidth", Math.min(c.X(c.w), right), c.Y(m.depth)),
      grip("bevelHeight", c.X(0), c.Y(m.depth - c.h)),
    );
    if (drag?.focus) layer.querySelector(`[data-grip="${drag.name}"]`)?.focus();
  };
  const patchFor = (name, v) => {
    const [least, most] = limit(name);
    v = Number(Math.min(most, Math.max(name === "depth" ? 0.05 : least, v)).toFixed(2));
    // A bevel that had no extent starts even.
    if (name !== "depth" && (m.bevelWidth === 0 || m.bevelHeight === 0))
      return { bevelWidth: v, bevelHeight: v };
    return { [name]: v };
  };
  const take = (name) => (e) => {
    e.preventDefault();
    svg.setPointerCapture(e.pointerId);
    drag = { name, x: e.clientX, y: e.clientY, from: m[name], scale, start: { ...m } };
  };
  const nudge = (name) => (e) => {
    const by = arrows[e.key];
    if (!by) return;
    e.preventDefault();
    drag = { name, focus: true };
    // The height grows downward in the drawing.
    const sign = name === "bevelHeight" && (e.key === "ArrowUp" || e.key === "ArrowDown") ? -1 : 1;
    const patch = patchFor(name, m[name] + sign * by);
    m = { ...m, ...patch };
    fit();
    draw();
    drag = null;
    done(patch, labels[name]);
  };
  const grip = (name, x, y) =>
    el("circle", {
      class: "grip",
      cx: x,
      cy: y,
      r: 6,
      tabindex: "0",
      role: "slider",
      "aria-label": spoken[name],
      "aria-valuenow": m[name],
      "data-grip": name,
      onpointerdown: take(name),
      onkeydown: nudge(name),
    });
  svg.addEventListener("pointermove", (e) => {
    if (!drag) return;
    const perPx = W / svg.getBoundingClientRect().width / drag.scale;
    const dx = (e.clientX - drag.x) * perPx;
    const dy = (e.clientY - drag.y) * perPx;
    const by = { depth: -dy, bevelWidth: dx, bevelHeight: dy }[drag.name];
    drag.patch = patchFor(drag.name, drag.from + by);
    m = { ...drag.start, ...drag.patch };
    draw();
    live(drag.patch);
  });
  const end = () => {
    if (!drag) return;
    const { patch, name } = drag;
    drag = null;
    fit();
    draw();
    if (patch) done(patch, labels[name]);
  };
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  const set = (measures) => {
    if (drag) return;
    m = { ...measures };
    fit();
    draw();
  };
  return { element: svg, set };
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

// profile returns the facets of a bevel as shares of its width and height.
function profile(m) {
  const n = m.profile === "round" ? m.segments : 1;
  return Array.from({ length: n + 1 }, (_, i) => {
    const a = (Math.PI / 2) * (i / n);
    return m.profile === "round" ? [1 - Math.cos(a), Math.sin(a)] : [i / n, i / n];
  });
}

// cutOf works out the outline of the cut: w and h are what the bevel really
// takes, X and Y map mm to the drawing.
function cutOf(m, scale) {
  const d = m.depth;
  const back = m.back === "bevel" && m.bevelWidth > 0 && m.bevelHeight > 0;
  const w = m.bevelWidth;
  const h = w > 0 ? Math.min(m.bevelHeight, back ? d / 2 : d) : 0;
  const X = (v) => x0 + v * scale;
  const Y = (v) => y0 - v * scale;
  const on = w > 0 && h > 0;
  const top = on ? profile(m).map(([t, f]) => [X(t * w), Y(d - h + f * h)]) : [[X(0), Y(d)]];
  const low = back
    ? profile(m)
        .map(([t, f]) => [X(t * w), Y(h - f * h)])
        .reverse()
    : [[X(0), Y(0)]];
  const edge = [[right, Y(0)], ...low, ...top, [right, Y(d)]].map(([x, y]) => [Math.min(x, right), y]);
  const path = `M${edge.map((p) => p.map((v) => v.toFixed(1)).join(" ")).join("L")}Z`;
  return { back, w, h, X, Y, path, scale };
}

// dimensions returns the dimension lines of depth and bevel.
function dimensions(m, { w, h, X, Y, scale }) {
  const d = m.depth;
  const out = upright(Y(d), Y(0), 22, mm(d));
  if (w > 0 && h > 0) {
    out.push(...upright(Y(d), Y(d - h), 56, h * scale > 34 ? mm(h) : ""));
    out.push(...level(X(0), Math.min(X(w), right), Math.max(18, Y(d) - 14), Y(d) - 3, mm(w)));
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

function level(a, b, at, from, text) {
  return [
    el("path", { class: "ext", d: `M${a} ${from}V${at - 4}M${b} ${from}V${at - 4}` }),
    el("path", { class: "dim", d: `M${a} ${at}H${b}M${a} ${at - 3}v6M${b} ${at - 3}v6` }),
    el("text", { x: (a + b) / 2, y: at - 6, "text-anchor": "middle" }, text),
  ];
}

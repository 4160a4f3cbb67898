// The section drawing: the rim of a part cut through, hatched, with grips.

import { el } from "./page.js";
import { mm } from "./length.js";

const W = 286, H = 190;

// section makes the drawing. set(recipe) draws it; live(patch) and
// done(patch, label) report what a grip does.
export function section({ live, done }) {
  const hatch = el("defs", {}, el("pattern", { id: "hatch", width: 7, height: 7, patternUnits: "userSpaceOnUse", patternTransform: "rotate(45)" },
    el("rect", { width: 7, height: 7, fill: "#f6e9df" }), el("line", { x1: 0, y1: 0, x2: 0, y2: 7, class: "hatchline" })));
  const layer = el("g");
  const svg = el("svg", { class: "cutview", viewBox: `0 0 ${W} ${H}`, role: "group", "aria-label": "Section through the rim" }, hatch, layer);
  let r = null, scale = 1, drag = null;

  const profile = (n) => {
    const pts = [];
    for (let i = 0; i <= n; i++) {
      const a = (Math.PI / 2) * (i / n);
      pts.push(r.profile === "round" ? [1 - Math.cos(a), Math.sin(a)] : [i / n, i / n]);
    }
    return pts;
  };
  const x0 = 74, y0 = 150; // rim, back
  const fit = () => {
    const across = Math.max(r.bevelWidth * 1.9, r.depth * 0.9, 0.1);
    scale = Math.min((W - x0 - 44) / across, (y0 - 30) / r.depth);
  };
  const draw = () => {
    const d = r.depth, back = r.back === "bevel" && r.bevelWidth > 0 && r.bevelHeight > 0;
    const room = back ? d / 2 : d;
    const w = r.bevelWidth, h = w > 0 ? Math.min(r.bevelHeight, room) : 0;
    const X = (v) => x0 + v * scale, Y = (v) => y0 - v * scale, right = W - 26;
    const top = w > 0 && h > 0 ? profile(r.profile === "round" ? r.segments : 1).map(([t, f]) => [X(t * w), Y(d - h + f * h)]) : [[X(0), Y(d)]];
    const low = back ? profile(r.profile === "round" ? r.segments : 1).map(([t, f]) => [X(t * w), Y(h - f * h)]).reverse() : [[X(0), Y(0)]];
    const edge = [[right, Y(0)], ...low.map(([x, y]) => [Math.min(x, right), y]), ...top.map(([x, y]) => [Math.min(x, right), y]), [right, Y(d)]];
    const path = `M${edge.map((p) => p.map((v) => v.toFixed(1)).join(" ")).join("L")}Z`;
    const dims = [];
    const dim = (a, b, off, text, vertical) => {
      if (vertical) {
        dims.push(el("path", { class: "ext", d: `M${x0 - 3} ${a}H${off - 4}M${x0 - 3} ${b}H${off - 4}` }), el("path", { class: "dim", d: `M${off} ${a}V${b}M${off - 3} ${a}h6M${off - 3} ${b}h6` }));
        const t = el("text", { x: off - 6, y: (a + b) / 2, "text-anchor": "middle", transform: `rotate(-90 ${off - 6} ${(a + b) / 2})` });
        t.textContent = text; dims.push(t);
      } else {
        dims.push(el("path", { class: "ext", d: `M${a} ${Y(d) - 3}V${off - 4}M${b} ${Y(d) - 3}V${off - 4}` }), el("path", { class: "dim", d: `M${a} ${off}H${b}M${a} ${off - 3}v6M${b} ${off - 3}v6` }));
        const t = el("text", { x: (a + b) / 2, y: off - 6, "text-anchor": "middle" });
        t.textContent = text; dims.push(t);
      }
    };
    dim(Y(d), Y(0), 22, mm(d), true);
    if (w > 0 && h > 0) { dim(Y(d), Y(d - h), 56, h * scale > 34 ? mm(h) : "", true); dim(X(0), Math.min(X(w), right), Math.max(18, Y(d) - 14), mm(w), false); }
    const back0 = el("text", { x: x0, y: H - 12 }); back0.textContent = back ? "back, bevelled" : "back, flat";
    layer.replaceChildren(el("path", { class: "body", d: path }), el("path", { class: "break", d: `M${right} ${Y(d) - 8}V${Y(0) + 8}` }), back0, ...dims,
      grip("depth", (X(w) + right) / 2, Y(d), "Depth"), grip("bevelWidth", Math.min(X(w), right), Y(d), "Width of the bevel"), grip("bevelHeight", X(0), Y(d - h), "Height of the bevel"));
    if (drag?.focus) layer.querySelector(`[data-grip="${drag.name}"]`)?.focus();
  };
  const labels = { depth: "Depth", bevelWidth: "Bevel width", bevelHeight: "Bevel height" };
  const patchFor = (name, v) => {
    v = Number(Math.max(name === "depth" ? 0.05 : 0, v).toFixed(2));
    // A bevel that had no extent starts even.
    if (name !== "depth" && (r.bevelWidth === 0 || r.bevelHeight === 0)) return { bevelWidth: v, bevelHeight: v };
    return { [name]: v };
  };
  const grip = (name, x, y, label) => el("circle", { class: "grip", cx: x, cy: y, r: 6, tabindex: "0", role: "slider", "aria-label": label, "aria-valuenow": r[name], "data-grip": name,
    onpointerdown: (e) => {
      e.preventDefault();
      svg.setPointerCapture(e.pointerId);
      drag = { name, x: e.clientX, y: e.clientY, from: r[name], scale, start: { ...r } };
    },
    onkeydown: (e) => {
      const by = { ArrowUp: 0.5, ArrowRight: 0.5, ArrowDown: -0.5, ArrowLeft: -0.5 }[e.key];
      if (!by) return;
      e.preventDefault();
      drag = { name, focus: true };
      const sign = name === "bevelHeight" && (e.key === "ArrowUp" || e.key === "ArrowDown") ? -1 : 1;
      const patch = patchFor(name, r[name] + sign * by);
      r = { ...r, ...patch }; fit(); draw(); drag = null;
      done(patch, labels[name]);
    } });
  const unit = () => W / svg.getBoundingClientRect().width;
  svg.addEventListener("pointermove", (e) => {
    if (!drag) return;
    const dx = ((e.clientX - drag.x) * unit()) / drag.scale, dy = ((e.clientY - drag.y) * unit()) / drag.scale;
    drag.patch = patchFor(drag.name, drag.from + (drag.name === "depth" ? -dy : drag.name === "bevelWidth" ? dx : dy));
    r = { ...drag.start, ...drag.patch };
    draw();
    live(drag.patch);
  });
  const end = () => { if (!drag) return; const { patch, name } = drag; drag = null; fit(); draw(); if (patch) done(patch, labels[name]); };
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  return { element: svg, set(recipe) { if (drag) return; r = { ...recipe }; fit(); draw(); } };
}

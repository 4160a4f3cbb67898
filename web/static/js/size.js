// Size: how large the piece really is, with dimension lines.

import { $, el, typing } from "./page.js";
import { choice, lengthField } from "./field.js";
import { Drawing } from "./drawing.js";
import { figure, mm } from "./length.js";

export const keys = [["F", "Fit the drawing into the view"]];

export async function start(piece) {
  const drawing = new Drawing($("view"), "The piece from the front with its measures");
  addEventListener("keydown", (e) => { if (e.key.toLowerCase() === "f" && !typing(e) && !e.ctrlKey) drawing.fit(); });
  const s0 = () => piece.state;
  const widthDone = (v) => piece.change("Width", { size: { by: "width", mm: v } });
  const heightDone = (v) => piece.change("Height", { size: { by: "height", mm: v } });
  const width = lengthField({ name: "width", label: "Width", slider: false, value: 0, hard: [0.1, 100000], arrow: 1, done: widthDone });
  const height = lengthField({ name: "height", label: "Height", slider: false, value: 0, hard: [0.1, 100000], arrow: 1, done: heightDone });
  const tolerance = lengthField({ name: "tolerance", label: "Tolerance", slider: false, value: 0.02, hard: [0.0005, 10], arrow: 0.01, done: (v) => piece.change("Tolerance", { tolerance: v }) });
  const overlap = choice("Overlaps", [["cut", "cut"], ["keep", "keep"]], "cut", (v) => piece.change("Overlaps", { overlap: v }));
  const ratio = el("p", { class: "soft" });
  const natural = el("button", { class: "button is-small", type: "button", onclick: () => { const s = s0(); widthDone(Number((s.width * s.pxPerMm * (25.4 / 96)).toFixed(4))); } }, "As drawn in the file");
  const quick = el("div", { class: "buttons are-small mt-2" }, natural,
    ...[["÷ 2", 0.5], ["× 2", 2], ["× 10", 10]].map(([t, f]) => el("button", { class: "button is-small", type: "button", onclick: () => widthDone(Number((s0().width * f).toFixed(4))) }, t)));
  $("panel").append(el("h2", {}, "Real size"), width.row, height.row, ratio, quick,
    el("h2", {}, "Outlines"), tolerance.row, el("p", { class: "soft" }, "How far the solid's edges may depart from the artwork's curves. Finer means more triangles."), overlap.row,
    el("p", { class: "soft" }, "Cut: a shape on top is cut out of the ones below, so that the parts fit like inlays. Keep: every part stays whole."));

  const draw = (s) => {
    const w = s.width, h = s.height, side = Math.max(w, h), o = side * 0.09, t = side * 0.014, x = -w / 2, y = -h / 2;
    const kids = s.parts.map((p) => el("path", { d: p.path, fill: p.color, "fill-opacity": p.recipe.out ? 0.12 : piece.selected === "*" || piece.selected === p.id ? 1 : 0.25, "fill-rule": "evenodd" }));
    const line = (d) => kids.push(el("path", { class: "dimline", d }));
    const text = (v, tx, ty, turn) => { const e = el("text", { class: "dimtext", x: tx, y: ty, "font-size": side * 0.03, transform: turn ? `rotate(-90 ${tx} ${ty})` : null }); e.textContent = mm(v); kids.push(e); };
    line(`M${x} ${-y + o}H${-x}M${x} ${-y + o - t}v${2 * t}M${-x} ${-y + o - t}v${2 * t}M${x} ${-y + t}V${-y + o - t}M${-x} ${-y + t}V${-y + o - t}`);
    text(w, 0, -y + o + side * 0.042);
    line(`M${x - o} ${y}V${-y}M${x - o - t} ${y}h${2 * t}M${x - o - t} ${-y}h${2 * t}M${x - t} ${y}H${x - o + t}M${x - t} ${-y}H${x - o + t}`);
    text(h, x - o - side * 0.02, 0, true);
    drawing.svg.replaceChildren(...kids);
  };
  let last = 0;
  return {
    state(s) {
      if (s.problem) { drawing.frame(0, 0, 10, 10); drawing.svg.replaceChildren(); $("view").append(el("div", { class: "veil" }, el("p", {}, s.problem))); return; }
      width.set(s.width); height.set(s.height); tolerance.set(s.recipe.tolerance); overlap.set(s.recipe.overlap);
      ratio.textContent = `The sides keep their ratio, ${figure(s.width / s.height)} to 1. In the file the artwork is ${mm(s.width * s.pxPerMm * (25.4 / 96))} wide.`;
      const side = Math.max(s.width, s.height);
      if (side !== last) { const p = side * 0.2; drawing.frame(-s.width / 2 - p, -s.height / 2 - p * 0.45, s.width + p * 1.5, s.height + p * 1.35); last = side; }
      draw(s);
    },
    selected() { draw(piece.state); },
  };
}

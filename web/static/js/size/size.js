// Size: how large the piece really is, with dimension lines.

import { el, plain } from "../lib/page.js";
import { choice, lengthField } from "../lib/field.js";
import { Drawing } from "../lib/drawing.js";
import { figure, mm } from "../lib/length.js";
import { All } from "../frame/parts.js";

export const keys = [["F", "Fit the drawing into the view"]];

const mmPerPx = 25.4 / 96; // CSS pixels, in which the artwork's page is measured

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const drawing = new Drawing(ctx, view, "The piece from the front with its measures");
  const veil = el("div", { class: "veil", hidden: true }, el("p", {}));
  view.append(veil);
  ctx.on(window, "keydown", (e) => {
    if (plain(e) && e.key.toLowerCase() === "f") drawing.fit();
  });

  const side = (by, label) => (v) => piece.change(label, { kind: "size", by, mm: v });
  const setWidth = side("width", "Width");
  const scaled = (v) => setWidth(Number(v.toFixed(4)));
  const plainField = (name, label, value, more) =>
    lengthField({ name, label, slider: false, value, ...more });
  const width = plainField("width", "Width", 0, { figure: "side", arrow: 1, done: setWidth });
  const height = plainField("height", "Height", 0, {
    figure: "side",
    arrow: 1,
    done: side("height", "Height"),
  });
  const setTolerance = (v) => piece.change("Tolerance", { kind: "size", tolerance: v });
  const tolerance = plainField("tolerance", "Tolerance", 0.02, { arrow: 0.01, done: setTolerance });
  const overlap = choice(
    "Overlaps",
    [
      ["cut", "cut"],
      ["keep", "keep"],
    ],
    "cut",
    (v) => piece.change("Overlaps", { kind: "size", overlap: v }),
  );
  const ratio = el("p", { class: "soft" });
  const button = (text, act) =>
    el("button", { class: "button is-small", type: "button", onclick: act }, text);
  const quick = el(
    "div",
    { class: "buttons are-small mt-2" },
    button("As drawn in the file", () => scaled(drawnWidth(piece.state))),
    button("÷ 2", () => scaled(piece.state.width / 2)),
    button("× 2", () => scaled(piece.state.width * 2)),
    button("× 10", () => scaled(piece.state.width * 10)),
  );
  panel.append(
    el("h2", {}, "Real size"),
    width.row,
    height.row,
    ratio,
    quick,
    el("h2", {}, "Outlines"),
    tolerance.row,
    el(
      "p",
      { class: "soft" },
      "How far the solid's edges may depart from the artwork's curves. Finer means more triangles.",
    ),
    overlap.row,
    el(
      "p",
      { class: "soft" },
      "Cut: a shape on top is cut out of the ones below, so that the parts fit like inlays. Keep: every part stays whole.",
    ),
  );

  let framed = 0;
  return {
    update(s) {
      veil.hidden = !s.problem;
      veil.firstChild.textContent = s.problem ?? "";
      if (s.problem) {
        drawing.svg.replaceChildren();
        return;
      }
      width.set(s.width);
      height.set(s.height);
      tolerance.set(s.size.tolerance);
      overlap.set(s.size.overlap);
      ratio.textContent = `The sides keep their ratio, ${figure(s.width / s.height)} to 1. In the file the artwork is ${mm(drawnWidth(s))} wide.`;
      const most = Math.max(s.width, s.height);
      if (most !== framed) {
        const p = most * 0.2;
        drawing.frame(-s.width / 2 - p, -s.height / 2 - p * 0.45, s.width + p * 1.5, s.height + p * 1.35);
        framed = most;
      }
      drawing.svg.replaceChildren(...draw(s, piece.selected));
    },
    select() {
      if (!piece.state.problem) drawing.svg.replaceChildren(...draw(piece.state, piece.selected));
    },
  };
}

const drawnWidth = (s) => s.width * s.pxPerMm * mmPerPx;

// draw returns the parts and the dimension lines.
function draw(s, selected) {
  const w = s.width;
  const h = s.height;
  const side = Math.max(w, h);
  const off = side * 0.09; // of the lines from the piece
  const tick = side * 0.014;
  const x = -w / 2;
  const y = -h / 2;
  const kids = s.parts.map((p) => {
    const opacity = p.out ? 0.12 : selected === All || selected === p.id ? 1 : 0.25;
    return el("path", { d: p.path, fill: p.color, "fill-opacity": opacity, "fill-rule": "evenodd" });
  });
  const line = (d) => kids.push(el("path", { class: "dimline", d }));
  const text = (v, tx, ty, turned) => {
    const turn = turned ? `rotate(-90 ${tx} ${ty})` : null;
    kids.push(
      el("text", { class: "dimtext", x: tx, y: ty, "font-size": side * 0.03, transform: turn }, mm(v)),
    );
  };
  const below = -y + off;
  line(
    `M${x} ${below}H${-x}M${x} ${below - tick}v${2 * tick}M${-x} ${below - tick}v${2 * tick}` +
      `M${x} ${-y + tick}V${below - tick}M${-x} ${-y + tick}V${below - tick}`,
  );
  text(w, 0, below + side * 0.042, false);
  const left = x - off;
  line(
    `M${left} ${y}V${-y}M${left - tick} ${y}h${2 * tick}M${left - tick} ${-y}h${2 * tick}` +
      `M${x - tick} ${y}H${left + tick}M${x - tick} ${-y}H${left + tick}`,
  );
  text(h, left - side * 0.02, 0, true);
  return kids;
}

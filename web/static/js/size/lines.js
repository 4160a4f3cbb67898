// The piece from the front with its dimension lines, the frame around it, and
// where its sheets lie.

import { el } from "../lib/page.js";
import { mm } from "../lib/length.js";

// draw returns the drawing of a state; selected is the part that stands out, or
// null for all.
export function draw(s, selected) {
  const w = s.width;
  const h = s.height;
  const whole = Math.max(w, h, s.size.frame?.width ?? 0, s.size.frame?.height ?? 0);
  const side = Math.max(Math.max(w, h), whole * 0.6); // marks stay readable within a large frame
  const off = side * 0.09; // of the lines from the piece
  const tick = side * 0.014;
  const x = -w / 2;
  const y = -h / 2;
  const kids = [...frameLines(s.size.frame)];
  for (const p of s.parts) {
    const opacity = p.out ? 0.12 : !selected || selected === p.id ? 1 : 0.25;
    const look = { fill: p.color, "fill-opacity": opacity, "fill-rule": "evenodd" };
    kids.push(el("path", { class: "partshape", d: p.path, ...look }));
  }
  kids.push(...frameName(s.size.frame, side));
  kids.push(...sheetFrames(s.sheets, side));
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

// frameLines draws the plate or bed and its margin.
function frameLines(frame) {
  if (!frame) return [];
  const { width: w, height: h, margin: m } = frame;
  return [
    el("rect", { class: "bedframe", x: -w / 2, y: -h / 2, width: w, height: h }),
    el("rect", { class: "bedmargin", x: m - w / 2, y: m - h / 2, width: w - 2 * m, height: h - 2 * m }),
  ];
}

function frameName(frame, side) {
  if (!frame) return [];
  const { width: w, height: h } = frame;
  return [
    el(
      "text",
      { class: "bedtext", x: w / 2, y: -h / 2 - side * 0.015, "font-size": Math.max(w, h) * 0.024 },
      `${frame.name} ${mm(w)} × ${mm(h)}`,
    ),
  ];
}

// sheetFrames marks the artwork of each of several sheets; those behind the
// first can be dragged.
function sheetFrames(sheets, side) {
  if (sheets.length < 2) return [];
  return sheets.flatMap((sheet, i) => {
    const [x, y, width, height] = sheet.box;
    return [
      el("rect", { class: `sheetframe${i ? " loose" : ""}`, x, y, width, height, "data-slot": sheet.slot }),
      el("text", { class: "sheettext", x: x + side * 0.008, y: y + side * 0.03, "font-size": side * 0.022 }, sheet.name),
    ];
  });
}

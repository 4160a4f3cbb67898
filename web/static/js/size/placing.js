// How the piece leaves: how it lies, where the origin is, which axis is up; and
// where its sheets lie to each other.

import { drag } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { field, oneOf } from "../lib/field.js";
import { mm } from "../lib/length.js";

export function placing(piece) {
  const set = (label, patch) => piece.change(label, { kind: "size", ...patch });
  const lying = oneOf("lying", "", (v) => set(lying.label, { lying: v }));
  const origin = oneOf("origin", "", (v) => set(origin.label, { origin: v }));
  const up = oneOf("up", "", (v) => set(up.label, { up: v }));
  const sheets = el("div", {});
  const shift = (sheet, dx, dy) => {
    const k = piece.state.pxPerMm;
    return piece.change(`Move ${sheet.name}`, {
      kind: "sheet",
      slot: sheet.slot,
      shift: [sheet.shift[0] + dx * k, sheet.shift[1] - (dy * k) / (piece.state.size.stretch || 1)],
    });
  };
  const coordinate = (sheet, axis, value, by) =>
    field({ of: `sheet.${axis}`, name: `sheet${axis}${sheet.slot}`, slider: false, value, done: (v) => shift(sheet, ...by(v - value)) }).row;

  // from tells where a sheet lies, its middle from that of the first one.
  const from = (s, sheet) => {
    const mid = ({ box: [x, y, w, h] }) => [x + w / 2, -(y + h / 2)];
    const [a, b] = [mid(s.sheets[0]), mid(sheet)];
    return [b[0] - a[0], b[1] - a[1]];
  };
  return {
    box: el(
      "div",
      {},
      el("h2", {}, "Orientation and origin"),
      lying.row,
      origin.row,
      up.row,
      el(
        "p",
        { class: "soft" },
        "Of the files that leave. GLB always stands with y up. Base is the middle of what the piece lies on.",
      ),
      sheets,
    ),
    update(s) {
      lying.set(s.size.lying ?? "");
      origin.set(s.size.origin ?? "");
      up.set(s.size.up ?? "");
      sheets.replaceChildren();
      if (s.sheets.length < 2) return;
      sheets.append(el("h2", {}, "Sheets to each other"));
      for (const sheet of s.sheets.slice(1)) {
        const [x, y] = from(s, sheet);
        sheets.append(
          el("p", { class: "soft" }, `${sheet.name}, from the middle of ${s.sheets[0].name}`),
          coordinate(sheet, "x", x, (d) => [d, 0]),
          coordinate(sheet, "y", y, (d) => [0, d]),
        );
      }
    },
    // grab drags a sheet by its frame.
    grab(e, drawing, redraw) {
      const rect = e.target.closest?.(".sheetframe.loose");
      if (!rect) return false;
      const sheet = piece.state.sheets.find((s) => String(s.slot) === rect.dataset.slot);
      const start = drawing.place(e);
      const by = (f) => {
        const p = drawing.place(f);
        return [p[0] - start[0], p[1] - start[1]];
      };
      const move = (f) => {
        const [dx, dy] = by(f);
        rect.setAttribute("transform", `translate(${dx} ${dy})`);
      };
      const end = (f, moved) => {
        const [dx, dy] = by(f);
        if (moved) shift(sheet, dx, -dy);
        else redraw();
      };
      drag(e, drawing.svg, { move, end, undo: redraw });
      rect.append(el("title", {}, mm(0)));
      return true;
    },
  };
}

// How the piece leaves: how it lies, where the origin is, which axis is up; and
// where its sheets lie to each other.

import { el } from "../lib/page.js";
import { choice, lengthField } from "../lib/field.js";
import { mm } from "../lib/length.js";

export function placing(piece) {
  const set = (label, patch) => piece.change(label, { kind: "size", ...patch });
  const lying = choice(
    "Lies",
    [
      ["", "face up"],
      ["down", "face down"],
      ["upright", "upright"],
    ],
    "",
    (v) => set("How it lies", { lying: v }),
  );
  const origin = choice(
    "Origin",
    [
      ["", "base"],
      ["centre", "centre"],
      ["corner", "corner"],
    ],
    "",
    (v) => set("Origin", { origin: v }),
  );
  const up = choice(
    "Up axis",
    [
      ["", "z"],
      ["y", "y"],
    ],
    "",
    (v) => set("Up axis", { up: v }),
  );
  const sheets = el("div", {});
  const shift = (sheet, dx, dy) => {
    const k = piece.state.pxPerMm;
    return piece.change(`Move ${sheet.name}`, {
      kind: "sheet",
      slot: sheet.slot,
      shift: [sheet.shift[0] + dx * k, sheet.shift[1] - (dy * k) / (piece.state.size.stretch || 1)],
    });
  };
  const field = (sheet, axis, label, value, by) =>
    lengthField({
      name: `sheet${axis}${sheet.slot}`,
      label,
      slider: false,
      figure: "mendLength",
      arrow: 1,
      value,
      done: (v) => shift(sheet, ...by(v - value)),
    }).row;

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
      el("h2", {}, "Lying"),
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
          field(sheet, "x", "To the right", x, (d) => [d, 0]),
          field(sheet, "y", "Up", y, (d) => [0, d]),
        );
      }
    },
    // grab drags a sheet by its frame.
    grab(e, drawing, redraw) {
      const rect = e.target.closest?.(".sheetframe.loose");
      if (!rect) return false;
      const sheet = piece.state.sheets.find((s) => String(s.slot) === rect.dataset.slot);
      const start = drawing.place(e);
      drawing.svg.setPointerCapture(e.pointerId);
      const stop = new AbortController();
      const by = (f) => {
        const p = drawing.place(f);
        return [p[0] - start[0], p[1] - start[1]];
      };
      const move = (f) => {
        const [dx, dy] = by(f);
        rect.setAttribute("transform", `translate(${dx} ${dy})`);
      };
      const end = (f) => {
        stop.abort();
        const [dx, dy] = by(f);
        if (Math.hypot(dx, dy) < drawing.perPx() * 3) redraw();
        else shift(sheet, dx, -dy);
      };
      drawing.svg.addEventListener("pointermove", move, { signal: stop.signal });
      drawing.svg.addEventListener("pointerup", end, { signal: stop.signal });
      rect.append(el("title", {}, mm(0)));
      return true;
    },
  };
}

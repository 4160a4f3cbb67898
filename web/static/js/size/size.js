// Size: how large the piece really is, how it fits a frame, how it lies; with
// dimension lines and a tape.

import { ask, bigChoice, el, plain } from "../lib/page.js";
import { field, oneOf, usual, firstOf } from "../lib/field.js";
import { Drawing } from "../lib/drawing.js";
import { figure, mm } from "../lib/length.js";
import { All } from "../frame/parts.js";
import { frames } from "./frames.js";
import { draw } from "./lines.js";
import { placing } from "./placing.js";
import { Tape } from "./tape.js";

export const keys = [
  ["F", "Fit the drawing into the view"],
  ["T", "The tape: measure between two points"],
  ["Escape", "Put the tape away"],
];

const mmPerPx = 25.4 / 96; // CSS pixels, in which the artwork's page is measured

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const drawing = new Drawing(ctx, view, "The piece from the front with its measures");
  const veil = el("div", { class: "veil", hidden: true }, el("p", {}));
  view.append(veil);
  const tape = new Tape(ctx, drawing, () => redraw());

  // resize asks once what becomes of depths and bevels when the size changes.
  const resize = async (label, patch, factor) => {
    const edit = { kind: "size", ...patch };
    const { measures } = piece.state.size;
    if (Math.abs(factor - 1) < 1e-9 || measures === "stay") return piece.change(label, edit);
    if (measures === "scale") return piece.change(label, { ...edit, scale: factor });
    const answer = await askMeasures(factor);
    if (!answer) {
      update(piece.state); // the figure goes back to what it was
      return false;
    }
    if (answer === "scale") edit.scale = factor;
    return piece.change(label, { ...edit, measures: answer });
  };
  const locked = () => ratio.value === "locked";
  const setWidth = (v) => {
    const s = piece.state;
    const k = v / s.width;
    if (locked()) return resize("Width", { by: "width", mm: v }, k);
    return resize("Width", { by: "width", mm: v, stretch: stretchFor(s, v, s.height) }, 1);
  };
  const setHeight = (v) => {
    const s = piece.state;
    if (locked()) return resize("Height", { by: "height", mm: v }, v / s.height);
    return resize("Height", { by: "width", mm: s.width, stretch: stretchFor(s, s.width, v) }, 1);
  };
  const scaled = (k, label = "Size") => {
    const s = piece.state;
    const v = Number((s.size.mm * k).toFixed(4));
    return resize(label, { by: s.size.by, mm: v }, k);
  };
  const width = field({ of: "width", value: 0, done: setWidth });
  const height = field({ of: "height", value: 0, done: setHeight });
  const ratio = { value: "locked" };
  const lock = oneOf("ratio", ratio.value, (v) => (ratio.value = v));
  const setTolerance = (v) => piece.change("Tolerance", { kind: "size", tolerance: v });
  const tolerance = field({ of: "tolerance", value: usual("tolerance"), done: setTolerance });
  const overlap = oneOf("overlap", firstOf("overlap"), (v) => piece.change("Overlaps", { kind: "size", overlap: v }));
  const note = el("p", { class: "soft" });
  const warning = el("div", { class: "limited absurd", hidden: true });
  const button = (text, act) =>
    el("button", { class: "button is-small", type: "button", onclick: act }, text);
  const quick = el(
    "div",
    { class: "buttons are-small mt-2" },
    button("As drawn in the file", () => scaled(drawnWidth(piece.state) / piece.state.width, "As drawn")),
    button("÷ 2", () => scaled(0.5)),
    button("× 2", () => scaled(2)),
    button("× 10", () => scaled(10)),
  );
  const frameBox = frames(piece, (label, k) => scaled(k, label));
  const place = placing(piece);
  panel.append(
    el("h2", {}, "Real size"),
    warning,
    width.row,
    height.row,
    lock.row,
    note,
    quick,
    tape.panel((length) => resize("Distance", tapeEdit(tape, length), length / tape.length())),
    frameBox.box,
    place.box,
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
  ctx.on(window, "keydown", (e) => {
    if (!plain(e)) return;
    if (e.key.toLowerCase() === "f") drawing.fit();
    if (e.key.toLowerCase() === "t") tape.toggle();
    if (e.key === "Escape") tape.stop();
  });
  drawing.grab = (e) => tape.grab(e) || place.grab(e, drawing, redraw);

  let framed = "";
  function redraw() {
    const s = piece.state;
    if (!s || s.problem) return;
    drawing.svg.replaceChildren(...draw(s, piece.selected === All ? null : piece.selected), ...tape.overlay());
  }
  function update(s) {
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
    if (s.size.stretch) {
      ratio.value = "free";
      lock.set("free");
    }
    const sides = `${figure(s.width / s.height)} to 1`;
    const stretched = s.size.stretch
      ? ` The height is ${figure(s.size.stretch)} times that of the drawing.`
      : "";
    note.textContent = `The sides are ${sides}.${stretched} In the file the artwork is ${mm(drawnWidth(s))} wide.`;
    warn(warning, s, (k) => scaled((drawnWidth(s) * k) / s.width, "As meant"));
    frameBox.update(s);
    place.update(s);
    tape.update(s);
    const f = s.size.frame;
    const w = Math.max(s.width, f?.width ?? 0);
    const h = Math.max(s.height, f?.height ?? 0);
    const now = `${w} ${h}`;
    if (now !== framed) {
      const p = Math.max(w, h) * 0.2;
      drawing.frame(-w / 2 - p, -h / 2 - p * 0.45, w + p * 1.5, h + p * 1.35);
      framed = now;
    }
    redraw();
  }
  return { update, select: redraw };
}

// tapeEdit fixes the distance that the tape lies along.
const tapeEdit = (tape, length) => ({ by: "distance", mm: length, between: tape.onPage() });

const drawnWidth = (s) => s.width * s.pxPerMm * mmPerPx;

// stretchFor is what makes the piece that wide and that high.
function stretchFor(s, width, height) {
  const k = ((height / width) * (s.width / s.height) * (s.size.stretch || 1)).toFixed(6);
  return Number(k) === 1 ? 0 : Number(k);
}

// askMeasures returns "stay", "scale", or null.
function askMeasures(factor) {
  return new Promise((done) => {
    let answer = null;
    const pick = (v) => () => {
      answer = v;
      d.close();
    };
    const times = factor > 1 ? `${figure(factor)} times larger` : `${figure(1 / factor)} times smaller`;
    const d = ask(
      `The piece becomes ${times}`,
      "measures",
      el("p", {}, "What becomes of depths and bevels? You are asked once for a piece."),
      bigChoice("They stay as they are in mm", "A sign of another size in the same sheet of material", pick("stay")),
      bigChoice("They scale with it", "The same body, larger or smaller", pick("scale")),
      el("button", { class: "button is-small", type: "button", onclick: () => d.close() }, "Leave the size"),
    );
    d.addEventListener("close", () => done(answer));
  });
}

// warn says when the file's own size can hardly be meant, and what it may mean.
function warn(box, s, take) {
  const drawn = drawnWidth(s);
  const absurd = drawn < 1 || drawn > 5000;
  box.hidden = !absurd;
  if (!absurd) return;
  const meanings = [
    ["pixels were millimetres", 1 / mmPerPx],
    ["millimetres were centimetres", 10],
    ["millimetres were inches", 25.4],
    ["millimetres were metres", 1000],
    ["micrometres were meant", 0.001],
  ].filter(([, k]) => drawn * k >= 5 && drawn * k <= 3000);
  box.replaceChildren(
    el("p", {}, `In the file the artwork is ${mm(drawn)} wide. Its units can hardly be meant so.`),
    ...meanings.map(([text, k]) =>
      el(
        "button",
        { class: "button is-small", type: "button", onclick: () => take(k) },
        `${mm(drawn * k)}, as if ${text}`,
      ),
    ),
  );
}

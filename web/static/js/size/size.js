// Size: how large the piece really is, how it fits a frame, how it lies; with
// dimension lines and a tape.

import { inScope } from "../lib/acts.js";
import { ask, bigChoice, el } from "../lib/page.js";
import { field, firstOf, oneOf, optionsOf, usual } from "../lib/field.js";
import { Drawing } from "../lib/drawing.js";
import { figure, mm } from "../lib/length.js";
import { figures, units } from "../made/terms.js";
import { All } from "../frame/parts.js";
import { frames } from "./frames.js";
import { draw } from "./lines.js";
import { placing } from "./placing.js";
import { Tape } from "./tape.js";

export const mount = (ctx) => new Sizing(ctx);

const soft = (text) => el("p", { class: "soft" }, text);
const button = (text, act) => el("button", { class: "button is-small", type: "button", onclick: act }, text);

class Sizing {
  constructor(ctx) {
    this.ctx = ctx;
    this.piece = ctx.piece;
    this.ratio = "locked";
    this.framed = ""; // what the drawing was fitted to
    this.drawing = new Drawing(ctx, ctx.view, "The piece from the front with its measures");
    this.veil = el("div", { class: "veil", hidden: true }, el("p", {}));
    ctx.view.append(this.veil);
    this.tape = new Tape(ctx, this.drawing, () => this.redraw());
    this.frames = frames(this.piece, (label, k) => this.scaled(k, label));
    this.placing = placing(this.piece);
    ctx.panel.append(...this.fields(), ...this.outlines());
    const { drawing, tape } = this;
    const does = { fit: () => drawing.fit(), tape: () => tape.toggle(), away: () => tape.on && tape.stop() };
    inScope("size", does, ctx.signal, (e) => tape.key(e));
    drawing.grab = (e) => tape.grab(e) || this.placing.grab(e, drawing, () => this.redraw());
  }

  fields() {
    const { piece, tape } = this;
    this.width = field({ of: "width", value: 0, done: (v) => this.setWidth(v) });
    this.height = field({ of: "height", value: 0, done: (v) => this.setHeight(v) });
    this.lock = oneOf("ratio", this.ratio, (v) => (this.ratio = v));
    this.note = soft("");
    this.warning = el("div", { class: "limited absurd", hidden: true });
    const drawn = () => this.scaled(drawnWidth(piece.state) / piece.state.width, "As drawn");
    const quick = el(
      "div",
      { class: "buttons are-small mt-2" },
      button("As drawn in the file", drawn),
      ...[["÷ 2", 0.5], ["× 2", 2], ["× 10", 10]].map(([text, k]) => button(text, () => this.scaled(k))),
    );
    const taped = tape.panel((length) => this.resize("Distance", tapeEdit(tape, length), length / tape.length()));
    const rows = [this.width.row, this.height.row, this.lock.row, this.note, quick, taped];
    return [el("h2", {}, "Real size"), this.warning, ...rows, this.frames.box, this.placing.box];
  }

  outlines() {
    const change = (label, patch) => this.piece.change(label, { kind: "size", ...patch });
    this.tolerance = field({ of: "tolerance", value: usual("tolerance"), done: (v) => change("Tolerance", { tolerance: v }) });
    this.overlap = oneOf("overlap", firstOf("overlap"), (v) => change("Overlaps", { overlap: v }));
    const helps = optionsOf("overlap").map(([, label, help]) => `${label[0].toUpperCase()}${label.slice(1)}: ${help}`);
    const { help } = figures.tolerance;
    return [el("h2", {}, "Outlines"), this.tolerance.row, soft(help), this.overlap.row, soft(helps.join(" "))];
  }

  // resize asks once what becomes of depths and bevels when the size changes.
  async resize(label, patch, factor) {
    const { piece } = this;
    const edit = { kind: "size", ...patch };
    const { measures } = piece.state.size;
    if (Math.abs(factor - 1) < 1e-9 || measures === "stay") return piece.change(label, edit);
    if (measures === "scale") return piece.change(label, { ...edit, scale: factor });
    const answer = await askMeasures(factor);
    if (!answer) {
      this.update(piece.state); // the figure goes back to what it was
      return false;
    }
    if (answer === "scale") edit.scale = factor;
    return piece.change(label, { ...edit, measures: answer });
  }

  setWidth(v) {
    const s = this.piece.state;
    if (this.ratio === "locked") return this.resize("Width", { by: "width", mm: v }, v / s.width);
    return this.resize("Width", { by: "width", mm: v, stretch: stretchFor(s, v, s.height) }, 1);
  }

  setHeight(v) {
    const s = this.piece.state;
    if (this.ratio === "locked") return this.resize("Height", { by: "height", mm: v }, v / s.height);
    return this.resize("Height", { by: "width", mm: s.width, stretch: stretchFor(s, s.width, v) }, 1);
  }

  scaled(k, label = "Size") {
    const { size } = this.piece.state;
    return this.resize(label, { by: size.by, mm: Number((size.mm * k).toFixed(4)) }, k);
  }

  redraw() {
    const { piece } = this;
    const s = piece.state;
    if (!s || s.problem) return;
    this.drawing.tell(`The piece from the front: ${figure(s.width)} mm wide, ${figure(s.height)} mm high`);
    this.drawing.svg.replaceChildren(...draw(s, piece.selected === All ? null : piece.selected), ...this.tape.overlay());
  }

  update(s) {
    this.veil.hidden = !s.problem;
    this.veil.firstChild.textContent = s.problem ?? "";
    if (s.problem) {
      this.drawing.svg.replaceChildren();
      return;
    }
    this.width.set(s.width);
    this.height.set(s.height);
    this.tolerance.set(s.size.tolerance);
    this.overlap.set(s.size.overlap);
    if (s.size.stretch) {
      this.ratio = "free";
      this.lock.set("free");
    }
    const stretched = s.size.stretch ? ` The height is ${figure(s.size.stretch)} times that of the drawing.` : "";
    this.note.textContent = `The sides are ${figure(s.width / s.height)} to 1.${stretched} In the file the artwork is ${mm(drawnWidth(s))} wide.`;
    warn(this.warning, s, (k) => this.scaled((drawnWidth(s) * k) / s.width, "As meant"));
    this.frames.update(s);
    this.placing.update(s);
    this.tape.update(s);
    this.fitTo(s);
    this.redraw();
  }

  // fitTo fits the drawing when the piece or its frame has another size than before.
  fitTo(s) {
    const f = s.size.frame;
    const w = Math.max(s.width, f?.width ?? 0);
    const h = Math.max(s.height, f?.height ?? 0);
    if (this.framed === `${w} ${h}`) return;
    const p = Math.max(w, h) * 0.2;
    this.drawing.frame(-w / 2 - p, -h / 2 - p * 0.45, w + p * 1.5, h + p * 1.35);
    this.framed = `${w} ${h}`;
  }

  select() {
    this.redraw();
  }
}

// tapeEdit fixes the distance that the tape lies along.
const tapeEdit = (tape, length) => ({ by: "distance", mm: length, between: tape.onPage() });

const drawnWidth = (s) => s.width * s.pxPerMm * units.px;

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
    { text: "pixels were millimetres", k: 1 / units.px },
    { text: "millimetres were centimetres", k: units.cm },
    { text: "millimetres were inches", k: units.in },
    { text: "millimetres were metres", k: units.m },
    { text: "micrometres were meant", k: units.um },
  ].filter(({ k }) => drawn * k >= 5 && drawn * k <= 3000);
  box.replaceChildren(
    el("p", {}, `In the file the artwork is ${mm(drawn)} wide. Its units can hardly be meant so.`),
    ...meanings.map(({ text, k }) =>
      el(
        "button",
        { class: "button is-small", type: "button", onclick: () => take(k) },
        `${mm(drawn * k)}, as if ${text}`,
      ),
    ),
  );
}

// Mend: the outlines large, what there is to put right on them, and the hand
// tools. What is drawn is the page in px; figures are mm at the final size.

import { figures } from "../made/terms.js";
import { inScope } from "../lib/acts.js";
import { get } from "../lib/api.js";
import { complain, el } from "../lib/page.js";
import { choice } from "../lib/field.js";
import { count, figure } from "../lib/length.js";
import { OutlineView } from "./view.js";
import { Findings } from "./findings.js";
import { ShapeTools } from "./shapes.js";
import { NodeTools } from "./nodes.js";
import { AddTools } from "./add.js";
import { done, measures } from "./done.js";

const modes = [
  ["findings", "Findings"],
  ["shapes", "Shapes"],
  ["nodes", "Nodes"],
  ["add", "Add"],
];

export const mount = (ctx) => new Mending(ctx);

class Mending {
  constructor(ctx) {
    this.ctx = ctx;
    this.piece = ctx.piece;
    this.wanted = null; // the revision that is asked for
    const desk = (this.desk = this.makeDesk());
    this.outline = desk.view = new OutlineView(ctx, ctx.view, desk);
    this.findings = new Findings(desk, ctx.list);
    this.tools = desk.tools = { shapes: new ShapeTools(desk), nodes: new NodeTools(desk), add: new AddTools(desk) };
    this.sums = el("div", {});
    this.modeBar = choice("What is worked at", modes, desk.mode, (mode) => this.go(mode));
    this.modeBar.row.classList.add("modes");
    this.tool = el("div", { class: "toolbox" });
    this.list = el("div", {});
    this.limits = el("div", {});
    ctx.panel.append(el("h2", {}, "Before and after"), this.sums, this.modeBar.row, this.tool, this.list, this.limits);
    // Keys of what is being worked at come first; then those of the step.
    inScope("mend", this.does(), ctx.signal, (e) => desk.data && !e.ctrlKey && !e.metaKey && !e.altKey && this.tools[desk.mode]?.key?.(e));
  }

  // makeDesk is what the tools know of the outlines and may do with them.
  makeDesk() {
    const { ctx, piece } = this;
    const desk = {
      ctx,
      piece,
      data: null,
      mode: "findings",
      view: null,
      tools: null,
      mm: (px) => px / desk.data.pxPerMm,
      px: (mm) => mm * desk.data.pxPerMm,
      // act makes mends; the answer tells whether they were kept.
      act: (label, ...list) => piece.change(label, { kind: "mends", list: list.map((m) => ({ name: label, ...m })) }),
      go: (mode) => this.go(mode),
    };
    return desk;
  }

  // does tells what the acts of this step do (web/acts).
  does() {
    const { desk, outline } = this;
    const when = (f) => (x) => (desk.data ? f(x) : false);
    return {
      ...Object.fromEntries(modes.map(([mode]) => [mode, when(() => this.go(mode))])),
      ...this.findings.does(),
      before: when((on) => outline.before(on)),
      foresee: when((on) => (desk.mode === "findings" ? outline.foresee(on) : false)),
      hatch: when(() => outline.hatched(!outline.asked)),
      fit: () => outline.drawing.fit(),
    };
  }

  go(mode) {
    const { desk, tools } = this;
    desk.mode = mode;
    this.modeBar.set(mode);
    document.body.dataset.mode = mode;
    if (!desk.data) return;
    this.tool.replaceChildren(...(tools[mode]?.panel() ?? hint(this.findings)));
    tools[mode]?.shown?.();
    this.outline.draw();
  }

  show() {
    const { desk } = this;
    this.sums.replaceChildren(table(desk.data));
    this.findings.draw();
    this.list.replaceChildren(...done(desk));
    this.limits.replaceChildren(measures(desk));
    this.go(desk.mode);
    document.body.dataset.mended = desk.data.rev;
  }

  // sought opens the finding that another step sent here; what counts as one is widened for it.
  sought() {
    const text = sessionStorage.getItem("bildhauer:finding");
    if (!text) return;
    const f = JSON.parse(text);
    if (this.desk.data.limits[f.kind] < f.limit) {
      const { label } = figures[`mend.${f.kind}`];
      this.piece.change(`Findings: ${label.toLowerCase()}`, { kind: "mendLimits", limits: { [f.kind]: f.limit } });
      return; // the findings come again
    }
    sessionStorage.removeItem("bildhauer:finding");
    this.findings.seek(f.kind, f.at);
  }

  async update(state) {
    const { ctx, desk, piece } = this;
    if (this.wanted === state.rev && desk.data) return;
    this.wanted = state.rev;
    try {
      const look = (job) => get(`${piece.base}/data/mending`, job);
      const fetched = await piece.run("Looking at the outlines", look, { cancel: false });
      if (ctx.signal.aborted || fetched.rev < state.rev || this.wanted !== state.rev) return;
      desk.data = fetched;
      this.outline.load();
      await this.tools.nodes.refresh();
      this.show();
      this.sought();
    } catch (e) {
      this.wanted = null;
      complain(e);
    }
  }

  unmount() {
    delete document.body.dataset.mode;
    delete document.body.dataset.mended;
  }
}

function hint(findings) {
  const open = findings.open().length;
  const text = open
    ? "Each finding says what its proposal does to the picture; hold C to see it. Enter takes it, L leaves it. The solid is sound either way."
    : "Nothing is left to put right. What the program did not find can be changed by hand: choose Shapes, Nodes or Add.";
  return [el("p", { class: "soft" }, text)];
}

function table({ before, after }) {
  const row = (name, a, b) =>
    el("tr", { class: a === b ? "" : "moved" }, el("th", {}, name), el("td", {}, a), el("td", {}, b));
  const area = (v) => `${figure(v)} mm²`;
  return el(
    "table",
    { class: "sums" },
    el("tr", {}, el("th", {}), el("th", {}, "before"), el("th", {}, "now")),
    row("Contours", count(before.contours), count(after.contours)),
    row("Nodes", count(before.nodes), count(after.nodes)),
    row("Area", area(before.area), area(after.area)),
    row("Islands", count(before.pieces), count(after.pieces)),
  );
}

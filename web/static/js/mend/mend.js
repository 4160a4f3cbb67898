// Mend: the outlines large, what there is to put right on them, and the hand
// tools. What is drawn is the page in px; figures are mm at the final size.

import { get } from "../lib/api.js";
import { complain, el, modal, plain, typing } from "../lib/page.js";
import { choice } from "../lib/field.js";
import { count, figure } from "../lib/length.js";
import { OutlineView } from "./view.js";
import { Findings } from "./findings.js";
import { ShapeTools } from "./shapes.js";
import { NodeTools } from "./nodes.js";
import { AddTools } from "./add.js";
import { done, measures } from "./done.js";

export const keys = [
  ["M S N A", "Findings, shapes, nodes, added shapes"],
  ["↓ ↑", "Next and previous finding; with shapes or nodes chosen, move them by 0.1 mm, with Shift by 1 mm"],
  ["Enter", "Take the proposal"],
  ["Shift Enter", "Take all findings of the kind"],
  ["L", "Leave the finding, or open it again"],
  ["G", "Go to the finding, or to what is selected"],
  ["B", "Hold to see the outlines as they came"],
  ["C", "Hold to see what the proposal changes"],
  ["H", "Hatch what is solid, or no longer"],
  [", .", "Previous and next shape or node; with Shift add it to the selection"],
  ["+", "A node in the middle of the segment after the selected one"],
  ["Delete", "Delete the selected shapes or nodes"],
  ["F", "Fit the drawing into the view"],
];

const modes = [
  ["findings", "Findings", "m"],
  ["shapes", "Shapes", "s"],
  ["nodes", "Nodes", "n"],
  ["add", "Add", "a"],
];

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const desk = {
    ctx,
    piece,
    data: null,
    mode: "findings",
    mm: (px) => px / desk.data.pxPerMm,
    px: (mm) => mm * desk.data.pxPerMm,
    // act makes mends; the answer tells whether they were kept.
    act: (label, ...list) =>
      piece.change(label, { kind: "mends", list: list.map((m) => ({ name: label, ...m })) }),
    go: (mode) => go(mode),
  };
  const outline = (desk.view = new OutlineView(ctx, view, desk));
  const findings = new Findings(desk, ctx.list);
  const tools = { shapes: new ShapeTools(desk), nodes: new NodeTools(desk), add: new AddTools(desk) };
  desk.tools = tools;

  const sums = el("div", {});
  const modeBar = choice(
    "",
    modes.map(([key, name]) => [key, name]),
    desk.mode,
    (key) => go(key),
  );
  modeBar.row.classList.add("modes");
  const tool = el("div", { class: "toolbox" });
  const list = el("div", {});
  const limits = el("div", {});
  panel.append(el("h2", {}, "Before and after"), sums, modeBar.row, tool, list, limits);

  function go(mode) {
    desk.mode = mode;
    modeBar.set(mode);
    document.body.dataset.mode = mode;
    if (desk.data) {
      tool.replaceChildren(...(tools[mode]?.panel() ?? hint(findings)));
      tools[mode]?.shown?.();
      outline.draw();
    }
  }

  const show = () => {
    sums.replaceChildren(table(desk.data));
    findings.draw();
    list.replaceChildren(...done(desk));
    limits.replaceChildren(measures(desk));
    go(desk.mode);
    document.body.dataset.mended = desk.data.rev;
  };

  ctx.on(window, "keydown", (e) => {
    if (!desk.data || typing(e) || modal()) return;
    if (e.key.toLowerCase() === "b" && plain(e)) outline.before(true);
    if (!plain(e)) return;
    if (e.key.toLowerCase() === "c" && desk.mode === "findings") return outline.foresee(true);
    if (e.key.toLowerCase() === "h") return outline.hatched(!outline.asked);
    const mode = modes.find(([, , key]) => key === e.key);
    if (mode) return go(mode[0]);
    if (e.key.toLowerCase() === "f") return outline.drawing.fit();
    const on = e.target.closest?.("button, a, summary, input, select");
    if (on && (e.key === "Enter" || e.key === " ")) return;
    const mine = tools[desk.mode]?.key?.(e) || findings.key(e);
    if (mine) e.preventDefault();
  });
  ctx.on(window, "keyup", (e) => {
    if (e.key.toLowerCase() === "b") outline.before(false);
    if (e.key.toLowerCase() === "c") outline.foresee(false);
  });
  ctx.on(window, "blur", () => {
    outline.before(false);
    outline.foresee(false);
  });

  // sought opens the finding that another step sent here; what counts as one is widened for it.
  const sought = () => {
    const text = sessionStorage.getItem("bildhauer:finding");
    if (!text) return;
    const f = JSON.parse(text);
    const l = desk.data.limits.find((x) => x.name === f.kind);
    if (l && l.value < f.limit) {
      piece.change(`Findings: ${l.what.toLowerCase()}`, { kind: "mendLimits", limits: { [l.name]: f.limit } });
      return; // the findings come again
    }
    sessionStorage.removeItem("bildhauer:finding");
    findings.seek(f.kind, f.at);
  };

  let wanted = null;
  return {
    async update(state) {
      if (wanted === state.rev && desk.data) return;
      wanted = state.rev;
      try {
        const fetched = await piece.run("Looking at the outlines", (job) => get(`${piece.base}/data/mending`, job), {
          cancel: false,
        });
        if (ctx.signal.aborted || fetched.rev < state.rev || wanted !== state.rev) return;
        desk.data = fetched;
        outline.load();
        await tools.nodes.refresh();
        show();
        sought();
      } catch (e) {
        wanted = null;
        complain(e);
      }
    },
    unmount() {
      delete document.body.dataset.mode;
      delete document.body.dataset.mended;
    },
  };
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
    row("Pieces", count(before.pieces), count(after.pieces)),
  );
}

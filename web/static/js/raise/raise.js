// Raise: each part's depth and bevel, seen on the stand.

import { complain, el } from "../lib/page.js";
import { choice, lengthField } from "../lib/field.js";
import { known } from "../lib/known.js";
import { mm } from "../lib/length.js";
import { All } from "../frame/parts.js";
import { Solids } from "../stand/solids.js";
import { section } from "./section.js";

export const keys = [
  ["V", "Next view of the piece"],
  ["F", "Fit the piece into the view"],
  ["C", "Next shading"],
];

const figures = ["depth", "bevelWidth", "bevelHeight", "segments", "profile", "back"];

const icon = (d) => el("svg", { viewBox: "0 0 20 16", "aria-hidden": "true" }, el("path", { d }));

const profiles = [
  ["round", "round", "M2 14V12A10 10 0 0 1 12 2h6"],
  ["chamfer", "chamfer", "M2 14V11L11 2h7"],
];

const backs = [
  ["flat", "flat", "M2 2v12h16"],
  ["bevel", "bevelled", "M2 2v5l7 7h9"],
];

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const stand = ctx.stand();
  stand.attach(ctx);
  const veil = el("div", { class: "veil", hidden: true }, el("p", {}));
  view.append(veil);
  const solids = (stand.solids ??= new Solids(piece, stand));

  const targets = () => piece.state.parts.filter((p) => piece.selected === All || p.id === piece.selected);
  const shared = (key) => {
    const values = targets().map((p) => p.how[key]);
    return values.every((v) => v === values[0]) ? values[0] : null;
  };
  const who = () =>
    piece.selected === All && piece.state.parts.length > 1 ? "all parts" : (targets()[0]?.name ?? "");
  const live = (patch) =>
    solids.preview(
      targets().map((p) => p.id),
      patch,
    );
  const done = (patch, label) => {
    const parts = Object.fromEntries(targets().map((p) => [p.id, patch]));
    piece.change(`${label} of ${who()}`, { kind: "parts", parts });
  };

  const title = el("h2", {}, "");
  const limited = el("p", { class: "limited", hidden: true });
  const cut = section({ live, done });
  let fields = {};

  const build = () => {
    const first = targets()[0];
    const side = Math.max(piece.state.width, piece.state.height);
    const field = (name, label, max, more = {}) =>
      lengthField({
        name,
        label,
        value: shared(name),
        start: first.how[name],
        min: 0,
        max,
        arrow: known.limits[name].step,
        live: (v) => {
          cut.set({ ...first.how, [name]: v });
          live({ [name]: v });
        },
        done: (v) => done({ [name]: v }, label),
        ...more,
      });
    const pick = (name, row, label, options) =>
      choice(
        row,
        options.map(([key, text, d]) => [key, text, icon(d)]),
        shared(name),
        (v) => done({ [name]: v }, label),
      );
    fields = {
      depth: field("depth", "Depth", Math.max(side * 0.5, 1)),
      bevelWidth: field("bevelWidth", "Bevel width", Math.max(side * 0.12, 0.5)),
      bevelHeight: field("bevelHeight", "Bevel height", Math.max(side * 0.12, 0.5)),
      segments: field("segments", "Segments", 12, { plain: true, min: 1, step: 1 }),
      profile: pick("profile", "Profile", "Profile", profiles),
      back: pick("back", "Rim", "Back", backs),
    };
    const even = () => {
      const v = first.how.bevelWidth || first.how.bevelHeight || 1;
      done({ bevelWidth: v, bevelHeight: v }, "Even bevel");
    };
    const button = (text, act, name = null) =>
      el("button", { class: "button is-small", type: "button", "data-act": name, onclick: act }, text);
    panel.replaceChildren(
      title,
      cut.element,
      fields.depth.row,
      el("h2", {}, "Bevel"),
      fields.profile.row,
      fields.bevelWidth.row,
      fields.bevelHeight.row,
      limited,
      fields.segments.row,
      el(
        "div",
        { class: "buttons are-small mt-2 mb-0" },
        button("As high as wide", even),
        button("No bevel", () => done({ bevelWidth: 0, bevelHeight: 0 }, "No bevel"), "sharp"),
      ),
      el("h2", {}, "Back"),
      fields.back.row,
      el(
        "p",
        { class: "soft mt-3" },
        "Where the artwork is narrower than two bevels, their slopes meet in a ridge.",
      ),
    );
  };

  // refresh shows the measures of what is selected; fresh says that other parts
  // are selected than before.
  const refresh = (fresh) => {
    const first = targets()[0];
    if (!first) {
      panel.replaceChildren();
      return;
    }
    const mixed = figures.some((k) => shared(k) === null);
    title.textContent = mixed ? `Section of ${first.name}; parts differ` : `Section, ${who()}`;
    cut.set(first.how);
    if (fresh || !panel.contains(title)) build();
    for (const k of figures) fields[k].set(shared(k));
    sayLimits();
  };

  // sayLimits tells what a bevel got where the depth allows no more.
  const sayLimits = () => {
    const low = targets()
      .map((p) => [p, solids.limitOf(p.id)])
      .filter(([, v]) => v > 0);
    limited.hidden = !low.length;
    if (!low.length) return;
    const [part, got] = low[0];
    const others = low.length > 1 ? `, and ${low.length - 1} more` : "";
    limited.textContent = `The depth allows a bevel of ${mm(got)} at the most (${part.name}${others}).`;
  };
  solids.onBuilt = sayLimits;

  return {
    update(state) {
      veil.hidden = !state.problem;
      veil.firstChild.textContent = state.problem
        ? `${state.problem} Go back to Intake to choose shapes.`
        : "";
      refresh(false);
      solids.show().catch(complain);
    },
    select() {
      refresh(true);
      stand.light(piece.selected === All ? null : piece.selected);
    },
    unmount() {
      solids.stop();
      stand.detach();
    },
  };
}

// Raise: each part's depth and bevel, seen on the stand.

import { $, complain, el } from "./page.js";
import { choice, lengthField } from "./field.js";
import { section } from "./section.js";
import { Stand } from "./stand.js";
import { Solids } from "./solids.js";

export const keys = [["V", "Next view of the piece"], ["F", "Fit the piece into the view"], ["C", "Next shading"]];

export async function start(piece) {
  const view = $("view"), panel = $("panel");
  const stand = new Stand(view);
  const veil = el("div", { class: "veil", hidden: true }, el("p", {}));
  view.append(veil);
  const solids = new Solids(piece, stand);

  const targets = () => (piece.selected === "*" ? piece.state.parts : piece.state.parts.filter((p) => p.id === piece.selected));
  const shared = (key) => { const v = targets().map((p) => p.recipe[key]); return v.every((x) => x === v[0]) ? v[0] : null; };
  const who = () => (piece.selected === "*" && piece.state.parts.length > 1 ? "all parts" : targets()[0]?.name ?? "");
  const patchAll = (patch) => Object.fromEntries(targets().map((p) => [p.id, patch]));
  const live = (patch) => solids.preview(targets().map((p) => p.id), patch);
  const done = (patch, label) => piece.change(`${label} of ${who()}`, { parts: patchAll(patch) });

  const title = el("h2", {}, "");
  const cut = section({ live, done });
  const icon = (d) => { const s = el("svg", { viewBox: "0 0 20 16", "aria-hidden": "true" }, el("path", { d })); return s; };
  let fields = {};
  const build = () => {
    const first = targets()[0];
    if (!first) return;
    const side = Math.max(piece.state.width, piece.state.height);
    const length = (name, label, max, hard) => lengthField({ name, label, value: shared(name), start: first.recipe[name], min: 0, max, hard, live: (v) => { cut.set({ ...first.recipe, [name]: v }); live({ [name]: v }); }, done: (v) => done({ [name]: v }, label) });
    fields = {
      depth: length("depth", "Depth", Math.max(side * 0.5, 1), [0.01, 100000]),
      bevelWidth: length("bevelWidth", "Bevel width", Math.max(side * 0.12, 0.5)),
      bevelHeight: length("bevelHeight", "Bevel height", Math.max(side * 0.12, 0.5)),
      segments: lengthField({ name: "segments", label: "Segments", plain: true, value: shared("segments"), start: first.recipe.segments, min: 1, max: 12, step: 1, hard: [1, 32], live: (v) => { cut.set({ ...first.recipe, segments: v }); live({ segments: v }); }, done: (v) => done({ segments: v }, "Segments") }),
      profile: choice("Profile", [["round", "round", icon("M2 14V12A10 10 0 0 1 12 2h6")], ["chamfer", "chamfer", icon("M2 14V11L11 2h7")]], shared("profile"), (v) => done({ profile: v }, "Profile")),
      back: choice("Rim", [["flat", "flat", icon("M2 2v12h16")], ["bevel", "bevelled", icon("M2 2v5l7 7h9")]], shared("back"), (v) => done({ back: v }, "Back")),
    };
    const no = el("button", { class: "button is-small", type: "button", "data-act": "sharp", onclick: () => done({ bevelWidth: 0, bevelHeight: 0 }, "No bevel") }, "No bevel");
    const even = el("button", { class: "button is-small", type: "button", onclick: () => { const v = first.recipe.bevelWidth || first.recipe.bevelHeight || 1; done({ bevelWidth: v, bevelHeight: v }, "Even bevel"); } }, "As high as wide");
    panel.replaceChildren(title, cut.element, fields.depth.row, el("h2", {}, "Bevel"), fields.profile.row, fields.bevelWidth.row, fields.bevelHeight.row, fields.segments.row,
      el("div", { class: "buttons are-small mt-2 mb-0" }, even, no), el("h2", {}, "Back"), fields.back.row,
      el("p", { class: "soft mt-3" }, "Where the artwork is narrower than two bevels, their slopes meet in a ridge."));
  };
  const refresh = () => {
    const t = targets()[0];
    if (!t) { panel.replaceChildren(); return; }
    const mixed = ["depth", "bevelWidth", "bevelHeight", "segments", "profile", "back"].some((k) => shared(k) === null);
    title.textContent = mixed ? `Section of ${t.name}; parts differ` : `Section, ${who()}`;
    cut.set(t.recipe);
    if (!panel.contains(title)) build();
    for (const k of ["depth", "bevelWidth", "bevelHeight", "segments", "profile", "back"]) fields[k].set(shared(k));
  };
  return {
    state(state) {
      veil.hidden = !state.problem;
      veil.firstChild.textContent = state.problem ? `${state.problem} Go back to Intake to choose shapes.` : "";
      refresh();
      solids.show().catch(complain);
    },
    selected() { panel.replaceChildren(); refresh(); stand.light(piece.selected === "*" ? null : piece.selected); },
  };
}

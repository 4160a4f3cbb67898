// The fields of Raise: depth and place, both rims, walls, the role of a part, and what
// concerns all parts together.

import { el } from "../lib/page.js";
import { choice, field as fieldOf, labelOf, oneOf, optionsOf, usual } from "../lib/field.js";
import { count, mm } from "../lib/length.js";
import { choices, finenesses, profiles } from "../made/terms.js";
import { full, icon, ownProfile, points, rises } from "./profiles.js";
import { drawProfile } from "./profile.js";
import { recipes } from "./recipes.js";
import { reliefRows } from "./relief.js";

const svg = (d) => el("svg", { viewBox: "0 0 20 16", "aria-hidden": "true" }, el("path", { d }));

// onOther tells the roles that need another part.
const onOther = (kind) => ["recess", "raised", "resting"].includes(kind);

// fields makes the form: build() for other parts, show() for other figures.
export function fields(act) {
  const element = el("div", { class: "measures" });
  let parts = [];
  const build = () => {
    parts = [place(act), ...rims(act), walls(act), roleOf(act), stepped(act), together(act), meshOf(act), ready(act)];
    element.replaceChildren(...parts.map((p) => p.element));
  };
  const show = () => parts.forEach((p) => p.show());
  return { element, build, show };
}

// group is a part of the form that can be folded; it remembers whether it is.
function group(name, title, open, ...kids) {
  const key = `bildhauer:raise:${name}`;
  let shown = open;
  try {
    shown = (localStorage.getItem(key) ?? String(open)) === "true";
  } catch {
    // private mode
  }
  const e = el("details", { class: "group", "data-group": name, open: shown }, el("summary", {}, title), ...kids);
  e.addEventListener("toggle", () => {
    try {
      localStorage.setItem(key, String(e.open));
    } catch {
      // not kept
    }
  });
  return e;
}

const side = (act) => Math.max(act.piece.state.width, act.piece.state.height);

// figureField is a figure of the measures. get reads it, put makes a patch of it.
function figureField(act, of, get, put, more = {}) {
  const [first] = act.targets();
  const field = fieldOf({
    of,
    side: side(act),
    value: act.shared(get),
    start: get(first.how, first),
    live: (v) => act.live(put(v)),
    done: (v) => act.done(put(v), field.label),
    ...more,
  });
  return { row: field.row, show: () => field.set(act.shared(get)) };
}

// pick is a choice among the measures; icons are pictures of its options, by their order.
function pick(act, of, get, put, icons = []) {
  const { label } = choices[of];
  const options = optionsOf(of).map((o, i) => [...o, icons[i]]);
  const c = choice(label, options, act.shared(get), (v) => act.done(put(v), label));
  c.row.dataset.pick = of;
  return { row: c.row, show: () => c.set(act.shared(get)) };
}

function place(act) {
  const depth = figureField(
    act,
    "depth",
    (m, p) => m.depth + act.lift(p),
    (v) => ({ depth: v - act.lift(act.targets()[0]) }),
  );
  const direction = pick(act, "direction", (m) => m.direction ?? "", (v) => ({ direction: v }));
  const offset = figureField(act, "offset", (m) => m.offset ?? 0, (v) => ({ offset: v }));
  const list = [depth, direction, offset];
  const stepped = el("p", { class: "soft" });
  return {
    element: group("place", "Depth and place", true, depth.row, stepped, direction.row, offset.row),
    show: () => {
      list.forEach((f) => f.show());
      const { relief, levels } = act.piece.state.all;
      const { level } = act.targets()[0];
      const one = act.oneDepth();
      depth.row.hidden = !one;
      stepped.hidden = !relief.total || (one && !level);
      stepped.textContent = one
        ? `Level ${level} of the relief is ${mm((relief.total * level) / levels)} deep.`
        : "The relief makes parts as deep as their level. Select parts of one level to make these deeper or lower.";
    },
  };
}

function rims(act) {
  return [rim(act, "front", "Front edge", true), rim(act, "back", "Back edge", false)];
}

// rim is the bevel of one side.
function rim(act, which, title, open) {
  const own = (m) => m[which];
  const patch = (p) => ({ [which]: p });
  const fieldName = (key) => (which === "front" ? `bevel${key}` : `back${key}`);
  const behind = which === "back" ? " behind" : "";
  const shapes = el("div", { class: "profiles", role: "group", "aria-label": `Profile, ${title}` });
  const buttons = profiles.map(({ name, label, help }) => {
    const press = () => {
      const [first] = act.targets();
      if (name === ownProfile) return drawProfile(act, which);
      const now = own(first.how);
      const sharp = now.width === 0 || now.height === 0;
      act.done(patch({ profile: name, ...(sharp ? { width: 1, height: 1 } : {}) }), `Profile${behind}`);
    };
    const b = el(
      "button",
      { type: "button", title: help, "data-profile": name, onclick: press },
      svg(icon(name)),
      el("span", {}, label),
    );
    shapes.append(b);
    return b;
  });
  const width = figureField(act, "bevelWidth", (m) => own(m).width, (v) => patch({ width: v }), { name: fieldName("Width") });
  const height = figureField(act, "bevelHeight", (m) => own(m).height, (v) => patch({ height: v }), { name: fieldName("Height") });
  const segments = figureField(act, "segments", (m) => own(m).segments, (v) => patch({ segments: v }), {
    name: which === "front" ? "segments" : "backSegments",
  });
  const button = (text, name, onclick) =>
    el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  const sharp = button("No bevel", `${which}-sharp`, () => act.done(patch({ width: 0, height: 0 }), `No bevel${behind}`));
  const even = button("As high as wide", `${which}-even`, () => {
    const now = own(act.targets()[0].how);
    const v = now.width || now.height || 1;
    act.done(patch({ width: v, height: v }), `Even bevel${behind}`);
  });
  const like = which === "back" && button("Like the front", "back-like", () => {
    const f = act.targets()[0].how.front;
    act.done(patch({ ...f, curve: f.curve ?? [], name: f.name ?? "" }), "Back like the front");
  });
  const acts = el("div", { class: "buttons are-small mt-2 mb-0" }, even, sharp, like || null);
  const show = () => {
    for (const f of [width, height, segments]) f.show();
    const name = act.shared((m) => own(m).profile);
    const off = act.targets().every((p) => !rises(own(p.how)));
    buttons.forEach((b) => b.setAttribute("aria-pressed", String(!off && b.dataset.profile === name)));
    width.row.hidden = full(name);
    const curve = act.targets()[0].how[which].curve;
    if (curve?.length) buttons.find((b) => b.dataset.profile === ownProfile).querySelector("path").setAttribute("d", icon(ownProfile, curve));
  };
  const rows = [shapes, width.row, height.row, segments.row, acts];
  return { element: group(which, title, open, ...rows), show };
}

function walls(act) {
  const reach = pick(
    act,
    "reach",
    (m) => (m.outward ? "outward" : "inward"),
    (v) => ({ outward: v === "outward" }),
    [svg("M2 14V8l5-5h11"), svg("M2 14v-2l6-6h10M8 2v12")],
  );
  const corners = pick(act, "corners", (m) => (m.mitred ? "mitred" : "round"), (v) => ({ mitred: v === "mitred" }));
  const wall = figureField(act, "wall", (m) => m.wall ?? 0, (v) => ({ wall: v }));
  const open = (key, label) => {
    const box = el("input", {
      type: "checkbox",
      "data-open": key,
      onchange: () => act.done({ [key]: box.checked }, label),
    });
    return { row: el("label", { class: "checkline" }, box, ` ${label}`), box, key };
  };
  const ends = [open("openFront", labelOf("open", "front")), open("openBack", labelOf("open", "back"))];
  const show = () => {
    reach.show();
    corners.show();
    wall.show();
    for (const { box, key } of ends) {
      const v = act.shared((m) => !!m[key]);
      box.indeterminate = v === null;
      box.checked = v === true;
    }
  };
  return {
    element: group("walls", "Walls and caps", false, reach.row, corners.row, wall.row, el("div", { class: "checks2" }, ...ends.map((e) => e.row))),
    show,
  };
}

// roleOf tells what the part is to the others.
function roleOf(act) {
  const kind = el("select", { "aria-label": "Role", "data-role": "kind" });
  const on = el("select", { "aria-label": "Of which part", "data-role": "on" });
  const through = el("input", { type: "checkbox", "data-role": "through" });
  const line = el("label", { class: "checkline" }, through, " all the way through");
  kind.append(...optionsOf("role").map(([k, text, title]) => el("option", { value: k, title }, text)));
  const tube = tubeOf(act);
  const hosts = () => {
    const ids = new Set(act.targets().map((p) => p.id));
    return act.piece.state.parts.filter((p) => !ids.has(p.id) && !["recess", "raised"].includes(p.role.kind));
  };
  const send = () => {
    const role = { kind: kind.value };
    if (onOther(role.kind)) role.on = on.value || hosts()[0]?.id;
    if (role.kind === "recess") role.through = through.checked;
    act.done({ role }, "Role");
  };
  for (const e of [kind, on, through]) e.addEventListener("change", send);
  const show = () => {
    const [first] = act.targets();
    const now = act.shared((m, p) => p.role.kind ?? "");
    kind.value = now ?? "";
    const list = hosts();
    on.replaceChildren(...list.map((p) => el("option", { value: p.id, selected: p.id === first.role.on }, p.name)));
    on.hidden = !onOther(kind.value);
    line.hidden = kind.value !== "recess";
    tube.show(kind.value === "tube");
    through.checked = !!first.role.through;
    for (const o of kind.options) o.disabled = onOther(o.value) && !list.length;
  };
  const row = el("div", { class: "rolerow" }, el("span", {}, "This is"), kind, on);
  return { element: group("role", "Role", false, row, line, ...tube.rows), show };
}

// tubeOf is the fields of a tube.
function tubeOf(act) {
  const get = (m) => m.tube ?? {};
  const put = (act, p) => ({ tube: { ...get(act.targets()[0].how), ...p } });
  const width = figureField(act, "tube", (m) => get(m).width ?? 0, (v) => put(act, { width: v }));
  const ends = pick(act, "tubeEnds", (m) => get(m).ends ?? "", (v) => put(act, { ends: v }));
  const section = pick(act, "tubeSection", (m) => (get(m).own ? "own" : "round"), (v) => put(act, { own: v === "own" }));
  const show = (on) => {
    for (const f of [section, width, ends]) {
      f.show();
      f.row.hidden = !on;
    }
  };
  return { rows: [section.row, width.row, ends.row], show };
}

// meshOf is how closely curves are followed, and how many triangles that comes to.
function meshOf(act) {
  const size = () => act.piece.state.size;
  const change = (mm) => act.piece.change("Fineness", { kind: "size", tolerance: mm });
  const all = () => act.piece.state.all;
  // The choice is one among tolerances, which the field beside it gives by figures.
  const named = (mm) => finenesses.find((f) => f.mm === mm)?.name ?? "";
  const presets = oneOf("fineness", named(size().tolerance), (v) => change(finenesses.find((f) => f.name === v).mm));
  presets.row.dataset.pick = "fineness";
  const tolerance = fieldOf({ of: "tolerance", value: size().tolerance, done: change });
  const caps = oneOf("caps", all().caps, (v) =>
    act.all({ caps: v, ...(v && !all().spacing ? { spacing: spacing(act.piece.state) } : {}) }, caps.label),
  );
  caps.row.dataset.pick = "caps";
  const field = (of, value) => {
    const made = fieldOf({ of, value, done: (v) => act.all({ [of]: v }, made.label) });
    return made;
  };
  const apart = field("spacing", all().spacing);
  const crease = field("crease", all().crease || usual("crease"));
  const fewer = field("simplify", all().simplify);
  const most = field("triangles", all().triangles);
  const guess = el("p", { class: "soft", "data-estimate": "" }, "");
  const show = () => {
    presets.set(named(size().tolerance));
    tolerance.set(size().tolerance);
    caps.set(all().caps);
    apart.set(all().spacing);
    apart.row.hidden = !all().caps;
    crease.set(all().crease || usual("crease"));
    fewer.set(all().simplify);
    most.set(all().triangles);
    const { parts } = act.piece.state;
    const domed = parts.some((p) => !p.out && [p.how.front, p.how.back].some((r) => r.profile === "dome" && rises(r)));
    const more = domed ? "; domes have more inside, by their size" : "";
    guess.textContent = `About ${count(estimate(parts))} triangles in all${more}.`;
  };
  return { element: group("mesh", "Mesh", false, presets.row, tolerance.row, caps.row, apart.row, crease.row, fewer.row, most.row, guess), show };
}

// spacing is a fiftieth of the larger side, as a round figure.
function spacing(state) {
  const mm = Math.max(state.width, state.height) / 50;
  const ten = 10 ** Math.floor(Math.log10(mm));
  return Number((Math.max(1, Math.round(mm / ten)) * ten).toFixed(3));
}

// estimate says how many triangles the parts will have, before they are built: two for
// each node and facet, two for its wall, one for each cap.
export function estimate(parts) {
  const facets = (rim) => {
    if (!rises(rim)) return 0;
    return points(rim).length - 1;
  };
  return parts
    .filter((p) => !p.out)
    .reduce((sum, p) => sum + p.nodes * (4 + 2 * facets(p.how.front) + 2 * (p.how.wall ? 2 : facets(p.how.back))), 0);
}

function ready(act) {
  const list = recipes(act);
  return { element: group("recipes", "Recipes", false, ...list.rows), show: list.show };
}

// stepped is how parts step up as they lie on each other.
function stepped(act) {
  const { rows, show } = reliefRows(act);
  const { total, step } = act.piece.state.all.relief;
  return { element: group("relief", "Relief", Boolean(total || step), ...rows), show };
}

// together is what concerns all parts.
function together(act) {
  const all = () => act.piece.state.all;
  const field = (of) => {
    const f = fieldOf({ of, value: all()[of], done: (v) => act.all({ [of]: v }, f.label) });
    return { row: f.row, show: () => f.set(all()[of]) };
  };
  const list = [field("spread"), field("clearance")];
  const leave = oneOf("fused", all().fused, (v) => act.all({ fused: v }, leave.label));
  const hint = el(
    "p",
    { class: "soft" },
    "Automatic: one body in files for printing, unless there is a clearance.",
  );
  return {
    element: group("together", "All parts together", false, ...list.map((f) => f.row), leave.row, hint),
    show: () => {
      list.forEach((f) => f.show());
      leave.set(all().fused);
    },
  };
}

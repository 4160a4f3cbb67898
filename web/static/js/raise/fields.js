// The fields of Raise: depth and place, both rims, walls, the role of a part, and what
// concerns all parts together.

import { el } from "../lib/page.js";
import { choice, lengthField } from "../lib/field.js";
import { known } from "../lib/known.js";
import { count, mm } from "../lib/length.js";
import { full, icon, names, points, rises } from "./profiles.js";
import { drawProfile } from "./profile.js";
import { recipes } from "./recipes.js";
import { reliefRows } from "./relief.js";

const svg = (d) => el("svg", { viewBox: "0 0 20 16", "aria-hidden": "true" }, el("path", { d }));

const directions = [
  ["", "forward"],
  ["back", "back"],
  ["both", "both"],
];
const roles = [
  ["", "a body"],
  ["recess", "a recess in"],
  ["raised", "raised on"],
  ["resting", "resting on"],
  ["tube", "a tube"],
  ["backing", "a backing plate"],
];

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

// figureField is a length of the measures. get reads it, put makes a patch of it.
function figureField(act, name, label, figure, max, get, put, more = {}) {
  const [first] = act.targets();
  const field = lengthField({
    name,
    label,
    figure,
    value: act.shared(get),
    start: get(first.how, first),
    min: 0,
    max,
    arrow: known.limits[figure].step,
    live: (v) => act.live(put(v)),
    done: (v) => act.done(put(v), label),
    ...more,
  });
  return { row: field.row, show: () => field.set(act.shared(get)) };
}

// pick is a choice among the measures.
function pick(act, name, label, options, get, put) {
  const c = choice(label, options, act.shared(get), (v) => act.done(put(v), label));
  c.row.dataset.pick = name;
  return { row: c.row, show: () => c.set(act.shared(get)) };
}

function place(act) {
  const depth = figureField(
    act,
    "depth",
    "Depth",
    "depth",
    Math.max(side(act) * 0.5, 1),
    (m, p) => m.depth + act.lift(p),
    (v) => ({ depth: v - act.lift(act.targets()[0]) }),
  );
  const direction = pick(
    act,
    "direction",
    "From the plane",
    directions,
    (m) => m.direction ?? "",
    (v) => ({ direction: v }),
  );
  const offset = figureField(
    act,
    "offset",
    "Offset",
    "offset",
    Math.max(side(act) * 0.25, 1),
    (m) => m.offset ?? 0,
    (v) => ({ offset: v }),
    { min: -Math.max(side(act) * 0.25, 1) },
  );
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
  const far = Math.max(side(act) * 0.12, 0.5);
  const fieldName = (key) => (which === "front" ? `bevel${key}` : `back${key}`);
  const behind = which === "back" ? " behind" : "";
  const shapes = el("div", { class: "profiles", role: "group", "aria-label": `Profile, ${title}` });
  const buttons = names.map((name) => {
    const press = () => {
      const [first] = act.targets();
      if (name === "custom") return drawProfile(act, which);
      const now = own(first.how);
      const sharp = now.width === 0 || now.height === 0;
      act.done(patch({ profile: name, ...(sharp ? { width: 1, height: 1 } : {}) }), `Profile${behind}`);
    };
    const b = el(
      "button",
      { type: "button", title: name === "custom" ? "Draw a profile of your own" : name, "data-profile": name, onclick: press },
      svg(icon(name)),
      el("span", {}, name === "custom" ? "own" : name),
    );
    shapes.append(b);
    return b;
  });
  const width = figureField(act, fieldName("Width"), "Width", "bevelWidth", far, (m) => own(m).width, (v) => patch({ width: v }));
  const height = figureField(act, fieldName("Height"), "Height", "bevelHeight", far, (m) => own(m).height, (v) => patch({ height: v }));
  const segments = figureField(
    act,
    which === "front" ? "segments" : "backSegments",
    "Segments",
    "segments",
    12,
    (m) => own(m).segments,
    (v) => patch({ segments: v }),
    { plain: true, min: 1, step: 1 },
  );
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
    if (curve?.length) buttons[names.indexOf("custom")].querySelector("path").setAttribute("d", icon("custom", curve));
  };
  const rows = [shapes, width.row, height.row, segments.row, acts];
  return { element: group(which, title, open, ...rows), show };
}

function walls(act) {
  const reach = pick(
    act,
    "outward",
    "Bevels",
    [
      ["false", "inward", svg("M2 14V8l5-5h11")],
      ["true", "outward", svg("M2 14v-2l6-6h10M8 2v12")],
    ],
    (m) => String(!!m.outward),
    (v) => ({ outward: v === "true" }),
  );
  const corners = pick(
    act,
    "mitred",
    "Inner corners",
    [
      ["round", "round"],
      ["mitred", "mitred"],
    ],
    (m) => (m.mitred ? "mitred" : "round"),
    (v) => ({ mitred: v === "mitred" }),
  );
  const wall = figureField(act, "wall", "Hollow, wall", "wall", Math.max(side(act) * 0.06, 1), (m) => m.wall ?? 0, (v) => ({ wall: v }));
  const open = (key, label) => {
    const box = el("input", {
      type: "checkbox",
      "data-open": key,
      onchange: () => act.done({ [key]: box.checked }, label),
    });
    return { row: el("label", { class: "checkline" }, box, ` ${label}`), box, key };
  };
  const ends = [open("openFront", "Open in front"), open("openBack", "Open behind")];
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
  kind.append(...roles.map(([k, text]) => el("option", { value: k }, text)));
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
  const far = Math.max(side(act) * 0.1, 1);
  const wide = (m) => get(m).width ?? 0;
  const width = figureField(act, "tube", "Width, 0 as drawn", "tube", far, wide, (v) => put(act, { width: v }));
  const ends = pick(
    act,
    "ends",
    "Ends",
    [
      ["", "as drawn"],
      ["round", "round"],
      ["flat", "flat"],
    ],
    (m) => get(m).ends ?? "",
    (v) => put(act, { ends: v }),
  );
  const section = pick(
    act,
    "tubeSection",
    "Cut across",
    [
      ["round", "round"],
      ["own", "depth and edges"],
    ],
    (m) => (get(m).own ? "own" : "round"),
    (v) => put(act, { own: v === "own" }),
  );
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
  const presets = choice(
    "Fineness",
    known.finenesses.map((f) => [String(f.mm), f.name]),
    String(size().tolerance),
    (v) => change(Number(v)),
  );
  presets.row.dataset.pick = "fineness";
  const field = lengthField({
    name: "tolerance",
    label: "Tolerance",
    value: size().tolerance,
    slider: false,
    arrow: 0.01,
    done: change,
  });
  const all = () => act.piece.state.all;
  const caps = choice(
    "Flat sides",
    [
      ["", "few"],
      ["even", "even"],
      ["grid", "grid"],
    ],
    all().caps,
    (v) => act.all({ caps: v, ...(v && !all().spacing ? { spacing: spacing(act.piece.state) } : {}) }, "Flat sides"),
  );
  caps.row.dataset.pick = "caps";
  const apart = lengthField({
    name: "spacing",
    label: "Points apart",
    value: all().spacing,
    slider: false,
    arrow: 0.5,
    done: (v) => act.all({ spacing: v }, "Points apart"),
  });
  const crease = lengthField({
    name: "crease",
    label: "Crease angle, °",
    value: all().crease || 30,
    slider: false,
    plain: true,
    done: (v) => act.all({ crease: v }, "Crease angle"),
  });
  const fewer = lengthField({
    name: "simplify",
    label: "Simplify within",
    value: all().simplify,
    slider: false,
    arrow: 0.01,
    done: (v) => act.all({ simplify: v }, "Simplify"),
  });
  const most = lengthField({
    name: "triangles",
    label: "Triangles at most, 0 any",
    value: all().triangles,
    slider: false,
    plain: true,
    done: (v) => act.all({ triangles: v }, "Triangles at most"),
  });
  const guess = el("p", { class: "soft", "data-estimate": "" }, "");
  const show = () => {
    presets.set(String(size().tolerance));
    field.set(size().tolerance);
    caps.set(all().caps);
    apart.set(all().spacing);
    apart.row.hidden = !all().caps;
    crease.set(all().crease || 30);
    fewer.set(all().simplify);
    most.set(all().triangles);
    const { parts } = act.piece.state;
    const domed = parts.some((p) => !p.out && [p.how.front, p.how.back].some((r) => r.profile === "dome" && rises(r)));
    const more = domed ? "; domes have more inside, by their size" : "";
    guess.textContent = `About ${count(estimate(parts))} triangles in all${more}.`;
  };
  return { element: group("mesh", "Mesh", false, presets.row, field.row, caps.row, apart.row, crease.row, fewer.row, most.row, guess), show };
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
  const field = (name, label, max, more = {}) => {
    const f = lengthField({
      name,
      label,
      value: all()[name],
      min: 0,
      max,
      arrow: known.limits[name].step,
      done: (v) => act.all({ [name]: v }, label),
      ...more,
    });
    return { row: f.row, show: () => f.set(all()[name]) };
  };
  const spread = field("spread", "Spread, step", 10);
  const clearance = field("clearance", "Clearance", 2);
  const leave = choice(
    "They leave",
    [
      ["", "as suits"],
      ["together", "as one"],
      ["apart", "apart"],
    ],
    all().fused,
    (v) => act.all({ fused: v }, "How parts leave"),
  );
  const hint = el(
    "p",
    { class: "soft" },
    "As suits: one body in files for printing, unless there is a clearance.",
  );
  const list = [spread, clearance];
  return {
    element: group("together", "All parts together", false, ...list.map((f) => f.row), leave.row, hint),
    show: () => {
      list.forEach((f) => f.show());
      leave.set(all().fused);
    },
  };
}

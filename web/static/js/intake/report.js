// The report: what was read, changed and left out, with count and place.

import { el } from "../lib/page.js";
import { count, figure } from "../lib/length.js";

const tick = (shapes) =>
  plural(shapes.length, "tick it in the list to include it", "tick them in the list to include them");

const kinds = {
  "left out": ["out", "✕"],
  changed: ["changed", "!"],
  info: ["", "i"],
};

const plural = (n, one, many) => (n === 1 ? one : many);
const keysOf = (shapes) => shapes.map((s) => s.key);

// report returns the facts and the entries. act: {choose, light, show}.
export function report(state, data, tree, act) {
  const inside = data.shapes.filter((s) => tree.included(s));
  const lines = [background(inside, act), ...notes(data, tree, act), ...told(data, inside)].filter(Boolean);
  if (!data.notes.length) lines.push({ mark: "✓", title: "Everything in the file was understood" });
  return [
    facts(state, data, inside, tree),
    el("h2", {}, "Report"),
    el("ul", { class: "report" }, ...lines.map((l) => line(act, { kind: "", small: "", keys: [], places: [], button: null, ...l }))),
  ];
}

// background offers to exclude what would be a plate under everything.
function background(inside, act) {
  const backs = inside.filter((s) => s.back);
  if (!backs.length) return null;
  const leave = (e) => {
    e.stopPropagation();
    return act.choose(backs, false, "the background");
  };
  return {
    kind: "changed",
    mark: "!",
    title: plural(backs.length, "A background covers the page", `${backs.length} backgrounds cover the page`),
    small: "As a solid it would be a plate under everything.",
    keys: keysOf(backs),
    button: el("button", { class: "button is-small", type: "button", onclick: leave }, "Exclude it"),
  };
}

// notes are what the reader has to say.
function notes(data, tree, act) {
  const shown = new Set(keysOf(data.shapes));
  const shine = () => takeIn(act, data.shapes.filter((s) => s.shine && !tree.included(s)));
  return data.notes.map((n) => {
    const [kind, mark] = kinds[n.level];
    return {
      kind,
      mark,
      title: `${count(n.count)} × ${n.text}`,
      small: (n.where ?? []).join(", ") || describe(n.places ?? [], data.mmPerPx),
      keys: (n.keys ?? []).filter((k) => shown.has(k)),
      places: n.places ?? [],
      button: n.kind === "shine" ? shine() : null,
    };
  });
}

// told are what became of shapes, and which are not there.
function told(data, inside) {
  const info = (list, title, small) => (list.length ? { mark: "i", title: `${count(list.length)} ${title}`, small, keys: keysOf(list) } : null);
  const texts = inside.filter((s) => s.text && !s.stroke);
  const strokes = inside.filter((s) => s.stroke);
  const hidden = data.shapes.filter((s) => s.hidden);
  const off = data.shapes.filter((s) => s.offPage && !s.hidden && !s.bitmap);
  const bitmaps = data.shapes.filter((s) => s.bitmap);
  const say = (list, one, many) => plural(list.length, one, many);
  const words = texts.slice(0, 4).map((s) => `“${s.text}”`);
  return [
    info(texts, say(texts, "text became an outline", "texts became outlines"), words.join(", ")),
    info(strokes, say(strokes, "stroke becomes an outline", "strokes become outlines"), "with width, caps, joins and dashes"),
    info(hidden, `hidden ${say(hidden, "shape starts", "shapes start")} excluded`, tick(hidden)),
    info(bitmaps, `${say(bitmaps, "bitmap is", "bitmaps are")} offered by the frame`, tick(bitmaps)),
    info(off, `${say(off, "shape", "shapes")} off the page excluded`, tick(off)),
  ];
}

// takeIn is the one click that makes painted light bodies.
function takeIn(act, shapes) {
  if (!shapes.length) return null;
  const take = (e) => {
    e.stopPropagation();
    act.choose(shapes, true, plural(shapes.length, "shine or shade", `${count(shapes.length)} of shine and shade`));
  };
  return el("button", { class: "button is-small", type: "button", onclick: take }, "Include it");
}

// describe says where on the page things lie that have no names.
function describe(places, mmPerPx) {
  if (!places.length) return "";
  const mm = (v) => figure(v * mmPerPx);
  const list = places.slice(0, 3).map(([x, y, w, h]) => `${mm(w)} × ${mm(h)} mm at ${mm(x)}, ${mm(y)}`);
  return `${list.join("; ")}${places.length > 3 ? "; …" : ""} (point here to see ${plural(places.length, "it", "them")})`;
}

function facts(state, data, inside, tree) {
  const mm = (px) => figure(px * data.mmPerPx);
  const rows = [
    [state.sheets.length === 1 ? "Format" : "Formats", data.format],
    ["Page", `${mm(data.page[2])} × ${mm(data.page[3])} mm`],
    ["Included", `${count(inside.length)} of ${count(data.shapes.length)} shapes`],
    ["Nodes", count(data.nodes)],
    ["Colours", count(new Set(inside.map((s) => tree.colorOf(s))).size)],
  ];
  return el(
    "dl",
    { class: "facts" },
    ...rows.flatMap(([k, v]) => [el("dt", {}, k), el("dd", { title: v }, v)]),
  );
}

function line(act, { kind, mark, title, small, keys, places, button }) {
  const points = keys.length > 0 || places.length > 0;
  const on = () => act.light(keys, places);
  const off = () => act.light([]);
  const select = () => keys.length && act.show(keys);
  const press = (e) => e.key === "Enter" && e.target === e.currentTarget && select();
  return el(
    "li",
    {
      class: `${kind}${points ? " points" : ""}`,
      tabindex: points ? "0" : null,
      onpointerenter: on,
      onpointerleave: off,
      onfocus: on,
      onblur: off,
      onclick: select,
      onkeydown: press,
    },
    el("span", { "aria-hidden": "true" }, mark),
    el("div", {}, el("b", {}, title), small ? el("small", {}, small) : null, button),
  );
}

// What stands above the list of parts in Raise: what parts are made of, and what can be
// done with those that are selected.

import { optionsOf } from "../lib/field.js";
import { get } from "../lib/api.js";
import { complain, el, say } from "../lib/page.js";
import { coloursLine } from "./colours.js";

// toolbar makes it; show(state) brings it up to date.
export function toolbar(act) {
  const { piece } = act;
  const by = el(
    "select",
    { "data-parts": "by", "aria-label": "Parts are made by" },
    ...optionsOf("grouping").map(([k, text, title]) => el("option", { value: k, title }, text)),
  );
  by.addEventListener("change", () => act.all({ by: by.value }, `Parts by ${by.selectedOptions[0].textContent}`));
  const button = (name, text, title, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-parts": name, title, onclick }, text);
  const ids = () => act.targets().map((p) => p.id);
  // What a relief divided from a part is known by its shapes.
  const join = button("join", "Join", "One part of all that are selected", () => {
    const shapes = Object.fromEntries(act.targets().filter((p) => p.id.includes("~")).map((p) => [p.id, p.shapes]));
    piece.change(`Join ${act.who()}`, { kind: "joinParts", ids: ids(), shapes });
  });
  // A part of several shapes is split into these, one of a single shape into its outlines.
  const split = button("split", "Split", "", async () => {
    const [p] = act.targets();
    const take = (what, list) => list.slice(1).map((k) => ({ kind: "takeShapes", [what]: [k], from: p.id }));
    if (p.shapes.length > 1) return piece.change(`Split ${p.name}`, ...take("shapes", p.shapes));
    try {
      const { outlines } = await piece.run("Looking for outlines", (job) =>
        get(`${piece.base}/data/outlines?part=${encodeURIComponent(p.id)}`, job),
      );
      if (outlines.length < 2) return say(`${p.name} is one outline; its dots belong to it.`);
      piece.change(`Split ${p.name}`, ...take("outlines", outlines));
    } catch (e) {
      complain(e);
    }
  });
  const stepping = () => piece.state.all.levels > 0;
  const level = (to, label) => piece.change(`${label} ${act.who()}`, { kind: "parts", parts: Object.fromEntries(to) });
  const move = (by) => () => {
    if (stepping()) {
      const to = act.targets().map((p) => [p.id, { level: p.level - by }]);
      return level(to, by < 0 ? "A level up for" : "A level down for");
    }
    const order = piece.state.parts.map((p) => p.id);
    const [id] = ids();
    const at = order.indexOf(id);
    const to = at + by;
    if (to < 0 || to >= order.length) return;
    order.splice(at, 1);
    order.splice(to, 0, id);
    act.all({ order }, "Order of the parts");
  };
  const up = button("up", "↑", "", move(-1));
  const down = button("down", "↓", "", move(1));
  const same = button("same", "Equal", "All that are selected on the level of the first one", () => {
    const [first] = act.targets();
    level(act.targets().map((p) => [p.id, { level: first.level }]), "One level for");
  });
  const reset = button("reset", "Reset", "The measures of new parts again, and the level that overlaps give", () =>
    act.done({ reset: true, level: 0 }, "Reset the measures"),
  );
  const colours = coloursLine(act);
  const element = el(
    "div",
    { class: "partstools" },
    el("label", {}, "Parts by ", by),
    colours.element,
    el("div", { class: "partsacts" }, join, split, up, down, same, reset),
  );
  const show = (state) => {
    by.value = state.all.by;
    colours.show(state);
    const list = act.targets();
    const one = list.length === 1 && state.parts.length > 1;
    join.disabled = list.length < 2 || !piece.pickedSome();
    const shapes = list.length === 1 ? (list[0].shapes?.length ?? 0) : 0;
    split.disabled = shapes < 2 && !(shapes === 1 && list[0].pieces > 1);
    split.title = shapes === 1 ? "A part of each outline" : "A part of each shape";
    const levels = stepping();
    const all = list.length === state.parts.length;
    up.title = levels ? "One level higher in the relief" : "Earlier in the order of the parts";
    down.title = levels ? "One level lower in the relief" : "Later in the order of the parts";
    up.disabled = levels ? all || !list.every((p) => p.level > 0) : !one || state.parts[0].id === list[0].id;
    down.disabled = levels
      ? all || !list.every((p) => p.level > 1)
      : !one || state.parts[state.parts.length - 1].id === list[0].id;
    same.hidden = !levels;
    same.disabled = all || list.length < 2 || !list.every((p) => p.level > 0);
    reset.disabled = !list.some((p) => p.own || p.set);
  };
  return { element, show };
}

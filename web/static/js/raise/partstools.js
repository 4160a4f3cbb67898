// What stands above the list of parts in Raise: what parts are made of, and what can be
// done with those that are selected.

import { el } from "../lib/page.js";

const groupings = [
  ["", "colour"],
  ["layer", "layer"],
  ["group", "group"],
  ["shape", "shape"],
  ["outline", "outline"],
];

// toolbar makes it; show(state) brings it up to date.
export function toolbar(act) {
  const { piece } = act;
  const by = el(
    "select",
    { "data-parts": "by", "aria-label": "Parts are made by" },
    ...groupings.map(([k, text]) => el("option", { value: k }, text)),
  );
  by.addEventListener("change", () => act.all({ by: by.value }, `Parts by ${by.selectedOptions[0].textContent}`));
  const button = (name, text, title, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-parts": name, title, onclick }, text);
  const ids = () => act.targets().map((p) => p.id);
  const join = button("join", "Join", "One part of all that are selected", () =>
    piece.change(`Join ${act.who()}`, { kind: "joinParts", ids: ids() }),
  );
  const split = button("split", "Split", "A part of each shape", () => {
    const [p] = act.targets();
    const edits = p.shapes.slice(1).map((k) => ({ kind: "takeShapes", shapes: [k], from: p.id }));
    piece.change(`Split ${p.name}`, ...edits);
  });
  const move = (by) => () => {
    const order = piece.state.parts.map((p) => p.id);
    const [id] = ids();
    const at = order.indexOf(id);
    const to = at + by;
    if (to < 0 || to >= order.length) return;
    order.splice(at, 1);
    order.splice(to, 0, id);
    act.all({ order }, "Order of the parts");
  };
  const up = button("up", "↑", "Earlier in the order of the relief", move(-1));
  const down = button("down", "↓", "Later in the order of the relief", move(1));
  const reset = button("reset", "Reset", "The measures of new parts again", () =>
    act.done({ reset: true }, "Reset the measures"),
  );
  const element = el(
    "div",
    { class: "partstools" },
    el("label", {}, "Parts by ", by),
    el("div", { class: "partsacts" }, join, split, up, down, reset),
  );
  const show = (state) => {
    by.value = state.all.by;
    const list = act.targets();
    const one = list.length === 1 && state.parts.length > 1;
    join.disabled = list.length < 2 || !piece.pickedSome();
    split.disabled = !(list.length === 1 && list[0].shapes?.length > 1);
    up.disabled = !one || state.parts[0].id === list[0].id;
    down.disabled = !one || state.parts[state.parts.length - 1].id === list[0].id;
    reset.disabled = !list.some((p) => p.own);
  };
  return { element, show };
}

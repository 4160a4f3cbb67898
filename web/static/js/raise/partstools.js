// What stands above the list of parts in Raise: what parts are made of, and what can be
// done with those that are selected.

import { optionsOf } from "../lib/field.js";
import { get } from "../lib/api.js";
import { allow } from "../lib/doing.js";
import { el, say } from "../lib/page.js";
import { coloursLine } from "./colours.js";

const button = (name, text, title, onclick) =>
  el("button", { class: "plainbutton", type: "button", "data-parts": name, title, onclick }, text);

// toolbar makes it; show(state) brings it up to date.
export function toolbar(act) {
  return new Toolbar(act);
}

class Toolbar {
  constructor(act) {
    this.act = act;
    this.by = el(
      "select",
      { "data-parts": "by", "aria-label": "Parts are made by" },
      ...optionsOf("grouping").map(([k, text, title]) => el("option", { value: k, title }, text)),
    );
    this.by.addEventListener("change", () => act.all({ by: this.by.value }, `Parts by ${this.by.selectedOptions[0].textContent}`));
    const fresh = "The measures of new parts again, and the level that overlaps give";
    this.buttons = {
      join: button("join", "Join", "One part of all that are selected", () => this.join()),
      split: button("split", "Split", "", () => this.split()),
      up: button("up", "↑", "", () => this.move(-1)),
      down: button("down", "↓", "", () => this.move(1)),
      same: button("same", "Equal", "All that are selected on the level of the first one", () => this.equal()),
      reset: button("reset", "Reset", fresh, () => act.done({ reset: true, level: 0 }, "Reset the measures")),
    };
    this.buttons.up.setAttribute("aria-label", "Up");
    this.buttons.down.setAttribute("aria-label", "Down");
    this.colours = coloursLine(act);
    this.element = el(
      "div",
      { class: "partstools" },
      el("label", {}, "Parts by ", this.by),
      this.colours.element,
      el("div", { class: "partsacts" }, ...Object.values(this.buttons)),
    );
  }

  // stepping reports whether parts step up as a relief.
  get stepping() {
    return this.act.piece.state.all.levels > 0;
  }

  // What a relief divided from a part is known by its shapes.
  join() {
    const list = this.act.targets();
    const shapes = Object.fromEntries(list.filter((p) => p.id.includes("~")).map((p) => [p.id, p.shapes]));
    return this.act.piece.change(`Join ${this.act.who()}`, { kind: "joinParts", ids: list.map((p) => p.id), shapes });
  }

  // A part of several shapes is split into these, one of a single shape into its outlines.
  async split() {
    const { piece, targets } = this.act;
    const [p] = targets();
    const take = (what, list) => list.slice(1).map((k) => ({ kind: "takeShapes", [what]: [k], from: p.id }));
    if (p.shapes.length > 1) return piece.change(`Split ${p.name}`, ...take("shapes", p.shapes));
    const { outlines } = await piece.run("Looking for outlines", (job) =>
      get(`${piece.base}/data/outlines?part=${encodeURIComponent(p.id)}`, job),
    );
    if (outlines.length < 2) return say(`${p.name} is one outline; its dots belong to it.`);
    return piece.change(`Split ${p.name}`, ...take("outlines", outlines));
  }

  level(to, label) {
    return this.act.piece.change(`${label} ${this.act.who()}`, { kind: "parts", parts: Object.fromEntries(to) });
  }

  move(by) {
    const { act } = this;
    if (this.stepping) {
      const to = act.targets().map((p) => [p.id, { level: p.level - by }]);
      return this.level(to, by < 0 ? "A level up for" : "A level down for");
    }
    const order = act.piece.state.parts.map((p) => p.id);
    const at = order.indexOf(act.targets()[0].id);
    const to = at + by;
    if (to < 0 || to >= order.length) return undefined;
    order.splice(to, 0, ...order.splice(at, 1));
    return act.all({ order }, "Order of the parts");
  }

  equal() {
    const [first] = this.act.targets();
    return this.level(this.act.targets().map((p) => [p.id, { level: first.level }]), "One level for");
  }

  show(state) {
    const { buttons } = this;
    this.by.value = state.all.by;
    this.colours.show(state);
    const list = this.act.targets();
    const some = this.act.piece.pickedSome();
    allow(buttons.join, list.length < 2 || !some ? "Select two parts or more first" : "", "One part of all that are selected");
    const shapes = list.length === 1 ? (list[0].shapes?.length ?? 0) : 0;
    const whole = shapes < 2 && !(shapes === 1 && list[0].pieces > 1);
    const one = list.length === 1 ? "This part is one outline" : "Select one part first";
    allow(buttons.split, whole ? one : "", shapes === 1 ? "A part of each outline" : "A part of each shape");
    const own = list.some((p) => p.own || p.set);
    allow(buttons.reset, own ? "" : "These have the measures of new parts", buttons.reset.dataset.title ?? buttons.reset.title);
    if (this.stepping) this.showLevels(state, list);
    else this.showOrder(state, list);
  }

  showLevels(state, list) {
    const { up, down, same } = this.buttons;
    const all = list.length === state.parts.length ? "Select some of the parts first" : "";
    const least = (n) => (list.every((p) => p.level > n) ? "" : "There is no lower level");
    allow(up, all || least(0), "One level higher in the relief");
    allow(down, all || least(1), "One level lower in the relief");
    same.hidden = false;
    allow(same, all || (list.length < 2 ? "Select two parts or more first" : least(0)));
  }

  showOrder(state, list) {
    const { up, down, same } = this.buttons;
    const one = list.length === 1 && state.parts.length > 1 ? "" : "Select one part first";
    const [first, last] = [state.parts[0], state.parts[state.parts.length - 1]];
    allow(up, one || (first.id === list[0].id ? "It is the first one" : ""), "Earlier in the order of the parts");
    allow(down, one || (last.id === list[0].id ? "It is the last one" : ""), "Later in the order of the parts");
    same.hidden = true;
  }
}

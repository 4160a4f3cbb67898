// How the piece is printed: lying, machine, layers, paths, speeds. All of it is decisions of
// the recipe, so that each can be undone.

import { lengthField, select } from "../lib/field.js";
import { known } from "../lib/known.js";
import { el } from "../lib/page.js";

import { heights } from "./heights.js";
import { stands } from "./stands.js";

const lyings = [
  ["", "on its back, face up"],
  ["down", "face down"],
  ["upright", "upright"],
];
const words = {
  lines: "lines",
  grid: "grid",
  concentric: "along the outline",
  none: "none",
  skirt: "a skirt around it",
  brim: "a brim against it",
  corner: "in an inner corner",
  back: "at the back",
};

// settings makes the panel.
export function settings({ piece }) {
  const own = known.print;
  const give = (label, patch) => piece.change(label, { kind: "print", ...patch });
  const lie = (v) => piece.change(v === "down" ? "Face down" : "Lying", { kind: "size", lying: v });
  const rows = {};
  const field = (name, label, o = {}) => {
    rows[name] = lengthField({
      name: `print.${name}`,
      label,
      figure: name,
      value: 0,
      slider: false,
      ...o,
      done: (v) => give(label, { [name]: v }),
    });
    return rows[name].row;
  };
  const list = (name, label, options) => {
    const choices = options.map((o) => (Array.isArray(o) ? o : [o, words[o] ?? o]));
    rows[name] = select(name, label, choices, (v) => give(label, { [name]: v }));
    return rows[name].row;
  };
  const count = (name, label, figure = name) => field(name, label, { plain: true, figure });
  const speed = (name, label) => field(name, label, { figure: "speed", unit: "mm/s", arrow: 5 });
  const lying = select("lying", "Lies", lyings, lie);
  const down = el(
    "button",
    {
      class: "button is-small is-fullwidth mt-2",
      type: "button",
      "data-act": "face-down",
      title: "The plate's texture becomes the face (D)",
      onclick: () => facedown(),
    },
    "Lay it on its face",
  );
  const facedown = () => lie(piece.state.size.lying === "down" ? "" : "down");
  const compared = stands({ piece });
  const group = (title, ...kids) => el("fieldset", {}, el("legend", {}, title), ...kids);
  const element = el(
    "div",
    { class: "printfields" },
    group(
      "Lying",
      lying.row,
      down,
      compared.element,
      field("roll", "Turned in its plane", { figure: "swing", unit: "°", arrow: 5 }),
      field("tilt", "Leans back", { figure: "lean", unit: "°", arrow: 5 }),
      field("turn", "Turned", { figure: "swing", unit: "°", arrow: 5 }),
      count("copies", "Copies"),
      field("gap", "Gap between", { figure: "apart", arrow: 1 }),
    ),
    group(
      "Machine",
      list("bed", "Bed", own.bedNames.map((b) => [b, `${own.beds[b].join(" × ")} mm`])),
      field("nozzle", "Nozzle", { arrow: 0.1 }),
      list("material", "Material", own.materials),
      field("price", "Price of a kg", { unit: "", arrow: 1 }),
    ),
    group(
      "Layers",
      field("layer", "Layers of", { arrow: 0.04 }),
      field("first", "First layer", { figure: "layer", arrow: 0.04 }),
      count("floors", "Solid layers"),
    ),
    group("Colours by height", ...heights({ piece })),
    group(
      "Paths",
      count("perimeters", "Perimeters"),
      list("infill", "Infill", own.infills),
      field("density", "Filled", { figure: "share", unit: "%", scale: 100, arrow: 5 }),
      field("overlap", "Reaches into walls", { unit: "%", scale: 100, arrow: 5 }),
      list("skirt", "Around it", own.skirts),
      list("seam", "Seams", own.seams),
    ),
    group(
      "Fit",
      field("outline", "Outlines drawn in", { figure: "fit", arrow: 0.02 }),
      field("holes", "Holes widened", { figure: "fit", arrow: 0.02 }),
      field("foot", "First layer drawn in", { figure: "fit", arrow: 0.02 }),
    ),
    group(
      "Speeds",
      speed("firstSpeed", "First layer"),
      speed("outerSpeed", "Outer perimeter"),
      speed("innerSpeed", "Inner perimeters"),
      speed("fillSpeed", "Infill and solid"),
      speed("travelSpeed", "Ways between"),
    ),
  );
  return {
    element,
    facedown,
    compare: compared.compare,
    close: compared.close,
    update(state, other) {
      compared.update(state, other);
      const face = state.size.lying ?? "";
      lying.set(face);
      down.textContent = face === "down" ? "Lay it on its back again" : "Lay it on its face";
      for (const [name, row] of Object.entries(rows)) row.set(state.print[name] ?? 0);
      rows.gap.row.hidden = state.print.copies < 2;
    },
  };
}

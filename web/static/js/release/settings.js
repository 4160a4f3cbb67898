// How the piece is printed: lying, machine, layers, paths, speeds. All of it is decisions of
// the recipe, so that each can be undone.

import { field, listOf } from "../lib/field.js";
import { el } from "../lib/page.js";

import { choices } from "../made/terms.js";
import { heights } from "./heights.js";
import { stands } from "./stands.js";

// settings makes the panel.
export function settings({ piece }) {
  const give = (label, patch) => piece.change(label, { kind: "print", ...patch });
  const lie = (v) => piece.change(v === "down" ? "Face down" : "Orientation", { kind: "size", lying: v });
  const rows = {};
  const figure = (name) => {
    const done = (v) => give(rows[name].label, { [name]: v });
    rows[name] = field({ of: `print.${name}`, value: 0, slider: false, done });
    return rows[name].row;
  };
  const list = (name, of = name) => {
    rows[name] = listOf(name, of, (v) => give(choices[of].label, { [name]: v }));
    return rows[name].row;
  };
  const lying = listOf("lying", "lying", lie);
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
    group("Orientation", lying.row, down, compared.element, ...["roll", "tilt", "turn", "copies", "gap"].map(figure)),
    group("Machine", list("bed"), figure("nozzle"), list("material", "filament"), figure("price")),
    group("Layers", ...["layer", "first", "floors"].map(figure)),
    group("Colours by height", ...heights({ piece })),
    group(
      "Paths",
      figure("perimeters"),
      list("infill"),
      figure("density"),
      figure("overlap"),
      list("skirt"),
      list("seam"),
    ),
    group("Fit", ...["outline", "holes", "foot"].map(figure)),
    group("Speeds", ...["firstSpeed", "outerSpeed", "innerSpeed", "fillSpeed", "travelSpeed"].map(figure)),
  );
  return {
    element,
    facedown,
    compare: () => compared.compare(),
    close: () => compared.close(),
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

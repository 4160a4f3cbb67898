// Colours by height: a drawing in few colours, each with a height of its own, for one nozzle with a change of filament from each
// to the next.

import { lengthField } from "../lib/field.js";
import { post } from "../lib/api.js";
import { el } from "../lib/page.js";

// wanted is kept over a visit to another step.
const wanted = { colours: 4, plate: 0.8, step: 0.4 };

export function heights({ piece }) {
  const row = (name, label, o) =>
    lengthField({ name: `heights.${name}`, label, value: wanted[name], slider: false, ...o, done: (v) => (wanted[name] = v) }).row;
  const button = el(
    "button",
    { class: "button is-small is-fullwidth mt-2", type: "button", "data-act": "heights", title: "Gathers the colours and steps them up" },
    "Step up by colour",
  );
  button.addEventListener("click", () =>
    piece.changeBy(() =>
      piece.run("Stepping up by colour", (job) => post(`${piece.base}/heights?base=${piece.state.rev}`, wanted, job)),
    ),
  );
  return [
    row("colours", "Filaments", { plain: true, figure: "colours", arrow: 1 }),
    row("plate", "Lowest colour", { figure: "depth", arrow: 0.2 }),
    row("step", "Each step", { figure: "depth", arrow: 0.2 }),
    el("p", { class: "soft" }, "The colour that is seen the most is the lowest. Heights are whole layers."),
    button,
  ];
}

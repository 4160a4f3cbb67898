// Colours by height: a drawing in few colours, each with a height of its own, for one nozzle with a change of filament from each
// to the next.

import { field, usual } from "../lib/field.js";
import { post } from "../lib/api.js";
import { el } from "../lib/page.js";

// wanted is kept over a visit to another step.
const wanted = { colours: usual("heights.colours"), plate: usual("heights.plate"), step: usual("heights.step") };

export function heights({ piece }) {
  const row = (name) => field({ of: `heights.${name}`, value: wanted[name], done: (v) => (wanted[name] = v) }).row;
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
    ...["colours", "plate", "step"].map(row),
    el("p", { class: "soft" }, "The colour that is seen the most is the lowest. Heights are whole layers."),
    button,
  ];
}

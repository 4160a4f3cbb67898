// What the table of figures and choices (made/terms.js) says, as pages ask for it.

import { choices, figures } from "../made/terms.js";

// usual is what a figure is where nobody has said so.
export const usual = (of) => figures[of].usual ?? 0;

// optionsOf lists a choice of the table as [name, label, help].
export const optionsOf = (of) => choices[of].options.map((o) => [o.name, o.label, o.help]);

// labelOf is how an option is shown.
export const labelOf = (of, name) => choices[of].options.find((o) => o.name === name)?.label ?? name;

// firstOf is the option that holds where nobody has chosen.
export const firstOf = (of) => choices[of].options[0].name;

// longestName is how many characters a name may have.
export const longestName = figures.name.max;

// within brings a value into the range of a figure.
export const within = (of, v) => Math.max(figures[of].min, Math.min(figures[of].max, v));

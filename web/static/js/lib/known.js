// What the server knows and pages do not repeat: the steps, the limits of all
// figures, the units. It is asked for once, before anything is drawn.

import { get } from "./api.js";

export const known = await get("/frame");

// limit returns the range of a figure as [least, most].
export const limit = (name) => [known.limits[name].min, known.limits[name].max];

// What only the running server knows: the steps, the ready materials, how large a file may be. It is asked for
// once, before anything is drawn. Figures, choices and units are in made/terms.js.

import { get } from "./api.js";

export const known = await get("/frame");

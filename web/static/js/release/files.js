// The files that leave: each format by itself, all parts in one archive.

import { getFile } from "../lib/api.js";
import { select } from "../lib/field.js";
import { complain, el, hand, say } from "../lib/page.js";
import { longestName, optionsOf } from "../lib/terms.js";

// together lists what comes along with a kind of file.
const together = { obj: ["obj", "mtl"] };

// files makes the panel.
export function files({ piece }) {
  const buttons = optionsOf("file").map(([kind, name, what]) =>
    el(
      "button",
      { class: "download", type: "button", "data-format": kind, onclick: () => download(kind) },
      el("b", {}, name),
      el("span", {}, what),
    ),
  );
  const pattern = el("input", {
    class: "keepname",
    "data-scene": "pattern",
    value: "{piece}-{n}-{part}",
    maxlength: longestName,
    "aria-label": "Names of the parts' files",
  });
  const kindOf = select("parts-format", "All parts as", optionsOf("partsFormat"), () => {});
  const query = (kind) => (kind === "zip" ? `?parts=${kindOf.input.value}&pattern=${encodeURIComponent(pattern.value)}` : "");
  const enable = (on) => buttons.forEach((b) => (b.disabled = !on));
  const download = async (kind) => {
    enable(false);
    try {
      for (const k of together[kind] ?? [kind]) {
        const fetch = (job) => getFile(`${piece.base}/file/${k}${query(k)}`, job);
        hand(await piece.run("Writing the file", fetch, { onCancel: () => say("Nothing was downloaded.") }));
      }
    } catch (e) {
      complain(e);
    }
    enable(!piece.state.problem);
  };
  const sheet = el(
    "a",
    { class: "download", href: `${piece.base}/sheet`, target: "_blank", "data-act": "sheet" },
    el("b", {}, "Sheet"),
    el("span", {}, "a page to print: picture, measures, parts, materials, mass"),
  );
  const element = el(
    "div",
    {},
    ...buttons,
    kindOf.row,
    el("label", { class: "dial" }, el("span", {}, "Named"), pattern),
    sheet,
    el(
      "p",
      { class: "soft mt-3" },
      "Lengths are millimetres; GLB is in metres as its standard asks. A solid that fails a check is not handed out.",
    ),
  );
  return { element, enable };
}

// The checks: of the solids, and of the print, each with its measure, its place and a way out.

import { count, figure, mm } from "../lib/length.js";
import { el, swatch } from "../lib/page.js";
import { choices } from "../made/terms.js";

export function verdict(list, bad) {
  const volume = list.reduce((n, p) => n + p.volumeMm3, 0);
  const who = list.length === 1 ? "The part is" : `All ${list.length} parts are`;
  const good =
    `${who} sound: closed, no edge with a third face, no triangle without area, nothing crosses. ` +
    `${figure(volume / 1000)}\u00a0cm³ in all.`;
  const fails =
    `${bad.length} of ${list.length} parts would fail: ${bad.map((p) => p.part).join(", ")}. ` +
    "Narrow the bevel or raise the tolerance.";
  return el("p", { class: `verdict${bad.length ? " bad" : ""}` }, bad.length ? fails : good);
}

const columns = [
  ["Part"],
  ["Surface"],
  ["Shells", "n"],
  ["Triangles", "n"],
  ["Depth", "n"],
  ["Volume", "n"],
  ["Area", "n"],
];

// surfaceOf tells what a check came to.
function surfaceOf(p) {
  if (!p.sound) return p.problems;
  if (p.triangles === 0) return "nothing left, not written";
  return p.open ? "open on purpose" : "sound";
}

export function table(list) {
  // Where there is little room, figures stand below the part, each with its name; the roles stay.
  const number = (text, i) => el("td", { class: "n", role: "cell", "data-of": columns[i + 2][0] }, text);
  const row = (p) =>
    el(
      "tr",
      { role: "row" },
      el("td", { role: "cell" }, swatch(p.color), p.part),
      el("td", { role: "cell" }, el("span", { class: !p.sound ? "fail" : p.triangles === 0 ? "soft" : "ok" }, surfaceOf(p))),
      ...[
        count(p.shells),
        count(p.triangles),
        mm(p.depth),
        `${figure(p.volumeMm3 / 1000)} cm³`,
        `${figure(p.areaMm2 / 100)} cm²`,
      ].map(number),
    );
  const head = columns.map(([text, kind]) => el("th", { class: kind ?? null, scope: "col", role: "columnheader" }, text));
  return el(
    "table",
    { role: "table" },
    el("thead", { role: "rowgroup" }, el("tr", { role: "row" }, ...head)),
    el("tbody", { role: "rowgroup" }, ...list.map(row)),
  );
}

// troubles lists what was found about the print, a kind after the other, each with its places:
// the first is told in words, the others by their measures. act is {show(i), mend(i)}.
export function troubles(r, act) {
  if (!r.findings.length) return el("p", { class: "verdict" }, "Nothing that would trouble a printer was found.");
  const button = (name, text, onclick) => el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  const group = (kind) => {
    const own = r.findings.map((f, i) => [f, i]).filter(([f]) => f.kind === kind.name);
    if (!own.length) return null;
    const [f, first] = own[0];
    const { label, unit } = kind;
    const measure = (x) => `${figure(x.measure)}${unit === "°" ? "" : " "}${unit}`;
    const places = own
      .filter(([x]) => x.layer)
      .map(([x, i]) => button("show-place", own.length > 1 ? `${measure(x)}, layer ${x.layer}` : `Show it in layer ${x.layer}`, () => act.show(i)));
    return el(
      "li",
      { "data-trouble": kind.name },
      el("p", {}, el("b", {}, label), own.length > 1 ? `, ${own.length} causes: ` : " ", f.text, " ", el("span", { class: "soft" }, f.way)),
      el("div", { class: "troubleacts" }, f.mend ? button("to-mend", "Open it in Mend", () => act.mend(first)) : null, ...places),
    );
  };
  return el("ul", { class: "troubles" }, ...choices.trouble.options.map(group));
}

// facts lists the figures of the print.
export function facts(r) {
  const fact = (name, text) => [el("dt", {}, name), el("dd", {}, text)];
  return el(
    "dl",
    { class: "facts" },
    ...fact("Lies on", `${figure(r.size[0])} × ${figure(r.size[1])} mm, ${figure(r.size[2])} mm high`),
    ...fact("Layers", count(r.layers)),
    ...fact("Mass, all filled", `${figure(r.mass)} g`),
    ...fact("On the bed", `${figure(r.contact / 100)} cm²`),
    ...fact("Hangs over", `${figure(r.overhang / 100)} cm²`),
  );
}

// inks lists when the filament is changed, if it is.
export function inks(changes) {
  if (changes.length < 2) return [];
  const row = (c, i) =>
    el(
      "li",
      { "data-ink": c.layer },
      swatch(c.color),
      el("b", {}, c.name),
      i ? ` from layer ${c.layer} on, ${figure(c.z)} mm up` : " to begin with",
      c.off ? el("span", { class: "soft" }, ` (its own height is missed by ${figure(c.off)} mm: layers do not end there)`) : null,
    );
  return [el("h2", {}, "Colours by height"), el("ol", { class: "inks" }, ...changes.map(row))];
}

// The sheets and fonts of a piece, at the top of the panel.

import { field, listOf } from "../lib/field.js";
import { el } from "../lib/page.js";
import { add, exchange } from "./exchange.js";

const artwork = ".svg,.svgz,.eps,.epsf,.ps,.ai,.pdf,.png,.jpg,.jpeg,.gif,.webp";
const fonts = ".ttf,.otf,.ttc,.woff";

const small = (text, act, label) =>
  el("button", { class: "plainbutton", type: "button", "aria-label": label, onclick: act }, text);

function pickFile(accept, multiple, take) {
  const i = el("input", { type: "file", accept, multiple });
  i.addEventListener("change", () => i.files.length && take([...i.files]));
  i.click();
}

// sheets returns the lists and the buttons below them; look is called when only the view of the
// drawing changes.
export function sheets(piece, look) {
  const list = piece.state.sheets;
  const addSheets = (f) =>
    add(piece, f, f.length === 1 ? `${f[0].name} was added.` : `${f.length} sheets were added.`);
  return [
    el("h2", {}, list.length === 1 ? "Sheet" : "Sheets"),
    el(
      "ul",
      { class: "sheets" },
      ...list.map((s, i) => sheetLine(piece, s, i, look)),
      ...piece.state.fonts.map((f) => fontLine(piece, f)),
    ),
    el(
      "div",
      { class: "sheetacts" },
      small("Add a sheet…", () => pickFile(artwork, true, addSheets)),
      small("Add a font…", () => pickFile(fonts, true, (f) => add(piece, f, "The font is used now."))),
    ),
  ];
}

function sheetLine(piece, s, i, look) {
  const change = (label, more) => piece.change(label, { kind: "sheet", slot: s.slot, ...more });
  const picker = (label, options, act) =>
    el(
      "select",
      { class: "pagepick", "aria-label": label, onchange: (e) => act(e.target.value) },
      ...options.map(([value, text, selected]) => el("option", { value, selected }, text)),
    );
  const pages = Array.from({ length: s.pages }, (_, k) => [
    k + 1,
    `Page ${k + 1} of ${s.pages}`,
    k + 1 === s.page,
  ]);
  const places = [
    ["over", "over the first", !s.beside],
    ["beside", "beside the others", s.beside],
  ];
  const exchangeIt = () => pickFile(artwork, false, ([f]) => exchange(piece, s, f));
  const drop = () => piece.change("Delete a sheet", { kind: "dropSheet", slot: s.slot });
  return el(
    "li",
    { class: "sheetline" },
    el("b", { title: s.name }, s.name),
    s.pages > 1
      ? picker(`Page of ${s.name}`, pages, (v) => change(`Page ${v}`, { page: Number(v) }))
      : null,
    i > 0
      ? picker(`Place of ${s.name}`, places, (v) => change("Place of a sheet", { beside: v === "beside" }))
      : null,
    s.trace ? tracing(s, change, look) : null,
    el(
      "span",
      { class: "acts" },
      small("Replace file…", exchangeIt, `Replace file… ${s.name}`),
      piece.state.sheets.length > 1 ? small("Delete", drop, `Delete ${s.name}`) : null,
    ),
  );
}

const shown = "bildhauer:beneath";

// beneath reports whether bitmaps show under what was traced from them.
export const beneath = () => localStorage.getItem(shown) !== "no";

function check(name, on, text, act) {
  const box = el("input", { type: "checkbox", "data-field": name, checked: on });
  box.addEventListener("change", () => act(box.checked));
  return el("label", { class: "checkline" }, box, ` ${text}`);
}

// tracing is how bitmaps are traced; each change shows in the drawing. look is called when
// only the view changes.
function tracing(s, change, look) {
  const t = s.trace;
  const set = (label, patch) => change(label, { trace: { ...t, ...patch } });
  const inside = check("trace.pictures", !!t.pictures, "bitmaps in it become outlines", (on) =>
    set("Bitmaps in it", { pictures: on }),
  );
  if (!s.alone && !t.pictures) return el("div", { class: "tracing" }, inside);
  const by = listOf(`trace-by-${s.slot}`, "trace.by", (v) => set("Tracing", { by: v }));
  by.set(t.by ?? "");
  const figure = (name) => {
    const made = field({ of: `trace.${name}`, value: t[name] ?? 0, slider: false, done: (v) => set(made.label, { [name]: v }) });
    return made.row;
  };
  const light = check("trace.light", !!t.light, "what is light is drawn", (on) => set("What is drawn", { light: on }));
  const under = check("trace.beneath", beneath(), "show the bitmap beneath", (on) => {
    localStorage.setItem(shown, on ? "yes" : "no");
    look();
  });
  return el(
    "div",
    { class: "tracing" },
    s.alone ? null : inside,
    by.row,
    t.by === "colours" ? figure("colours") : figure("threshold"),
    t.by === "colours" ? null : light,
    ...["speckle", "smooth", "corner"].map(figure),
    s.alone ? under : null,
  );
}

function fontLine(piece, f) {
  const drop = () => piece.change("Delete a font", { kind: "dropFont", file: f.file });
  return el(
    "li",
    { class: "sheetline" },
    el("b", { title: f.name }, f.family),
    el("span", { class: "acts" }, small("Delete", drop, `Delete the font ${f.family}`)),
  );
}

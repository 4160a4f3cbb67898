// Measures as people type them: "8", "2cm", "3/8 in", "12+0.4". Lengths in mm.
// The server reads lengths by the same rules (core/units), and both are tested against
// core/units/testdata/measures.json.

import { units } from "../made/terms.js";

const term = /^\s*([\d.,]+(?:\s*[*/]\s*[\d.,]+)*)\s*([^\d\s.,+*/-]*)\s*/;

// Unclear is a number that is read in two ways; its message says which.
class Unclear extends Error {}

// number reads digits with commas and points, which part decimals or thousands.
function number(text) {
  if (/^[1-9]\d{0,2},\d{3}$/.test(text)) {
    const [or, instead] = [text.replace(",", "."), text.replace(",", "")];
    throw new Unclear(`${text} can be ${or} or ${instead}; write ${or} or ${instead}`);
  }
  const commas = text.split(",").length - 1;
  const points = text.split(".").length - 1;
  if (commas === 1 && !points) text = text.replace(",", ".");
  else if (!points && /^\d{1,3}(,\d{3})+$/.test(text)) text = text.replaceAll(",", "");
  else if (!commas && points > 1 && /^\d{1,3}(\.\d{3})+$/.test(text)) text = text.replaceAll(".", "");
  else if (commas) {
    // Both: the last one parts the decimals.
    const at = Math.max(text.lastIndexOf(","), text.lastIndexOf("."));
    const head = text.slice(0, at);
    const groups = text[at] === "," ? /^\d{1,3}(\.\d{3})+$/ : /^\d{1,3}(,\d{3})+$/;
    if (!groups.test(head)) return NaN;
    text = `${head.replaceAll(/[.,]/g, "")}.${text.slice(at + 1)}`;
  }
  return /\d/.test(text) && /^\d*\.?\d*$/.test(text) ? Number(text) : NaN;
}

// product works out numbers joined by * and /.
function product(text) {
  let v = 1;
  let op = "*";
  for (const t of text.match(/[*/]|[\d.,]+/g)) {
    if (t === "*" || t === "/") op = t;
    else v = op === "*" ? v * number(t) : v / number(t);
  }
  return v;
}

// sum reads terms and adds them up; one without a unit takes the next unit behind it, or usual.
// units tells what each is worth.
function sum(text, units, usual) {
  let rest = text.trim().toLowerCase();
  /** @type {[number, string][]} */
  const terms = [];
  do {
    let sign = 1;
    let m;
    while ((m = /^\s*([+-])\s*/.exec(rest))) {
      if (m[1] === "-") sign = -sign;
      rest = rest.slice(m[0].length);
    }
    m = term.exec(rest);
    if (!m || (m[2] && !Object.hasOwn(units, m[2]))) return NaN;
    terms.push([sign * product(m[1]), m[2]]);
    rest = rest.slice(m[0].length);
    if (rest && !/^[+-]/.test(rest)) return NaN;
  } while (rest);
  let unit = usual;
  let total = 0;
  for (const [v, own] of terms.reverse()) {
    if (own) unit = own;
    total += v * units[unit];
  }
  return Number.isFinite(total) ? total : NaN;
}

// read returns what a text says, in mm for a length (unit "mm"), else in its unit, which is the only
// one that is taken, or NaN; why tells what is wrong then.
export function read(text, unit = "mm") {
  const wrong = unit === "mm" ? "Write it like 8, 2cm, 3/8 in or 12+0.4" : `Write a number${unit ? `, or one with ${unit}` : ""}`;
  try {
    const value = unit === "mm" ? sum(text, units, "mm") : sum(text.replaceAll(new RegExp(escaped(unit), "gi"), ""), { "": 1 }, "");
    return { value, why: Number.isNaN(value) ? wrong : "" };
  } catch (e) {
    if (e instanceof Unclear) return { value: NaN, why: e.message };
    throw e;
  }
}

const escaped = (text) => text.replaceAll(/[.*+?^${}()|[\]\\/]/g, "\\$&");

// parseLength returns mm, or NaN.
export const parseLength = (text) => read(text).value;

// figure writes a number to be read: two decimals, or two digits of small ones.
export function figure(v) {
  const size = Math.abs(v);
  const digits = size > 0 && size < 0.1 ? Math.min(9, 1 - Math.floor(Math.log10(size))) : 2;
  return String(Number(v.toFixed(digits)));
}

// exact writes a number to be edited, with up to four decimals.
export const exact = (v) => String(Number(v.toFixed(4)));

export const mm = (v) => `${figure(v)} mm`;
export const count = (n) => n.toString().replace(/\B(?=(\d{3})+$)/g, "\u00a0");

// duration writes seconds to be read.
export const duration = (s) =>
  s < 1 ? "a moment" : s < 90 ? `${Math.round(s)} s` : s < 5400 ? `${Math.round(s / 60)} min` : `${(s / 3600).toFixed(1)} h`;

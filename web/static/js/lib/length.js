// Lengths as people type them: "8", "2cm", "3/8 in", "12+0.4". All in mm.
// The server reads them by the same rules (core/units).

import { known } from "./known.js";

const number = String.raw`(?:\d+\.?\d*|\.\d+)`;
const term = new RegExp(String.raw`^\s*(${number}(?:\s*[*/]\s*${number})*)\s*([a-zµ"]*)\s*`);

// parseLength returns mm, or NaN.
export function parseLength(text) {
  let rest = text.trim().toLowerCase().replaceAll(",", ".");
  const terms = [];
  let sign = 1;
  while (true) {
    let m;
    while ((m = /^\s*([+-])\s*/.exec(rest))) {
      if (m[1] === "-") sign = -sign;
      rest = rest.slice(m[0].length);
    }
    m = term.exec(rest);
    if (!m || (m[2] && !(m[2] in known.units))) return NaN;
    terms.push([sign * product(m[1]), m[2]]);
    sign = 1;
    rest = rest.slice(m[0].length);
    if (!rest) break;
    if (!/^[+-]/.test(rest)) return NaN;
  }
  return sum(terms);
}

// product works out numbers joined by * and /.
function product(text) {
  let v = 1;
  let op = "*";
  for (const t of text.match(/[*/]|[\d.]+/g)) {
    if (t === "*" || t === "/") op = t;
    else v = op === "*" ? v * Number(t) : v / Number(t);
  }
  return v;
}

// sum adds terms up; one without a unit takes the next unit behind it.
function sum(terms) {
  let unit = "mm";
  let total = 0;
  for (const [v, own] of terms.reverse()) {
    if (own) unit = own;
    total += v * known.units[unit];
  }
  return Number.isFinite(total) ? total : NaN;
}

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

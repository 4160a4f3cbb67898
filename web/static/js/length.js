// Lengths as people type them: "8", "2cm", "3/8 in", "12+0.4". All in mm.

const unit = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8, pt: 25.4 / 72, px: 25.4 / 96, um: 0.001, "µm": 0.001 };

// parseLength returns mm, or NaN.
export function parseLength(text) {
  let rest = text.trim().toLowerCase().replaceAll(",", ".");
  const terms = [];
  let sign = 1;
  while (true) {
    let m;
    while ((m = /^\s*([+-])\s*/.exec(rest))) { if (m[1] === "-") sign = -sign; rest = rest.slice(m[0].length); }
    m = /^\s*((?:\d+\.?\d*|\.\d+)(?:\s*[*/]\s*(?:\d+\.?\d*|\.\d+))*)\s*([a-zµ"]*)\s*/.exec(rest);
    if (!m || (m[2] && !(m[2] in unit))) return NaN;
    let v = 1, op = "*";
    for (const t of m[1].match(/[*/]|[\d.]+/g)) {
      if (t === "*" || t === "/") op = t;
      else v = op === "*" ? v * Number(t) : v / Number(t);
    }
    terms.push([sign * v, m[2]]);
    sign = 1;
    rest = rest.slice(m[0].length);
    if (!rest) break;
    if (!/^[+-]/.test(rest)) return NaN;
  }
  let u = "mm", sum = 0;
  for (const [v, own] of terms.reverse()) { if (own) u = own; sum += v * unit[u]; }
  return Number.isFinite(sum) ? sum : NaN;
}

// figure writes a number with up to three decimals.
export const figure = (v) => {
  const d = Math.abs(v) >= 100 ? 2 : 3;
  return String(Number(v.toFixed(d)));
};
export const mm = (v) => `${figure(v)} mm`;
export const count = (n) => n.toString().replace(/\B(?=(\d{3})+$)/g, "\u00a0");

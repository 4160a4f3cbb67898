// A relief: parts step up as they lie on each other. What it would make is told and drawn
// as a section before it is taken, and beside its figures afterwards.

import { el } from "../lib/page.js";
import { post } from "../lib/api.js";
import { field as fieldOf, oneOf } from "../lib/field.js";
import { mm } from "../lib/length.js";
import { quiet } from "../frame/jobs.js";

// The drawing, px.
const wide = 300;
const tall = 60;
const edge = 6;
const beside = 54; // of the height written beside it

// drawing shows a section across the piece; the height is drawn larger than the width.
function drawing() {
  const svg = el("svg", { class: "across", viewBox: `0 0 ${wide} ${tall + 2 * edge}`, role: "img" });
  const set = (got) => {
    const low = Math.min(...got.across.map((s) => s.low));
    const left = Math.min(...got.across.map((s) => s.from));
    const right = Math.max(...got.across.map((s) => s.to));
    const kx = (wide - beside - edge) / (right - left || 1);
    const ky = tall / (got.high || 1);
    const x = (v) => edge + (v - left) * kx;
    const y = (v) => edge + tall - (v - low) * ky;
    const slabs = got.across.map((s) =>
      el("rect", {
        x: x(s.from),
        y: y(s.high),
        width: (s.to - s.from) * kx,
        height: (s.high - s.low) * ky,
        fill: s.color,
      }),
    );
    const at = wide - beside + 4;
    svg.replaceChildren(
      ...slabs,
      el("path", { class: "ground", d: `M0 ${edge + tall}H${wide - beside + 12}` }),
      el("path", { class: "size", d: `M${at} ${edge}h8m-4 0v${tall}m-4 0h8` }),
      el("text", { x: at + 11, y: edge + tall / 2 + 4 }, mm(got.high)),
    );
    svg.setAttribute("aria-label", `Section across the piece, ${mm(got.high)} high`);
  };
  return { svg, set };
}

// words tells how many levels a relief has.
const words = (got) =>
  `${got.levels} ${got.levels === 1 ? "level" : "levels"}${got.levels > 1 ? `, ${mm(got.step)} apart` : ""}, ${mm(got.high)} high.`;

// suggested is 3 mm, or a tenth of the width where that is less.
const suggested = (state) => Number(Math.min(3, state.width / 10).toPrecision(2));

// ask asks what a relief would make; only the answer to the last question counts.
function asker(piece) {
  let last = 0;
  return async (relief) => {
    const mine = ++last;
    await quiet();
    if (mine !== last) return null;
    const got = await post(`${piece.base}/data/relief`, { relief });
    return mine === last ? got : null;
  };
}

// reliefOffer makes the offer of a relief; show() shows it where it is due.
export function reliefOffer(act) {
  const { piece } = act;
  const key = `bildhauer:relief:${piece.base}`;
  const kept = () => {
    try {
      return localStorage.getItem(key);
    } catch {
      return "no";
    }
  };
  const button = (text, name, onclick) =>
    el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  let got = null;
  // Bevels may be half as high as a step, so that each level keeps a wall.
  const bevel = () => Number((got.step / 2).toPrecision(2));
  const lowered = () => got && piece.state.all.default.front.height > bevel();
  const take = () => {
    const total = suggested(piece.state);
    /** @type {object[]} */
    const edits = [{ kind: "allParts", relief: { total } }];
    if (lowered()) {
      const { width, height } = piece.state.all.default.front;
      const front = { width: Math.min(width, bevel()), height: Math.min(height, bevel()) };
      edits.push({ kind: "parts", parts: { "*": { front } } });
    }
    piece.change(`Relief of ${mm(total)}`, ...edits);
  };
  const yes = button("Step up", "relief", take);
  const no = button("Leave level", "no-relief", () => {
    try {
      localStorage.setItem(key, "no");
    } catch {
      // asked again next time
    }
    show();
  });
  const text = el("p", {});
  const drawn = drawing();
  const element = el(
    "div",
    { class: "offer", "data-offer": "relief", hidden: true },
    text,
    drawn.svg,
    el("div", { class: "buttons are-small mb-0" }, yes, no),
  );
  const ask = asker(piece);
  let asked = "";
  const show = async () => {
    const { parts, all, rev, width } = piece.state;
    const level =
      parts.length > 1 &&
      parts.every((p) => !p.own && !p.role.kind) &&
      !all.relief.total &&
      !all.relief.step &&
      !all.spread;
    if (!level || kept() === "no") {
      element.hidden = true;
      return;
    }
    if (asked === `${rev} ${width}`) return;
    asked = `${rev} ${width}`;
    const answer = await ask({ total: suggested(piece.state) }).catch(() => null);
    if (!answer) return;
    got = answer;
    element.hidden = got.levels < 2;
    drawn.set(got);
    text.textContent =
      `All ${parts.length} parts end at one height. As a relief they step up as they lie on each other: ${words(got)}` +
      (lowered() ? ` Bevels become ${mm(bevel())} high.` : "");
  };
  return { element, show };
}

// How a relief is asked for.

// reliefRows makes what Raise says about the relief: how it is asked for, and what it makes.
export function reliefRows(act) {
  const { piece } = act;
  const all = () => piece.state.all;
  const way = () => (all().relief.total ? "total" : all().relief.step ? "step" : "");
  const put = (relief, label) => act.all({ relief: { lines: all().relief.lines ?? "", ...relief } }, label);
  const how = oneOf("stepping", way(), (k) => {
    const step =
      all().levels > 1 && all().relief.total
        ? Number((all().relief.total / all().levels).toPrecision(2))
        : 0.6;
    put({ "": {}, total: { total: suggested(piece.state) }, step: { step } }[k], k ? "Relief" : "No relief");
  });
  how.row.dataset.pick = "relief";
  const field = (name, of) => {
    const f = fieldOf({ of, value: all().relief[name] ?? 0, done: (v) => put({ [name]: v }, f.label) });
    return { row: f.row, show: () => f.set(all().relief[name] ?? 0) };
  };
  const total = field("total", "relief");
  const step = field("step", "reliefStep");
  const lines = oneOf("outlines", all().relief.lines ?? "", (k) => {
    const { total, step } = all().relief;
    put({ total, step, lines: k }, "Outlines of the relief");
  });
  lines.row.dataset.pick = "outlines";
  const drawn = drawing();
  const text = el("p", { class: "soft relieftold" });
  const warn = el("p", { class: "warned" });
  const ask = asker(piece);
  let asked = null;
  const show = async () => {
    const now = way();
    how.set(now);
    lines.set(all().relief.lines ?? "");
    total.row.hidden = now !== "total";
    step.row.hidden = now !== "step";
    for (const e of [lines.row, drawn.svg, text]) e.toggleAttribute("hidden", !now);
    if (now === "total") total.show();
    if (now === "step") step.show();
    if (!now) {
      warn.hidden = true;
      asked = null;
      return;
    }
    if (asked === piece.state.rev) return;
    asked = piece.state.rev;
    const got = await ask(all().relief).catch(() => null);
    if (!got) return;
    text.textContent = words(got);
    warn.textContent = got.trouble;
    warn.hidden = !warn.textContent;
    drawn.set(got);
  };
  return { rows: [how.row, total.row, step.row, lines.row, drawn.svg, text, warn], show };
}

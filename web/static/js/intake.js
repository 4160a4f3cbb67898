// Intake: the drawing, what was read and what was not, what takes part.

import { get } from "./api.js";
import { $, el, typing } from "./page.js";
import { Drawing } from "./drawing.js";
import { count, figure } from "./length.js";

export const keys = [["F", "Fit the drawing into the view"]];
const perList = 400; // rows shown at first

export async function start(piece) {
  const data = await get(`${piece.base}/data/drawing`);
  const drawing = new Drawing($("view"), `Drawing of ${data.file}`);
  addEventListener("keydown", (e) => { if (e.key.toLowerCase() === "f" && !typing(e) && !e.ctrlKey) drawing.fit(); });
  const [bx, by, bw, bh] = data.box, pad = Math.max(bw, bh) * 0.05;
  drawing.frame(bx - pad, by - pad, bw + 2 * pad, bh + 2 * pad);
  const paths = new Map();
  if (data.page[2] > 0) drawing.svg.append(el("rect", { class: "page", x: data.page[0], y: data.page[1], width: data.page[2], height: data.page[3] }));
  for (const s of data.shapes) {
    const p = el("path", { class: "shape", d: s.path, "fill-rule": s.evenOdd ? "evenodd" : "nonzero", "data-key": s.key });
    p.addEventListener("pointerenter", () => light(s.key, true));
    p.addEventListener("pointerleave", () => light(s.key, false));
    paths.set(s.key, p);
    drawing.svg.append(p);
  }
  const rows = new Map();
  const light = (key, on) => { paths.get(key)?.classList.toggle("lit", on); rows.get(key)?.classList.toggle("lit", on); };
  const included = (s) => piece.state.recipe.choice[s.key] ?? (!s.hidden && !s.offPage);
  const choose = (shapes, on, what) => piece.change(`${on ? "Take in" : "Leave out"} ${what}`, { choice: Object.fromEntries(shapes.map((s) => [s.key, on])) });

  const paint = () => {
    for (const s of data.shapes) {
      const p = paths.get(s.key), on = included(s);
      p.classList.toggle("outshape", !on);
      p.setAttribute("fill", on ? s.color : "none");
      p.setAttribute("fill-opacity", s.opacity);
    }
  };

  // The tree: groups in their order, shapes below them.
  let all = false;
  const path = (g) => { const names = []; for (; g >= 0; g = data.groups[g].parent) if (data.groups[g].name) names.unshift(data.groups[g].name); return names; };
  const topOf = (g) => { while (g >= 0 && data.groups[g].parent >= 0) g = data.groups[g].parent; return g; };
  const tree = () => {
    const box = $("parts"), top = box.scrollTop;
    rows.clear();
    const groups = new Map();
    for (const s of data.shapes) { const t = topOf(s.group); if (!groups.has(t)) groups.set(t, []); groups.get(t).push(s); }
    const out = [];
    let shown = 0;
    for (const [g, shapes] of groups) {
      const name = g < 0 ? (groups.size > 1 ? "On no layer" : "Shapes") : data.groups[g].name || "Group without a name";
      const inside = shapes.filter(included).length;
      const check = el("input", { type: "checkbox", "aria-label": `Take in ${name}`, onchange: (e) => choose(shapes, e.target.checked, name) });
      check.checked = inside > 0; check.indeterminate = inside > 0 && inside < shapes.length;
      out.push(el("div", { class: "grouprow" }, check, el("span", { class: "nm", title: name }, name), el("span", { class: "soft" }, `${inside} of ${shapes.length}`)));
      for (const s of shapes) {
        if (!all && shown >= perList) break;
        shown++;
        const on = included(s);
        const box = el("input", { type: "checkbox", "aria-label": `Take in ${s.name}`, onchange: (e) => choose([s], e.target.checked, s.name) });
        box.checked = on;
        const sw = el("span", { class: "sw" });
        sw.style.background = s.color;
        const tags = [s.hidden && "hidden", s.offPage && "off the page"].filter(Boolean).join(", ");
        const row = el("label", { class: `shaperow${on ? "" : " off"}`, "data-key": s.key, onpointerenter: () => light(s.key, true), onpointerleave: () => light(s.key, false) },
          box, sw, el("span", { class: "nm", title: [...path(s.group), s.name].join(" / ") }, s.name), el("span", { class: "tagline" }, tags));
        rows.set(s.key, row);
        out.push(row);
      }
    }
    if (!all && data.shapes.length > perList) out.push(el("button", { class: "button is-small more", onclick: () => { all = true; tree(); } }, `Show all ${count(data.shapes.length)} shapes`));
    box.replaceChildren(...out);
    box.scrollTop = top;
  };

  const report = () => {
    const inside = data.shapes.filter(included);
    const strokes = inside.filter((s) => s.stroke).length;
    const hidden = data.shapes.filter((s) => s.hidden).length, off = data.shapes.filter((s) => s.offPage && !s.hidden).length;
    const facts = [["File", data.file], ["Format", data.format], ["Page", `${figure(data.page[2] * data.mmPerPx)} × ${figure(data.page[3] * data.mmPerPx)} mm`],
      ["Shapes taken in", `${count(inside.length)} of ${count(data.shapes.length)}`], ["Nodes", count(data.nodes)], ["Colours", count(new Set(inside.map((s) => s.color)).size)]];
    const lines = [];
    const entry = (kind, mark, title, small) => lines.push(el("li", { class: kind }, el("span", { "aria-hidden": "true" }, mark), el("div", {}, el("b", {}, title), small ? el("small", {}, small) : null)));
    for (const n of data.notes) entry(n.level === "left out" ? "out" : n.level === "changed" ? "changed" : "", n.level === "left out" ? "✕" : n.level === "changed" ? "!" : "i",
      `${n.count} × ${n.text}`, (n.where ?? []).join(", "));
    if (strokes) entry("", "i", `${strokes} ${strokes === 1 ? "stroke becomes an outline" : "strokes become outlines"}`, "with width, caps, joins and dashes");
    if (hidden) entry("", "i", `${hidden} hidden ${hidden === 1 ? "shape starts" : "shapes start"} left out`, "tick it in the list to take it in");
    if (off) entry("", "i", `${off} ${off === 1 ? "shape" : "shapes"} off the page left out`, "tick it in the list to take it in");
    if (!data.notes.length) entry("", "✓", "Everything in the file was understood", "");
    $("panel").replaceChildren(el("h2", {}, "What was read"), el("dl", { class: "facts" }, ...facts.flatMap(([k, v]) => [el("dt", {}, k), el("dd", { title: v }, v)])),
      el("h2", {}, "Report"), el("ul", { class: "report" }, ...lines),
      ...(piece.state.problem ? [el("p", { class: "verdict bad" }, piece.state.problem)] : []));
  };
  return { state() { paint(); tree(); report(); } };
}

// Intake: the drawing, what was read and what was not, what takes part.

import { get, post } from "./api.js";
import { $, el, typing } from "./page.js";
import { Drawing } from "./drawing.js";
import { Tree } from "./tree.js";
import { add, exchange } from "./exchange.js";
import { count, figure } from "./length.js";

export const keys = [["F", "Fit the drawing into the view"], ["↑ ↓ ← →", "Walk through the list, open and close groups"], ["Space", "Take the row in or leave it out"], ["F2", "Rename"], ["Ctrl A", "Select all that the filter shows"], ["Delete", "Leave the selected shapes out"]];

export async function start(piece) {
  let data = null, version = null;
  const drawing = new Drawing($("view"), "Drawing of the artwork");
  const paper = el("g", {}), art = el("g", {}), marks = el("g", { class: "marks" });
  drawing.svg.append(paper, art, marks);
  const paths = new Map();
  let lit = new Set();

  const light = (keys, places = []) => {
    for (const k of lit) paths.get(k)?.classList.remove("lit");
    lit = new Set(keys);
    for (const k of lit) paths.get(k)?.classList.add("lit");
    marks.replaceChildren(...places.map(([x, y, w, h]) => el("rect", { x, y, width: w, height: h })));
  };
  const included = (s) => piece.state.recipe.choice[s.key] ?? (!s.hidden && !s.offPage);
  const map = (shapes, value) => Object.fromEntries(shapes.map((s) => [s.key, value]));
  const choose = (shapes, on, what) => piece.change(`${on ? "Take in" : "Leave out"} ${what}`, { choice: map(shapes, on) });
  const edit = (shapes, patch, label) => piece.change(label, { edits: map(shapes, patch) });
  const tree = new Tree($("parts"), {
    choose, edit, light,
    name: (group, name) => piece.change(`Name ${name}`, { groupNames: { [group.key]: name } }),
    group: async (shapes) => {
      const taken = new Set((piece.state.recipe.newGroups ?? []).map((g) => g.key));
      let n = 1;
      while (taken.has(`new${n}`)) n++;
      await piece.change(`Group ${count(shapes.length)} shapes`, { newGroup: { key: `new${n}`, name: `Group ${n}` }, edits: map(shapes, { group: `new${n}` }) });
      tree.show(shapes.map((s) => s.key));
    },
    selected: () => { for (const [k, p] of paths) p.classList.toggle("picked", tree.selected.has(k)); },
  });
  // The drawing answers to the pointer as the rows do.
  const shapeAt = (e) => e.target.closest?.(".shape")?.dataset.key;
  art.addEventListener("pointerover", (e) => { const k = shapeAt(e); if (k) light([k]); });
  art.addEventListener("pointerout", () => light([]));
  let downAt = null;
  drawing.svg.addEventListener("pointerdown", (e) => { downAt = [e.clientX, e.clientY]; });
  drawing.svg.addEventListener("click", (e) => {
    if (!downAt || Math.hypot(e.clientX - downAt[0], e.clientY - downAt[1]) > 4) return;
    const k = document.elementsFromPoint(e.clientX, e.clientY).find((x) => x.classList?.contains("shape"))?.dataset.key;
    if (!k) { tree.show([]); return; }
    const keys = new Set(e.shiftKey || e.ctrlKey || e.metaKey ? tree.selected : []);
    if (keys.has(k)) keys.delete(k); else keys.add(k);
    tree.show([...keys]);
  });
  addEventListener("keydown", (e) => {
    if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return;
    if (e.key.toLowerCase() === "f") drawing.fit();
    if (e.key === "Delete" && tree.selected.size) { const s = tree.picked(); choose(s, false, s.length === 1 ? tree.nameOf(s[0]) : `${count(s.length)} shapes`); }
    if (e.key === "Escape" && tree.selected.size) tree.show([]);
  });

  const load = async () => {
    data = await get(`${piece.base}/data/drawing`);
    const first = version === null;
    version = piece.state.artwork;
    paths.clear();
    const [px, py, pw, ph] = data.page;
    paper.replaceChildren(...(pw > 0 ? [el("rect", { class: "page", x: px, y: py, width: pw, height: ph })] : []));
    art.replaceChildren(...data.shapes.map((s) => {
      const p = el("path", { class: "shape", d: s.path, "fill-rule": s.evenOdd ? "evenodd" : "nonzero", "data-key": s.key });
      paths.set(s.key, p);
      return p;
    }));
    const [bx, by, bw, bh] = data.box, pad = Math.max(bw, bh) * 0.05;
    const frame = [bx - pad, by - pad, bw + 2 * pad, bh + 2 * pad].join();
    if (first || frame !== load.frame) drawing.frame(bx - pad, by - pad, bw + 2 * pad, bh + 2 * pad);
    load.frame = frame;
  };

  const paint = () => {
    for (const s of data.shapes) {
      const p = paths.get(s.key), on = included(s);
      p.classList.toggle("outshape", !on);
      p.setAttribute("fill", on ? tree.colorOf(s) : "none");
      p.setAttribute("fill-opacity", s.opacity);
    }
  };

  const report = () => {
    const inside = data.shapes.filter(included);
    const one = piece.state.sheets.length === 1;
    const facts = [[one ? "Format" : "Formats", data.format], ["Page", `${figure(data.page[2] * data.mmPerPx)} × ${figure(data.page[3] * data.mmPerPx)} mm`],
      ["Taken in", `${count(inside.length)} of ${count(data.shapes.length)} shapes`], ["Nodes", count(data.nodes)], ["Colours", count(new Set(inside.map((s) => tree.colorOf(s))).size)]];
    const lines = [];
    const entry = (kind, mark, title, small, keys = [], places = [], button = null) => lines.push(el("li", { class: `${kind}${keys.length || places.length ? " points" : ""}`, tabindex: keys.length || places.length ? "0" : null,
      onpointerenter: () => light(keys, places), onpointerleave: () => light([]), onfocus: () => light(keys, places), onblur: () => light([]),
      onclick: () => { if (keys.length) tree.show(keys); }, onkeydown: (e) => { if (e.key === "Enter" && keys.length && e.target === e.currentTarget) tree.show(keys); } },
      el("span", { "aria-hidden": "true" }, mark), el("div", {}, el("b", {}, title), small ? el("small", {}, small) : null, button)));
    const keysOf = (list) => list.map((s) => s.key);
    const backs = data.shapes.filter((s) => s.back && included(s));
    if (backs.length) {
      entry("changed", "!", backs.length === 1 ? "A background covers the page" : `${backs.length} backgrounds cover the page`, "As a solid it would be a plate under everything.", keysOf(backs), [],
        el("button", { class: "button is-small", type: "button", onclick: (e) => { e.stopPropagation(); choose(backs, false, "the background"); } }, "Leave it out"));
    }
    const shown = new Set(data.shapes.map((s) => s.key));
    for (const n of data.notes) entry(n.level === "left out" ? "out" : n.level === "changed" ? "changed" : "", n.level === "left out" ? "✕" : n.level === "changed" ? "!" : "i",
      `${count(n.count)} × ${n.text}`, (n.where ?? []).join(", "), (n.keys ?? []).filter((k) => shown.has(k)), n.places ?? []);
    const strokes = inside.filter((s) => s.stroke), texts = inside.filter((s) => s.text && !s.stroke);
    const hidden = data.shapes.filter((s) => s.hidden), off = data.shapes.filter((s) => s.offPage && !s.hidden);
    if (texts.length) entry("", "i", `${count(texts.length)} ${texts.length === 1 ? "text became an outline" : "texts became outlines"}`, texts.slice(0, 4).map((s) => `“${s.text}”`).join(", "), keysOf(texts));
    if (strokes.length) entry("", "i", `${count(strokes.length)} ${strokes.length === 1 ? "stroke becomes an outline" : "strokes become outlines"}`, "with width, caps, joins and dashes", keysOf(strokes));
    if (hidden.length) entry("", "i", `${count(hidden.length)} hidden ${hidden.length === 1 ? "shape starts" : "shapes start"} left out`, "tick it in the list to take it in", keysOf(hidden));
    if (off.length) entry("", "i", `${count(off.length)} ${off.length === 1 ? "shape" : "shapes"} off the page left out`, "tick it in the list to take it in", keysOf(off));
    if (!data.notes.length) entry("", "✓", "Everything in the file was understood", "");

    const small = (text, act, label) => el("button", { class: "plainbutton", type: "button", "aria-label": label, onclick: act }, text);
    const pickFile = (accept, multiple, take) => { const i = el("input", { type: "file", accept, multiple }); i.addEventListener("change", () => { if (i.files.length) take([...i.files]); }); i.click(); };
    const artwork = ".svg,.svgz,.eps,.epsf,.ps,.ai,.pdf";
    const change = async (s, body) => { try { piece.take(await post(`${piece.base}/sheets/${s.slot}/change`, body)); } catch (e) { piece.complain(e); } };
    const sheets = piece.state.sheets.map((s, i) => {
      const pages = s.pages > 1 ? el("select", { class: "pagepick", "aria-label": `Page of ${s.name}`, onchange: (e) => change(s, { page: Number(e.target.value) }) },
        ...Array.from({ length: s.pages }, (_, k) => el("option", { value: k + 1, selected: k + 1 === s.page }, `Page ${k + 1} of ${s.pages}`))) : null;
      const place = i > 0 ? el("select", { class: "pagepick", "aria-label": `Place of ${s.name}`, onchange: (e) => change(s, { beside: e.target.value === "beside" }) },
        el("option", { value: "over", selected: !s.beside }, "over the first"), el("option", { value: "beside", selected: s.beside }, "beside the others")) : null;
      return el("li", { class: "sheetline" }, el("b", { title: s.name }, s.name), pages, place, el("span", { class: "acts" },
        small("Exchange…", () => pickFile(artwork, false, ([f]) => exchange(piece, s, f)), `Exchange ${s.name} for a changed file`),
        piece.state.sheets.length > 1 ? small("Take out", () => change(s, { remove: true }), `Take ${s.name} out`) : null));
    });
    const fontLines = piece.state.fonts.map((f) => el("li", { class: "sheetline" }, el("b", { title: f.name }, f.family), el("span", { class: "acts" },
      small("Take out", async () => { try { piece.take(await post(`${piece.base}/fonts/remove`, { file: f.file })); } catch (e) { piece.complain(e); } }, `Take the font ${f.family} out`))));
    $("panel").replaceChildren(el("h2", {}, piece.state.sheets.length === 1 ? "Sheet" : "Sheets"), el("ul", { class: "sheets" }, ...sheets, ...fontLines),
      el("div", { class: "sheetacts" }, small("Add a sheet…", () => pickFile(artwork, true, (f) => add(piece, f, f.length === 1 ? `${f[0].name} was added.` : `${f.length} sheets were added.`))),
        small("Add a font…", () => pickFile(".ttf,.otf,.ttc,.woff", true, (f) => add(piece, f, "The font is used now.")))),
      el("dl", { class: "facts" }, ...facts.flatMap(([k, v]) => [el("dt", {}, k), el("dd", { title: v }, v)])),
      el("h2", {}, "Report"), el("ul", { class: "report" }, ...lines),
      ...(piece.state.problem ? [el("p", { class: "verdict bad" }, piece.state.problem)] : []));
  };
  await load();
  return {
    async state() {
      if (version !== piece.state.artwork) await load();
      tree.set(data, piece.state.recipe);
      paint();
      report();
      for (const [k, p] of paths) p.classList.toggle("picked", tree.selected.has(k));
    },
  };
}

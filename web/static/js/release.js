// Release: the checks, and the files.

import { get, getFile } from "./api.js";
import { $, complain, el, say } from "./page.js";
import { count, figure, mm } from "./length.js";

export const keys = [];

const files = [
  ["stl", "STL", "all parts in one mesh, for printing; no colours"],
  ["glb", "GLB", "a node a part with its colour, for rendering"],
  ["obj", "OBJ", "objects and face groups; comes with its MTL"],
  ["svg", "SVG", "the cleaned outlines of the parts, in mm"],
];

export async function start(piece) {
  const box = el("div", { class: "checks" });
  $("view").append(box);
  const buttons = files.map(([kind, name, what]) => el("button", { class: "download", type: "button", "data-format": kind, onclick: () => download(kind) }, el("b", {}, name), el("span", {}, what)));
  $("panel").append(el("h2", {}, "Download"), ...buttons, el("p", { class: "soft mt-3" }, "Lengths are millimetres; GLB is in metres as its standard asks. A solid that fails a check is not handed out silently."));
  const download = async (kind) => {
    buttons.forEach((b) => { b.disabled = true; });
    piece.busy("Writing the file", null);
    try {
      for (const k of kind === "obj" ? ["obj", "mtl"] : [kind]) {
        const { name, blob } = await getFile(`${piece.base}/file/${k}`);
        const a = el("a", { href: URL.createObjectURL(blob), download: name });
        document.body.append(a); a.click(); a.remove();
        setTimeout(() => URL.revokeObjectURL(a.href), 60000);
        say(`${name}, ${blob.size >= 1e6 ? `${(blob.size / 1e6).toFixed(1)} MB` : `${Math.ceil(blob.size / 1000)} kB`}, is in your downloads.`);
      }
    } catch (e) { complain(e); }
    piece.done();
    buttons.forEach((b) => { b.disabled = false; });
  };
  let round = 0;
  const check = async (s) => {
    const mine = ++round;
    const start = performance.now();
    box.replaceChildren(el("h1", {}, "Checks"), el("p", { class: "soft" }, "Going over every edge and every pair of triangles…"));
    piece.busy("Checking the solids", null);
    let list;
    try { list = (await get(`${piece.base}/data/checks`)).parts; } catch (e) {
      if (mine === round) box.replaceChildren(el("h1", {}, "Checks"), el("p", { class: "verdict bad" }, e.message));
      return;
    } finally { if (mine === round) piece.done(); }
    if (mine !== round) return;
    const bad = list.filter((p) => !p.sound), tris = list.reduce((n, p) => n + p.triangles, 0), volume = list.reduce((n, p) => n + p.volumeMm3, 0);
    const rows = list.map((p) => {
      const sw = el("span", { class: "sw" });
      sw.style.background = p.color;
      return el("tr", {}, el("td", {}, sw, p.part), el("td", {}, el("span", { class: p.sound ? "ok" : "fail" }, p.sound ? "sound" : p.problems)),
        el("td", { class: "n" }, count(p.shells)), el("td", { class: "n" }, count(p.triangles)), el("td", { class: "n" }, mm(p.depth)), el("td", { class: "n" }, `${figure(p.volumeMm3 / 1000)} cm³`), el("td", { class: "n" }, `${figure(p.areaMm2 / 100)} cm²`));
    });
    box.replaceChildren(el("h1", {}, "Checks"),
      el("p", { class: `verdict${bad.length ? " bad" : ""}` }, bad.length ? `${bad.length} of ${list.length} parts would fail: ${bad.map((p) => p.part).join(", ")}. Narrow the bevel or raise the tolerance.`
        : `${list.length === 1 ? "The part is" : `All ${list.length} parts are`} sound: closed, no edge with a third face, no triangle without area, nothing crosses. ${figure(volume / 1000)}\u00a0cm³ in all.`),
      el("table", {}, el("thead", {}, el("tr", {}, ...[["Part"], ["Surface"], ["Pieces", "n"], ["Triangles", "n"], ["Depth", "n"], ["Volume", "n"], ["Area", "n"]].map(([t, c]) => el("th", { class: c ?? null, scope: "col" }, t)))), el("tbody", {}, ...rows)));
    piece.measure({ depth: Math.max(...list.map((p) => p.depth)), triangles: tris, watertight: bad.length === 0, ms: performance.now() - start });
    document.querySelector('.rail a[data-step="release"] i').className = bad.length ? "bad" : "good";
    document.body.dataset.checked = "1";
  };
  return {
    state(s) {
      if (s.problem) { box.replaceChildren(el("h1", {}, "Checks"), el("p", { class: "verdict bad" }, s.problem)); buttons.forEach((b) => { b.disabled = true; }); return; }
      buttons.forEach((b) => { b.disabled = false; });
      check(s);
    },
  };
}

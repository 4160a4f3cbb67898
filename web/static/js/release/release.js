// Release: the checks, and the files.

import { get, getFile } from "../lib/api.js";
import { complain, el, hand, say, swatch } from "../lib/page.js";
import { select } from "../lib/field.js";
import { count, figure, mm } from "../lib/length.js";

import { printer } from "./printer.js";

export const keys = [];

const files = [
  ["stl", "STL", "all parts in one mesh, for printing; no colours"],
  ["3mf", "3MF", "parts with names and colours, for printing"],
  ["glb", "GLB", "materials, lights, camera and motion, for rendering"],
  ["usdz", "USDZ", "the same by another open standard, one file"],
  ["usda", "USDA", "the same as text"],
  ["obj", "OBJ", "objects and face groups; comes with its MTL"],
  ["ply", "PLY", "one mesh with the colours of its parts"],
  ["svg", "SVG", "the cleaned outlines of the parts, in mm"],
  ["zip", "All parts", "each as a file of its own, with a sheet of contents"],
  ["dxf", "DXF", "the same for cutters: a layer a part and depth"],
];

// together lists what comes along with a kind of file.
const together = { obj: ["obj", "mtl"] };

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const box = el("div", { class: "checks" });
  const onPrinter = printer({ piece });
  view.append(el("div", { class: "releaseview scroll" }, box, onPrinter.section));
  const heading = () => el("h1", {}, "Checks");
  const buttons = files.map(([kind, name, what]) => {
    const act = () => download(kind);
    return el(
      "button",
      { class: "download", type: "button", "data-format": kind, onclick: act },
      el("b", {}, name),
      el("span", {}, what),
    );
  });
  panel.append(
    el("h2", {}, "Download"),
    ...buttons,
    el(
      "p",
      { class: "soft mt-3" },
      "Lengths are millimetres; GLB is in metres as its standard asks. A solid that fails a check is not handed out.",
    ),
  );
  // How parts by themselves are called and written.
  const pattern = el("input", { class: "keepname", "data-scene": "pattern", value: "{piece}-{n}-{part}", maxlength: 100, "aria-label": "Names of the parts' files" });
  const kindOf = select("parts-format", "All parts as", [["stl", "STL"], ["3mf", "3MF"], ["ply", "PLY"], ["glb", "GLB"]], () => {});
  panel.append(kindOf.row, el("label", { class: "dial" }, el("span", {}, "Named"), pattern), onPrinter.fields);
  const query = (kind) => (kind === "zip" ? `?parts=${kindOf.input.value}&pattern=${encodeURIComponent(pattern.value)}` : "");
  const enable = (on) =>
    buttons.forEach((b) => {
      b.disabled = !on;
    });

  const download = async (kind) => {
    enable(false);
    try {
      for (const k of together[kind] ?? [kind]) {
        const fetch = (job) => getFile(`${piece.base}/file/${k}${query(k)}`, job);
        hand(
          await piece.run("Writing the file", fetch, { onCancel: () => say("Nothing was downloaded.") }),
        );
      }
    } catch (e) {
      complain(e);
    }
    enable(!piece.state.problem);
  };

  let round = 0;
  let abort = null;
  const check = async () => {
    const mine = ++round;
    abort?.();
    onPrinter.stop();
    const begin = performance.now();
    box.replaceChildren(
      heading(),
      el("p", { class: "soft" }, "Going over every edge and every pair of triangles…"),
    );
    const fetch = (job) => {
      abort = job.abort;
      return get(`${piece.base}/data/checks`, job);
    };
    const again = el(
      "button",
      { class: "button is-small mt-3", type: "button", onclick: check },
      "Check again",
    );
    const stopped = () =>
      box.replaceChildren(heading(), el("p", { class: "soft" }, "The check was cancelled."), again);
    try {
      const list = (await piece.run("Checking the solids", fetch, { onCancel: stopped })).parts;
      if (mine !== round) return;
      show(list, performance.now() - begin);
      onPrinter.look(); // one after the other: both look at all solids
    } catch (e) {
      if (mine !== round || e.name === "AbortError" || e.kind === "cancelled") return;
      box.replaceChildren(heading(), el("p", { class: "verdict bad" }, e.message));
    }
  };

  const show = (list, ms) => {
    const bad = list.filter((p) => !p.sound);
    box.replaceChildren(heading(), verdict(list, bad), table(list));
    const triangles = list.reduce((n, p) => n + p.triangles, 0);
    piece.measure({
      depth: Math.max(...list.map((p) => p.depth)),
      triangles,
      watertight: bad.length === 0,
      ms,
    });
    document.querySelector('.rail a[data-step="release"] i').className = bad.length ? "bad" : "good";
    document.body.dataset.checked = "1";
  };

  let shown = null;
  let laid = null;
  return {
    update(s) {
      enable(!s.problem);
      if (s.problem) {
        box.replaceChildren(heading(), el("p", { class: "verdict bad" }, s.problem));
        return;
      }
      onPrinter.update(s);
      const keys = s.parts.map((p) => `${p.name} ${p.out} ${p.key}`).join();
      const lies = `${s.size.lying ?? ""} ${JSON.stringify(s.all)}`;
      if (keys !== shown) check();
      else if (lies !== laid) onPrinter.look();
      [shown, laid] = [keys, lies];
    },
    unmount() {
      round++;
      abort?.();
      onPrinter.stop();
    },
  };
}

function verdict(list, bad) {
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
  ["Pieces", "n"],
  ["Triangles", "n"],
  ["Depth", "n"],
  ["Volume", "n"],
  ["Area", "n"],
];

function table(list) {
  const number = (text) => el("td", { class: "n" }, text);
  const row = (p) =>
    el(
      "tr",
      {},
      el("td", {}, swatch(p.color), p.part),
      el("td", {}, el("span", { class: p.sound ? "ok" : "fail" }, p.sound ? (p.open ? "open on purpose" : "sound") : p.problems)),
      number(count(p.shells)),
      number(count(p.triangles)),
      number(mm(p.depth)),
      number(`${figure(p.volumeMm3 / 1000)} cm³`),
      number(`${figure(p.areaMm2 / 100)} cm²`),
    );
  const head = columns.map(([text, kind]) => el("th", { class: kind ?? null, scope: "col" }, text));
  return el("table", {}, el("thead", {}, el("tr", {}, ...head)), el("tbody", {}, ...list.map(row)));
}

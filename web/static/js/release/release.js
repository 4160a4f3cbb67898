// Release: the checks, and the files.

import { get, getFile } from "../lib/api.js";
import { complain, el, hand, say, swatch } from "../lib/page.js";
import { count, figure, mm } from "../lib/length.js";

export const keys = [];

const files = [
  ["stl", "STL", "all parts in one mesh, for printing; no colours"],
  ["glb", "GLB", "a node a part with its colour, for rendering"],
  ["obj", "OBJ", "objects and face groups; comes with its MTL"],
  ["svg", "SVG", "the cleaned outlines of the parts, in mm"],
];

// together lists what comes along with a kind of file.
const together = { obj: ["obj", "mtl"] };

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const box = el("div", { class: "checks" });
  view.append(box);
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
  const enable = (on) =>
    buttons.forEach((b) => {
      b.disabled = !on;
    });

  const download = async (kind) => {
    enable(false);
    try {
      for (const k of together[kind] ?? [kind]) {
        const fetch = (job) => getFile(`${piece.base}/file/${k}`, job);
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
      if (mine === round) show(list, performance.now() - begin);
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
  return {
    update(s) {
      enable(!s.problem);
      if (s.problem) {
        box.replaceChildren(heading(), el("p", { class: "verdict bad" }, s.problem));
        return;
      }
      const keys = s.parts.map((p) => `${p.name} ${p.out} ${p.key}`).join();
      if (keys !== shown) check();
      shown = keys;
    },
    unmount() {
      round++;
      abort?.();
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

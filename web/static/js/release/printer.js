// What is to be known before the piece is printed: how it lies on the bed, what hangs over,
// what begins in the air, what it weighs.

import { post } from "../lib/api.js";
import { lengthField, select } from "../lib/field.js";
import { count, figure } from "../lib/length.js";
import { known } from "../lib/known.js";
import { complain, el, swatch } from "../lib/page.js";

const kinds = { "too large": "too large", loose: "may let go", overhang: "hangs over", island: "begins in the air" };
const lyings = [
  ["", "on its back, face up"],
  ["down", "face down"],
  ["upright", "upright"],
];

// printer makes the section and its fields. act is {piece}; the setup is remembered on this
// machine.
export function printer({ piece }) {
  const words = known.print;
  const setup = recall(words.usual);
  const beds = Object.entries(words.beds).map(([k, b]) => [k, `${b.join(" × ")} mm`]);
  const bed = select("bed", "Bed", beds, (v) => set({ bed: words.beds[v], bedName: v }));
  const names = words.names.map((m) => [m, m]);
  const material = select("material", "Material", names, (v) => set({ material: v, density: words.materials[v] }));
  const lying = select("lying", "Lies", lyings, (v) => piece.change("Lying", { kind: "size", lying: v }));
  const field = (name, label, o) =>
    lengthField({ name: `print.${name}`, label, value: setup[name], slider: false, ...o, done: (v) => set({ [name]: v }) });
  const layer = field("layer", "Layers of", { figure: "layer", arrow: 0.04 });
  const first = field("first", "First layer", { figure: "layer", arrow: 0.04 });
  const price = field("price", "Price of a kg", { figure: "price", unit: "", arrow: 1 });
  const fields = el("div", {}, el("h2", {}, "Print"), bed.row, material.row, lying.row, layer.row, first.row, price.row);
  const section = el("section", { class: "printing" });
  bed.set(setup.bedName ?? "180");
  material.set(setup.material ?? "PLA");

  const layers = layerView(piece, setup);
  let round = 0;
  let abort = null;
  const set = (patch) => {
    Object.assign(setup, patch);
    try {
      localStorage.setItem("bildhauer:printer", JSON.stringify(setup));
    } catch {
      // private mode
    }
    look();
  };
  const look = async () => {
    const mine = ++round;
    abort?.();
    delete document.body.dataset.printed;
    const ask = (job) => {
      abort = job.abort;
      return post(`${piece.base}/data/print`, setup, job);
    };
    try {
      const r = await piece.run("Cutting it into layers", ask);
      if (mine === round) show(r);
    } catch (e) {
      if (mine !== round || e.name === "AbortError" || e.kind === "cancelled") return;
      section.replaceChildren(el("h1", {}, "On the printer"), el("p", { class: "verdict bad" }, e.message));
      if (!e.status) complain(e);
      document.body.dataset.printed = "failed";
    }
  };
  const show = (r) => {
    const fact = (name, text) => [el("dt", {}, name), el("dd", {}, text)];
    const facts = el(
      "dl",
      { class: "facts" },
      ...fact("Lies on", `${figure(r.size[0])} × ${figure(r.size[1])} mm, ${figure(r.size[2])} mm high`),
      ...fact("Layers", count(r.layers)),
      ...fact("Mass, all filled", `${figure(r.mass)} g`),
      ...fact("Filament", `${figure(r.length)} m`),
      ...fact("Costs", figure(r.cost)),
      ...fact("On the bed", `${figure(r.contact / 100)} cm²`),
      ...fact("Hangs over", `${figure(r.overhang / 100)} cm²`),
    );
    const list = el(
      "ul",
      { class: "troubles" },
      ...r.findings.map((f) => el("li", { "data-trouble": f.kind }, el("b", {}, kinds[f.kind]), ` ${f.text} `, el("span", { class: "soft" }, f.way))),
    );
    const good = el("p", { class: "verdict" }, "Nothing that would trouble a printer was found.");
    section.replaceChildren(el("h1", {}, "On the printer"), r.findings.length ? list : good, facts, ...inks(r.changes), layers.element);
    layers.show(r);
    document.body.dataset.printed = String(r.findings.length);
  };
  return {
    fields,
    section,
    look,
    update: (state) => lying.set(state.size.lying ?? ""),
    stop: () => {
      round++;
      abort?.();
      delete document.body.dataset.printed;
      delete document.body.dataset.layer;
    },
  };
}

// inks lists when the filament is changed, if it is.
function inks(changes) {
  if (changes.length < 2) return [];
  const row = (c, i) =>
    el(
      "li",
      { "data-ink": c.layer },
      swatch(c.color),
      el("b", {}, c.name),
      i ? ` from layer ${c.layer} on, ${figure(c.z)} mm up` : " to begin with",
      c.off ? el("span", { class: "soft" }, ` (its own height is missed by ${figure(c.off)} mm: layers do not end there)`) : null,
    );
  return [el("h2", {}, "Colours by height"), el("ol", { class: "inks" }, ...changes.map(row))];
}

// layerView shows one layer on the bed; a slider goes through all of them.
function layerView(piece, setup) {
  const drawing = el("svg", { class: "layerview", role: "img", "aria-label": "One layer on the bed" });
  const slider = el("input", { type: "range", min: 1, step: 1, "data-scene": "layer", "aria-label": "Layer" });
  const text = el("output", {});
  const element = el("div", { class: "layers" }, el("h2", {}, "Layers"), el("div", { class: "layerline" }, slider, text), drawing);
  let wanted = null;
  let busy = false;
  const draw = async () => {
    wanted = Number(slider.value);
    if (busy) return;
    busy = true;
    while (wanted !== null) {
      const n = wanted;
      wanted = null;
      try {
        const l = await post(`${piece.base}/data/layer`, { ...setup, n: n - 1 });
        const [w, h] = setup.bed;
        drawing.setAttribute("viewBox", `${-w / 2} ${-h / 2} ${w} ${h}`);
        drawing.replaceChildren(
          el("rect", { class: "bed", x: -w / 2, y: -h / 2, width: w, height: h }),
          el("path", { class: "section", d: l.path, "fill-rule": "evenodd" }),
        );
        text.textContent = `${n} of ${l.layers}, ${figure(l.z)} mm up, ${figure(l.area / 100)} cm²`;
        document.body.dataset.layer = String(n);
      } catch (e) {
        complain(e);
      }
    }
    busy = false;
  };
  slider.addEventListener("input", draw);
  return {
    element,
    show(r) {
      slider.max = r.layers;
      if (!slider.dataset.moved || Number(slider.value) > r.layers) slider.value = Math.ceil(r.layers / 2);
      slider.dataset.moved = "1";
      draw();
    },
  };
}

function recall(usual) {
  try {
    return { ...usual, ...JSON.parse(localStorage.getItem("bildhauer:printer") ?? "{}") };
  } catch {
    return { ...usual };
  }
}

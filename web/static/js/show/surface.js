// What parts are made of: ready and own materials, and their figures.

import { field, listOf, usual } from "../lib/field.js";
import { el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { dots } from "../stand/painter.js";

const noMaterial = { rough: usual("rough") };

// The figures of a material, as documents and the table call them.
const figures = ["rough", "metal", "coat", "coatRough", "glow", "clear", "index", "deep", "grain", "brushTurn"];

const samplePx = 66; // of the side of a material's picture, twice what the page shows

// pictureOf is the address of a material's small picture.
const pictureOf = (m) => `/material?px=${dots(samplePx)}&m=${encodeURIComponent(JSON.stringify({ ...m, name: "" }))}`;

// surface makes the panel. act is {piece, materials, scene(patch, label), paint(faces, material,
// label)}.
export function surface(act) {
  const { piece, materials } = act;
  const scene = () => piece.state.scene;
  const faces = listOf("faces", "faces", () => show());
  // now returns what the first of the parts is made of: the last paint that fits.
  const now = () => {
    const id = piece.pickedSome() ? piece.picked()[0]?.id : "";
    const fits = (p) => (!p.part || p.part === id) && (!p.faces || p.faces === faces.input.value);
    return (scene().paints ?? []).filter(fits).at(-1)?.material ?? null;
  };
  const put = (patch, label) => act.paint(faces.input.value, { ...(now() ?? noMaterial), name: "", ...patch }, label);
  const chip = (m, own) => {
    const image = el("img", { "data-src": pictureOf(m), alt: "", width: 44, height: 44 });
    const press = () => act.paint(faces.input.value, m, m.name);
    const b = el("button", { type: "button", "data-material": m.name, onclick: press }, image, el("span", {}, m.name));
    if (!own) return b;
    const drop = () => act.scene({ own: (scene().own ?? []).filter((o) => o.name !== m.name) }, `Delete ${m.name}`);
    const text = `Delete ${m.name}`;
    const cross = el("button", { type: "button", class: "dropkept", title: text, "aria-label": text, onclick: drop }, "✕");
    return el("span", { class: "ownmaterial" }, b, cross);
  };
  const ready = el("div", { class: "materials", role: "group", "aria-label": "Ready materials" });
  ready.append(...materials.map((m) => chip(m, false)));
  const own = el("div", { class: "materials", role: "group", "aria-label": "Own materials" });
  let ownKey = "";

  const color = el("input", { type: "color", "data-scene": "color", "aria-label": "Colour" });
  color.addEventListener("change", () => put({ color: color.value, drawn: false }, "Colour"));
  const button = (name, text, title, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text);
  const artwork = button("artwork-colour", "as drawn", "The colour of the artwork", () => put({ color: "" }, "Colour"));
  const bare = button("bare", "none", "No material of its own", () => act.paint(faces.input.value, null, "Material"));
  const check = (name, text, label) => {
    const input = el("input", { type: "checkbox", "data-scene": name });
    input.addEventListener("change", () => put({ [name]: input.checked }, label));
    return { input, row: el("label", { class: "checkline" }, input, ` ${text}`) };
  };
  const drawn = check("drawn", "fronts in the gradients of the artwork", "Gradients");
  const brushed = check("brushed", "brushed", "Brushed");
  const thin = check("thin", "thin walls: light goes straight on", "Thin walls");
  const fields = figures.map((of) => {
    const made = field({ of, value: 0, done: (v) => put({ [of]: v }, made.label) });
    return [of, made];
  });
  const row = (key) => fields.find(([k]) => k === key)[1].row;
  const name = el("input", {
    class: "keepname",
    "data-scene": "material-name",
    placeholder: "name",
    maxlength: 60,
    "aria-label": "Name of the material",
  });
  const keep = () => {
    const m = now();
    const text = name.value.trim();
    if (!m) return say("Give these faces a material first.", { bad: true });
    if (!text) return name.focus();
    const rest = (scene().own ?? []).filter((o) => o.name !== text);
    name.value = "";
    act.scene({ own: [...rest, { ...m, name: text }] }, `Save ${text}`);
  };
  draft(name, "the name of a material");
  name.addEventListener("keydown", (e) => e.key === "Enter" && keep());
  const keeping = el("div", { class: "keepline" }, name, button("keep-material", "Save this material", "By a name, for other parts", keep));

  const show = () => {
    const m = now() ?? noMaterial;
    for (const [key, f] of fields) f.set(m[key] ?? (key === "rough" ? 0 : usual(key)));
    color.value = m.color || piece.picked()[0]?.color || "#808080";
    drawn.input.checked = !!m.drawn;
    brushed.input.checked = !!m.brushed;
    thin.input.checked = !!m.thin;
    thin.row.hidden = !m.clear;
    row("brushTurn").hidden = !m.brushed;
    row("index").hidden = !m.clear;
    row("deep").hidden = !m.clear || m.thin;
    brushed.row.hidden = !m.grain;
    const key = JSON.stringify(scene().own ?? []);
    if (key !== ownKey) own.replaceChildren(...(scene().own ?? []).map((o) => chip(o, true)));
    ownKey = key;
    own.hidden = !(scene().own ?? []).length;
    for (const b of [...ready.children, ...own.querySelectorAll("[data-material]")])
      b.setAttribute("aria-pressed", String(b.dataset.material === m.name));
  };
  // pictures loads the small pictures, when there is nothing more urgent to make.
  const pictures = () => {
    for (const i of element.querySelectorAll("img[data-src]")) {
      i.src = i.dataset.src;
      delete i.dataset.src;
    }
  };
  const colours = el("div", { class: "dial" }, el("span", {}, "Colour"), color, artwork, bare);
  const who = el("p", { class: "soft" }, "For the parts that are selected, or all.");
  const element = el(
    "div",
    {},
    who,
    faces.row,
    ready,
    own,
    colours,
    ...["rough", "metal", "coat", "coatRough", "glow", "clear", "index", "deep"].map(row),
    thin.row,
    row("grain"),
    brushed.row,
    row("brushTurn"),
    drawn.row,
    keeping,
  );
  return { element, show, pictures };
}

// What parts are made of: ready and own materials, and their figures.

import { field, listOf, usual } from "../lib/field.js";
import { el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";
import { dots } from "../stand/painter.js";

const noMaterial = { rough: usual("rough") };

// The figures of a material, as documents and the table call them.
const figures = ["rough", "metal", "coat", "coatRough", "glow", "clear", "index", "deep", "grain", "brushTurn"];

const samplePx = 66; // of the side of a material's picture, twice what the page shows

// pictureOf is the address of a material's small picture.
const pictureOf = (m) => `/material?px=${dots(samplePx)}&m=${encodeURIComponent(JSON.stringify({ ...m, name: "" }))}`;

// surface makes the panel. act is {piece, materials, scene(patch, label), paint(faces, material,
// label)}.
export const surface = (act) => new Surface(act);

const button = (name, text, title, onclick) =>
  el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text);

class Surface {
  constructor(act) {
    this.act = act;
    this.piece = act.piece;
    this.faces = listOf("faces", "faces", () => this.show());
    this.ready = el("div", { class: "materials", role: "group", "aria-label": "Ready materials" });
    this.ready.append(...act.materials.map((m) => this.chip(m)));
    this.own = el("div", { class: "materials", role: "group", "aria-label": "Own materials" });
    this.ownKey = "";
    this.fields = figures.map((of) => {
      const made = field({ of, value: 0, done: (v) => this.put({ [of]: v }, made.label) });
      return { of, made };
    });
    this.element = this.make();
  }

  get scene() {
    return this.piece.state.scene;
  }

  // now returns what the first of the parts is made of: the last paint that fits.
  now() {
    const id = this.piece.pickedSome() ? this.piece.picked()[0]?.id : "";
    const fits = (p) => (!p.part || p.part === id) && (!p.faces || p.faces === this.faces.input.value);
    return (this.scene.paints ?? []).filter(fits).at(-1)?.material ?? null;
  }

  paint(material, label) {
    return this.act.paint(this.faces.input.value, material, label);
  }

  put(patch, label) {
    return this.paint({ ...(this.now() ?? noMaterial), name: "", ...patch }, label);
  }

  chip(m) {
    const image = el("img", { "data-src": pictureOf(m), alt: "", width: 44, height: 44 });
    const press = () => this.paint(m, m.name);
    return el("button", { type: "button", "data-material": m.name, onclick: press }, image, el("span", {}, m.name));
  }

  ownChip(m) {
    const text = `Delete ${m.name}`;
    const drop = () => this.act.scene({ own: (this.scene.own ?? []).filter((o) => o.name !== m.name) }, text);
    const cross = { type: "button", class: "dropkept", title: text, "aria-label": text, onclick: drop };
    return el("span", { class: "ownmaterial" }, this.chip(m), el("button", cross, "✕"));
  }

  row(of) {
    return this.fields.find((f) => f.of === of).made.row;
  }

  check(name, text, label) {
    const input = el("input", { type: "checkbox", "data-scene": name });
    input.addEventListener("change", () => this.put({ [name]: input.checked }, label));
    return { input, row: el("label", { class: "checkline" }, input, ` ${text}`) };
  }

  make() {
    this.color = el("input", { type: "color", "data-scene": "color", "aria-label": "Colour" });
    this.color.addEventListener("change", () => this.put({ color: this.color.value, drawn: false }, "Colour"));
    const artwork = button("artwork-colour", "as drawn", "The colour of the artwork", () => this.put({ color: "" }, "Colour"));
    const bare = button("bare", "none", "No material of its own", () => this.paint(null, "Material"));
    this.drawn = this.check("drawn", "fronts in the gradients of the artwork", "Gradients");
    this.brushed = this.check("brushed", "brushed", "Brushed");
    this.thin = this.check("thin", "thin walls: light goes straight on", "Thin walls");
    return el(
      "div",
      {},
      el("p", { class: "soft" }, "For the parts that are selected, or all."),
      this.faces.row,
      this.ready,
      this.own,
      el("div", { class: "dial" }, el("span", {}, "Colour"), this.color, artwork, bare),
      ...["rough", "metal", "coat", "coatRough", "glow", "clear", "index", "deep"].map((of) => this.row(of)),
      this.thin.row,
      this.row("grain"),
      this.brushed.row,
      this.row("brushTurn"),
      this.drawn.row,
      this.saving(),
    );
  }

  saving() {
    const attrs = { class: "keepname", "data-scene": "material-name", placeholder: "name", maxlength: longestName };
    this.name = el("input", { ...attrs, "aria-label": "Name of the material" });
    draft(this.name, "the name of a material");
    this.name.addEventListener("keydown", (e) => e.key === "Enter" && this.save());
    const save = button("keep-material", "Save this material", "By a name, for other parts", () => this.save());
    return el("div", { class: "keepline" }, this.name, save);
  }

  save() {
    const m = this.now();
    const text = this.name.value.trim();
    if (!m) return say("Give these faces a material first.", { bad: true });
    if (!text) return this.name.focus();
    const rest = (this.scene.own ?? []).filter((o) => o.name !== text);
    this.name.value = "";
    return this.act.scene({ own: [...rest, { ...m, name: text }] }, `Save ${text}`);
  }

  show() {
    const m = this.now() ?? noMaterial;
    for (const { of, made } of this.fields) made.set(m[of] ?? (of === "rough" ? 0 : usual(of)));
    this.color.value = m.color || this.piece.picked()[0]?.color || "#808080";
    for (const name of ["drawn", "brushed", "thin"]) this[name].input.checked = !!m[name];
    this.thin.row.hidden = !m.clear;
    this.row("brushTurn").hidden = !m.brushed;
    this.row("index").hidden = !m.clear;
    this.row("deep").hidden = !m.clear || m.thin;
    this.brushed.row.hidden = !m.grain;
    const own = this.scene.own ?? [];
    const key = JSON.stringify(own);
    if (key !== this.ownKey) this.own.replaceChildren(...own.map((o) => this.ownChip(o)));
    this.ownKey = key;
    this.own.hidden = !own.length;
    for (const b of [...this.ready.children, ...this.own.querySelectorAll("[data-material]")])
      b.setAttribute("aria-pressed", String(b.dataset.material === m.name));
  }

  // pictures loads the small pictures, when there is nothing more urgent to make.
  pictures() {
    for (const i of this.element.querySelectorAll("img[data-src]")) {
      i.src = i.dataset.src;
      delete i.dataset.src;
    }
  }
}

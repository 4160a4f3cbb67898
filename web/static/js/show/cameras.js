// The camera: its frame, lens and place, and those that are kept by their names.

import { withKey } from "../lib/acts.js";
import { field, select, usual } from "../lib/field.js";
import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";

const aspects = ["16:9", "1:1", "4:5", "9:16", "3:2"];
const own = "own …";

// The figures of a camera: path in it, figure of the table.
const figures = [
  ["focal", "camera.focal"],
  ["turn", "camera.turn"],
  ["height", "camera.height"],
  ["distance", "camera.distance"],
  ["margin", "camera.margin"],
  ["shift.0", "camera.shift.x"],
  ["shift.1", "camera.shift.y"],
  ["level", "camera.level"],
  ["blur", "camera.blur"],
];

// unmoved reports whether nobody has said from where a camera looks (core/recipe, scene.go).
export const unmoved = (c) => !c.turn && !c.height && !c.distance && !(c.shift?.[0] || c.shift?.[1]);

// placed returns a camera with what stands in for figures that nobody has given.
export const placed = (c) => ({ ...c, ...(unmoved(c) ? { turn: usual("camera.turn"), height: usual("camera.height") } : {}), name: "" });

// ratioOf returns width to height of an aspect.
export function ratioOf(aspect) {
  const [w, h] = (aspect || "16:9").split(":").map(Number);
  return w > 0 && h > 0 ? w / h : 16 / 9;
}

// cameras makes the panel. act is {piece, scene(patch, label), fit(), margins(on)}.
export const cameras = (act) => new Cameras(act);

const button = (name, text, title, onclick) =>
  el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text);

class Cameras {
  constructor(act) {
    this.act = act;
    this.text = el("input", {
      class: "keepname",
      "data-scene": "own-aspect",
      placeholder: "2.39:1",
      "aria-label": "Width to height",
      hidden: true,
    });
    this.text.addEventListener("change", () => this.put({ aspect: this.text.value.trim() }, "Frame"));
    this.aspect = select("aspect", "Frame", [...aspects, own].map((a) => [a, a]), (v) => {
      this.text.hidden = v !== own;
      if (v === own) this.text.focus();
      else this.put({ aspect: v }, "Frame");
    });
    this.look = select("look", "Looks at", [["", "the middle"]], (v) => this.put({ look: v }, "Looks at"));
    this.fields = figures.map(([key, of]) => {
      const made = field({ of, name: key, value: usual(of), done: (v) => this.figure(key, v, made.label) });
      return { key, own: usual(of), made };
    });
    this.kept = el("ul", { class: "lamplist", "aria-label": "Saved cameras" });
    this.element = this.make();
  }

  get scene() {
    return this.act.piece.state.scene;
  }

  get now() {
    return this.scene.camera ?? {};
  }

  put(patch, label) {
    return this.act.scene({ camera: { ...placed(this.now), ...patch } }, label);
  }

  figure(key, v, label) {
    if (!key.startsWith("shift")) return this.put({ [key]: v }, label);
    const shift = [...(this.now.shift ?? [0, 0])];
    shift[Number(key.at(-1))] = v;
    return this.put({ shift }, label);
  }

  make() {
    const fit = button("fit-camera", "Fit to the piece", withKey("As near as the margin lets it", "show.fit"), () => this.act.fit());
    const margins = el("input", { type: "checkbox", "data-scene": "margins" });
    margins.addEventListener("change", () => this.act.margins(margins.checked));
    const attrs = { class: "keepname", "data-scene": "camera-name", placeholder: "name", maxlength: longestName };
    this.name = el("input", { ...attrs, "aria-label": "Name of the camera" });
    draft(this.name, "the name of a camera");
    this.name.addEventListener("keydown", (e) => e.key === "Enter" && this.save());
    return el(
      "div",
      {},
      el("p", { class: "soft" }, "Drag in the picture to turn, with Shift to shift it; the wheel zooms."),
      this.aspect.row,
      this.text,
      this.look.row,
      ...this.fields.map((f) => f.made.row),
      fit,
      el("label", { class: "checkline" }, margins, " show the safe margins"),
      el("h2", {}, "Saved cameras"),
      this.kept,
      el("div", { class: "keepline" }, this.name, button("keep-camera", "Save this camera", "By a name", () => this.save())),
    );
  }

  save() {
    const name = this.name.value.trim();
    if (!name) return this.name.focus();
    this.name.value = "";
    const rest = (this.scene.cameras ?? []).filter((c) => c.name !== name);
    return this.act.scene({ cameras: [...rest, { ...placed(this.now), name }] }, `Save the camera ${name}`);
  }

  row(k) {
    const go = () => this.act.scene({ camera: { ...k, name: "" } }, `Camera ${k.name}`);
    const others = () => this.scene.cameras.filter((o) => o.name !== k.name);
    const drop = () => this.act.scene({ cameras: others() }, `Delete the camera ${k.name}`);
    const named = { title: `Delete ${k.name}`, "aria-label": `Delete ${k.name}` };
    return el(
      "li",
      {},
      el("button", { type: "button", "data-camera": k.name, onclick: go }, k.name, el("i", {}, `${k.focal || usual("camera.focal")} mm`)),
      el("button", { type: "button", class: "dropkept", ...named, onclick: drop }, "✕"),
    );
  }

  show() {
    const c = this.now;
    const a = c.aspect || aspects[0];
    const ready = aspects.includes(a);
    this.aspect.set(ready ? a : own);
    this.text.hidden = ready && document.activeElement !== this.text;
    if (!ready) this.text.value = a;
    const parts = this.act.piece.state.parts.filter((o) => !o.out && o.host === o.id);
    this.look.fill([["", "the middle"], ...parts.map((o) => [o.id, o.name])]);
    this.look.set(parts.some((o) => o.id === c.look) ? c.look : "");
    const p = placed(c);
    for (const { key, own: usually, made } of this.fields) {
      const v = key.startsWith("shift") ? (p.shift?.[Number(key.at(-1))] ?? 0) : p[key];
      made.set(["focal", "margin"].includes(key) ? v || usually : (v ?? 0));
    }
    this.kept.replaceChildren(...(this.scene.cameras ?? []).map((k) => this.row(k)));
  }
}

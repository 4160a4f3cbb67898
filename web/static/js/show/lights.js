// Lamps, surroundings and backdrop.

import { withKey } from "../lib/acts.js";
import { uploadTo } from "../lib/api.js";
import { field, firstOf, listOf, optionsOf, usual } from "../lib/field.js";
import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";

const title = (text) => text.charAt(0).toUpperCase() + text.slice(1);
// The figures of a lamp: path in it, figure of the table, kinds that have it.
const figures = [
  ["strength", "lamp.strength", "panel spot sun"],
  ["kelvin", "lamp.kelvin", "panel spot sun"],
  ["size.0", "lamp.width", "panel"],
  ["size.1", "lamp.height", "panel"],
  ["size.0", "lamp.diameter", "spot"],
  ["angle", "lamp.cone", "spot"],
  ["angle", "lamp.disc", "sun"],
  ["at.0", "lamp.x", "panel spot sun"],
  ["at.1", "lamp.y", "panel spot sun"],
  ["at.2", "lamp.z", "panel spot sun"],
  ["aim.0", "lamp.aim.x", "panel spot sun"],
  ["aim.1", "lamp.aim.y", "panel spot sun"],
  ["aim.2", "lamp.aim.z", "panel spot sun"],
];
// What a new lamp is like.
const freshAngle = { spot: usual("lamp.cone"), sun: usual("lamp.disc") };

const read = (lamp, path) => path.split(".").reduce((o, k) => o?.[k], lamp) ?? 0;

export function write(lamp, path, v) {
  const out = { ...lamp, at: [...lamp.at], aim: [...(lamp.aim ?? [0, 0, 0])], size: [...(lamp.size ?? [0, 0])] };
  const [key, n] = path.split(".");
  if (n === undefined) out[key] = v;
  else out[key][Number(n)] = v;
  return out;
}

// lights makes the panel. act is {piece, scene(patch, label), look() -> what the
// server told of the scene, chosen: {lamp}, picked(name)}.
export function lights(act) {
  const lamps = new Lamps(act);
  const around = new Around(act);
  const back = behind(act, () => act.piece.state.scene);
  const exposure = field({ of: "exposure", value: 0, done: (v) => act.scene({ exposure: v }, "Exposure") });
  const contrast = listOf("contrast", "contrast", (v) => act.scene({ contrast: v }, "Contrast"));
  const part = (heading, ...rows) => el("section", { class: "showgroup" }, el("h2", {}, heading), ...rows);
  const element = el(
    "div",
    {},
    part("Lamps", ...lamps.rows),
    part("Surroundings", ...around.rows),
    part("Backdrop", ...back.rows),
    part("Exposure", exposure.row, contrast.row),
  );
  const show = () => {
    const { scene } = act.piece.state;
    lamps.show();
    around.show();
    exposure.set(scene.exposure ?? 0);
    contrast.set(scene.contrast || firstOf("contrast"));
    back.show();
  };
  return { element, show, lamps: () => lamps.all, current: () => lamps.current, put: (list, label) => lamps.put(list, label) };
}

const button = (name, text, title, onclick) =>
  el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text);

// Lamps is the list of lamps, and the one that is chosen.
class Lamps {
  constructor(act) {
    this.act = act;
    this.setting = listOf("setting", "setting", (v) => act.scene({ setting: v, lamps: [] }, "Lamps"));
    this.list = el("ul", { class: "lamplist", "aria-label": "Lamps" });
    const kinds = optionsOf("lamp").map(([k]) => button(`add-${k}`, `+ ${k}`, `Add a ${k}`, () => this.add(k)));
    this.one = this.makeOne();
    this.rows = [this.setting.row, this.list, el("div", { class: "lampacts" }, ...kinds), this.one];
  }

  get scene() {
    return this.act.piece.state.scene;
  }

  // all are those of the scene, or of its setting.
  get all() {
    return this.scene.lamps?.length ? this.scene.lamps : (this.act.look()?.lamps ?? []);
  }

  get current() {
    return this.all.find((l) => l.name === this.act.chosen.lamp) ?? null;
  }

  // known reports whether the lamps are those of the state: those of a setting are told by
  // the server a moment later.
  get known() {
    return this.scene.lamps?.length > 0 || !!this.act.look();
  }

  put(list, label) {
    return this.known && this.act.scene({ lamps: list }, label);
  }

  change(l, label) {
    const { lamp } = this.act.chosen;
    return this.put(this.all.map((o) => (o.name === lamp ? l : o)), `${label} of ${lamp}`);
  }

  makeOne() {
    this.name = el("input", { class: "keepname", "data-scene": "lamp-name", maxlength: longestName, "aria-label": "Name of the lamp" });
    this.name.addEventListener("change", () => this.rename());
    draft(this.name, "the name of the lamp", { keeps: true });
    this.color = el("input", { type: "color", "data-scene": "lamp-color", "aria-label": "Colour of the lamp" });
    this.color.addEventListener("change", () => this.change({ ...this.current, color: this.color.value }, "Colour"));
    this.fields = figures.map(([path, of, kinds]) => {
      const done = (v) => this.change(write(this.current, path, v), made.label);
      const made = field({ of, name: `lamp.${path}`, value: 0, done });
      return { path, kinds, made };
    });
    const twin = button("copy-lamp", "Copy", "A second one like this", () => this.copy());
    const drop = button("drop-lamp", "Delete", withKey("Delete this lamp", "show.delete"), () => this.act.dropLamp());
    const white = button("lamp-white", "by warmth", "Colour by its temperature alone", () =>
      this.change({ ...this.current, color: "" }, "Colour"),
    );
    return el(
      "div",
      { class: "onelamp" },
      el("div", { class: "keepline" }, this.name, twin, drop),
      el("div", { class: "dial" }, el("span", {}, "Colour"), this.color, white),
      ...this.fields.map((f) => f.made.row),
    );
  }

  fresh(kind) {
    const r = this.act.look()?.reach ?? 100;
    const base = title(kind);
    let name = base;
    for (let i = 2; this.all.some((l) => l.name === name); i++) name = `${base} ${i}`;
    const round = (v) => Math.round(v);
    const size = kind === "panel" ? [round(r), round(r)] : kind === "spot" ? [round(r / 10), 0] : [0, 0];
    const at = [round(-1.2 * r), round(1.6 * r), round(2 * r)];
    return { kind, name, at, aim: [0, 0, 0], size, angle: freshAngle[kind] ?? 0, strength: -1 };
  }

  add(kind) {
    if (!this.known) return undefined;
    const l = this.fresh(kind);
    this.act.picked(l.name);
    return this.put([...this.all, l], `Add ${l.name}`);
  }

  copy() {
    const l = this.current;
    if (!l) return;
    const { name } = this.fresh(l.kind);
    this.put([...this.all, { ...l, name, at: [-l.at[0], l.at[1], l.at[2]] }], `Copy ${l.name}`);
    this.act.picked(name);
  }

  rename() {
    const text = this.name.value.trim();
    const { lamp } = this.act.chosen;
    if (!text || this.all.some((l) => l.name === text)) {
      this.name.value = lamp ?? "";
      return;
    }
    const all = this.all.map((o) => (o.name === lamp ? { ...o, name: text } : o));
    this.act.picked(text);
    this.put(all, `Name of ${text}`);
  }

  row(l) {
    const on = el("input", { type: "checkbox", "aria-label": `${l.name} is on` });
    on.checked = !l.off;
    on.addEventListener("change", () => {
      this.act.picked(l.name);
      this.change({ ...l, off: !on.checked }, on.checked ? "Lamp on" : "Lamp off");
    });
    const pressed = String(l.name === this.act.chosen.lamp);
    const pick = { type: "button", "data-lamp": l.name, "aria-pressed": pressed, onclick: () => this.act.picked(l.name) };
    return el("li", {}, on, el("button", pick, l.name, el("i", {}, l.kind)));
  }

  show() {
    this.setting.set(this.scene.setting || firstOf("setting"));
    if (!this.known) return;
    const { all } = this;
    if (!all.some((l) => l.name === this.act.chosen.lamp)) this.act.chosen.lamp = all[0]?.name ?? null;
    this.list.replaceChildren(...all.map((l) => this.row(l)));
    const l = this.current;
    this.one.hidden = !l;
    if (!l) return;
    if (document.activeElement !== this.name) this.name.value = l.name;
    this.color.value = l.color || "#ffffff";
    for (const { path, kinds, made } of this.fields) {
      made.row.hidden = !kinds.split(" ").includes(l.kind);
      made.set(read(l, path));
    }
  }
}

const own = "own …";

// Around is what lights from all around.
class Around {
  constructor(act) {
    this.act = act;
    const file = el("input", { type: "file", accept: ".hdr,.pic", hidden: true, "data-scene": "hdr", "aria-label": "HDR panorama" });
    file.addEventListener("change", () => {
      const [f] = file.files;
      if (f) act.surround(f);
      file.value = "";
    });
    this.sky = listOf("surroundings", "surroundings", (v) => {
      if (v !== own) return act.scene({ surroundings: { ...this.now, name: v, file: "" } }, "Surroundings");
      this.sky.set(this.now.name || firstOf("surroundings"));
      return file.click();
    });
    this.figures = ["turn", "strength"].map((key) => {
      const done = (v) => act.scene({ surroundings: { ...this.now, [key]: v } }, `${made.label} of the surroundings`);
      const made = field({ of: `sky.${key}`, value: 0, done });
      return { key, made };
    });
    this.rows = [this.sky.row, file, ...this.figures.map((f) => f.made.row)];
  }

  get now() {
    return this.act.piece.state.scene.surroundings ?? {};
  }

  show() {
    const { now } = this;
    const mine = now.file ? [[now.name, now.name]] : [];
    this.sky.fill([...optionsOf("surroundings"), ...mine, [own, "Own HDR panorama …"]]);
    this.sky.set(now.name || firstOf("surroundings"));
    for (const { key, made } of this.figures) made.set(now[key] ?? 0);
  }
}

// upload sends a panorama.
export const upload = (piece, file, job) => uploadTo(`${piece.base}/surroundings?base=${piece.state.rev}`, [file], null, job);

function behind(act, scene) {
  const now = () => scene().backdrop ?? {};
  const kind = listOf("backdrop", "backdrop", (v) => act.scene({ backdrop: { ...now(), kind: v } }, "Backdrop"));
  const picker = (key, label) => {
    const input = el("input", { type: "color", "data-scene": `backdrop-${key}`, "aria-label": label });
    input.addEventListener("change", () => act.scene({ backdrop: { ...now(), [key]: input.value } }, label));
    return { input, row: el("label", { class: "dial" }, el("span", {}, label), input) };
  };
  const color = picker("color", "Colour");
  const below = picker("below", "Colour below");
  const shadow = el("input", { type: "checkbox", "data-scene": "shadow" });
  shadow.addEventListener("change", () => act.scene({ backdrop: { ...now(), shadow: shadow.checked } }, "Shadow"));
  const falls = el("label", { class: "checkline" }, shadow, " with the shadow");
  const show = () => {
    const k = now().kind || firstOf("backdrop");
    kind.set(k);
    color.input.value = now().color || "#d8cdbf";
    below.input.value = now().below || "#6f6a63";
    shadow.checked = !!now().shadow;
    color.row.hidden = k === "clear" || k === "surroundings";
    below.row.hidden = k !== "gradient";
    falls.hidden = k !== "clear";
  };
  return { rows: [kind.row, color.row, below.row, falls], show };
}

// Fields of figures, which take units and sums, with a slider beside them; and rows to choose from. What they are
// called and what they may be is said in made/terms.js.

import { choices, figures } from "../made/terms.js";
import { optionsOf } from "./terms.js";
import { el } from "./el.js";
import { exact, read } from "./length.js";
import { during, gesture } from "./keys.js";

export { firstOf, labelOf, optionsOf, usual } from "./terms.js";

let serial = 0;

/** @typedef {import("../made/terms.js").Figure} Figure */

// unitOf is the unit that a figure is shown in.
const unitOf = (f) => f.shown ?? f.unit ?? "";

// written writes a value of a figure as it is typed: "12 mm", "20 %", "-24°", "f/8".
export function written(f, v) {
  const unit = unitOf(f);
  const number = exact(v * (f.scale ?? 1));
  if (unit.endsWith("/")) return `${unit}${number}`;
  return unit === "°" ? `${number}°` : `${number} ${unit}`.trim();
}

// shownAs writes a value to be looked at: null, where several differ, and 0 where that has a word of its own.
const shownAs = (f, v) => (v === null ? "mixed" : v === 0 && f.zero ? f.zero : written(f, v));

// readAs reads what was typed; {value, why}.
function readAs(f, text) {
  if (f.zero && text.trim().toLowerCase() === f.zero) return { value: 0, why: "" };
  const { value, why } = read(text, unitOf(f));
  return { value: value / (f.scale ?? 1), why };
}

// settled returns what a value becomes, and why it can't be taken.
function settled(f, { value, why }) {
  if (!Number.isFinite(value)) return { value, why: why || "Write it like 8, 2cm, 3/8 in or 12+0.4" };
  const v = f.whole ? Math.round(value) : value;
  if (v < f.min || v > f.max) return { value: v, why: `Between ${written(f, f.min)} and ${written(f, f.max)}` };
  return { value: v, why: "" };
}

// reachOf returns the ends of a slider for a piece whose larger side is so long, or null where there is none.
function reachOf(f, side = 0) {
  const high = Math.max(f.high ?? 0, (f.reach ?? 0) * side);
  const low = f.reach && (f.low ?? 0) < 0 ? -high : (f.low ?? 0);
  return high > low ? [low, high] : null;
}

// Trouble says below a field what is wrong with it, so that it is read out with the field.
export function trouble(input) {
  const text = el("div", { class: "field-error", id: `e${++serial}`, role: "alert", hidden: true });
  const say = (why) => {
    text.textContent = why;
    text.hidden = !why;
    input.classList.toggle("wrong", !!why);
    if (why) {
      input.setAttribute("aria-invalid", "true");
      input.setAttribute("aria-describedby", text.id);
    } else {
      input.removeAttribute("aria-invalid");
      input.removeAttribute("aria-describedby");
    }
  };
  return { text, say };
}

// field makes a row. Options: of (the figure), name (of the field, that of the figure unless given), label (in
// place of the figure's), value (null where several differ), start (of the slider then), side (the piece's larger
// one, mm), slider (false for none), high (its end), live(v) while it moves, done(v) when it is settled.
export function field(o) {
  const f = o.high === undefined ? figures[o.of] : { ...figures[o.of], high: o.high };
  return new Field(f, { label: f.label, name: f.name, live: () => {}, ...o }).parts();
}

class Field {
  constructor(f, o) {
    this.f = f;
    this.o = o;
    this.value = o.value;
    const id = `f${++serial}`;
    this.num = el("input", {
      class: "num",
      id,
      type: "text",
      inputmode: "decimal",
      autocomplete: "off",
      value: shownAs(f, o.value),
      "data-field": o.name,
    });
    this.error = trouble(this.num);
    this.slider = o.slider === false ? null : this.makeSlider();
    const kind = `field-row${this.slider ? "" : " noslider"}`;
    this.row = el("div", { class: kind, title: f.help }, el("label", { for: id }, o.label), this.slider, this.num, this.error.text);
    this.listen();
  }

  parts() {
    return { row: this.row, num: this.num, label: this.o.label, set: (v) => this.set(v) };
  }

  makeSlider() {
    const reach = reachOf(this.f, this.o.side);
    if (!reach) return null;
    const { o, f } = this;
    return el("input", {
      type: "range",
      min: reach[0],
      max: reach[1],
      step: f.whole ? 1 : f.reach ? "any" : f.step / 5,
      value: o.value ?? o.start ?? reach[0],
      "aria-label": `${o.label}, slider`,
      tabindex: "-1",
      "data-slider": o.name,
    });
  }

  listen() {
    const { num, slider } = this;
    num.addEventListener("focus", () => num.select());
    num.addEventListener("input", () => (num.dataset.dirty = "1"));
    num.addEventListener("change", () => this.enter());
    num.addEventListener("wheel", () => document.activeElement === num && num.blur(), { passive: true });
    num.addEventListener("keydown", (e) => this.press(e));
    slider?.addEventListener("input", () => this.slide());
    const slid = () => this.settle({ value: this.slid(), why: "" });
    slider?.addEventListener("keydown", (e) => e.key.startsWith("Arrow") && gesture(e, slider, slid));
    slider?.addEventListener("change", () => during(slider) || slid());
  }

  set(v) {
    this.value = v;
    if (document.activeElement !== this.num || !this.num.dataset.dirty) this.num.value = shownAs(this.f, v);
    if (!this.slider || v === null) return;
    if (v > Number(this.slider.max)) this.slider.max = v;
    this.slider.value = v;
  }

  enter() {
    delete this.num.dataset.dirty;
    this.settle(readAs(this.f, this.num.value));
  }

  settle(got) {
    const { value, why } = settled(this.f, got);
    this.error.say(why);
    if (why) return;
    const changed = value !== this.value;
    this.set(value);
    if (changed) this.o.done(value);
  }

  press(e) {
    const { num } = this;
    if (e.key === "Enter") {
      this.enter();
      num.select();
    } else if (e.key === "Escape") {
      delete num.dataset.dirty;
      this.error.say("");
      num.value = shownAs(this.f, this.value);
      num.blur();
      e.stopPropagation();
    } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
      this.step(e);
    }
  }

  // step shows what an arrow key leads to; it is settled when the key is let go.
  step(e) {
    e.preventDefault();
    const { f, num } = this;
    const { value } = readAs(f, num.value);
    const from = Number.isFinite(value) ? value : (this.value ?? 0);
    const by = f.step * (e.shiftKey ? 10 : e.altKey && !f.whole ? 0.1 : 1);
    const to = Math.max(f.min, Math.min(f.max, Number((from + (e.key === "ArrowUp" ? by : -by)).toFixed(4))));
    num.dataset.dirty = "1";
    num.value = written(f, to);
    if (this.slider) this.slider.value = to;
    this.error.say("");
    this.o.live(to);
    gesture(e, num, () => this.enter());
  }

  slid() {
    const v = Number(this.slider.value);
    return this.f.whole ? Math.round(v) : Number(v.toFixed(3));
  }

  slide() {
    this.num.value = shownAs(this.f, this.slid());
    this.error.say("");
    this.o.live(this.slid());
  }
}

// oneOf makes a row of buttons from a choice of the table.
export const oneOf = (of, value, done, label = choices[of].label) => ({ label, ...choice(label, optionsOf(of), value, done) });

// listOf makes a row with a list from a choice of the table.
export const listOf = (name, of, done, label = choices[of].label) => select(name, label, optionsOf(of), done);

// select makes a row with a list to choose from: options are [value, text].
export function select(name, label, options, done) {
  const input = el("select", { "data-scene": name, "aria-label": label });
  const fill = (list) => input.replaceChildren(...list.map(([value, text, title]) => el("option", { value, title }, text)));
  fill(options);
  input.addEventListener("change", () => done(input.value));
  const set = (v) => (input.value = v);
  return { row: el("label", { class: "dial" }, el("span", {}, label), input), set, fill, input };
}

// choice makes a row of buttons of which one is pressed: options are [value, text, help, icon].
export function choice(label, options, value, done) {
  const buttons = options.map(([key, text, title, icon]) => {
    const press = () => {
      mark(key);
      done(key);
    };
    const pressed = String(key === value);
    return el("button", { type: "button", "aria-pressed": pressed, "data-choice": key, title, onclick: press }, icon ?? null, text);
  });
  const mark = (key) =>
    buttons.forEach((b, i) => b.setAttribute("aria-pressed", String(options[i][0] === key)));
  const group = el("div", { class: "choices", role: "group", "aria-label": label }, ...buttons);
  return { row: el("div", { class: "choice-row" }, el("span", {}, label), group), set: mark };
}

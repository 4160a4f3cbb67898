// Number fields that take units and sums, with a slider beside them.

import { el } from "./page.js";
import { limit } from "./known.js";
import { exact, read as readText } from "./length.js";
import { during, gesture } from "./keys.js";

let serial = 0;

// lengthField makes a row. Options: name, label, value (null for mixed), figure
// (whose limits hold; the name unless given), min and max of the slider (or
// slider: false), step, arrow (what a key adds), plain (a whole number without unit), unit
// (instead of mm) and scale (by which it is shown larger, as 100 for %), live(v) while
// dragging, done(v) when settled.
export function lengthField(o) {
  const id = `f${++serial}`;
  const hard = limit(o.figure ?? o.name);
  const scale = o.scale ?? 1;
  const unit = o.unit ?? "mm";
  const figure = (v) => (o.plain ? exact(v) : `${exact(v * scale)}${unit === "°" ? "" : " "}${unit}`.trim());
  const show = (v) => (v === null ? "mixed" : (o.words?.(v) ?? figure(v)));
  const num = el("input", {
    class: "num",
    id,
    type: "text",
    inputmode: "decimal",
    autocomplete: "off",
    value: show(o.value),
    "data-field": o.name,
  });
  const error = el("div", { class: "field-error", hidden: true });
  const slider =
    o.slider === false
      ? null
      : el("input", {
          type: "range",
          min: o.min,
          max: o.max,
          step: o.step ?? "any",
          value: o.value ?? o.start ?? o.min,
          "aria-label": `${o.label}, slider`,
          tabindex: "-1",
          "data-slider": o.name,
        });
  const row = el(
    "div",
    { class: `field-row${slider ? "" : " noslider"}` },
    el("label", { for: id }, o.label),
    slider,
    num,
    error,
  );
  let value = o.value;

  const fail = (text) => {
    error.textContent = text;
    error.hidden = !text;
    num.classList.toggle("wrong", !!text);
  };
  const set = (v) => {
    value = v;
    if (document.activeElement !== num || !num.dataset.dirty) num.value = show(v);
    if (!slider || v === null) return;
    if (v > Number(slider.max)) slider.max = v;
    slider.value = v;
  };
  const settle = (v) => {
    if (o.plain) v = Math.round(v);
    if (!Number.isFinite(v)) return fail(typed().why || "Write it like 8, 2cm, 3/8 in or 12+0.4");
    if (v < hard[0] || v > hard[1])
      return fail(`Between ${figure(hard[0])} and ${figure(hard[1])}`);
    fail("");
    const changed = v !== value;
    set(v);
    if (changed) o.done(v);
  };
  const typed = () => readText(num.value, o.plain ? "" : unit);
  const read = () => typed().value / scale;
  const enter = () => {
    delete num.dataset.dirty;
    settle(read());
  };
  // stepBy shows what an arrow key leads to; it is settled when the key is let go.
  const stepBy = (e) => {
    e.preventDefault();
    const from = Number.isFinite(read()) ? read() : (value ?? 0);
    const one = o.plain ? 1 : (o.arrow ?? 0.5) / scale;
    const by = one * (e.shiftKey ? 10 : e.altKey && !o.plain ? 0.1 : 1);
    const to = Math.max(hard[0], Math.min(hard[1], Number((from + (e.key === "ArrowUp" ? by : -by)).toFixed(4))));
    num.dataset.dirty = "1";
    num.value = figure(to);
    if (slider) slider.value = to;
    fail("");
    o.live?.(o.plain ? Math.round(to) : to);
    gesture(e, num, enter);
  };

  num.addEventListener("focus", () => num.select());
  num.addEventListener("input", () => {
    num.dataset.dirty = "1";
  });
  num.addEventListener("change", enter);
  num.addEventListener("wheel", () => document.activeElement === num && num.blur(), { passive: true });
  num.addEventListener("keydown", (e) => {
    if (e.key === "Enter") {
      enter();
      num.select();
    } else if (e.key === "Escape") {
      delete num.dataset.dirty;
      fail("");
      num.value = show(value);
      num.blur();
      e.stopPropagation();
    } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
      stepBy(e);
    }
  });
  slider?.addEventListener("input", () => {
    const v = Number(slider.value);
    num.value = show(v);
    fail("");
    o.live?.(o.plain ? Math.round(v) : Number(v.toFixed(3)));
  });
  const slid = () => settle(Number(Number(slider.value).toFixed(3)));
  slider?.addEventListener("keydown", (e) => e.key.startsWith("Arrow") && gesture(e, slider, slid));
  slider?.addEventListener("change", () => during(slider) || slid());
  return { row, set, num };
}

// select makes a row with a list to choose from: options are [value, text].
export function select(name, label, options, done) {
  const input = el("select", { "data-scene": name, "aria-label": label });
  const fill = (list) => input.replaceChildren(...list.map(([value, text]) => el("option", { value }, text)));
  fill(options);
  input.addEventListener("change", () => done(input.value));
  const set = (v) => (input.value = v);
  return { row: el("label", { class: "dial" }, el("span", {}, label), input), set, fill, input };
}

// choice makes a row of buttons of which one is pressed.
export function choice(label, options, value, done) {
  const buttons = options.map(([key, text, icon]) => {
    const press = () => {
      mark(key);
      done(key);
    };
    const pressed = String(key === value);
    return el(
      "button",
      { type: "button", "aria-pressed": pressed, "data-choice": key, onclick: press },
      icon ?? null,
      text,
    );
  });
  const mark = (key) =>
    buttons.forEach((b, i) => b.setAttribute("aria-pressed", String(options[i][0] === key)));
  const group = el("div", { class: "choices", role: "group", "aria-label": label }, ...buttons);
  return { row: el("div", { class: "choice-row" }, el("span", {}, label), group), set: mark };
}

// Number fields that take units and sums, with a slider beside them.

import { el } from "./page.js";
import { figure, mm, parseLength } from "./length.js";

let serial = 0;

// lengthField makes a row. Options: label, value, min, max (of the slider, or
// slider: false), step, hard (the widest range allowed), plain (a number without unit), live(v)
// while dragging, done(v) when settled.
export function lengthField(o) {
  const id = `f${++serial}`;
  const hard = o.hard ?? [0, 100000];
  const show = (v) => (v === null ? "mixed" : o.plain ? figure(v) : mm(v));
  const num = el("input", { class: "num", id, type: "text", inputmode: "decimal", autocomplete: "off", value: show(o.value), "data-field": o.name });
  const error = el("div", { class: "field-error", hidden: true });
  let value = o.value;
  const slider = o.slider === false ? null : el("input", { type: "range", min: o.min, max: o.max, step: o.step ?? "any", value: o.value ?? o.start ?? o.min, "aria-label": `${o.label}, slider`, tabindex: "-1", "data-slider": o.name });
  const row = el("div", { class: `field-row${slider ? "" : " noslider"}` }, el("label", { for: id }, o.label), slider, num, error);
  const settle = (v) => {
    if (o.plain) v = Math.round(v);
    if (!Number.isFinite(v)) return fail("Write it like 8, 2cm, 3/8 in or 12+0.4");
    if (v < hard[0] || v > hard[1]) return fail(`Between ${show(hard[0])} and ${show(hard[1])}`);
    fail("");
    const changed = v !== value;
    set(v);
    if (changed) o.done(v);
  };
  const fail = (text) => { error.textContent = text; error.hidden = !text; num.classList.toggle("wrong", !!text); };
  const set = (v) => {
    value = v;
    if (document.activeElement !== num || !num.dataset.dirty) num.value = show(v);
    if (slider && v !== null) { if (v > Number(slider.max)) slider.max = v; slider.value = v; }
  };
  const read = () => (o.plain ? Number(num.value) : parseLength(num.value));
  num.addEventListener("focus", () => num.select());
  num.addEventListener("input", () => { num.dataset.dirty = "1"; });
  num.addEventListener("change", () => { delete num.dataset.dirty; settle(read()); });
  num.addEventListener("wheel", (e) => { if (document.activeElement === num) num.blur(); }, { passive: true });
  num.addEventListener("keydown", (e) => {
    if (e.key === "Enter") { delete num.dataset.dirty; settle(read()); num.select(); }
    if (e.key === "Escape") { delete num.dataset.dirty; fail(""); num.value = show(value); num.blur(); e.stopPropagation(); }
    if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
    e.preventDefault();
    const from = Number.isFinite(read()) ? read() : value ?? 0;
    const by = (o.plain ? 1 : o.arrow ?? 0.5) * (e.shiftKey ? 10 : e.altKey && !o.plain ? 0.1 : 1);
    delete num.dataset.dirty;
    settle(Math.max(hard[0], Math.min(hard[1], Number((from + (e.key === "ArrowUp" ? by : -by)).toFixed(4)))));
  });
  if (slider) {
    slider.addEventListener("input", () => { const v = Number(slider.value); num.value = show(v); fail(""); o.live?.(o.plain ? Math.round(v) : Number(v.toFixed(3))); });
    slider.addEventListener("change", () => settle(Number(Number(slider.value).toFixed(3))));
  }
  return { row, set, num, get value() { return value; } };
}

// choice makes a row of buttons of which one is pressed.
export function choice(label, options, value, done) {
  const buttons = options.map(([key, text, icon]) =>
    el("button", { type: "button", "aria-pressed": String(key === value), "data-choice": key, onclick: () => { mark(key); done(key); } }, icon ?? null, text));
  const mark = (key) => buttons.forEach((b, i) => b.setAttribute("aria-pressed", String(options[i][0] === key)));
  return { row: el("div", { class: "choice-row" }, el("span", {}, label), el("div", { class: "choices", role: "group", "aria-label": label }, ...buttons)), set: mark };
}

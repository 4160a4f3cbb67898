// What was done, in order: each can be switched off, changed, moved or taken
// away; and from which measures on something is a finding.

import { el } from "../lib/page.js";
import { field } from "../lib/field.js";
import { exact, read } from "../lib/length.js";

export function done(desk) {
  const { mends } = desk.data;
  if (!mends.length) return [];
  const trouble = mends.filter((m) => m.refused).length;
  const title = trouble ? `Done so far (${mends.length}, ${trouble} without effect)` : `Done so far (${mends.length})`;
  const rows = runs(mends).map((run) => (run.length > 1 ? batch(desk, run) : row(desk, run[0].m, run[0].i)));
  return [el("h2", {}, title), el("ol", { class: "mends" }, ...rows)];
}

// runs returns mends that were taken at once together: lists of {m, i}, i being the place in all.
function runs(mends) {
  const out = [];
  mends.forEach((m, i) => {
    const last = out.at(-1);
    if (m.batch && last?.[0].m.batch === m.batch) last.push({ m, i });
    else out.push([{ m, i }]);
  });
  return out;
}

// batch is what was taken at once, as one entry that opens.
function batch(desk, run) {
  const ids = run.map(({ m }) => m.id);
  const name = `${run.length} proposals taken at once`;
  const lost = run.filter(({ m }) => m.refused).length;
  const on = el("input", { type: "checkbox", "aria-label": `${name}: in force` });
  const off = run.filter(({ m }) => m.off).length;
  on.checked = off < run.length;
  on.indeterminate = off > 0 && off < run.length;
  on.addEventListener("change", () =>
    desk.piece.change(
      `${on.checked ? "Switch on" : "Switch off"}: ${name}`,
      ...ids.map((id) => ({ kind: "mend", id, off: !on.checked })),
    ),
  );
  const away = () => desk.piece.change(`Delete: ${name}`, { kind: "dropMends", ids });
  const details = el("details", {}, el("summary", {}, lost ? `${name}, ${lost} without effect` : name));
  details.addEventListener("toggle", () => {
    if (details.open && details.childElementCount < 2)
      details.append(el("ol", { class: "mends" }, ...run.map(({ m, i }) => row(desk, m, i))));
  });
  return el(
    "li",
    { class: off === run.length ? "off" : "", "data-batch": run[0].m.batch },
    on,
    details,
    el("span", { class: "acts" }, el("button", { class: "plainbutton", type: "button", title: "Delete all of these", "aria-label": `Delete ${name}`, onclick: away }, "✕")),
  );
}

function row(desk, m, i) {
  const change = (label, patch) => desk.piece.change(label, { kind: "mend", id: m.id, ...patch });
  const on = el("input", { type: "checkbox", checked: !m.off, "aria-label": `${m.name} is in force` });
  on.addEventListener("change", () =>
    change(`${on.checked ? "Switch on" : "Switch off"}: ${m.name}`, { off: !on.checked }),
  );
  const button = (text, title, act, off = false) =>
    el("button", { class: "plainbutton", type: "button", title, "aria-label": title, disabled: off, onclick: act }, text);
  const last = desk.data.mends.length - 1;
  const kids = [
    on,
    el("span", { class: "nm", title: m.name }, m.name || m.do),
    el(
      "span",
      { class: "acts" },
      button("↑", "Earlier", () => change(`Earlier: ${m.name}`, { to: i - 1 }), i === 0),
      button("↓", "Later", () => change(`Later: ${m.name}`, { to: i + 1 }), i === last),
      button("✕", "Delete", () => desk.piece.change(`Delete: ${m.name}`, { kind: "dropMends", ids: [m.id] })),
    ),
  ];
  if (m.mm?.length) kids.push(figures(m, change));
  if (m.refused) kids.push(el("p", { class: "limited" }, m.refused));
  return el("li", { class: m.off ? "off" : "", "data-mend": m.do }, ...kids);
}

// figures are the lengths of a mend, to be changed where they stand.
function figures(m, change) {
  const text = m.mm.map((v) => `${exact(v)} mm`).join("; ");
  const input = el("input", { class: "num", type: "text", value: text, "aria-label": `Figures of ${m.name}` });
  const settle = () => {
    if (input.value === text) return;
    const list = input.value.split(";").map((t) => read(t));
    const why = list.find((r) => r.why)?.why ?? "";
    input.classList.toggle("wrong", !!why);
    input.setCustomValidity(why);
    if (why) input.reportValidity();
    else change(`Change: ${m.name}`, { mm: list.map((r) => r.value) });
  };
  input.addEventListener("change", settle);
  input.addEventListener("keydown", (e) => {
    if (e.key === "Escape") {
      input.value = text;
      input.blur();
    }
  });
  return input;
}

export function measures(desk) {
  const rows = Object.entries(desk.data.limits).map(([name, value]) => {
    const done = (v) => desk.piece.change(`Findings: ${made.label.toLowerCase()}`, { kind: "mendLimits", limits: { [name]: v } });
    const made = field({ of: `mend.${name}`, name: `limit-${name}`, value, done });
    return made.row;
  });
  return el("details", { class: "limits" }, el("summary", {}, "What counts as a finding"), ...rows);
}

// The list of parts on the left, each with its silhouette.

import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { figure } from "../lib/length.js";
import { longestName } from "../lib/terms.js";

// All stands for all parts where one is selected.
export const All = "*";

function silhouette(path, color, state, ground) {
  const side = Math.max(state.width, state.height) * 1.08;
  const line = { stroke: "#2b221d", "stroke-width": side / 90, "stroke-opacity": ".35" };
  const box = `${-side / 2} ${-side / 2} ${side} ${side}`;
  const picture = el(
    "svg",
    { class: "sil", viewBox: box, "aria-hidden": "true" },
    el("path", { d: path, fill: color, ...line }),
  );
  picture.style.background = ground;
  return picture;
}

// Of more rows than these only those in sight are made, and some beside them.
const allMade = 60;
const beside = 8;

// drawParts fills box. act: {selected: ids, select(id, how), toggle(part), rename(part,
// name)}.
export function drawParts(box, state, act) {
  const top = box.scrollTop;
  const focus = document.activeElement?.closest?.("[data-part]")?.dataset.part;
  const rows = []; // makes each row
  if (state.parts.length > 1) {
    const taken = `${state.parts.filter((p) => !p.out).length} of ${state.parts.length}`;
    const all = silhouette(state.parts.map((p) => p.path).join(""), "#cbb9a6", state, "#ffffff");
    rows.push([All, () => row({ id: All, name: "All parts" }, taken, all, state, act)]);
  }
  for (const p of state.parts)
    rows.push([p.id, () => row(p, under(p, state), silhouette(p.path, p.color, state, p.ground), state, act)]);
  if (rows.length > allMade) windowed(box, rows, act.selected[0], top);
  else {
    box.onscroll = null;
    box.replaceChildren(...rows.map(([, make]) => make()));
    box.scrollTop = top;
  }
  if (focus) box.querySelector(`[data-part="${CSS.escape(focus)}"] .partpick`)?.focus();
}

// windowed fills box with the rows that are in sight, as it is scrolled. The one that was selected last
// comes into sight.
function windowed(box, rows, selected, top) {
  const above = el("div");
  const below = el("div");
  const first = rows[0][1]();
  const second = rows[1][1]();
  box.replaceChildren(above, first, second, below);
  const high = second.getBoundingClientRect().top - first.getBoundingClientRect().top;
  const made = new Map();
  let range = "";
  const show = () => {
    const from = Math.max(0, Math.floor(box.scrollTop / high) - beside);
    const to = Math.min(rows.length, Math.ceil((box.scrollTop + box.clientHeight) / high) + beside);
    if (range === `${from} ${to}`) return;
    range = `${from} ${to}`;
    const seen = rows.slice(from, to);
    for (const id of made.keys()) if (!seen.some(([own]) => own === id)) made.delete(id);
    for (const [id, make] of seen) if (!made.has(id)) made.set(id, make());
    above.style.height = `${from * high}px`;
    below.style.height = `${(rows.length - to) * high}px`;
    for (const e of [...box.children]) if (e !== above && e !== below && !made.has(e.dataset.part)) e.remove();
    let last = above;
    for (const [id] of seen) {
      const e = made.get(id);
      if (last.nextElementSibling !== e) last.after(e);
      last = e;
    }
  };
  above.style.height = below.style.height = "0";
  below.style.height = `${(rows.length - 2) * high}px`;
  first.remove();
  second.remove();
  box.onscroll = show;
  const at = rows.findIndex(([id]) => id === selected) * high;
  const came = box.dataset.selected !== selected && (at < top || at + high > top + box.clientHeight);
  box.dataset.selected = selected;
  box.scrollTop = came ? at - box.clientHeight / 2 : top;
  show();
}

// under says what a part is to the others, and its depth.
function under(p, state) {
  const depth = `${figure(p.depth)} mm`;
  const on = state.parts.find((q) => q.id === p.role.on)?.name;
  if (p.role.kind === "recess") return p.role.through ? `hole in ${on}` : `${depth} into ${on}`;
  if (p.role.kind === "raised") return `${depth} up from ${on}`;
  if (p.role.kind === "resting") return `${depth} on ${on}`;
  if (p.role.kind === "tube") return "tube";
  if (p.level) return `level ${p.level}, ${figure(p.depth)} mm`;
  return p.role.kind === "backing" ? `${depth}, backing` : `${depth} deep`;
}

const how = (e) => (e.shiftKey ? "to" : e.ctrlKey || e.metaKey ? "add" : "only");

function row(part, under, picture, state, act) {
  const on = act.selected.includes(part.id) || (state.parts.length === 1 && part.id !== All);
  const name = (e) => part.id !== All && rename(e.currentTarget.closest(".part"), part, act);
  const walk = (e) => {
    if (e.key === "F2") name(e);
    if (e.key !== "ArrowDown" && e.key !== "ArrowUp") return;
    e.preventDefault();
    const here = e.currentTarget.closest(".part");
    (e.key === "ArrowDown" ? here.nextElementSibling : here.previousElementSibling)?.querySelector(".partpick")?.focus();
  };
  // A click on the button is one on its row, with the keys that are held.
  return el(
    "div",
    {
      class: `part${on ? " on" : ""}${part.out ? " out" : ""}`,
      "data-part": part.id,
      onclick: (e) => act.select(part.id, how(e)),
      ondblclick: name,
    },
    el(
      "button",
      { class: "partpick", type: "button", "aria-pressed": String(on), onkeydown: walk },
      picture,
      el("span", { class: "who" }, el("b", { title: part.name }, ownName(part)), el("span", {}, under)),
    ),
    part.id === All ? null : eye(part, act),
  );
}

// ownName is a name without the level that it is told apart by.
const ownName = (part) => (part.level ? part.name.replace(/, (level \d+|outlines)( \d+)?$/, "") : part.name);

// rename puts a field in the place of a part's name.
function rename(line, part, act) {
  const label = line.querySelector("b");
  if (!label) return;
  const field = el("input", { class: "num renaming", value: ownName(part), maxlength: longestName, "aria-label": "Name of the part" });
  let over = false;
  const end = (keep) => {
    if (over) return;
    over = true;
    field.replaceWith(label);
    if (keep && field.value.trim() !== ownName(part)) act.rename(part, field.value.trim());
  };
  field.addEventListener("blur", () => end(true));
  field.addEventListener("click", (e) => e.stopPropagation());
  field.addEventListener("keydown", (e) => {
    e.stopPropagation();
    if (e.key === "Enter") end(true);
    if (e.key === "Escape") end(false);
  });
  draft(field, "the name of the part", { keeps: true });
  label.replaceWith(field);
  field.select();
}

function eye(part, act) {
  const toggle = (e) => {
    e.stopPropagation();
    return act.toggle(part);
  };
  const title = part.out ? `Include ${part.name}` : `Exclude ${part.name}`;
  const label = `${part.name} is part of the piece`;
  return el("button", { class: "eye", type: "button", "aria-pressed": String(!part.out), title, "aria-label": label, onclick: toggle }, "✓");
}

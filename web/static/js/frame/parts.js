// The list of parts on the left, each with its silhouette.

import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { figure } from "../lib/length.js";

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

// mostListed is how many rows somebody may scroll through; more make the page slow.
const mostListed = 1000;

// drawParts fills box. act: {selected: ids, select(id, how), toggle(part), rename(part,
// name)}.
export function drawParts(box, state, act) {
  const top = box.scrollTop;
  const focus = document.activeElement?.closest?.("[data-part]")?.dataset.part;
  const rows = [];
  if (state.parts.length > 1) {
    const taken = `${state.parts.filter((p) => !p.out).length} of ${state.parts.length}`;
    const all = silhouette(state.parts.map((p) => p.path).join(""), "#cbb9a6", state, "#ffffff");
    rows.push(row({ id: All, name: "All parts" }, taken, all, state, act));
  }
  for (const p of state.parts.slice(0, mostListed)) {
    rows.push(row(p, under(p, state), silhouette(p.path, p.color, state, p.ground), state, act));
  }
  const more = state.parts.length - mostListed;
  if (more > 0) {
    const text = `and ${more.toLocaleString("en")} more. Choose them in the view, or make fewer parts above.`;
    rows.push(el("p", { class: "hint" }, text));
  }
  box.replaceChildren(...rows);
  box.scrollTop = top;
  if (focus) box.querySelector(`[data-part="${CSS.escape(focus)}"]`)?.focus();
}

// under says what a part is to the others, and its depth.
function under(p, state) {
  const depth = `${figure(p.depth)} mm`;
  const on = state.parts.find((q) => q.id === p.role.on)?.name;
  if (p.role.kind === "recess") return p.role.through ? `hole in ${on}` : `${depth} into ${on}`;
  if (p.role.kind === "raised") return `${depth} up from ${on}`;
  if (p.role.kind === "resting") return `${depth} on ${on}`;
  if (p.role.kind === "tube") return "tube";
  if (p.level) return `level ${p.level}, ${depth}`;
  return p.role.kind === "backing" ? `${depth}, backing` : `${depth} deep`;
}

const pressing = (act) => (e) => {
  if (e.key !== "Enter" && e.key !== " ") return;
  e.preventDefault();
  e.stopPropagation();
  act();
};

function row(part, under, picture, state, act) {
  const on = act.selected.includes(part.id) || (state.parts.length === 1 && part.id !== All);
  const walk = (e) => {
    if (e.key === "F2") name(e);
    if (e.key !== "ArrowDown" && e.key !== "ArrowUp") return;
    e.preventDefault();
    const here = e.currentTarget;
    (e.key === "ArrowDown" ? here.nextElementSibling : here.previousElementSibling)?.focus();
  };
  const how = (e) => (e.shiftKey ? "to" : e.ctrlKey || e.metaKey ? "add" : "only");
  const name = (e) => part.id !== All && rename(e.currentTarget, part, act);
  const press = (e) => pressing(() => act.select(part.id, how(e)))(e);
  return el(
    "div",
    {
      class: `part${on ? " on" : ""}${part.out ? " out" : ""}`,
      "data-part": part.id,
      role: "button",
      tabindex: "0",
      "aria-pressed": String(on),
      onclick: (e) => act.select(part.id, how(e)),
      ondblclick: name,
      onkeydown: (e) => {
        press(e);
        walk(e);
      },
    },
    picture,
    el("div", { class: "who" }, el("b", { title: part.name }, ownName(part)), el("span", {}, under)),
    part.id === All ? null : eye(part, act),
  );
}

// ownName is a name without the level that it is told apart by.
const ownName = (part) => (part.level ? part.name.replace(/, (level \d+|outlines)( \d+)?$/, "") : part.name);

// rename puts a field in the place of a part's name.
function rename(line, part, act) {
  const label = line.querySelector("b");
  if (!label) return;
  const field = el("input", { class: "num renaming", value: ownName(part), maxlength: 120, "aria-label": "Name of the part" });
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
  return el(
    "span",
    {
      class: "eye",
      role: "button",
      tabindex: "0",
      "aria-pressed": String(!part.out),
      title: part.out ? `Take ${part.name} in` : `Leave ${part.name} out`,
      "aria-label": `${part.name} is part of the piece`,
      onclick: (e) => {
        e.stopPropagation();
        act.toggle(part);
      },
      onkeydown: pressing(() => act.toggle(part)),
    },
    "✓",
  );
}

// The frame of a piece: its state, undo, the list of parts, the measure strip.
// The step's own module draws the view and the panel.

import { get, post } from "./api.js";
import { onPaste, receive } from "./exchange.js";
import { $, complain, el, keysDialog, onDrop, say, typing } from "./page.js";
import { count, figure } from "./length.js";

const work = $("work");
export const id = work.dataset.piece;
const stepName = work.dataset.step;
const base = `/pieces/${id}`;

export const piece = {
  state: null,
  selected: "*", // a part's id, or * for all
  base,
  step: null,
  listeners: [],
  async change(label, patch) {
    saving(1);
    try { take(await post(`${base}/change`, { label, ...patch })); } catch (e) { complain(e); saved("not kept"); await reload(); } finally { saving(-1); }
  },
  select(part) { this.selected = part; drawParts(); this.step?.selected?.(); remember(); },
  measure, busy, done, take, complain,
};

let waiting = 0;
function saving(by) {
  waiting += by;
  if (waiting > 0) { $("saved").textContent = "keeping"; $("saved").className = "saved busy"; } else if ($("saved").className === "saved busy") saved("kept");
}
function saved(text) { $("saved").textContent = text; $("saved").className = `saved${text === "kept" ? "" : " bad"}`; }

function take(state) {
  piece.state = state;
  if (piece.selected !== "*" && !state.parts.some((p) => p.id === piece.selected)) piece.selected = "*";
  if (document.activeElement !== $("piecename")) $("piecename").value = state.name;
  for (const [b, label, what] of [["undo", state.undo, "Undo"], ["redo", state.redo, "Redo"]]) {
    $(b).disabled = !label;
    $(b).title = label ? `${what}: ${label} (Ctrl+${b === "undo" ? "Z" : "Shift+Z"})` : `Nothing to ${b}`;
  }
  drawParts();
  railState();
  const d = Math.max(0, ...state.parts.filter((p) => !p.recipe.out).map((p) => p.recipe.depth));
  if (stepName !== "raise" || !state.parts.length) sizes(d, true);
  $("m-parts").textContent = state.parts.length ? state.parts.filter((p) => !p.recipe.out).length : "0";
  piece.step?.state(state);
}

// sizes shows the measures; before the solids are there, the depth is only the
// most that it can be.
const sizes = (depth, most) => {
  const s = piece.state;
  $("m-size").textContent = s.parts.length ? `${figure(s.width)} × ${figure(s.height)} × ${most ? "≤ " : ""}${figure(depth)} mm` : "–";
};

function railState() {
  const mark = (step, kind, title) => { const i = document.querySelector(`.rail a[data-step="${step}"] i`); i.className = kind; i.title = title; };
  const s = piece.state;
  mark("intake", s.problem ? "bad" : Object.keys(s.recipe.choice).length + Object.keys(s.recipe.edits ?? {}).length ? "good" : "", s.problem ?? "");
  mark("size", s.problem ? "" : "good", "");
  mark("raise", s.problem ? "" : Object.keys(s.recipe.parts).length ? "good" : "", "");
}

async function reload() { try { take(await get(`${base}/data/state`)); } catch (e) { complain(e); } }

async function move(what) {
  if ($(what).disabled) return;
  const label = what === "undo" ? piece.state.undo : piece.state.redo;
  saving(1);
  try { take(await post(`${base}/${what}`)); say(`${what === "undo" ? "Taken back" : "Done again"}: ${label}`, { stay: 2500 }); } catch (e) { complain(e); } finally { saving(-1); }
}

// The measure strip.
function measure({ depth, triangles, watertight, ms }) {
  if (depth !== undefined) sizes(depth);
  $("m-tris").textContent = triangles === null ? "–" : count(triangles);
  $("m-tight").textContent = watertight === null ? "–" : watertight ? "✓ watertight" : "✕ not closed";
  $("m-tight").className = watertight === null ? "" : watertight ? "good" : "bad";
  $("m-time").textContent = ms === null ? "–" : ms >= 1000 ? `${(ms / 1000).toFixed(1)} s` : `${ms < 10 ? ms.toFixed(1) : Math.round(ms)} ms`;
}

let busyTimer = null;
function busy(text, cancel) {
  $("busytext").textContent = text;
  $("cancel").onclick = cancel;
  $("cancel").hidden = !cancel;
  busyTimer ??= setTimeout(() => { $("busy").hidden = false; }, 400);
}
function done() { clearTimeout(busyTimer); busyTimer = null; $("busy").hidden = true; }

// The list of parts.
export function silhouette(path, color, state) {
  const side = Math.max(state.width, state.height) * 1.08;
  return el("svg", { class: "sil", viewBox: `${-side / 2} ${-side / 2} ${side} ${side}`, "aria-hidden": "true" }, el("path", { d: path, fill: color, stroke: "#2b221d", "stroke-width": side / 90, "stroke-opacity": ".35" }));
}

function drawParts() {
  if (stepName === "intake" || !piece.state) return;
  const s = piece.state, box = $("parts"), top = box.scrollTop;
  const focus = document.activeElement?.closest?.("[data-part]")?.dataset.part;
  const rows = [];
  if (s.parts.length > 1) {
    rows.push(row("*", "All parts", `${s.parts.filter((p) => !p.recipe.out).length} of ${s.parts.length}`, silhouette(s.parts.map((p) => p.path).join(""), "#cbb9a6", s)));
  }
  for (const p of s.parts) rows.push(row(p.id, p.name, `${figure(p.recipe.depth)} mm deep`, silhouette(p.path, p.color, s), p));
  box.replaceChildren(...rows);
  box.scrollTop = top;
  if (focus) box.querySelector(`[data-part="${CSS.escape(focus)}"]`)?.focus();
}

function row(part, name, under, picture, p) {
  const on = piece.selected === part || (piece.state.parts.length === 1 && part !== "*");
  const eye = p && el("span", { class: "eye", role: "button", tabindex: "0", "aria-pressed": String(!p.recipe.out), title: p.recipe.out ? `Take ${name} in` : `Leave ${name} out`, "aria-label": `${name} is part of the piece`,
    onclick: (e) => { e.stopPropagation(); toggle(); }, onkeydown: (e) => { if (e.key === "Enter" || e.key === " ") { e.preventDefault(); e.stopPropagation(); toggle(); } } }, "✓");
  const toggle = () => piece.change(p.recipe.out ? `Take in ${name}` : `Leave out ${name}`, { parts: { [p.id]: { out: !p.recipe.out } } });
  return el("div", { class: `part${on ? " on" : ""}${p?.recipe.out ? " out" : ""}`, "data-part": part, role: "button", tabindex: "0", "aria-pressed": String(on),
    onclick: () => piece.select(part), onkeydown: (e) => {
      if (e.key === "Enter" || e.key === " ") { e.preventDefault(); piece.select(part); }
      if (e.key === "ArrowDown" || e.key === "ArrowUp") { e.preventDefault(); (e.key === "ArrowDown" ? e.currentTarget.nextElementSibling : e.currentTarget.previousElementSibling)?.focus(); }
    } }, picture, el("div", { class: "who" }, el("b", {}, name), el("span", {}, under)), eye);
}

// What the screen remembers between visits, apart from the piece itself.
function remember() { try { localStorage.setItem(`bildhauer:${id}`, JSON.stringify({ selected: piece.selected, folded: work.classList.contains("folded") })); } catch { /* private mode */ } }
function recall() {
  try {
    const m = JSON.parse(localStorage.getItem(`bildhauer:${id}`) ?? "{}");
    piece.selected = m.selected ?? "*";
    if (m.folded) fold(true);
  } catch { /* nothing remembered */ }
}
function fold(on) {
  work.classList.toggle("folded", on);
  $("fold").textContent = on ? "›" : "‹";
  $("fold").setAttribute("aria-expanded", String(!on));
  dispatchEvent(new Event("resize"));
}

$("fold").addEventListener("click", () => { fold(!work.classList.contains("folded")); remember(); });
$("undo").addEventListener("click", () => move("undo"));
$("redo").addEventListener("click", () => move("redo"));
$("piecename").addEventListener("change", () => piece.change("Name", { name: $("piecename").value }));
$("piecename").addEventListener("keydown", (e) => { if (e.key === "Enter") e.target.blur(); if (e.key === "Escape") { e.target.value = piece.state.name; e.target.blur(); } });
const steps = ["intake", "size", "raise", "release"];
addEventListener("keydown", (e) => {
  const mod = e.ctrlKey || e.metaKey;
  if (mod && e.key.toLowerCase() === "z" && !(typing(e) && e.target.dataset.dirty)) { e.preventDefault(); move(e.shiftKey ? "redo" : "undo"); return; }
  if (mod && e.key.toLowerCase() === "y") { e.preventDefault(); move("redo"); return; }
  if (typing(e) || mod || e.altKey) return;
  if (e.key >= "1" && e.key <= "4") location.href = `${base}/${steps[e.key - 1]}`;
});
onDrop((files) => receive(piece, files));
onPaste((files) => receive(piece, files));

const module = await import(`./${stepName}.js`);
keysDialog([["1–4", "Go to a step"], ["Ctrl Z", "Undo"], ["Ctrl Shift Z", "Redo"], ["Ctrl V", "Paste SVG code"], ["↑ ↓", "Step a figure by 0.5 mm; with Shift by 5, with Alt by 0.05"], ...module.keys, ["?", "This list"]]);
recall();
try {
  piece.state = await get(`${base}/data/state`);
  piece.step = await module.start(piece);
  take(piece.state);
} catch (e) { complain(e); }
document.body.dataset.ready = "1";

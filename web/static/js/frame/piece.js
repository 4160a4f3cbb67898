// The frame of a piece: its state, changes and their history, the list of
// parts, the measure strip. The steps draw the view and the panel.

import { get, post } from "../lib/api.js";
import { known } from "../lib/known.js";
import { inScope } from "../lib/acts.js";
import { allow, doing, manyAtOnce } from "../lib/doing.js";
import { helpDialog } from "../lib/help.js";
import { $, complain, onDrop, onPaste, say, typing } from "../lib/page.js";
import { placeNow } from "../lib/place.js";
import { draft } from "../lib/unsaved.js";
import { receive } from "../intake/exchange.js";
import { Stand } from "../stand/stand.js";
import { All, drawParts } from "./parts.js";
import { listen } from "./events.js";
import { inWords as measuresOf, measured, partCount, sizes } from "./strip.js";
import { quiet, run } from "./jobs.js";
import { Steps } from "./steps.js";

const work = $("work");
const id = work.dataset.piece;
const base = `/pieces/${id}`;
let stand = null;

// piece is what the steps know of the piece and may do with it.
export const piece = {
  base,
  state: null,
  selected: All, // a part's id, or All; the first of several
  others: [], // ids of further parts that are selected with it

  // change asks for edits (core/recipe, edits.go) under a label for undo.
  change: (label, ...edits) => ask(() => post(`${base}/change`, { base: piece.state.rev, label, edits })),

  // changeBy asks for a change by other means: send() returns the new state.
  changeBy: (send) => ask(send),

  // select selects a part; with "add" beside those that are, with "to" all from the
  // first one on.
  select(part, how = "only") {
    const ids = piece.state.parts.map((p) => p.id);
    const now = piece.selected === All ? [] : [piece.selected, ...piece.others];
    let next = [part];
    if (part !== All && how === "add")
      next = now.includes(part) ? now.filter((id) => id !== part) : [...now, part];
    if (part !== All && how === "to" && now.length) {
      const [a, b] = [ids.indexOf(now[0]), ids.indexOf(part)].sort((x, y) => x - y);
      next = [now[0], ...ids.slice(a, b + 1).filter((id) => id !== now[0])];
    }
    [piece.selected = All, ...piece.others] = next;
    list();
    steps.step?.select?.();
    remember();
  },

  // picked returns the parts that a change is about.
  picked() {
    const { parts } = piece.state;
    if (piece.selected === All) return parts;
    return [piece.selected, ...piece.others].map((id) => parts.find((p) => p.id === id)).filter(Boolean);
  },

  // pickedSome reports whether some parts were selected, not all by default.
  pickedSome: () => piece.selected !== All,

  say,

  // measure shows what was built; depth is how high it really is.
  measure(what) {
    if (what.depth !== undefined) sizes(piece.state, what.depth, false);
    measured(what);
  },

  take,
  complain,
  run,
};

// inWords tells of the piece and of what is selected.
function inWords() {
  const names = piece.pickedSome() ? piece.picked().map((p) => p.name) : [];
  return [measuresOf(piece.state), names.length && `Selected: ${names.join(", ")}`];
}

const steps = new Steps(
  piece,
  () => (stand ??= new Stand(base, inWords)),
  () => list(),
);

// Changes go out one after the other, so that each is based on the one before.
/** @type {Promise<any>} */
let queue = Promise.resolve();
let waiting = 0;
let contact = true;

function ask(send) {
  saving(1);
  const place = placeNow();
  const mine = queue.then(async () => {
    try {
      take(await send());
      return true;
    } catch (e) {
      if (place && e.message && e.name !== "AbortError") place.say(e.message);
      else complain(e);
      saved("Not saved");
      await reload();
      return false;
    } finally {
      saving(-1);
    }
  });
  queue = mine;
  return manyAtOnce(mine);
}

function saving(by) {
  waiting += by;
  if (waiting > 0) {
    $("saved").textContent = "Saving";
    $("saved").className = "saved busy";
  } else if ($("saved").className === "saved busy") {
    saved("Saved");
  }
}

function saved(text) {
  $("saved").textContent = text;
  $("saved").className = `saved${text === "Saved" ? "" : " bad"}`;
}

// take makes a state the one that is shown.
function take(state) {
  piece.state = state;
  const there = (id) => state.parts.some((p) => p.id === id);
  piece.others = piece.others.filter(there);
  if (piece.selected !== All && !there(piece.selected)) piece.selected = piece.others.shift() ?? All;
  if (document.activeElement !== $("piecename")) $("piecename").value = state.name;
  historyButton("undo", state.undo, "Undo", "Z");
  historyButton("redo", state.redo, "Redo", "Shift+Z");
  list();
  rail();
  const deepest = Math.max(0, ...state.parts.filter((p) => !p.out).map((p) => p.how.depth));
  if (steps.key !== "raise" || !state.parts.length) sizes(state, deepest, true);
  partCount(state);
  steps.step?.update(state);
}

function historyButton(button, label, what, key) {
  allow($(button), label ? "" : `Nothing to ${button}`, label ? `${what}: ${label} (Ctrl+${key})` : "");
}

function list() {
  if (!piece.state || !steps.info || steps.info.pane !== "Parts") return;
  drawParts($("parts"), piece.state, {
    selected: piece.selected === All ? [All] : [piece.selected, ...piece.others],
    select: (part, how) => piece.select(part, how),
    rename: (p, name) => piece.change(`Name of ${p.name}`, { kind: "parts", parts: { [p.id]: { name } } }),
    toggle: (p) =>
      piece.change(`${p.out ? "Include" : "Exclude"} ${p.name}`, {
        kind: "parts",
        parts: { [p.id]: { out: !p.out } },
      }),
  });
}

// rail marks how far each step is.
function rail() {
  const s = piece.state;
  const mark = (step, kind, title = "") => {
    const i = document.querySelector(`.rail a[data-step="${step}"] i`);
    i.className = kind;
    i.title = title;
  };
  const touched = Object.keys(s.intake.choice ?? {}).length + Object.keys(s.intake.shapes ?? {}).length > 0;
  mark("intake", s.problem ? "bad" : touched ? "good" : "", s.problem ?? "");
  findings(mark);
  mark("size", s.problem ? "" : "good");
  mark("raise", s.problem || !s.own ? "" : "good");
  mark("show", s.problem || !Object.keys(s.scene ?? {}).length ? "" : "good");
}

// findings asks how many findings are open when there may be others.
let looked = "";
let openCount = { open: 0, mends: 0 };

async function findings(mark) {
  const s = piece.state;
  const key = `${s.finding} ${s.left}`;
  const show = () => {
    const { open, mends } = openCount;
    const text = open > 0 ? `${open} findings open` : open < 0 ? "Large artwork is looked at in Mend itself" : "";
    mark("mend", open > 0 ? "open" : mends && !open ? "good" : "", text);
    document.body.dataset.findings = String(openCount.open);
  };
  if (key === looked) {
    show();
    return;
  }
  looked = key;
  try {
    await quiet();
    if (key !== looked) return;
    const count = await get(`${base}/data/findings`);
    if (key === looked) {
      openCount = count;
      show();
    }
  } catch {
    looked = ""; // nothing is marked; the step itself says what is wrong
  }
}

async function reload() {
  try {
    take(await get(`${base}/data/state`));
  } catch (e) {
    complain(e);
  }
}

async function move(what) {
  if (!piece.state[what]) return;
  const label = piece.state[what];
  const done = await ask(() => post(`${base}/${what}?base=${piece.state.rev}`));
  if (done) say(`${what === "undo" ? "Undone" : "Redone"}: ${label}`, { stay: 2500 });
}

// What the screen remembers between visits, apart from the piece itself.
function remember() {
  try {
    localStorage.setItem(`bildhauer:${id}`, JSON.stringify({ selected: piece.selected, ...wanted }));
  } catch {
    // private mode
  }
}

function recall() {
  try {
    const m = JSON.parse(localStorage.getItem(`bildhauer:${id}`) ?? "{}");
    piece.selected = m.selected ?? All;
    wanted.folded = !!m.folded;
    wanted.panelfolded = !!m.panelfolded;
  } catch {
    // nothing remembered
  }
  unfold();
}

// The sides can be folded away: the list ("folded") and the panel ("panelfolded").
const folds = { folded: { button: "fold", signs: "‹›" }, panelfolded: { button: "foldpanel", signs: "›‹" } };

const narrow = matchMedia("(max-width: 900px)");

// wanted is how the sides are folded by choice; where there is room for one alone, the other one is away meanwhile.
const wanted = { folded: false, panelfolded: false };

function dress(side, on) {
  const { button, signs } = folds[side];
  work.classList.toggle(side, on);
  $(button).textContent = signs[on ? 1 : 0];
  $(button).setAttribute("aria-expanded", String(!on));
}

function fold(side, on = !work.classList.contains(side)) {
  wanted[side] = on;
  if (!on && narrow.matches) wanted[side === "folded" ? "panelfolded" : "folded"] = true;
  remember();
  unfold();
}

function unfold() {
  dress("panelfolded", wanted.panelfolded);
  dress("folded", wanted.folded || (narrow.matches && !wanted.panelfolded));
  dispatchEvent(new Event("resize"));
}

async function openVersions() {
  (await import("./versions.js")).versions(piece, take);
}

async function openHistory() {
  (await import("./history.js")).history(piece);
}

function listeners() {
  narrow.addEventListener("change", unfold);
  for (const [side, { button }] of Object.entries(folds)) $(button).addEventListener("click", () => fold(side));
  $("versions").addEventListener("click", doing(openVersions));
  $("history").addEventListener("click", doing(openHistory));
  $("help").addEventListener("click", helpDialog);
  for (const what of ["undo", "redo"]) $(what).addEventListener("click", doing(() => manyAtOnce(move(what))));
  const name = $("piecename");
  draft(name, "the name of the piece", { keeps: true });
  name.addEventListener("change", () => piece.change("Name", { kind: "name", name: name.value }));
  name.addEventListener("keydown", (e) => {
    if (e.key === "Escape") name.value = piece.state.name;
    if (e.key === "Enter" || e.key === "Escape") name.blur();
  });
  document.querySelector(".rail").addEventListener("click", (e) => {
    const step = e.target.closest("a")?.dataset.step;
    if (!step || e.ctrlKey || e.metaKey || e.shiftKey) return; // a new window shows it, too
    e.preventDefault();
    steps.go(step, true).catch(complain);
  });
  addEventListener("popstate", async () => {
    try {
      const there = await steps.go(location.pathname.split("/").at(-1), false);
      if (!there) history.pushState({ step: steps.key }, "", `${base}/${steps.key}`); // one stays
    } catch (e) {
      complain(e);
    }
  });
  inScope("frame", {
    undo: (e) => !ownUndo(e) && move("undo"),
    redo: (e) => !ownUndo(e) && move("redo"),
    step: (e) => {
      steps.go(known.steps[Number(e.key) - 1].key, true).catch(complain);
    },
    versions: () => void openVersions().catch(complain),
    history: () => void openHistory().catch(complain),
    fold: () => fold("folded"),
    foldpanel: () => fold("panelfolded"),
    keys: helpDialog,
  });
}

// ownUndo reports whether Ctrl Z in a field takes back what was typed there: in texts always, in
// figures until they are settled.
const ownUndo = (e) => typing(e) && !e.target.matches("select") && (e.target.dataset.dirty || !e.target.matches("[data-field], [data-key-field]"));

async function begin() {
  listeners();
  onDrop((files) => steps.step?.takes?.(files) || receive(piece, files));
  onPaste((files) => receive(piece, files));
  recall();
  try {
    const state = await run("Opening the piece", (job) => get(`${base}/data/state`, job), {
      cancel: false,
    });
    await steps.go(work.dataset.step, false);
    take(state);
    // A revision that is not ours was made in another window.
    const changed = (rev) => {
      queue = queue.then(() => (rev !== piece.state.rev ? reload() : undefined));
    };
    listen(base, changed, (there) => {
      if (there !== contact) saved(there ? "Saved" : "No contact");
      contact = there;
      document.body.dataset.contact = there ? "found" : "lost";
      $("saved").title = there ? "" : "Bildhauer does not answer. It is asked again and again; what is on the screen stays.";
    });
  } catch (e) {
    complain(e);
  }
  document.body.dataset.ready = "1";
}

begin();

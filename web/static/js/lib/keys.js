// Keys as people press them: a key that is held is one gesture, an act by a key happens once.

let open = null; // the gesture at work: who, the codes of its keys, and what to do at its end

// gesture belongs to a key that is pressed again and again, such as an arrow: it is called at each
// press and each repeat, after what it does has been shown. done() of the last call happens once,
// when the keys are let go, or before anything else is done.
export function gesture(e, who, done) {
  if (open && open.who !== who) finish();
  open ??= { who, codes: new Set() };
  open.codes.add(e.code);
  open.done = done;
}

// during reports whether a gesture of somebody is at work.
export const during = (who) => open?.who === who;

// finish ends the gesture at work, if there is one.
export function finish() {
  const { done } = open ?? {};
  open = null;
  done?.();
}

addEventListener(
  "keyup",
  (e) => {
    if (open?.codes.delete(e.code) && !open.codes.size) finish();
  },
  true,
);
for (const kind of ["blur", "pagehide", "pointerdown"]) addEventListener(kind, finish, true);

const modifiers = new Set(["Shift", "Alt", "Control", "Meta"]);
const arrows = new Set(["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"]);
const again = new Set([...arrows, "PageUp", "PageDown", "Home", "End", "Tab", "+", "=", "-", ",", ".", "<", ">", ";", ":"]);
const written = "input:not([type=range]):not([type=checkbox]):not([type=color]), textarea, select";

// typing reports whether a key goes into a field.
export const typing = (e) => e.target.matches?.(written) ?? false;

// modal returns the dialog that is open above the page, if one is.
export const modal = () => document.querySelector("dialog[open]");

// plain reports whether a key is meant for the page: by itself, not into a field, and no dialog is
// above.
export const plain = (e) => !typing(e) && !e.ctrlKey && !e.metaKey && !e.altKey && !modal();

// A held key repeats what moves and what is typed; of acts it makes one.
addEventListener(
  "keydown",
  (e) => {
    if (open && !modifiers.has(e.key) && !arrows.has(e.key)) finish();
    if (!e.repeat || again.has(e.key)) return;
    const mod = e.ctrlKey || e.metaKey;
    if (mod && ["z", "y"].includes(e.key.toLowerCase())) return;
    if (!mod && typing(e) && (e.key !== "Enter" || e.target.matches("textarea"))) return;
    if (e.key === "Enter" || mod) e.preventDefault();
    e.stopImmediatePropagation();
  },
  true,
);

// Dialogs above the page. What tells of work and takes answers (messages, and the job with its Cancel)
// goes up with them: a modal dialog makes all that is outside of it dead.

const carried = ["messages", "busy"];
const homes = new Map(); // id -> a mark where it stands when no dialog is open
const stack = [];

function carry() {
  const top = stack.at(-1);
  for (const id of carried) {
    const e = document.getElementById(id);
    if (!e) continue;
    if (!homes.has(id)) {
      const mark = document.createComment(id);
      e.before(mark);
      homes.set(id, mark);
    }
    if (top) top.append(e);
    else homes.get(id).after(e);
  }
}

// A key that is down while a dialog opens was meant for what was there before: it presses nothing in the dialog.
let down = false;
addEventListener("keydown", () => (down = true), true);
addEventListener("keyup", () => (down = false), true);

function shield(d) {
  if (!down) return;
  const over = new AbortController();
  d.addEventListener("keypress", (e) => e.preventDefault(), { capture: true, signal: over.signal });
  addEventListener("keyup", () => over.abort(), { capture: true, once: true });
}

// above opens a dialog; it is gone when it is closed. mayClose() is asked before Escape closes it.
export function above(d, mayClose = null) {
  document.body.append(d);
  d.addEventListener("cancel", (e) => {
    if (e.target === d && mayClose && !mayClose()) e.preventDefault();
  });
  d.addEventListener("close", (e) => {
    if (e.target !== d) return;
    stack.splice(stack.indexOf(d), 1);
    carry();
    d.remove();
  });
  shield(d);
  d.showModal();
  stack.push(d);
  carry();
  return d;
}

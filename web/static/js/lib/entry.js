// The passphrase, asked for again where one is: what was begun goes on afterwards.

import { above } from "./above.js";
import { el } from "./el.js";

let asking = null;

// enterAgain resolves to the token of a new session; whoever closes the dialog goes to the entry,
// which leads back to this page.
export function enterAgain() {
  asking ??= ask().finally(() => (asking = null));
  return asking;
}

async function tokenOfEntry() {
  const r = await fetch("/enter", { cache: "no-store", headers: { Accept: "application/json" } });
  return (await r.json()).token;
}

function ask() {
  return new Promise((resolve) => {
    const word = el("input", { class: "input", type: "password", autocomplete: "current-password", "aria-label": "Passphrase of this studio" });
    const why = el("p", { class: "verdict bad", role: "alert", hidden: true });
    const go = el("button", { class: "button is-primary", type: "submit" }, "Enter and go on");
    const form = el(
      "form",
      { class: "entry" },
      el("p", {}, "Your session has ended. Enter the passphrase, and what you were doing goes on."),
      word,
      why,
      go,
    );
    const dialog = el("dialog", { class: "ask again", "aria-labelledby": "againtitle" }, el("h2", { id: "againtitle" }, "Enter once more"), form);
    let done = null;
    form.addEventListener("submit", async (e) => {
      e.preventDefault();
      go.disabled = true;
      try {
        const token = await tokenOfEntry();
        const r = await fetch("/enter", {
          method: "POST",
          headers: { "X-Csrf-Token": token, Accept: "application/json", "Content-Type": "application/x-www-form-urlencoded" },
          body: new URLSearchParams({ passphrase: word.value }),
        });
        if (r.ok) {
          done = token;
          dialog.close();
          return;
        }
        why.textContent = (await r.json()).error;
      } catch {
        why.textContent = "Bildhauer does not answer. Is it still running?";
      } finally {
        go.disabled = false;
      }
      why.hidden = false;
      word.select();
    });
    dialog.addEventListener("close", () => {
      if (done) resolve(done);
      else location.href = `/enter?to=${encodeURIComponent(location.pathname)}`;
    });
    above(dialog);
    word.focus();
  });
}

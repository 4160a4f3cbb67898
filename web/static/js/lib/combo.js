// Keys as the table of acts writes them (web/acts).

/** @typedef {import("../made/acts.js").Act} Act */

const named = { " ": "Space" };

// comboOf writes a key as the table does: "Ctrl+Shift+Z", "F", "Space", "?".
export function comboOf(e) {
  const key = named[e.key] ?? (e.key.length === 1 ? e.key.toUpperCase() : e.key);
  const shift = e.shiftKey && (e.key.length > 1 || /[a-z]/i.test(e.key)) ? "Shift+" : "";
  return `${e.ctrlKey || e.metaKey ? "Ctrl+" : ""}${e.altKey ? "Alt+" : ""}${shift}${key}`;
}

/** fits tells whether a combination is one of an act's keys; "1-6" are six of them.
 * @param {Act} act
 * @param {string} combo
 */
export const fits = (act, combo) =>
  (act.keys ?? []).some((k) => k === combo || (/^\d-\d$/.test(k) && combo.length === 1 && combo >= k[0] && combo <= k[2]));

const signs = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→", PageUp: "Page ↑", PageDown: "Page ↓", "-": "−" };

/** @param {string} combo @returns {string[]} */
export const keysOf = (combo) => (combo.length === 1 ? [signs[combo] ?? combo] : combo.split(/\+(?=.)/).map((k) => signs[k] ?? k));

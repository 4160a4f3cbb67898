// The layer through which people act by keys: what acts there are, their keys and words stand in made/acts.js, which is
// web/acts; here a key becomes an act, and a scope says what its acts do. Buttons go through doing.js.

import { scopes } from "../made/acts.js";
import { comboOf, fits, keysOf } from "./combo.js";
import { modal, typing } from "./keys.js";

/** @typedef {import("../made/acts.js").Act} Act */
/** @typedef {import("../made/acts.js").Scope} Scope */

const byName = Object.fromEntries(scopes.map((s) => [s.name, s]));

/** @type {{ scope: Scope, does: Record<string, Function>, first?: (e: Event) => any }[]} */
const active = [];
let held = null; // what is done as long as a key is held

/**
 * inScope makes the acts of a scope happen: does has a function for each, by the word behind the dot. One that returns
 * false leaves the key to others. The scope ends with the signal.
 * @param {string} name
 * @param {Record<string, Function>} does
 * @param {AbortSignal} [signal]
 * @param {(e: Event) => any} [first] is asked before; it returns whether the key was for what is being worked at
 */
export function inScope(name, does, signal, first) {
  const entry = { scope: byName[name], does, first };
  active.push(entry);
  signal?.addEventListener("abort", () => active.splice(active.indexOf(entry), 1));
}

// Elements that have their own meaning for Enter and Space.
const presses = "button, a[href], summary, select, input, [role=button], [role=treeitem], [role=option]";

// pressing tells whether a key is for the element that has the focus.
const pressing = (e, combo) => (combo === "Enter" || combo === "Space") && e.target.closest?.(presses);

function find(e) {
  const combo = comboOf(e);
  if (typing(e) && !combo.startsWith("Ctrl+")) return [];
  if (pressing(e, combo)) return [];
  return active
    .toReversed()
    .flatMap(({ scope, does }) =>
      scope.acts.filter((a) => !a.gesture && fits(a, combo)).map((act) => ({ act, does: does[act.name.split(".")[1]] })),
    )
    .filter((x) => x.does);
}

addEventListener("keydown", (e) => {
  if (e.defaultPrevented || modal()) return;
  const own = !typing(e) && !pressing(e, comboOf(e)) && active.some((a) => a.first?.(e));
  if (own) return e.preventDefault();
  for (const { act, does } of find(e)) {
    if (e.repeat && !act.repeats) return e.preventDefault();
    if (act.holds && held) return undefined;
    if (does(act.holds ? true : e) === false) continue;
    if (act.holds) held = { does, act };
    return e.preventDefault();
  }
  return undefined;
});

const release = () => {
  held?.does(false);
  held = null;
};
addEventListener("keyup", (e) => held && fits(held.act, comboOf(e)) && release());
addEventListener("blur", release);

// withKey adds the key of an act to words about it, as "Fit (F)".
export function withKey(text, name) {
  const act = byName[name.split(".")[0]].acts.find((a) => a.name === name);
  return `${text} (${keysOf(act.keys[0]).join(" ")})`;
}

// activeScopes returns the scopes that are there, the last first.
export const activeScopes = () => active.map((a) => a.scope).reverse();

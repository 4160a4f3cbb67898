// What happens when somebody presses a button: what it does is done once at a time, what goes wrong is said, and who
// had the focus keeps it when the page is drawn anew. Elements get it by el (el.js), so that none goes around it.

const told = { trouble: (e) => console.error(e), why: (_text) => {} };

// tellBy sets how trouble is told, and why something can't be done now.
export const tellBy = (trouble, why) => Object.assign(told, { trouble, why });

// manyAtOnce marks a promise of which several may be under way, as changes of a piece are: they queue up.
export function manyAtOnce(promise) {
  return Object.assign(promise, { queues: true });
}

/**
 * doing wraps what an element does on a click.
 * @param {(e: Event) => any} act
 * @returns {(e: Event) => void}
 */
export function doing(act) {
  return (e) => {
    const at = /** @type {any} */ (e.currentTarget);
    if (at.getAttribute("aria-disabled") === "true") {
      e.preventDefault();
      told.why(at.title);
      return;
    }
    if (at.dataset.doing) return;
    let done;
    try {
      done = act(e);
    } catch (err) {
      told.trouble(err);
      return;
    }
    if (!done?.then) return;
    if (!done.queues) {
      at.dataset.doing = "1";
      at.setAttribute("aria-busy", "true");
    }
    const over = () => {
      delete at.dataset.doing;
      at.removeAttribute("aria-busy");
    };
    done.then(over, (err) => {
      over();
      told.trouble(err);
    });
  };
}

// allow says whether something can be done now: why is "" or the reason, which is read out and shown on hover. The
// element stays where the focus can reach it.
export function allow(button, why, title = button.dataset.title ?? button.title) {
  button.dataset.title = title;
  button.title = why || title;
  if (why) button.setAttribute("aria-disabled", "true");
  else button.removeAttribute("aria-disabled");
}

// ---- the focus, when what had it is drawn anew

let last = null; // {element, box, name, place}: the element that has the focus, and how to find one like it

const focusable = "button, a[href], input, select, textarea, summary, [tabindex='0']";
const nameOf = (e) => JSON.stringify([e.tagName, e.getAttribute("aria-label"), e.dataset, e.textContent.slice(0, 40)]);

addEventListener("focusin", (e) => {
  const element = /** @type {any} */ (e.target);
  const box = element.closest("[id]:not(button):not(input)");
  last = { element, box, name: nameOf(element), place: box ? [...box.querySelectorAll(focusable)].indexOf(element) : -1 };
});
// Who clicks where nothing is has no focus any more; an element that is taken out of the page loses it, too.
addEventListener("focusout", (e) => {
  const element = /** @type {any} */ (e.target);
  if (e.relatedTarget) return;
  setTimeout(() => {
    if (last?.element === element && element.isConnected && document.activeElement !== element) last = null;
  });
});

function refocus() {
  if (!last || last.element.isConnected || document.activeElement !== document.body || !last.box?.isConnected) return;
  const all = [...last.box.querySelectorAll(focusable)].filter((e) => e.getClientRects().length);
  const next = all.find((e) => nameOf(e) === last.name) ?? all[Math.min(last.place, all.length - 1)];
  next?.focus({ preventScroll: true });
}

new MutationObserver(refocus).observe(document.documentElement, { childList: true, subtree: true });

// Views in words, for those who don't see them: what is shown, how large, in which state, and what acts on it.

/** @type {(n: number, what: string) => string} */
export const several = (n, what) => `${n} ${what}${n === 1 ? "" : "s"}`;

/**
 * tell gives a view its words; the same ones again are not said again.
 * @param {Element} view
 * @param {...(string | false | null | undefined)} sentences each without its full stop
 */
export function tell(view, ...sentences) {
  const words = sentences
    .filter(Boolean)
    .map((s) => `${s}.`)
    .join(" ");
  if (view.getAttribute("aria-label") !== words) view.setAttribute("aria-label", words);
}

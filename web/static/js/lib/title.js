// The title of the window: where one is and, before it, how far the work is that is waited for, so that a tab in the
// background tells it.

let place = document.title;
let work = "";

const write = () => {
  const title = work ? `${work} · ${place}` : place;
  if (document.title !== title) document.title = title;
};

// titled says where one is.
export function titled(text) {
  place = text;
  write();
}

/**
 * atWork says what is at work; "" that nothing is.
 * @param {string} text
 * @param {number} [share] of it that is done, 0 as long as that is not known
 */
export function atWork(text, share = 0) {
  work = text && share > 0 ? `${Math.floor(100 * share)} % ${text}` : text;
  write();
}

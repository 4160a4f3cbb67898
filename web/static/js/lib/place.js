// Where something was asked for, so that what is wrong with it can be said there.

/** @typedef {{ say: (why: string) => void }} Place */

/** @type {Place | null} */
let now = null;

// from does something on behalf of a place, a field for instance.
export function from(place, f) {
  const was = now;
  now = place;
  try {
    return f();
  } finally {
    now = was;
  }
}

// placeNow is the place on whose behalf something is being done, or null.
export const placeNow = () => now;

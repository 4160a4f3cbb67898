// A pointer that is followed from where it went down until it is let go, and two fingers that come together or go apart.
// Escape, a pointer that the system takes away and a second finger give up what is dragged: it is as it was before.

const still = 3; // px that a pointer may tremble without dragging

/** @type {{ giveUp: () => void } | null} */
let now = null; // what is dragged

/**
 * drag follows a pointer that went down.
 * @param {PointerEvent} down
 * @param {Element} on what keeps the pointer
 * @param {object} does
 * @param {(e: PointerEvent, dx: number, dy: number) => void} does.move is told where it is, and px since the last time
 * @param {(e: PointerEvent, moved: boolean) => void} [does.end] when it is let go
 * @param {() => void} [does.undo] when it is given up
 * @returns {true}
 */
export function drag(down, on, { move, end, undo }) {
  now?.giveUp();
  const over = new AbortController();
  /** @type {(kind: string, does: (e: any) => void, where?: EventTarget, capture?: boolean) => void} */
  const listen = (kind, does, where = on, capture = false) => where.addEventListener(kind, does, { signal: over.signal, capture });
  const mine = (does) => (e) => e.pointerId === down.pointerId && does(e);
  const stop = () => {
    over.abort();
    now = null;
  };
  const self = {
    giveUp() {
      stop();
      undo?.();
    },
  };
  let last = down;
  let moved = false;
  now = self;
  on.setPointerCapture(down.pointerId);
  listen(
    "pointermove",
    mine((e) => {
      moved ||= Math.hypot(e.clientX - down.clientX, e.clientY - down.clientY) > still;
      if (!moved) return;
      move(e, e.clientX - last.clientX, e.clientY - last.clientY);
      last = e;
    }),
  );
  listen(
    "pointerup",
    mine((e) => {
      stop();
      end?.(e, moved);
    }),
  );
  listen("pointercancel", mine(self.giveUp));
  const key = (e) => {
    if (e.key !== "Escape") return;
    e.preventDefault();
    e.stopImmediatePropagation();
    self.giveUp();
  };
  listen("keydown", key, window, true);
  return true;
}

// Fingers that lie on each other would make any movement a large one.
const least = 12; // px

function between(fingers) {
  const [a, b] = [...fingers.values()];
  return {
    clientX: (a.clientX + b.clientX) / 2,
    clientY: (a.clientY + b.clientY) / 2,
    apart: Math.max(least, Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY)),
  };
}

/**
 * pinch listens for two fingers on an element; as long as they are there, nobody else hears of them.
 * @param {Element} on
 * @param {(by: number, dx: number, dy: number, at: { clientX: number, clientY: number }) => void} does is told how many
 * times as far apart they are as the last time, px that both moved, and the place between them
 * @param {{ signal?: AbortSignal, end?: () => void }} [more]
 */
export function pinch(on, does, { signal, end } = {}) {
  const fingers = new Map();
  let was = null; // where they were, from the second finger on until all are gone
  const listen = (kind, hear) => on.addEventListener(kind, hear, { signal, capture: true });
  listen("pointerdown", (e) => {
    if (e.pointerType !== "touch") return;
    fingers.set(e.pointerId, e);
    if (fingers.size < 2) return;
    e.stopImmediatePropagation();
    now?.giveUp();
    was = between(fingers);
  });
  listen("pointermove", (e) => {
    if (!fingers.has(e.pointerId)) return;
    fingers.set(e.pointerId, e);
    if (was) e.stopImmediatePropagation();
    if (fingers.size !== 2) return;
    const is = between(fingers);
    does(is.apart / was.apart, is.clientX - was.clientX, is.clientY - was.clientY, is);
    was = is;
  });
  const gone = (e) => {
    if (!fingers.delete(e.pointerId) || !was) return;
    e.stopImmediatePropagation();
    if (fingers.size >= 2) was = between(fingers);
    if (fingers.size) return;
    was = null;
    end?.();
  };
  listen("pointerup", gone);
  listen("pointercancel", gone);
}

// reach is how far from a pointer something may lie that it takes hold of, px: a finger is wider than a mouse.
export const reach = (e, mouse) => (e.pointerType === "touch" ? Math.max(mouse, 20) : mouse);

// coarse tells that fingers are what people point with here.
export const coarse = matchMedia("(pointer: coarse)").matches;

/**
 * helpFingers hands a finger that came down beside the small things of a drawing to the nearest of them.
 * @param {Element} on
 * @param {string} selector of what can be taken hold of
 */
export function helpFingers(on, selector) {
  const far = (e, thing) => {
    const r = thing.getBoundingClientRect();
    return Math.hypot(e.clientX - r.left - r.width / 2, e.clientY - r.top - r.height / 2);
  };
  on.addEventListener("pointerdown", (e) => {
    if (e.pointerType !== "touch" || !e.isTrusted || e.target.closest(selector)) return;
    const near = [...on.querySelectorAll(selector)].filter((thing) => far(e, thing) < reach(e, 0));
    near.sort((a, b) => far(e, a) - far(e, b));
    near[0]?.dispatchEvent(new PointerEvent("pointerdown", e));
  });
}

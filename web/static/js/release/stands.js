// How a piece can stand on the bed: all ways compared, the best first, each with what speaks for it and against it.

import { get } from "../lib/api.js";
import { figure } from "../lib/length.js";
import { complain, el } from "../lib/page.js";

// stands makes the rows that compare; element belongs into the fields of how a piece lies.
export function stands({ piece }) {
  const list = el("ol", { class: "stands", "aria-live": "polite", hidden: true });
  const button = el(
    "button",
    { class: "button is-small is-fullwidth mt-2", type: "button", "data-act": "compare-stands", title: "All faces and sides it can stand on (S)" },
    "Compare how it can stand",
  );
  let open = false;
  let basis = ""; // what it is compared for
  let job = null; // the comparison at work
  const close = () => {
    job?.abort?.();
    job = null;
    open = false;
    list.hidden = true;
    list.replaceChildren();
    button.textContent = "Compare how it can stand";
    button.classList.remove("is-loading");
    delete document.body.dataset.stands;
  };
  const now = (d) => {
    const { roll = 0, tilt = 0 } = piece.state.print;
    return Math.abs(d.roll - roll) < 0.01 && Math.abs(d.tilt - tilt) < 0.01;
  };
  const row = (d) =>
    el(
      "li",
      { "data-stand": d.name, class: d.best ? "best" : null },
      el("b", {}, d.name),
      d.best ? el("span", { class: "tag" }, "best") : null,
      el("span", { class: "soft" }, d.why),
      el(
        "button",
        {
          class: "button is-small",
          type: "button",
          "data-act": "take-stand",
          disabled: now(d) || null,
          title: `${figure(d.contact / 100)} cm² on the bed, ${figure(d.tall)} mm high`,
          onclick: () => piece.change(`Stand ${d.name}`, { kind: "print", roll: d.roll, tilt: d.tilt }),
        },
        now(d) ? "Stands so" : "Stand it so",
      ),
    );
  const compare = async () => {
    if (open || job) return close();
    const mine = {};
    job = mine;
    button.classList.add("is-loading");
    try {
      const got = await piece.run("Comparing how it can stand", (j) => {
        mine.abort = j.abort;
        return get(`${piece.base}/data/stands`, j);
      });
      if (job !== mine) return;
      open = true;
      kept = got.stands;
      list.replaceChildren(...kept.map(row));
      list.hidden = false;
      button.textContent = "Close the comparison";
      document.body.dataset.stands = String(kept.length);
    } catch (e) {
      if (job === mine && e.name !== "AbortError" && e.kind !== "cancelled") complain(e);
    } finally {
      if (job === mine) job = null;
      button.classList.remove("is-loading");
    }
  };
  let kept = [];
  button.addEventListener("click", compare);
  return {
    element: el("div", {}, button, list),
    compare,
    close,
    // update marks how it stands now; when the solid, the machine or how Size lays it is another one, the comparison is over.
    update(state, other) {
      const rest = { ...state.print, roll: 0, tilt: 0 };
      const key = JSON.stringify([state.size.lying ?? "", rest]);
      const over = other || key !== basis;
      basis = key;
      if (!open) return;
      if (over) close();
      else list.replaceChildren(...kept.map(row));
    },
  };
}

// What was deleted waits in a quiet place until its day.

import { get } from "../lib/api.js";
import { $, bringBack, complain, el } from "../lib/page.js";

// deletedHere makes the buttons of the place work.
export function deletedHere() {
  $("deletedlist").addEventListener("click", (e) => {
    const { kind, id } = e.target.closest("[data-kind]")?.dataset ?? {};
    if (!e.target.closest("button") || !kind) return;
    bringBack(kind, id, async () => {
      if (kind === "piece") location.reload(); // its card comes with the page
      else await showDeleted();
    });
  });
}

// showDeleted lists what waits now.
export async function showDeleted() {
  try {
    const { deleted } = await get("/deleted");
    $("deleted").hidden = !deleted.length;
    $("deletedcount").textContent = String(deleted.length);
    $("deletedlist").replaceChildren(...deleted.map(row));
  } catch (e) {
    complain(e);
  }
}

const row = (d) =>
  el(
    "li",
    { "data-kind": d.kind, "data-id": d.id },
    el("b", {}, d.name),
    el("span", { class: "soft" }, `${d.what}, goes on ${d.goes}`),
    el("button", { class: "plainbutton", type: "button", "aria-label": `Restore ${d.name}` }, "Restore"),
  );

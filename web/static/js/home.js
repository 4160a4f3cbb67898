// The page of all pieces.

import { post, upload } from "./api.js";
import { $, complain, el, keysDialog, onDrop, say, typing } from "./page.js";

const drop = $("drop"), input = $("file"), bar = $("reading");
const maxMB = Number(document.querySelector(".bench").dataset.maxMb);

async function take(files) {
  let last = null, made = 0;
  for (const f of files) {
    if (f.size > maxMB << 20) { say(`${f.name} has ${f.size >> 20} MB; the most that is read is ${maxMB} MB. Leave out embedded bitmaps or split the artwork.`, { bad: true }); continue; }
    bar.hidden = false; bar.value = 0;
    try {
      last = await upload(f, (p) => { if (p < 100) bar.value = p; else bar.removeAttribute("value"); });
      made++;
    } catch (e) { complain(e); }
  }
  bar.hidden = true;
  input.value = "";
  if (made === 1 && files.length === 1) location.href = last.address;
  else if (made) location.reload();
}

drop.addEventListener("click", () => input.click());
drop.addEventListener("keydown", (e) => { if (e.key === "Enter" || e.key === " ") { e.preventDefault(); input.click(); } });
input.addEventListener("click", (e) => e.stopPropagation());
input.addEventListener("change", () => take([...input.files]));
onDrop(take);
addEventListener("keydown", (e) => { if (e.key.toLowerCase() === "n" && !typing(e) && !e.ctrlKey && !e.metaKey) input.click(); });

async function remove(card) {
  const { id, name } = card.dataset;
  await post(`/pieces/${id}/delete`);
  const place = card.nextSibling;
  card.remove();
  say(`${name} deleted.`, { action: "Undo", stay: 12000, act: async () => {
    try { await post(`/pieces/${id}/restore`); $("pieces").insertBefore(card, place); } catch (e) { complain(e); }
  } });
}

function rename(card) {
  const link = card.querySelector(".name");
  const box = el("input", { value: card.dataset.name, maxlength: 120, "aria-label": "New name" });
  let over = false;
  const end = async (keep) => {
    if (over) return;
    over = true;
    const name = box.value.trim();
    if (keep && name && name !== card.dataset.name) {
      try { await post(`/pieces/${card.dataset.id}/change`, { label: "Name", name }); card.dataset.name = name; link.textContent = name; } catch (e) { complain(e); }
    }
    box.replaceWith(link);
  };
  box.addEventListener("blur", () => end(true));
  box.addEventListener("keydown", (e) => { if (e.key === "Enter") end(true); if (e.key === "Escape") end(false); });
  link.replaceWith(box);
  box.focus(); box.select();
}

$("pieces").addEventListener("click", async (e) => {
  const act = e.target.closest("[data-act]")?.dataset.act;
  if (!act) return;
  const card = e.target.closest(".piececard");
  try {
    if (act === "delete") await remove(card);
    if (act === "rename") rename(card);
    if (act === "duplicate") { await post(`/pieces/${card.dataset.id}/duplicate`); location.reload(); }
  } catch (err) { complain(err); }
});

keysDialog([["N", "New piece: pick a file"], ["Tab", "To the next piece or button"], ["Enter", "Open the piece"], ["?", "This list"]]);

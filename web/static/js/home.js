// The page of all pieces.

import { post, uploadTo } from "./api.js";
import { onPaste } from "./exchange.js";
import { $, complain, el, keysDialog, onDrop, say, typing } from "./page.js";

const drop = $("drop"), input = $("file"), bar = $("reading");
const maxMB = Number(document.querySelector(".bench").dataset.maxMb);

async function take(files) {
  files = files.filter((f) => {
    if (f.size <= maxMB << 20) return true;
    say(`${f.name} has ${f.size >> 20} MB; the most that is read is ${maxMB} MB. Leave out embedded bitmaps or split the artwork.`, { bad: true });
    return false;
  });
  if (files.length > 1) files = await together(files); else files = files.map((f) => [f]);
  let last = null, made = 0;
  for (const group of files) {
    bar.hidden = false; bar.value = 0;
    try {
      last = await uploadTo("/pieces", group, (p) => { if (p < 100) bar.value = p; else bar.removeAttribute("value"); });
      made++;
    } catch (e) { complain(e); }
  }
  bar.hidden = true;
  input.value = "";
  if (made === 1 && files.length === 1) location.href = last.address;
  else if (made) location.reload();
}

// together asks whether several files are one piece or several.
function together(files) {
  return new Promise((resolve) => {
    const d = el("dialog", { class: "ask", "aria-labelledby": "asktitle" });
    let answer = [];
    const choice = (title, small, value) => el("button", { class: "bigchoice", type: "button", onclick: () => { answer = value; d.close(); } }, el("b", {}, title), el("span", {}, small));
    d.append(el("h2", { id: "asktitle" }, `${files.length} files`), choice("One piece", `with ${files.length} sheets`, [files]), choice(`${files.length} pieces`, "one for each file", files.map((f) => [f])),
      el("button", { class: "plainbutton", type: "button", onclick: () => d.close() }, "Cancel"));
    d.addEventListener("close", () => { d.remove(); resolve(answer); });
    document.body.append(d);
    d.showModal();
  });
}

drop.addEventListener("click", () => input.click());
drop.addEventListener("keydown", (e) => { if (e.key === "Enter" || e.key === " ") { e.preventDefault(); input.click(); } });
input.addEventListener("click", (e) => e.stopPropagation());
input.addEventListener("change", () => take([...input.files]));
onDrop(take);
onPaste(take);
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

keysDialog([["N", "New piece: pick a file"], ["Ctrl V", "New piece of SVG code in the clipboard"], ["Tab", "To the next piece or button"], ["Enter", "Open the piece"], ["?", "This list"]]);

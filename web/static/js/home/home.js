// The page of all pieces.

import { post, uploadTo } from "../lib/api.js";
import { $, ask, bigChoice, bringBack, complain, el, onDrop, onPaste, say } from "../lib/page.js";
import { inScope } from "../lib/acts.js";
import { helpDialog } from "../lib/help.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";
import { deletedHere, showDeleted } from "./deleted.js";

// Many at once comes along when it is asked for, so that the page is ready at once.
const many = () => import("./series.js");
const series = async (files) => (await many()).series(files);

$("leave")?.addEventListener("click", async () => {
  try {
    location.href = (await post("/leave")).to;
  } catch (e) {
    complain(e);
  }
});

const drop = $("drop");
const input = $("file");
const bar = $("reading");
const maxMB = Number(document.querySelector(".bench").dataset.maxMb);

function small(f) {
  if (f.size <= maxMB << 20) return true;
  const text = `${f.name} has ${f.size >> 20} MB; the most that is read is ${maxMB} MB. Leave out embedded bitmaps or split the artwork.`;
  say(text, { bad: true });
  return false;
}

async function take(files) {
  if (files.some((f) => /\.json$/i.test(f.name))) {
    // A recipe came along: it is for all of the others.
    if (files.length > 1) return series(files.filter(small)).catch(complain);
    return say("This is a recipe. Drop it together with the artwork that it is for.", { bad: true });
  }
  files = files.filter(small);
  const groups = files.length > 1 ? await together(files) : files.map((f) => [f]);
  let last = null;
  let made = 0;
  const progress = (p) => {
    if (p < 100) bar.value = p;
    else bar.removeAttribute("value");
  };
  for (const group of groups) {
    bar.hidden = false;
    bar.value = "0";
    try {
      last = await uploadTo("/pieces", group, progress);
      made++;
    } catch (e) {
      complain(e);
    }
  }
  bar.hidden = true;
  input.value = "";
  if (made === 1 && groups.length === 1) location.href = last.address;
  else if (made) location.reload();
}

// together asks whether several files are one piece or several.
function together(files) {
  return new Promise((resolve) => {
    let answer = [];
    const choose = (value) => () => {
      answer = value;
      d.close();
    };
    const d = ask(
      `${files.length} files`,
      "",
      bigChoice("One piece", `with ${files.length} sheets`, choose([files])),
      bigChoice(`${files.length} pieces`, "one for each file", choose(files.map((f) => [f]))),
      bigChoice("Many at once", "each raised by one recipe, one archive of all", () => {
        d.close();
        series(files).catch(complain);
      }),
      el("button", { class: "plainbutton", type: "button", onclick: choose([]) }, "Cancel"),
    );
    d.addEventListener("close", () => resolve(answer));
  });
}

drop.addEventListener("click", () => input.click());
input.addEventListener("click", (e) => e.stopPropagation());
input.addEventListener("change", () => take([...input.files]));
onDrop(take);
onPaste(take);
inScope("home", { new: () => input.click() });
inScope("frame", { keys: helpDialog });
$("help").addEventListener("click", helpDialog);

async function remove(card) {
  const { id, name } = card.dataset;
  await post(`/pieces/${id}/delete`);
  const place = card.nextSibling;
  card.remove();
  showDeleted();
  const back = () => {
    $("pieces").insertBefore(card, place?.isConnected ? place : null);
    return showDeleted();
  };
  say(`${name} deleted. It waits below for 30 days.`, { action: "Undo", stay: 12000, act: () => bringBack("piece", id, back) });
}

function rename(card) {
  const link = card.querySelector(".name");
  const box = el("input", { value: card.dataset.name, maxlength: longestName, "aria-label": "New name" });
  let over = false;
  const end = async (keep) => {
    if (over) return;
    over = true;
    const name = box.value.trim();
    box.replaceWith(link);
    if (!keep || !name || name === card.dataset.name) return;
    try {
      await post(`/pieces/${card.dataset.id}/change`, { label: "Name", edits: [{ kind: "name", name }] });
      card.dataset.name = name;
      link.textContent = name;
    } catch (e) {
      complain(e);
    }
  };
  box.addEventListener("blur", () => end(true));
  box.addEventListener("keydown", (e) => {
    if (e.key === "Enter") end(true);
    if (e.key === "Escape") end(false);
  });
  draft(box, "the new name");
  link.replaceWith(box);
  box.focus();
  box.select();
}

async function duplicate(card) {
  await post(`/pieces/${card.dataset.id}/duplicate`);
  location.reload();
}

// A damaged document may have a sound one before it.
async function undo(card) {
  await post(`/pieces/${card.dataset.id}/undo`);
  location.reload();
}

const acts = { delete: remove, rename, duplicate, undo };

$("pieces").addEventListener("click", async (e) => {
  const act = acts[e.target.closest("[data-act]")?.dataset.act];
  try {
    await act?.(e.target.closest(".piececard"));
  } catch (err) {
    complain(err);
  }
});

deletedHere();
import("./work.js").then(({ watchWork }) => watchWork({ series: async (id) => (await many()).watch(id) })).catch(complain);
document.body.dataset.ready = "1";

// What to do with a file that comes to a piece: add it, let it take the place
// of a sheet, or begin a piece of its own.

import { post, uploadTo } from "../lib/api.js";
import { $, ask, bigChoice, complain, el, say, swatch } from "../lib/page.js";
import { count } from "../lib/length.js";

const fonts = /\.(ttf|otf|ttc|woff2?)$/i;
const undo = { action: "Undo", act: () => $("undo").click() };
const cancel = (act) => el("button", { class: "plainbutton", type: "button", onclick: act }, "Cancel");

// receive asks what files are for and does it.
export async function receive(piece, files) {
  const faces = files.filter((f) => fonts.test(f.name));
  const art = files.filter((f) => !fonts.test(f.name));
  for (const f of faces) await add(piece, [f], `The font in ${f.name} is used now.`);
  if (!art.length || !piece.state) return;
  const one = art.length === 1;
  const then = (act) => () => {
    d.close();
    act();
  };
  const sheets = one ? piece.state.sheets.slice(0, 5) : [];
  const d = ask(
    one ? art[0].name : `${art.length} files`,
    "",
    ...sheets.map((s) =>
      bigChoice(
        `Replace ${s.name}`,
        "a changed file: your decisions stay with the shapes they belong to",
        then(() => exchange(piece, s, art[0])),
      ),
    ),
    bigChoice(
      "Add to this piece",
      one ? "as one more sheet" : "as further sheets",
      then(() => add(piece, art, one ? `${art[0].name} was added.` : `${art.length} sheets were added.`)),
    ),
    bigChoice(
      one ? "New piece" : "New pieces",
      "this one stays as it is",
      then(() => begin(piece, art)),
    ),
    cancel(() => d.close()),
  );
}

// add takes files into the piece.
export function add(piece, files, done) {
  return piece.changeBy(async () => {
    const upload = (job) => uploadTo(`${piece.base}/sheets`, files, null, job);
    const state = await piece.run(`Reading ${files[0].name}`, upload);
    say(done, undo);
    return state;
  });
}

async function begin(piece, files) {
  for (const f of files) {
    try {
      const r = await piece.run(`Reading ${f.name}`, (job) => uploadTo("/pieces", [f], null, job));
      const open = () => {
        location.href = r.address;
      };
      say(`${f.name} became a new piece.`, { action: "Open it", act: open, stay: 15000 });
    } catch (e) {
      complain(e);
    }
  }
}

// exchange shows what a changed file keeps, brings and loses before it is
// accepted.
export async function exchange(piece, sheet, file) {
  const address = `${piece.base}/sheets/${sheet.slot}`;
  let x;
  try {
    x = await piece.run(`Comparing ${file.name}`, (job) =>
      uploadTo(`${address}/propose`, [file], null, job),
    );
  } catch (e) {
    complain(e);
    return;
  }
  let settled = false;
  const accept = async () => {
    settled = true;
    d.close();
    const take = () => post(`${address}/accept?base=${piece.state.rev}`, { file: x.file });
    if (await piece.changeBy(take))
      say(`${x.name} took the place of ${sheet.name}.`, { ...undo, stay: 10000 });
  };
  const yes = el("button", { class: "button is-primary", type: "button", onclick: accept }, "Replace");
  const no = el("button", { class: "button", type: "button", onclick: () => d.close() }, "Leave as it is");
  const lists = el(
    "div",
    { class: "lists" },
    list("kept", "kept as they were", x.kept, "="),
    list("changed", "kept, but look different", x.changed, "~"),
    list("new", "new", x.new, "+"),
    list("gone", "gone", x.gone, "−"),
  );
  const d = ask(
    `${x.name} for ${sheet.name}`,
    "wide",
    el("div", { class: "comparison" }, picture(x), lists),
    el(
      "p",
      { class: "soft" },
      "Names, colours, what is excluded and the measures of parts stay with the shapes that are kept. Undo brings the old file back.",
    ),
    el("div", { class: "buttons" }, yes, no),
  );
  d.addEventListener("close", () => {
    if (!settled) post(`${piece.base}/decline`, { file: x.file }).catch(() => {});
  });
  yes.focus();
}

function picture(x) {
  const [bx, by, bw, bh] = x.box;
  const pad = 0.04 * Math.max(bw, bh);
  const paths = ["kept", "changed", "new", "gone"].flatMap((kind) =>
    x[kind].paths.map((d) => el("path", { class: kind, d })),
  );
  return el(
    "svg",
    {
      class: "compare",
      viewBox: `${bx - pad} ${by - pad} ${bw + 2 * pad} ${bh + 2 * pad}`,
      role: "img",
      "aria-label": "Kept, changed, new and gone shapes",
    },
    ...paths,
  );
}

const shown = 12; // names of each list

function list(kind, title, part, sign) {
  const head = el("h3", {}, el("i", { "aria-hidden": "true" }, sign), `${count(part.count)} ${title}`);
  if (!part.names?.length) return el("section", { class: `was ${kind}` }, head);
  const names = part.names.slice(0, shown).map((n) => el("li", {}, swatch(n.color), n.name));
  const more =
    part.count > shown ? [el("li", { class: "soft" }, `and ${count(part.count - shown)} more`)] : [];
  return el("section", { class: `was ${kind}` }, head, el("ul", {}, ...names, ...more));
}

// Many files at once: each raised by one recipe and written in one format, one archive of all.

import { get, getFile, post, uploadTo } from "../lib/api.js";
import { field, select, usual } from "../lib/field.js";
import { count } from "../lib/length.js";
import { ask, complain, el, hand } from "../lib/page.js";

const formats = [
  ["stl", "STL"],
  ["3mf", "3MF"],
  ["glb", "GLB"],
  ["ply", "PLY"],
  ["usdz", "USDZ"],
  ["svg", "SVG, cleaned"],
  ["dxf", "DXF"],
  ["gcode", "G-code"],
];
const words = { waiting: "waits", running: "is raised", done: "done", failed: "failed", cancelled: "cancelled" };
const every = 400; // ms between two questions

// series asks by which recipe files are raised, begins, and shows how far it is.
export async function series(files) {
  const own = files.some((f) => /\.json$/i.test(f.name));
  const { recipes } = await get("/recipes");
  const names = recipes.map((r) => [r.name, r.name]);
  const values = { width: usual("series.width") };
  const by = select("series-recipe", "Recipe", own ? [["", "the one that was dropped"]] : [["", "the usual measures"], ...names], () => {});
  const as = select("series-format", "Written as", formats, () => {});
  const width = field({ of: "series.width", value: values.width, done: (v) => (values.width = v) });
  const n = files.length - (own ? 1 : 0);
  const begin = el("button", { class: "button is-primary", type: "button", "data-act": "begin-series" }, `Raise ${n} files`);
  const d = ask(
    `${n} files by one recipe`,
    "series",
    by.row,
    as.row,
    own ? null : width.row,
    el("div", { class: "printacts" }, begin, el("button", { class: "button", type: "button", onclick: () => d.close() }, "Cancel")),
  );
  begin.addEventListener("click", async () => {
    begin.disabled = true;
    const query = new URLSearchParams({ recipe: by.input.value, format: as.input.value });
    if (!own) query.set("width", `${values.width}mm`);
    try {
      const made = await uploadTo(`/series?${query}`, files, (p) => (begin.textContent = `Sending ${Math.round(p)} %`));
      d.close();
      watch(made.id);
      dispatchEvent(new Event("work"));
    } catch (e) {
      complain(e);
      begin.disabled = false;
    }
  });
}

// watch shows a line a file. The series goes on when the dialog is closed.
export function watch(id) {
  const list = el("ol", { class: "serieslines" });
  const sum = el("p", { class: "soft", role: "status" });
  const bar = el("progress", { class: "progress is-small is-primary", max: 1, value: 0, "aria-label": "How far it is" });
  const button = (name, text, act, main) =>
    el("button", { class: `button ${main ? "is-primary" : ""}`, type: "button", "data-act": name, onclick: act }, text);
  const fetchZip = async () => {
    try {
      hand(await getFile(`/series/${id}/results.zip`));
    } catch (e) {
      complain(e);
    }
  };
  const zip = button("series-zip", "Download all", fetchZip, true);
  const stop = button("series-cancel", "Stop it", () => post(`/series/${id}/cancel`).catch(complain));
  const close = button("series-close", "Close", () => d.close());
  const kept = "It goes on when this is closed, and is found again on the page of all pieces until its results are fetched.";
  const note = el("p", { class: "soft" }, kept);
  const d = ask("Many at once", "series", sum, bar, list, note, el("div", { class: "printacts" }, zip, stop, close));
  let open = true;
  d.addEventListener("close", () => {
    open = false;
    delete document.body.dataset.series;
    dispatchEvent(new Event("work"));
  });
  const row = (l) =>
    el(
      "li",
      { class: l.state, "data-line": l.state },
      el("b", {}, l.name),
      ` ${words[l.state]}`,
      l.state === "done" ? el("span", { class: "soft" }, ` ${l.file}, ${count(Math.ceil(l.bytes / 1000))} kB`) : null,
      l.note ? el("p", { class: "reason" }, l.note) : null,
    );
  let told = "";
  const look = async () => {
    if (!open) return;
    try {
      const s = await get(`/series/${id}`);
      const of = (state) => s.lines.filter((l) => l.state === state).length;
      const ended = of("done") + of("failed") + of("cancelled");
      sum.textContent = `${ended} of ${s.lines.length} files, ${of("done")} done, ${of("failed")} failed`;
      bar.value = ended / s.lines.length;
      const text = JSON.stringify(s.lines);
      if (text !== told) list.replaceChildren(...s.lines.map(row));
      told = text;
      zip.disabled = !s.over || !of("done");
      stop.hidden = s.over;
      document.body.dataset.series = s.over ? "over" : "runs";
      if (s.over) return;
    } catch (e) {
      if (e.status) {
        sum.textContent = e.message;
        zip.disabled = true;
        document.body.dataset.series = "gone";
        return;
      }
    }
    setTimeout(look, every);
  };
  look();
}

// What pages read and write by the table: lengths as people type them, profiles, keys of acts.

import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import test from "node:test";

import { comboOf, fits, keysOf } from "../static/js/lib/combo.js";
import { read } from "../static/js/lib/length.js";
import { firstOf, labelOf, optionsOf, usual } from "../static/js/lib/terms.js";
import { scopes } from "../static/js/made/acts.js";
import { choices, figures, profiles, tracks } from "../static/js/made/terms.js";
import { icon, ownProfile, points, rises } from "../static/js/raise/profiles.js";
import { eased, movable, valueAt } from "../static/js/show/ease.js";

const measures = JSON.parse(readFileSync(new URL("../../core/units/testdata/measures.json", import.meta.url), "utf8"));

test("lengths and figures are read as the program reads them", () => {
  for (const { text, mm, unclear } of measures.lengths) {
    const got = read(text);
    if (mm === undefined) assert.ok(Number.isNaN(got.value), text);
    else assert.ok(Math.abs(got.value - mm) < 1e-9, `${text}: ${got.value}`);
    if (unclear) assert.match(got.why, /can be/);
  }
  for (const { text, unit, value } of measures.figures) {
    const got = read(text, unit);
    if (value === undefined) assert.ok(got.why, `${text} as ${unit}`);
    else assert.ok(Math.abs(got.value - value) < 1e-9, `${text} as ${unit}: ${got.value}`);
  }
});

test("profiles run from the rim to the face", () => {
  for (const { name, drawn } of profiles) {
    const line = points({ profile: name, segments: 5, curve: drawn ? [{ t: 0, f: 0 }, { t: 0.4, f: 0.9, bend: 1 }, { t: 1, f: 1 }] : undefined });
    assert.deepEqual(line[0], [0, 0], name);
    assert.deepEqual(line.at(-1).map((v) => Math.round(v * 1e9) / 1e9), [1, 1], name);
    for (const [i, [t, f]] of line.entries()) {
      assert.ok(t >= 0 && t <= 1 + 1e-12 && f >= 0 && f <= 1 + 1e-12, name);
      assert.ok(i === 0 || t >= line[i - 1][0], `${name} turns back`);
    }
    assert.match(icon(name), /^M2 15[LV]/);
  }
  assert.equal(ownProfile, "custom");
  assert.ok(rises({ profile: "dome", width: 0, height: 1 }) && !rises({ profile: "round", width: 0, height: 1 }));
});

test("choices and figures are told by the table", () => {
  for (const c of Object.values(choices)) {
    assert.equal(firstOf(c.name), c.options[0].name);
    assert.equal(optionsOf(c.name).length, c.options.length);
    assert.equal(labelOf(c.name, c.options.at(-1).name), c.options.at(-1).label);
  }
  assert.equal(usual("depth"), figures.depth.usual);
  assert.equal(usual("clearance"), 0);
});

test("tracks go from key to key", () => {
  const track = { keys: [{ frame: 10, value: 2, ease: "even" }, { frame: 20, value: 4, ease: "hold" }, { frame: 30, value: 0 }] };
  assert.deepEqual([0, 10, 15, 20, 29, 30, 99].map((f) => valueAt(track, f)), [2, 2, 3, 4, 4, 0, 0]);
  for (const kind of ["part", "camera", "scene", "lamp"]) assert.ok(movable(kind).every((w) => tracks.some((t) => t.name === w)));
  assert.equal(eased({ ease: "spring" }, 0), 0);
});

test("keys are told as the table of acts writes them", () => {
  const key = (k, more = {}) => comboOf({ key: k, ...more });
  assert.equal(key("z", { ctrlKey: true, shiftKey: true }), "Ctrl+Shift+Z");
  assert.equal(key("z", { metaKey: true }), "Ctrl+Z");
  assert.equal(key(" "), "Space");
  assert.equal(key("?", { shiftKey: true }), "?");
  assert.equal(key("+", { shiftKey: true }), "+");
  assert.equal(key("ArrowUp", { altKey: true }), "Alt+ArrowUp");
  assert.equal(key("H", { shiftKey: true }), "Shift+H");
  const act = (name) => scopes.flatMap((s) => s.acts).find((a) => a.name === name);
  assert.ok(fits(act("frame.step"), "3") && !fits(act("frame.step"), "7") && !fits(act("frame.step"), "12"));
  assert.ok(fits(act("release.nearer"), "+") && fits(act("frame.redo"), "Ctrl+Y"));
  assert.deepEqual(keysOf("Ctrl+Shift+Z"), ["Ctrl", "Shift", "Z"]);
  assert.deepEqual(keysOf("+"), ["+"]);
  assert.deepEqual(keysOf("Alt+ArrowLeft"), ["Alt", "←"]);
});

// The curves of pages against what core/curves returned for the same calls.

import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import test from "node:test";

import * as curves from "../static/js/made/curves.js";

const vectors = JSON.parse(readFileSync(new URL("../../core/curves/testdata/vectors.json", import.meta.url), "utf8"));

// near compares numbers as two processors may round them, and all else exactly.
function near(a, b, path) {
  if (typeof a === "number") assert.ok(Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a)), `${path}: ${b}, not ${a}`);
  else if (a && typeof a === "object") {
    assert.deepEqual(Object.keys(b).sort(), Object.keys(a).sort(), path);
    for (const k of Object.keys(a)) near(a[k], b[k], `${path}.${k}`);
  } else assert.equal(b, a, path);
}

for (const call of new Set(vectors.map((v) => v.call)))
  test(`${call} is as the program computes it`, () => {
    for (const [i, v] of vectors.entries()) if (v.call === call) near(v.gave, curves[call](...v.with), `${call} ${i}`);
  });

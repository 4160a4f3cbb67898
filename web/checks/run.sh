#!/bin/sh
# Checks the JavaScript of the pages: unit tests by Node's own runner, then types and style by tools from
# npm, which are kept outside of the repository. Where Node or npm are missing, a word says so: the tests
# that drive a browser look at all of it, too.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
root=$(cd "$here/../.." && pwd)
if ! command -v node >/dev/null; then
  echo "There is no Node.js here: unit tests, types and style of JavaScript are passed over"
  exit 0
fi
# Older ones take modules for scripts.
if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
  echo "This Node.js is older than 20.19: unit tests, types and style of JavaScript are passed over"
  exit 0
fi
node --test --test-reporter=dot "$here"/*.test.mjs
if ! command -v npm >/dev/null; then
  echo "There is no npm here: types and style of JavaScript are passed over"
  exit 0
fi
tools="${TMPDIR:-/tmp}/bildhauer-js-$(cksum <"$here/package.json" | cut -d' ' -f1)"
if [ ! -x "$tools/node_modules/.bin/tsc" ]; then
  mkdir -p "$tools"
  cp "$here/package.json" "$tools/"
  if ! (cd "$tools" && npm install --no-audit --no-fund --no-package-lock --loglevel=error >"$tools/log" 2>&1); then
    echo "The tools can't be had from npm: types and style of JavaScript are passed over"
    exit 0
  fi
fi
"$tools/node_modules/.bin/tsc" -p "$here"
cp "$here/eslint.config.mjs" "$tools/"
cd "$root/web/static/js"
"$tools/node_modules/.bin/eslint" -c "$tools/eslint.config.mjs" .
echo "JavaScript is checked: unit tests, types, style"

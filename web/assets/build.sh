#!/bin/sh
# Rebuilds web/static/vendor from the npm registry. Needed only to change
# versions: the results are in the repository.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
out="$here/../static/vendor"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
npm init -y >/dev/null
npm install --no-audit --no-fund --loglevel=error bulma@1.0.4 three@0.187.0 esbuild@0.28.2 mediabunny@1.61.0 axe-core@4.14.1 @fontsource/source-sans-3@5 @fontsource/fira-mono@5
mkdir -p "$out/fonts"
cp node_modules/bulma/css/versions/bulma-no-dark-mode.min.css "$out/bulma.min.css"
cp node_modules/bulma/LICENSE "$out/bulma.LICENSE"
cp "$here/three-entry.js" entry.js
npx esbuild entry.js --bundle --minify --format=esm --legal-comments=none --outfile="$out/three.min.js"
cp "$here/mediabunny-entry.js" clip.js
npx esbuild clip.js --bundle --minify --format=esm --legal-comments=none --outfile="$out/mediabunny.min.js"
cp "$here/usd-entry.js" usd.js
npx esbuild usd.js --bundle --minify --format=iife --legal-comments=none --outfile="$here/../testdata/vendor/usdloader.min.js"
cp node_modules/three/LICENSE "$here/../testdata/vendor/three.LICENSE"
cp node_modules/mediabunny/LICENSE "$out/mediabunny.LICENSE"
cp node_modules/three/LICENSE "$out/three.LICENSE"
# What the tests look at pages with; it does not go into the program.
cp node_modules/axe-core/axe.min.js "$here/../testdata/vendor/axe.min.js"
cp node_modules/axe-core/LICENSE "$here/../testdata/vendor/axe.LICENSE"
for weight in 400 600; do
  cp "node_modules/@fontsource/source-sans-3/files/source-sans-3-latin-$weight-normal.woff" "$out/fonts/"
done
cp node_modules/@fontsource/fira-mono/files/fira-mono-latin-400-normal.woff "$out/fonts/"
cp node_modules/@fontsource/source-sans-3/LICENSE "$out/fonts/source-sans-3.LICENSE"
cp node_modules/@fontsource/fira-mono/LICENSE "$out/fonts/fira-mono.LICENSE"

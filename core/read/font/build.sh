#!/bin/sh
# Rebuilds the shipped fonts from Debian's packages (fonts-texgyre,
# fonts-texgyre-math, fonts-dejavu-extra, python3-fonttools) and the npm
# registry. Needed only to change them: the results are in the repository.
set -eu
out=$(cd "$(dirname "$0")" && pwd)/shipped
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir -p "$out"
letters=U+0020-024F,U+02B0-02FF,U+1E00-1EFF,U+2000-206F,U+2070-209F,U+20A0-20BF,U+2100-214F,U+2190-21FF,U+2200-22FF,U+25A0-25FF,U+FB00-FB04
# Scripts that the upright Sans has; Arabic letters change by their place in a word.
scripts=U+0530-058F,U+0590-05FF,U+0600-06FF,U+10A0-10FF,U+FB13-FB4F,U+FB50-FDFF,U+FE70-FEFF
wide=$letters,U+0370-03FF,U+0400-04FF,U+2150-218F,U+2300-23FF,U+2600-27BF
take() { # source, target, characters
  /usr/bin/python3 -m fontTools.subset "$1" --unicodes="$3" --layout-features='kern,liga,ccmp,mark,mkmk,calt,rlig,init,medi,fina,isol' --glyph-names --no-hinting --flavor=woff --output-file="$out/$2.woff"
}
gyre=/usr/share/texmf/fonts/opentype/public/tex-gyre
for f in heros heroscn termes cursor adventor bonum schola pagella; do
  for s in regular bold italic bolditalic; do take $gyre/texgyre$f-$s.otf texgyre$f-$s "$letters"; done
done
take $gyre/texgyrechorus-mediumitalic.otf texgyrechorus-mediumitalic "$letters"
take ${gyre}-math/texgyretermes-math.otf texgyretermes-math U+0020-007E,U+00A0-00FF,U+0370-03FF,U+2000-22FF,U+2300-23FF,U+25A0-25FF,U+2660-2667
cp /usr/share/texmf/doc/fonts/tex-gyre-math/GUST-FONT-LICENSE.txt "$out/texgyre.LICENSE"
dejavu=/usr/share/fonts/truetype/dejavu
for f in Sans Sans-Bold Sans-Oblique Sans-BoldOblique SansMono SansMono-Bold Serif Serif-Bold Serif-Italic Serif-BoldItalic; do
  case $f in Sans | Sans-Bold) chosen=$wide,$scripts ;; *) chosen=$wide ;; esac
  take $dejavu/DejaVu$f.ttf dejavu$(echo $f | tr A-Z a-z) "$chosen"
done
cp /usr/share/doc/fonts-dejavu-core/copyright "$out/dejavu.LICENSE"
cd "$work"
npm init -y >/dev/null
npm install --no-audit --no-fund --loglevel=error @fontsource/zilla-slab@5 @fontsource/pacifico@5
for f in zilla-slab-latin-400-normal zilla-slab-latin-700-normal zilla-slab-latin-400-italic; do
  cp node_modules/@fontsource/zilla-slab/files/$f.woff "$out/"
done
cp node_modules/@fontsource/zilla-slab/LICENSE "$out/zilla-slab.LICENSE"
cp node_modules/@fontsource/pacifico/files/pacifico-latin-400-normal.woff "$out/"
cp node_modules/@fontsource/pacifico/LICENSE "$out/pacifico.LICENSE"

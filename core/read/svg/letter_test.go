package svg

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"bildhauer/internal/likeness"
)

// drawnFont is a font of square letters: an em of 100, A is 40 wide and 60 high.
const drawnFont = `<font id="q" horiz-adv-x="50"><font-face font-family="Quay" units-per-em="100" ascent="80" descent="-20"/>
	<missing-glyph horiz-adv-x="30" d="M0 0h20v20h-20z"/>
	<glyph unicode="ffi" glyph-name="ffi" horiz-adv-x="90" d="M0 0h80v50h-80z"/>
	<glyph unicode="A" glyph-name="A" d="M0 0h40v60h-40z"/>
	<glyph unicode="f" glyph-name="f" horiz-adv-x="20" d="M0 0h10v50h-10z"/>
	<glyph unicode="B" glyph-name="B"><path d="M0 0h20v30h-20z"/></glyph>
	<glyph unicode="ب" arabic-form="initial" d="M0 0h11v10h-11z"/><glyph unicode="ب" arabic-form="medial" d="M0 0h12v10h-12z"/>
	<glyph unicode="ب" arabic-form="terminal" d="M0 0h13v10h-13z"/><glyph unicode="ب" arabic-form="isolated" d="M0 0h14v10h-14z"/>
	<hkern u1="A" g2="B" k="10"/><hkern u1="U+41-42" u2="A" k="20"/></font>`

// TestToTheLetter reads what the standard has and exporters write now and then: fonts that are
// drawn in the file, entities that hold shapes, units, patterns, markers, references.
func TestToTheLetter(t *testing.T) {
	text := func(s string) string {
		return drawnFont + `<text y="100" font-family="Quay" font-size="100">` + s + `</text>`
	}
	doctype := `<!DOCTYPE svg [<!ENTITY lamp "<circle r='2'/>"><!ENTITY two "&lamp;<rect width='4' height='4'/>"><!ENTITY red "#ff0000">]>`
	for name, c := range map[string]struct{ head, body, want string }{
		"letters":            {"", text("A"), `fill #000000 0,40 40,100 "A"`},
		"a shape as letter":  {"", text("B"), `fill #000000 0,70 20,100 "B"`},
		"kerning by name":    {"", text("AB"), `fill #000000 0,40 60,100 "AB"`},
		"kerning by range":   {"", text("AA"), `fill #000000 0,40 70,100 "AA"`},
		"a ligature":         {"", text("ffi"), `fill #000000 0,50 80,100 "ffi"`},
		"no ligature":        {"", text("ff"), `fill #000000 0,50 30,100 "ff"`},
		"one that is absent": {"", text("x"), `fill #000000 0,80 20,100 "x"`},
		"arabic forms":       {"", text("ببب"), `fill #000000 0,90 111,100 "ببب"`},
		"one arabic letter":  {"", text("ب"), `fill #000000 0,90 14,100 "ب"`},
		"a font by its face": {"", `<style>@font-face{font-family:Quay;src:url(#q)}</style>` + text("A"), `fill #000000 0,40 40,100 "A"`},

		"small capitals": {"", drawnFont + `<text y="100" font-family="Quay" font-size="100" font-variant="small-caps">Aa</text>`,
			`fill #000000 0,40 80,100 "AA"`},
		"by the shorthand": {"", drawnFont + `<text y="100" style="font: small-caps 100px Quay">aA</text>`, `fill #000000 0,40 77.5,100 "AA"`},

		"an entity of shapes":   {doctype, `&two;`, "fill #000000 -2,-2 2,2; fill #000000 0,0 4,4"},
		"an entity as a colour": {doctype, `<rect fill="&red;" width="2" height="2"/>`, "fill #ff0000 0,0 2,2"},
		"not in a comment":      {doctype, `<!-- &two; --><rect width="2" height="2"/>`, "fill #000000 0,0 2,2"},

		"rem":                 {"", `<g font-size="40"><rect width="1rem" height="1em"/></g>`, "fill #000000 0,0 16,40"},
		"parts of the window": {"", `<rect width="10vw" height="20vh"/>`, "fill #000000 0,0 20,20"},
		"its smaller side":    {"", `<rect width="10vmin" height="10vmax"/>`, "fill #000000 0,0 10,20"},

		"a style sheet as data": {"", `<style>@import url("data:text/css,rect{fill:red}");</style><rect width="2" height="2"/>`, "fill #ff0000 0,0 2,2"},
		"one elsewhere": {"", `<style>@import url(more.css);rect{fill:red}</style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2; left out: style rule that is not understood"},

		"a pattern on a stroke": {"", `<pattern id="p" width="5" height="100" patternUnits="userSpaceOnUse"><rect width="2" height="100"/></pattern>` +
			`<line x2="10" y1="5" y2="5" stroke-width="4" stroke="url(#p)"/>`, "fill #000000 0,3 2,7; fill #000000 5,3 7,7"},
		"a pattern without extent": {"", `<pattern id="p"><rect width="2" height="2"/></pattern><rect fill="url(#p) lime" width="9" height="9"/>`,
			"fill #00ff00 0,0 9,9"},
		"a pattern that begins elsewhere": {"", `<pattern id="p" x="1" y="1" width="5" height="5" patternUnits="userSpaceOnUse">` +
			`<rect width="2" height="2"/></pattern><rect fill="url(#p)" x="1" y="1" width="5" height="5"/>`, "fill #000000 1,1 3,3"},

		"a marker is cut": {"", `<marker id="m" markerUnits="userSpaceOnUse"><rect width="9" height="9"/></marker>` +
			`<path d="M0 0h10" stroke="red" fill="none" marker-end="url(#m)"/>`, "stroke #ff0000 0,-0.5 10,0.5; fill #000000 10,0 13,3"},
		"marker is no attribute": {"", `<marker id="m"><rect width="9" height="9"/></marker><path d="M0 0h10" stroke="red" fill="none" marker="url(#m)"/>`,
			"stroke #ff0000 0,-0.5 10,0.5"},

		"text from elsewhere": {"", drawnFont + `<defs><text id="a">f<tspan>f</tspan></text></defs>` +
			`<text y="100" font-family="Quay" font-size="100"><tref href="#a"/></text>`, `fill #000000 0,50 30,100 "ff"`},
		"a mask in a mask": {"", `<mask id="a"><rect x="2" width="9" height="9" fill="white"/></mask>` +
			`<mask id="b"><g mask="url(#a)"><rect width="6" height="9" fill="white"/></g></mask><rect width="20" height="20" mask="url(#b)"/>`,
			"fill #000000 2,0 6,9"},
		"a mask that is partly in a mask": {"", `<mask id="a"><rect width="9" height="9" fill="white"/></mask>` +
			`<mask id="b"><rect x="7" width="2" height="9" fill="white"/><rect mask="url(#a)" width="6" height="9" fill="white"/></mask>` +
			`<rect width="20" height="20" mask="url(#b)"/>`,
			"fill #000000 0,0 20,20; changed: mask with soft or layered parts not applied, the whole object is shown (<rect>)"},
		"a mask in itself": {"", `<mask id="a"><rect mask="url(#a)" width="9" height="9" fill="white"/></mask>` +
			`<rect width="20" height="20" mask="url(#a)"/>`,
			"fill #000000 0,0 9,9; changed: mask that is missing ignored (<rect>)"},
		"a feature that is there": {"", `<switch><rect requiredFeatures="http://www.w3.org/TR/SVG11/feature#Shape" width="2" height="2"/>` +
			`<rect width="9" height="9"/></switch>`,
			"fill #000000 0,0 2,2"},
		"a feature that is not": {"", `<switch><rect requiredFeatures="http://www.w3.org/TR/SVG11/feature#SVGDOM" width="2" height="2"/>` +
			`<rect width="9" height="9"/></switch>`,
			"fill #000000 0,0 9,9"},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := readWhole(c.head + `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">` + c.body + `</svg>`)
			if err != nil {
				t.Fatal(err)
			}
			if got := likeness.Words(s, 1); got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}

// TestHugeDrawnFonts sets much text in a font of very many letters, ligatures and pairs: it is
// read at once, or refused for its size.
func TestHugeDrawnFonts(t *testing.T) {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><font><font-face font-family="Quay"/>`)
	for i := range 20_000 {
		fmt.Fprintf(&b, `<glyph unicode="a%c" glyph-name="g%d"/><hkern g1="g%d" u2="U+0-FFFF" k="1"/>`, rune(0x4e00+i), i, i)
	}
	b.WriteString(`</font><text font-family="Quay">` + strings.Repeat("ab", 20_000) + `</text><rect width="2" height="2"/></svg>`)
	begun := time.Now()
	_, err := readWhole(b.String())
	if spent := time.Since(begun); spent > 5*time.Second {
		t.Errorf("it took %v (%v)", spent, err)
	}
}

package svg

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"bildhauer/internal/likeness"
	"bildhauer/internal/worktime"
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
		"a pattern too fine to be copied": {"", `<pattern id="p" width="0.4" height="0.4" patternUnits="userSpaceOnUse"><rect width="0.2" height="0.4" fill="red"/>` +
			`<rect x="0.2" width="0.2" height="0.4" fill="#0000ff"/></pattern><rect fill="url(#p)" width="90" height="90"/>`,
			"fill #800080 0,0 90,90; changed: pattern became its mean colour (p)"},
		"one of half its area": {"", `<pattern id="p" width="0.4" height="0.4" patternUnits="userSpaceOnUse"><rect width="0.2" height="0.4" fill="#0f0"/>` +
			`</pattern><rect fill="url(#p)" width="90" height="90"/>`, "fill #00ff00 at 0.5 0,0 90,90; changed: pattern became its mean colour (p)"},
		"a pattern of nothing, too fine": {"", `<pattern id="p" width="0.4" height="0.4" patternUnits="userSpaceOnUse"/><rect fill="url(#p)" width="90" height="90"/>`,
			"fill #808080 0,0 90,90; changed: pattern became plain grey (<rect>)"},
		"a pattern that begins elsewhere": {"", `<pattern id="p" x="1" y="1" width="5" height="5" patternUnits="userSpaceOnUse">` +
			`<rect width="2" height="2"/></pattern><rect fill="url(#p)" x="1" y="1" width="5" height="5"/>`, "fill #000000 1,1 3,3"},

		"a marker is cut": {"", `<marker id="m" markerUnits="userSpaceOnUse"><rect width="9" height="9"/></marker>` +
			`<path d="M0 0h10" stroke="red" fill="none" marker-end="url(#m)"/>`, "stroke #ff0000 0,-0.5 10,0.5; fill #000000 10,0 13,3"},
		"a marker in the colours of its path": {"", `<marker id="m" markerUnits="userSpaceOnUse" fill="context-stroke"><rect width="2" height="2"/>` +
			`<rect x="1" width="1" height="1" fill="context-fill"/></marker><path d="M0 0h10v9" stroke="red" fill="#00ff00" marker-start="url(#m)"/>`,
			"fill #00ff00 0,0 10,9; stroke #ff0000 0,-0.5 10.5,9; fill #ff0000 0,0 2,2; fill #00ff00 1,0 2,1"},
		"a copy in the colours of its use": {"", `<defs><rect id="a" width="2" height="2" fill="context-stroke"/></defs><use href="#a" stroke="currentColor" color="blue"/>`,
			"fill #0000ff 0,0 2,2; stroke #0000ff -0.5,-0.5 2.5,2.5"},
		"no context": {"", `<rect width="2" height="2" fill="context-fill" stroke="red"/>`, "stroke #ff0000 -0.5,-0.5 2.5,2.5"},
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
			"fill #000000 0,0 9,9; changed: soft mask: its edge is where half of the object shows through (<rect>)"},
		"a mask that fades": {"", `<linearGradient id="g"><stop stop-color="white"/><stop offset="1" stop-color="black"/></linearGradient>` +
			`<mask id="m"><rect width="20" height="10" fill="url(#g)"/></mask><rect width="20" height="10" mask="url(#m)"/>`,
			"fill #000000 0,0 10,10; changed: soft mask: its edge is where half of the object shows through (<rect>)"},
		"light on dark on light": {"", `<mask id="m"><path d="M0 0h15v10H0z" fill="white"/><path d="M0 0h15v10H0z" fill="black"/>` +
			`<path d="M0 0h5v10H0z" fill="white"/></mask><rect width="14" height="10" mask="url(#m)"/>`,
			"fill #000000 0,0 5,10; changed: soft mask: its edge is where half of the object shows through (<rect>)"},
		"a mask by a gradient's cover": {"", `<linearGradient id="g"><stop/><stop offset="1" stop-opacity="0"/></linearGradient>` +
			`<mask id="m" mask-type="alpha"><rect width="20" height="10" fill="url(#g)"/></mask><rect width="20" height="10" mask="url(#m)"/>`,
			"fill #000000 0,0 10.01,10; changed: soft mask: its edge is where half of the object shows through (<rect>)"},
		"a mask of a stroke": {"", `<mask id="m"><path d="M0 5h20" stroke="white" stroke-width="4"/></mask><rect width="20" height="10" mask="url(#m)"/>`,
			"fill #000000 0,3 20,7"},
		"a mask of a text": {"", drawnFont + `<mask id="m"><text y="60" font-family="Quay" font-size="100" fill="white">f</text></mask>` +
			`<rect width="99" height="99" mask="url(#m)"/>`,
			"fill #000000 0,10 10,60; changed: soft mask: its edge is where half of the object shows through (<rect>)"},
		"a mask's own region": {"", `<mask id="m" maskUnits="userSpaceOnUse" x="2" y="0" width="4" height="9"><rect width="20" height="10" fill="white"/></mask>` +
			`<rect width="20" height="10" mask="url(#m)"/>`, "fill #000000 2,0 6,9"},
		"text that runs down": {"", drawnFont + `<text x="50" y="0" font-family="Quay" font-size="100" writing-mode="tb">f</text>`,
			`fill #000000 20,0 70,10 "f"`},
		"text that stands": {"", drawnFont + `<text x="50" y="0" font-family="Quay" font-size="100" writing-mode="vertical-rl" text-orientation="upright">ff</text>`,
			`fill #000000 40,30 50,180 "ff"`},
		"a span made long": {"", drawnFont + `<text y="60" font-family="Quay" font-size="100">f<tspan textLength="90">ff</tspan></text>`,
			`fill #000000 0,10 10,60 "f"; fill #000000 20,10 100,60 "ff"`},
		"a span with wide letters": {"", drawnFont + `<text y="60" font-family="Quay" font-size="100"><tspan textLength="60" lengthAdjust="spacingAndGlyphs">ff</tspan>f</text>`,
			`fill #000000 0,10 45,60 "ff"; fill #000000 60,10 70,60 "f"`},
		"from right to left": {"", drawnFont + `<text x="90" y="60" font-family="Quay" font-size="100" direction="rtl" unicode-bidi="bidi-override">f<tspan fill="red">f</tspan></text>`,
			`fill #ff0000 50,10 60,60 "f"; fill #000000 70,10 80,60 "f"`},
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
	begun := worktime.Spent()
	_, err := readWhole(b.String())
	if spent := worktime.Spent() - begun; spent > 5*time.Second {
		t.Errorf("it took %v (%v)", spent, err)
	}
}

// TestWhatShows measures the areas of drawings that are cut in ways which their boxes do not
// tell.
func TestWhatShows(t *testing.T) {
	const parts = `<clipPath id="a"><rect width="4" height="20"/></clipPath><clipPath id="b"><rect y="8" width="20" height="2"/></clipPath>`
	for name, c := range map[string]struct {
		body string
		want float64
	}{
		"clips on parts of a clip": {parts + `<clipPath id="c"><rect width="9" height="3" clip-path="url(#a)"/>` +
			`<rect y="5" width="9" height="9" clip-path="url(#b)"/></clipPath><rect width="20" height="20" clip-path="url(#c)"/>`, 4*3 + 9*2},
		"three of them, one plain": {parts + `<clipPath id="c"><rect width="9" height="3" clip-path="url(#a)"/><rect x="15" width="5" height="20"/>` +
			`<rect y="5" width="9" height="9" clip-path="url(#b)"/></clipPath><rect width="20" height="20" clip-path="url(#c)"/>`, 4*3 + 9*2 + 5*20},
		"a part of a clip by its box": {`<clipPath id="a" clipPathUnits="objectBoundingBox"><rect width="0.5" height="1"/></clipPath>` +
			`<clipPath id="c"><rect x="4" width="10" height="3" clip-path="url(#a)"/></clipPath><rect width="20" height="20" clip-path="url(#c)"/>`, 5 * 3},
		"light on dark on light": {`<mask id="m"><path d="M0 0h20v10H0z" fill="white"/><path d="M0 0h15v10H0z"/><path d="M0 0h5v10H0z" fill="white"/></mask>` +
			`<rect width="20" height="10" mask="url(#m)"/>`, 100},
		"a mask with holes in a mask": {`<mask id="a"><path d="M0 0h20v20H0zM5 5h10v10H5z" fill="white" fill-rule="evenodd"/></mask>` +
			`<mask id="b"><rect width="20" height="2" fill="white"/><rect width="10" height="20" fill="white" mask="url(#a)"/></mask>` +
			`<rect width="20" height="20" mask="url(#b)"/>`, 20*2 + 10*18 - 50},
		"thinned": {`<filter id="f"><feMorphology radius="2"/></filter><rect width="20" height="10" filter="url(#f)"/>`, 16 * 6},
		"thinned to nothing": {`<rect width="3" height="1"/><filter id="f"><feMorphology radius="9"/></filter>` +
			`<rect y="4" width="20" height="10" filter="url(#f)"/>`, 3},
		"a thinned ring": {`<filter id="f"><feMorphology radius="1"/></filter><path d="M0 0h20v20H0zM5 5h10v10H5z" fill-rule="evenodd" filter="url(#f)"/>`,
			18*18 - 12*12},
		"a grown ring": {`<filter id="f" x="-1" y="-1" width="3" height="3"><feMorphology operator="dilate" radius="1"/></filter>` +
			`<path transform="translate(30 30)" d="M0 0h20v20H0zM5 5h10v10H5z" fill-rule="evenodd" filter="url(#f)"/>`, 22*22 - 8*8},
		"one out of another": {`<filter id="f" x="-1" y="-1" width="3" height="3"><feOffset dx="5" result="o"/>` +
			`<feComposite operator="out" in="o" in2="SourceGraphic"/></filter><rect x="30" y="30" width="10" height="10" filter="url(#f)"/>`, 50},
		"either, not both": {`<filter id="f" x="-1" y="-1" width="3" height="3"><feOffset dx="5" result="o"/>` +
			`<feComposite operator="xor" in="o" in2="SourceGraphic"/></filter><rect x="30" y="30" width="10" height="10" filter="url(#f)"/>`, 100},
	} {
		s, err := read(c.body)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		const k = 8 // pixels a unit
		m, err := likeness.Draw(s, int(s.Page.W()*k), int(s.Page.H()*k))
		if err != nil {
			t.Fatal(err)
		}
		area := 0.0
		for y := range m.Bounds().Dy() {
			for x := range m.Bounds().Dx() {
				_, _, _, a := m.At(x, y).RGBA()
				area += float64(a) / 0xffff / k / k
			}
		}
		if math.Abs(area-c.want) > 0.02*c.want+0.2 {
			t.Errorf("%s: %.2f shows, want %.2f", name, area, c.want)
		}
	}
}

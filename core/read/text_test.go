package read

import (
	"context"
	"encoding/base64"
	"math"
	"os"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/read/font"
	"bildhauer/core/write"
)

// TestTextLayout sets SVG texts and compares where their letters come to lie.
// Courier's letters are 0.6 em wide, which makes the sums easy.
func TestTextLayout(t *testing.T) {
	const mono = `font-family="Courier" font-size="10"`
	// Its stand-in's I reaches from 0.113 to 0.487 em.
	const left, right = 1.13, 4.87
	for _, c := range []struct {
		name, body string
		minX, maxX float64
	}{
		{"plain", `<text x="20" y="50" ` + mono + `>III</text>`, 20 + left, 32 + right},
		{"anchor end", `<text x="80" y="50" text-anchor="end" ` + mono + `>III</text>`, 62 + left, 74 + right},
		{
			"anchor middle over spans",
			`<text x="50" y="50" text-anchor="middle" ` + mono + `>I<tspan font-weight="400">I</tspan></text>`,
			44 + left,
			50 + right,
		},
		{"white space", "<text x='20' y='50' " + mono + ">\n  I \t\n  I  </text>", 20 + left, 32 + right},
		{"preserved", `<text xml:space="preserve" x="20" y="50" ` + mono + `>I  I</text>`, 20 + left, 38 + right},
		{"letter spacing", `<text x="20" y="50" letter-spacing="4" ` + mono + `>II</text>`, 20 + left, 30 + right},
		{"list of x", `<text x="10 40 70" y="50" ` + mono + `>III</text>`, 10 + left, 70 + right},
		{"dx in a span", `<text x="10" y="50" ` + mono + `>I<tspan dx="0 5">II</tspan></text>`, 10 + left, 27 + right},
		{"em and shorthand", `<text x="2em" y="50" style="font: 10px/2 Courier, serif">I</text>`, 20 + left, 20 + right},
		{"text length", `<text x="10" y="50" textLength="60" lengthAdjust="spacingAndGlyphs" ` + mono + `>I</text>`, 10 + 10*left, 10 + 10*right},
		{
			"style sheet",
			`<style>.k{font-family:Courier;font-size:10px} @media print{.k{font-size:50px}}</style><text class="k" x="20" y="50">I</text>`,
			20 + left,
			20 + right,
		},
		{
			"a path to the right",
			`<path id="p" d="M10 50H90" fill="none"/><text ` + mono + `><textPath href="#p" startOffset="50%">I</textPath></text>`,
			50 + left,
			50 + right,
		},
	} {
		s := mustRead(t, c.body)
		b := geom.EmptyBox()
		for i := range s.Shapes {
			b = b.Union(s.Shapes[i].Box())
		}
		if math.Abs(b.Min.X-c.minX) > 0.02 || math.Abs(b.Max.X-c.maxX) > 0.06 {
			t.Errorf("%s: from %.2f to %.2f, want %.2f to %.2f", c.name, b.Min.X, b.Max.X, c.minX, c.maxX)
		}
	}
	// A text clips by its letters.
	letters := area(t, &mustRead(t, `<text x="2" y="20" font-size="20">IO</text>`).Shapes[0])
	clipped := mustRead(
		t,
		`<clipPath id="c"><text x="2" y="20" font-size="20">IO</text></clipPath><rect clip-path="url(#c)" width="90" height="50"/>`,
	)
	if r, err := write.Resolve(&clipped.Shapes[0], 0.001, 1.0/4096); err != nil ||
		math.Abs(float64(r.Area2())/2/4096/4096-letters) > 0.05 {
		t.Errorf("clipped by a text: %v", err)
	}
	// Down a path the letters lie on their side.
	s := mustRead(
		t,
		`<path id="p" d="M50 10V90" fill="none"/><text font-size="20" font-family="Courier"><textPath href="#p">MMM</textPath></text>`,
	)
	if b := s.Shapes[0].Box(); b.H() < 2*b.W() || math.Abs(b.Min.X-50) > 0.5 {
		t.Errorf("text down a path in %v", b)
	}
	// Every letter counts: words, spans with paint of their own, decoration.
	s = mustRead(
		t,
		`<text x="5" y="50" fill="#a33">Pier <tspan fill="#036" stroke="#000">seven</tspan></text>`,
	)
	if len(s.Shapes) != 3 || s.Shapes[0].Text != "Pier" || s.Shapes[1].Text != "seven" ||
		s.Shapes[1].Color.Hex() != "#003366" ||
		s.Shapes[2].Stroke == nil {
		t.Errorf("spans became %d shapes: %q", len(s.Shapes), s.Shapes[0].Text)
	}
	plain := area(t, &mustRead(t, `<text x="5" y="50">HH</text>`).Shapes[0])
	lined := area(t, &mustRead(t, `<text x="5" y="50" text-decoration="underline">HH</text>`).Shapes[0])
	if lined < plain*1.05 {
		t.Errorf("underline: %g against %g", lined, plain)
	}
}

// TestFontsOfTheFile embeds a font in a style sheet and adds one from outside.
func TestFontsOfTheFile(t *testing.T) {
	raw, err := os.ReadFile("font/shipped/pacifico-latin-400-normal.woff")
	if err != nil {
		t.Fatal(err)
	}
	text := `<text x="5" y="50" font-family="Harbour Hand" font-size="30">Qg</text>`
	want := area(t, &mustRead(t, strings.Replace(text, "Harbour Hand", "Pacifico", 1)).Shapes[0])
	s := mustRead(
		t,
		`<style>@font-face{font-family:"Harbour Hand";src:url(data:font/woff;base64,`+base64.StdEncoding.EncodeToString(
			raw,
		)+`)}</style>`+text,
	)
	if got := area(t, &s.Shapes[0]); math.Abs(got-want) > 0.01 || len(s.Notes) != 0 {
		t.Errorf("embedded font: area %g, want %g; %v", got, want, s.Notes)
	}
	f, err := font.ParseFace(raw)
	if err != nil {
		t.Fatal(err)
	}
	f.Family = "Harbour Hand"
	s, err = SheetWith(
		context.Background(),
		"a.svg",
		doc(text),
		Options{Fonts: &font.Library{Added: []*font.Face{f}}},
	)
	if err != nil || math.Abs(area(t, &s.Shapes[0])-want) > 0.01 {
		t.Errorf("added font: %v", err)
	}
	if s = mustRead(t, text); len(s.Notes) != 1 ||
		!strings.Contains(
			s.Notes[0].Text(),
			"text set in Harbour Hand: not embedded, shown in TeX Gyre Chorus",
		) {
		t.Errorf("stand-in not said: %v", s.Notes)
	}
}

package read

import (
	"bytes"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/write"
	"bildhauer/internal/worktime"
)

const head = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100" viewBox="0 0 100 100">`

func doc(body string) []byte { return []byte(head + body + "</svg>") }

func mustRead(t *testing.T, body string) *artwork.Sheet {
	t.Helper()
	s, err := Sheet("drawing.svg", doc(body))
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// area returns the area of a shape on the page in square px.
func area(t *testing.T, sh *artwork.Shape) float64 {
	t.Helper()
	const grid = 1.0 / 4096
	var loops []plane.Loop
	for _, l := range sh.Outline(0.001) {
		var loop plane.Loop
		for _, v := range l {
			loop = append(
				loop,
				plane.Point{X: int32(math.Round(v.X / grid)), Y: int32(math.Round(v.Y / grid))},
			)
		}
		loops = append(loops, loop)
	}
	rule := plane.NonZero
	if sh.EvenOdd {
		rule = plane.EvenOdd
	}
	r, err := plane.Fill(loops, rule)
	if err != nil {
		t.Fatal(err)
	}
	return float64(r.Area2()) / 2 * grid * grid
}

// TestAreas reads one shape each and compares its area with the formula.
func TestAreas(t *testing.T) {
	pi := math.Pi
	for _, c := range []struct {
		name, body string
		want       float64
	}{
		{"rect", `<rect x="10" y="10" width="30" height="20"/>`, 600},
		{"rounded rect", `<rect width="30" height="20" rx="5"/>`, 600 - (4-pi)*25},
		{"circle", `<circle cx="50" cy="50" r="20"/>`, pi * 400},
		{"ellipse", `<ellipse cx="50" cy="50" rx="20" ry="10"/>`, pi * 200},
		{"polygon", `<polygon points="0,0 10,0 10,10"/>`, 50},
		{"polyline is filled", `<polyline points="0 0 10 0 10 10"/>`, 50},
		{"relative path", `<path d="m10 10h10v10h-10z"/>`, 100},
		{"numbers without blanks", `<path d="M0-0L10.5.5-.5.5z"/>`, 0.5 * 11 * 0.5},
		{"implicit lines", `<path d="M0 0 10 0 10 10 0 10"/>`, 100},
		{"cubic", `<path d="M0 0C0 10 10 10 10 0z"/>`, 60},
		{"smooth cubic", `<path d="M0 0C0 10 10 10 10 0S20-10 20 0z"/>`, 120},
		{"quadratic", `<path d="M0 0Q5 10 10 0z"/>`, 100.0 / 3},
		{"smooth quadratic", `<path d="M0 0Q5 10 10 0T20 0z"/>`, 200.0 / 3},
		{"arc flags stuck together", `<path d="M0 10A10 10 0 0120 10z"/>`, pi * 50},
		{"arc scaled up", `<path d="M0 0A1 1 0 0 1 20 0z"/>`, pi * 50},
		{"turned ellipse arc", `<path d="M20 50A30 10 30 1 1 20 50.01z"/>`, pi * 300},
		{"hole by even-odd", `<path fill-rule="evenodd" d="M0 0h30v30h-30zM10 10h10v10h-10z"/>`, 800},
		{"same direction, nonzero", `<path d="M0 0h30v30h-30zM10 10h10v10h-10z"/>`, 900},
		{"opposite direction, nonzero", `<path d="M0 0h30v30h-30zM10 10v10h10v-10z"/>`, 800},
		{"transforms in order", `<g transform="scale(2)"><rect transform="translate(5,5) rotate(45)" width="10" height="10"/></g>`, 400},
		{"matrix and skew", `<rect transform="matrix(2 0 0 3 1 1) skewX(20)" width="5" height="5"/>`, 150},
		{"units", `<rect width="1in" height="25.4mm"/>`, 96 * 96},
		{"percent", `<rect width="50%" height="10%"/>`, 500},
		{"style attribute wins", `<rect style="fill-rule:evenodd;fill:#fff" fill="none" width="2" height="2"/>`, 4},
		{"use", `<defs><rect id="r" width="5" height="4"/></defs><use href="#r" x="10"/>`, 20},
		{
			"symbol with its own view",
			`<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol><use href="#s" width="40" height="20"/>`,
			400,
		},
		{"nested svg", `<svg x="10" width="20" height="20" viewBox="0 0 2 2"><rect width="1" height="1"/></svg>`, 100},
		{"switch takes the first it can", `<switch><foreignObject/><rect width="3" height="3"/><rect width="9" height="9"/></switch>`, 9},
		{"line with square caps", `<path stroke="red" fill="none" stroke-width="2" stroke-linecap="square" d="M10 10H20"/>`, 24},
		{"line with round caps", `<path stroke="red" fill="none" stroke-width="2" stroke-linecap="round" d="M10 10H20"/>`, 20 + pi},
		{"dot", `<path stroke="red" fill="none" stroke-width="4" stroke-linecap="round" d="M10 10h0"/>`, 4 * pi},
		{"closed stroke, mitre", `<rect fill="none" stroke="red" stroke-width="2" x="10" y="10" width="10" height="10"/>`, 144 - 64},
		{
			"closed stroke, bevel",
			`<rect fill="none" stroke="red" stroke-width="2" stroke-linejoin="bevel" x="10" y="10" width="10" height="10"/>`,
			144 - 64 - 2,
		},
		{
			"closed stroke, round",
			`<rect fill="none" stroke="red" stroke-width="2" stroke-linejoin="round" x="10" y="10" width="10" height="10"/>`,
			144 - 64 - (4 - pi),
		},
		{"mitre beyond its limit", `<path fill="none" stroke="red" stroke-width="2" stroke-miterlimit="1" d="M10 20V10H20"/>`, 40 - 1 + 0.5},
		{"stroke under a stretch", `<g transform="scale(1,3)"><path fill="none" stroke="red" stroke-width="2" d="M0 5H10"/></g>`, 60},
		{"ring as a stroke", `<circle fill="none" stroke="red" stroke-width="4" cx="50" cy="50" r="20"/>`, pi * (22*22 - 18*18)},
		{"dashes", `<path fill="none" stroke="red" stroke-width="2" stroke-dasharray="3 2" d="M0 10H20"/>`, 24},
		{"dashes shifted", `<path fill="none" stroke="red" stroke-width="2" stroke-dasharray="3 2" stroke-dashoffset="3" d="M0 10H10"/>`, 12},
	} {
		t.Run(c.name, func(t *testing.T) {
			s := mustRead(t, c.body)
			if len(s.Shapes) != 1 {
				t.Fatalf("%d shapes, notes %v", len(s.Shapes), s.Notes)
			}
			if got := area(t, &s.Shapes[0]); math.Abs(got-c.want) > 0.002*c.want+0.01 {
				t.Errorf("area %.4f, want %.4f", got, c.want)
			}
		})
	}
}

// TestClipsCut resolves clipped and masked shapes and compares their areas.
func TestClipsCut(t *testing.T) {
	for _, c := range []struct {
		name, body string
		want       float64
	}{
		{"rect by circle", `<clipPath id="c"><circle cx="10" cy="10" r="5"/></clipPath><rect clip-path="url(#c)" width="20" height="20"/>`, math.Pi * 25},
		{
			"in the element's space",
			`<clipPath id="c"><rect width="2" height="2"/></clipPath><rect transform="scale(3)" clip-path="url(#c)" width="20" height="20"/>`,
			36,
		},
		{
			"of the box",
			`<clipPath id="c" clipPathUnits="objectBoundingBox"><rect x=".5" width=".5" height="1"/></clipPath><rect ` +
				`clip-path="url(#c)" x="4" width="20" height="10"/>`,
			100,
		},
		{
			"on a group, and inside",
			`<clipPath id="a"><rect width="10" height="99"/></clipPath><clipPath id="b"><rect width="99" height="5"/>` +
				`</clipPath><g clip-path="url(#a)"><rect clip-path="url(#b)" width="20" height="20"/></g>`,
			50,
		},
		{
			"clip path clipped itself",
			`<clipPath id="a"><rect width="10" height="99"/></clipPath><clipPath id="b" clip-path="url(#a)"><rect ` +
				`width="99" height="5"/></clipPath><rect clip-path="url(#b)" width="20" height="20"/>`,
			50,
		},
		{
			"several shapes together",
			`<clipPath id="c"><rect width="4" height="4"/><rect x="2" width="4" height="4"/></clipPath><rect clip-path="url(#c)" width="20" height="20"/>`,
			24,
		},
		{
			"clip-rule",
			`<clipPath id="c"><path clip-rule="evenodd" d="M0 0h10v10h-10zM2 2h6v6h-6z"/></clipPath><rect clip-path="url(#c)" width="20" height="20"/>`,
			64,
		},
		{
			"by use",
			`<defs><rect id="r" width="4" height="4"/></defs><clipPath id="c"><use href="#r" x="1"/></clipPath><rect ` +
				`clip-path="url(#c)" width="20" height="2"/>`,
			8,
		},
		{"of nothing", `<clipPath id="c"/><rect id="x" clip-path="url(#c)" width="20" height="2"/>`, 0},
		{
			"a stroke",
			`<clipPath id="c"><rect width="10" height="10"/></clipPath><path clip-path="url(#c)" fill="none" stroke="red" stroke-width="4" d="M5 5H50"/>`,
			20,
		},
		{"white mask", `<mask id="m"><rect width="10" height="10" fill="#fff"/></mask><rect mask="url(#m)" width="20" height="20"/>`, 100},
		{
			"white by the mask's own style",
			`<defs><rect id="r" width="4" height="4"/></defs><g fill="#fff"><mask id="m" fill-opacity="1"><use href="#r"/>` +
				`</mask></g><rect mask="url(#m)" width="20" height="20"/>`,
			16,
		},
		{
			"black on white",
			`<mask id="m"><rect width="99" height="99" fill="#fff"/><rect x="2" y="2" width="5" height="5"/></mask>` +
				`<rect mask="url(#m)" width="20" height="20"/>`,
			375,
		},
		{
			"black lines on white",
			`<mask id="m"><rect width="99" height="99" fill="#fff"/><path d="M0 10H50" stroke="#000" stroke-width="2"/>` +
				`</mask><rect mask="url(#m)" width="20" height="20"/>`,
			360,
		},
		{
			"clip-rule from around",
			`<g clip-rule="evenodd"><clipPath id="c"><path d="M0 0h10v10h-10zM2 2h6v6h-6z"/></clipPath></g><rect clip-path="url(#c)" width="20" height="20"/>`,
			64,
		},
		{
			"viewport of a symbol",
			`<symbol id="s" viewBox="0 0 10 10"><circle cx="10" cy="10" r="5"/></symbol><use href="#s" width="20" height="20"/>`,
			math.Pi * 25,
		},
		{
			"viewport left open",
			`<symbol id="s" viewBox="0 0 10 10" overflow="visible"><circle cx="10" cy="10" r="5"/></symbol><use href="#s" width="20" height="20"/>`,
			math.Pi * 100,
		},
		{
			"black under white",
			`<mask id="m"><rect width="99" height="99"/><circle cx="10" cy="10" r="5" fill="white"/></mask><rect mask="url(#m)" width="20" height="20"/>`,
			math.Pi * 25,
		},
		{
			"width fixed to the page",
			`<g transform="scale(4)"><path vector-effect="non-scaling-stroke" fill="none" stroke="red" stroke-width="2" d="M0 5H10"/></g>`,
			80,
		},
	} {
		s := mustRead(t, c.body)
		r, err := write.Resolve(&s.Shapes[0], 0.001, 1.0/4096)
		if err != nil {
			t.Fatal(err)
		}
		if got := float64(r.Area2()) / 2 / 4096 / 4096; len(s.Notes) > 0 ||
			math.Abs(got-c.want) > 0.002*c.want+0.01 {
			t.Errorf("%s: area %.4f, want %.4f; notes %v", c.name, got, c.want, s.Notes)
		}
	}
}

// TestMarkers counts and places markers.
func TestMarkers(t *testing.T) {
	const arrow = `<marker id="a" orient="auto" refX="0" refY="1" markerWidth="4" markerHeight="2" markerUnits="%s"><rect ` +
		`width="4" height="2"/></marker>`
	s := mustRead(
		t,
		fmt.Sprintf(arrow, "userSpaceOnUse")+`<path fill="none" marker-end="url(#a)" d="M0 0L10 10"/>`,
	)
	if len(s.Shapes) != 1 || math.Abs(area(t, &s.Shapes[0])-8) > 0.01 {
		t.Fatalf("%d shapes", len(s.Shapes))
	}
	c := s.Shapes[0].Box().Center()
	if d := c.Sub(geom.Vec{X: 10 + math.Sqrt2, Y: 10 + math.Sqrt2}).Len(); d > 1e-6 {
		t.Errorf("the marker lies at %v", c)
	}
	s = mustRead(
		t,
		fmt.Sprintf(
			arrow,
			"strokeWidth",
		)+`<polyline fill="none" stroke="red" stroke-width="2" style="marker:url(#a)" points="0,0 10,0 10,10 20,10"/>`,
	)
	if len(s.Shapes) != 5 || math.Abs(area(t, &s.Shapes[1])-32) > 0.01 {
		t.Errorf("%d shapes for a stroke and four markers", len(s.Shapes))
	}
	// A middle point is reached one way and left another: half way between.
	if b := s.Shapes[2].Box(); math.Abs(b.Center().X-10-4*math.Sqrt2/2) > 1e-6 {
		t.Errorf("middle marker at %v", b.Center())
	}
}

// TestGradientMeans holds that a gradient's one colour is its mean over the
// area of the shape, not over its stops.
func TestGradientMeans(t *testing.T) {
	const stops = `<stop stop-color="#000"/><stop offset="1" stop-color="#fff"/>`
	for _, c := range []struct {
		name, body string
		want       float64 // grey, 0 to 255
	}{
		{"even", `<linearGradient id="g">` + stops + `</linearGradient><rect fill="url(#g)" width="20" height="10"/>`, 127.5},
		{"triangle, wide where it is light", `<linearGradient id="g">` + stops + `</linearGradient><path fill="url(#g)" d="M0 5L20 0V10z"/>`, 170},
		{
			"half beyond the end",
			`<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="0" x2="10">` + stops + `</linearGradient><rect fill="url(#g)" width="20" height="10"/>`,
			191,
		},
		{
			"reflected",
			`<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="0" x2="10" spreadMethod="reflect">` + stops + `</linearGradient><rect fill="url(#g)" width="20" height="10"/>`,
			127.5,
		},
		{"radial in its circle", `<radialGradient id="g">` + stops + `</radialGradient><circle fill="url(#g)" cx="10" cy="10" r="10"/>`, 170},
		{
			"by reference",
			`<linearGradient id="a">` + stops + `</linearGradient><linearGradient id="g" href="#a" gradientTransform="rotate(90)"/><path fill="url(#g)" d="M0 20L5 0L10 20z"/>`,
			170,
		},
		{"one stop is a colour", `<linearGradient id="g"><stop stop-color="#404040"/></linearGradient><rect fill="url(#g)" width="20" height="10"/>`, 64},
	} {
		s := mustRead(t, c.body)
		if got := float64(s.Shapes[0].Color.G); math.Abs(got-c.want) > 4 {
			t.Errorf("%s: mean %g, want %g", c.name, got, c.want)
		}
	}
}

func TestStyleCascade(t *testing.T) {
	s := mustRead(
		t,
		`<style>rect{fill:#010101} .a{fill:#020202} #x{fill:#030303} g .b{fill:#040404} g>rect.c{fill:#050505} .a.b{fill:#060606 !important}</style>
		<rect width="1" height="1"/><rect class="a" width="1" height="1"/><rect id="x" class="a" width="1" height="1"/>
		<g><rect class="b" width="1" height="1"/><rect class="c" width="1" height="1"/></g>
		<rect class="a b" style="fill:#070707" width="1" height="1"/><g color="#080808"><rect style="fill:currentColor" width="1" height="1"/></g>
		<rect fill="#000" style="fill:rgb(9,9,9)" width="1" height="1"/>`,
	)
	for i, sh := range s.Shapes {
		want := uint8(i + 1)
		if i == 5 {
			want = 6
		} else if i > 5 {
			want = uint8(i + 2)
		}
		if sh.Color.R != want {
			t.Errorf("shape %d has colour %s, want %d", i, sh.Color.Hex(), want)
		}
	}
}

// TestNothingIsLostSilently reads what can't become a solid and looks for it
// in the report.
func TestNothingIsLostSilently(t *testing.T) {
	s := mustRead(
		t,
		`<rect id="keep" width="5" height="5"/><image id="photo" href="x.png"/><text>Quellhaven</text><rect id="cut" clip-path="url(#c)" width="9" height="9"/>
		<rect id="bad" width="1e308" height="5"/><path id="nan" d="M0 0L1e999 5 5 5z"/><path id="broken" d="M0 0L5 5 5 0 X"/><rect id="blur" filter="url(#f)" width="2" height="2"/>
		<g display="none"><rect id="secret" width="5" height="5"/></g><rect id="far" x="500" width="5" height="5"/><script>x</script><use href="#none"/><rect fill="url(#g)" id="shade" width="2" height="2"/>
		<linearGradient id="g"><stop stop-color="#000"/><stop offset="1" stop-color="#fff"/></linearGradient>`,
	)
	var all []string
	for _, n := range s.Notes {
		all = append(all, fmt.Sprintf("%s: %d %s %v", n.Level(), n.Count, n.Text(), n.Where))
	}
	report := strings.Join(all, "\n")
	for _, want := range []string{
		"1 picture in another file (x.png) [photo]",
		"text without a font, shown in TeX Gyre Termes [Quellhaven]",
		"clipping path that is missing ignored [cut]",
		"2 object with coordinates that are not usable numbers",
		"error in its data",
		"filter effect",
		"script",
		"copy of an object that is missing",
		"gradient became its mean colour [shade]",
	} {
		if !strings.Contains(report, want) {
			t.Errorf("the report does not say %q:\n%s", want, report)
		}
	}
	for i, sh := range s.Shapes {
		switch sh.Name {
		case "secret":
			if !sh.Hidden {
				t.Error("hidden shape not marked")
			}
		case "far":
			if !s.OffPage(i) {
				t.Error("shape off the page not marked")
			}
		case "shade":
			if sh.Color.R < 120 || sh.Color.R > 135 {
				t.Errorf("mean of the gradient is %s", sh.Color.Hex())
			}
		}
	}
}

// TestBadInput holds that every bad file gets a sentence that names it, soon
// and within bounds of memory.
func TestBadInput(t *testing.T) {
	deep := strings.Repeat("<g>", 10_000) + `<rect width="1" height="1"/>` + strings.Repeat("</g>", 10_000)
	for _, c := range []struct {
		name string
		data []byte
		want string
	}{
		{"empty", nil, "is empty"},
		{"a bitmap that is none", []byte("\x89PNG\r\n\x1a\n0000"), "is a bitmap that is damaged"},
		{"a PDF cut short", []byte("%PDF-1.7"), "is a PDF whose structure is damaged"},
		{"words", []byte("hello, this is no drawing"), "is not an SVG, EPS, AI or PDF file"},
		{"a web page", []byte("<html><body><p>hi</p></body></html>"), "outermost element is <html>"},
		{"cut off", []byte(head + `<g><rect width="1"`), "damaged in line 1"},
		{"wrong closing", doc(`<g></h>`), "closed by </h>"},
		{"no shapes", doc(``), "holds no shapes"},
		{"only bitmaps", doc(`<image href="a.png"/><image href="b.png"/>`), "pictures that lie in other files (a.png)"},
		{"huge numbers only", doc(`<rect width="1e308" height="1e308"/>`), "not usable numbers"},
		{"nested deep", doc(deep), "nests its groups"},
		{
			"an entity that holds itself",
			[]byte(`<!DOCTYPE svg [<!ENTITY a "aa"><!ENTITY b "&a;&b;">]>` + head + `<text>&b;</text></svg>`),
			"entities by other entities",
		},
		{
			"entities that blow a file up",
			[]byte(`<!DOCTYPE svg [<!ENTITY a "` + strings.Repeat("a", 1000) + `"><!ENTITY b "` + strings.Repeat("&a;", 200) +
				`"><!ENTITY c "` + strings.Repeat("&b;", 200) + `">]>` + head + `<text>&c;</text></svg>`),
			"grows by more than 16 MB",
		},
		{
			"a file as an entity",
			[]byte(`<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>` + head + `<text>&a;</text></svg>`),
			"refers to another file",
		},
		{"undefined entity", doc(`<text>&nope;</text>`), "not defined"},
		{"40 MB", bytes.Repeat([]byte(" "), 40<<20), "40 MB"},
		{"a million objects", doc(strings.Repeat(`<g/>`, 1_000_000)), "more than 400,000 objects"},
		{"copies of copies", doc(copies()), "copies"},
		{"too many nodes", doc(`<path d="M0 0` + strings.Repeat("h1v1", 2_100_000) + `"/>`), "more than 2,500,000 nodes"},
		{"copies itself", doc(`<g id="a"><use href="#a"/></g>`), "holds the copy itself"},
	} {
		t.Run(c.name, func(t *testing.T) {
			var before, after runtime.MemStats
			runtime.GC()
			runtime.ReadMemStats(&before)
			start := worktime.Spent()
			_, err := Sheet("sign.svg", c.data)
			runtime.ReadMemStats(&after)
			if err == nil {
				t.Fatal("accepted")
			}
			if !strings.Contains(err.Error(), c.want) || !strings.HasPrefix(err.Error(), "sign.svg") {
				t.Errorf("says %q, want %q", err, c.want)
			}
			if d := worktime.Spent() - start; d > 5*time.Second {
				t.Errorf("took %v", d)
			}
			if used := int64(after.HeapSys) - int64(before.HeapSys); used > 1<<30 {
				t.Errorf("took %d MB", used>>20)
			}
		})
	}
}

// copies makes a file that doubles with every line.
func copies() string {
	var b strings.Builder
	b.WriteString(`<defs><rect id="u0" width="1" height="1"/>`)
	for i := range 40 {
		fmt.Fprintf(&b, `<g id="u%d"><use href="#u%d"/><use href="#u%d"/></g>`, i+1, i, i)
	}
	b.WriteString(`</defs><use href="#u40"/>`)
	return b.String()
}

func TestEncodings(t *testing.T) {
	plain := `<?xml version="1.0" encoding="%s"?><svg xmlns="http://www.w3.org/2000/svg"><rect id="%s" width="5" height="5"/></svg>`
	utf16 := []byte{0xff, 0xfe}
	for _, r := range fmt.Sprintf(plain, "UTF-16", "Möwe") {
		utf16 = append(utf16, byte(r), byte(r>>8))
	}
	for name, data := range map[string][]byte{
		"utf-8 with mark": []byte("\xef\xbb\xbf" + fmt.Sprintf(plain, "utf-8", "Möwe")),
		"latin 1":         []byte(fmt.Sprintf(plain, "iso-8859-1", "M\xf6we")),
		"utf-16":          utf16,
		"namespaces as entities": []byte(`<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "svg11.dtd" [<!ENTITY ns "http://www.w3.org/2000/svg">]>` +
			`<svg xmlns="&ns;"><rect id="Möwe" width="5" height="5"/></svg>`),
	} {
		s, err := Sheet("a.svg", data)
		if err != nil {
			t.Errorf("%s: %v", name, err)
		} else if s.Shapes[0].Name != "Möwe" {
			t.Errorf("%s: name %q", name, s.Shapes[0].Name)
		}
	}
}

func FuzzRead(f *testing.F) {
	files, _ := filepath.Glob("../../demo/*.svg")
	for _, p := range files {
		data, err := os.ReadFile(p)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Add(
		doc(
			`<style>.a>b{fill:red}</style><symbol id="s" viewBox="0 0 1 1"><path d="M0 0A1 1 0 1 1 1 1Q1 1 2 2T3 3z" ` +
				`stroke-dasharray="1,2"/></symbol><use href="#s"/>`,
		),
	)
	f.Add(
		doc(
			`<pattern id="p" width=".2" height=".2" viewBox="0 0 9 9"><rect width="5" height="5" fill="url(#p)"/></pattern>` +
				`<mask id="m"><rect width="9" height="9" fill="#fff"/><path stroke="#000" d="M0 5H9"/></mask><circle r="9" ` +
				`fill="url(#p)" mask="url(#m)"/>`,
		),
	)
	f.Add(
		doc(
			`<defs><path id="p" d="M0 0H9"/></defs><text x="1 2" dy="1" rotate="3" font="bold 9px serif" textLength="9">` +
				`a<tspan baseline-shift="sub">b</tspan><textPath href="#p" startOffset="9%">c</textPath></text>`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := Sheet("f.svg", data)
		if err != nil {
			if strings.Contains(err.Error(), "mistake in the reader") {
				t.Fatal(err)
			}
			return
		}
		for i := range s.Shapes {
			b := s.Shapes[i].Box()
			if b.Empty() {
				continue
			}
			s.Shapes[i].Outline(math.Max(b.W()+b.H(), 1e-3) / 100)
		}
	})
}

func BenchmarkRead(b *testing.B) {
	data, err := os.ReadFile("../../demo/tide-clock.svg")
	if err != nil {
		b.Fatal(err)
	}
	b.SetBytes(int64(len(data)))
	for b.Loop() {
		if _, err := Sheet("tide-clock.svg", data); err != nil {
			b.Fatal(err)
		}
	}
}

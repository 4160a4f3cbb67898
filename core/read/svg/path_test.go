package svg

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// commands writes contours with absolute commands.
func commands(contours []geom.Contour) string {
	var out []string
	add := func(letter string, points ...geom.Vec) {
		for _, p := range points {
			letter += fmt.Sprintf(" %.4g,%.4g", p.X+0, p.Y+0)
		}
		out = append(out, letter)
	}
	for _, c := range contours {
		add("M", c.Start)
		for _, s := range c.Segs {
			switch s.Kind {
			case geom.Line:
				add("L", s.To)
			case geom.Quad:
				add("Q", s.C1, s.To)
			case geom.Cubic:
				add("C", s.C1, s.C2, s.To)
			}
		}
		if c.Closed {
			out = append(out, "Z")
		}
	}
	return strings.Join(out, " ")
}

func parsed(d string) (contours []geom.Contour, whole bool) {
	contours, _ = budget.Within(context.Background(), func(b *budget.Budget) (c []geom.Contour, err error) {
		c, whole = parsePath(d, b)
		return c, nil
	})
	return contours, whole
}

// TestPathData reads each command and each way to write numbers, and breaks
// off where the data breaks the rules (SVG 1.1, 8.3).
func TestPathData(t *testing.T) {
	for _, c := range []struct{ name, d, want string }{
		// Each command, absolute and relative.
		{
			"M and m",
			"M1 2m3 4",
			"M 1,2 M 4,6",
		},
		{
			"L and l",
			"M1 2L3 4l1 1",
			"M 1,2 L 3,4 L 4,5",
		},
		{
			"H and h",
			"M1 2H9h-3",
			"M 1,2 L 9,2 L 6,2",
		},
		{
			"V and v",
			"M1 2V9v-3",
			"M 1,2 L 1,9 L 1,6",
		},
		{
			"C and c",
			"M0 0C1 2 3 4 5 6c1 2 3 4 5 6",
			"M 0,0 C 1,2 3,4 5,6 C 6,8 8,10 10,12",
		},
		{
			"S mirrors the handle before",
			"M0 0C1 2 3 4 5 6S9 9 10 10",
			"M 0,0 C 1,2 3,4 5,6 C 7,8 9,9 10,10",
		},
		{
			"s without a curve before",
			"M1 1s2 3 4 5",
			"M 1,1 C 1,1 3,4 5,6",
		},
		{
			"Q and q",
			"M0 0Q1 2 3 4q1 2 3 4",
			"M 0,0 Q 1,2 3,4 Q 4,6 6,8",
		},
		{
			"T mirrors the handle before",
			"M0 0Q1 2 3 4T9 9",
			"M 0,0 Q 1,2 3,4 Q 5,6 9,9",
		},
		{
			"t without a curve before",
			"M1 1t2 3",
			"M 1,1 Q 1,1 3,4",
		},
		{
			"T behind T",
			"M0 0Q1 2 2 0T4 0T6 0",
			"M 0,0 Q 1,2 2,0 Q 3,-2 4,0 Q 5,2 6,0",
		},
		{
			"A of no radius is a line",
			"M0 0A0 5 0 0 0 9 9",
			"M 0,0 L 9,9",
		},
		{
			"a to where it is",
			"M5 5a3 3 0 1 1 0 0 L9 9",
			"M 5,5 L 9,9",
		},
		{
			"A half circle",
			"M0 0A5 5 0 0 1 10 0",
			"M 0,0 C 0,-2.761 2.239,-5 5,-5 C 7.761,-5 10,-2.761 10,0",
		},
		{
			"Z goes back, and what follows starts there",
			"M1 1H5V5zl2 0",
			"M 1,1 L 5,1 L 5,5 Z M 1,1 L 3,1",
		},
		{
			"z, then M",
			"M1 1H5V5zM7 7H9",
			"M 1,1 L 5,1 L 5,5 Z M 7,7 L 9,7",
		},
		// How numbers may be written.
		{
			"points without a blank",
			"M.5.5L1.5-.5",
			"M 0.5,0.5 L 1.5,-0.5",
		},
		{
			"signs as separators",
			"M0-1+2-3",
			"M 0,-1 L 2,-3",
		},
		{
			"commas, tabs and ends of line",
			"M\t1,2\nL 3 ,4",
			"M 1,2 L 3,4",
		},
		{
			"exponents",
			"M1e2-1E-1L1e+1 2",
			"M 100,-0.1 L 10,2",
		},
		{
			"several pairs behind one command",
			"M0 0 1 1 2 2",
			"M 0,0 L 1,1 L 2,2",
		},
		{
			"several pairs behind a relative move",
			"m1 1 1 1 1 1",
			"M 1,1 L 2,2 L 3,3",
		},
		{
			"arc flags without blanks",
			"M0 0a5 5 0 0110 0",
			"M 0,0 C 0,-2.761 2.239,-5 5,-5 C 7.761,-5 10,-2.761 10,0",
		},
		{
			"zeros in front",
			"M007 000.50",
			"M 7,0.5",
		},
		// What breaks the rules.
		{
			"nothing",
			"",
			"",
		},
		{
			"blanks",
			"   ",
			"",
		},
		{
			"a letter nobody knows ends it",
			"M1 1L2 2 X 3 3",
			"M 1,1 L 2,2 and an error",
		},
		{
			"a number missing ends it",
			"M1 1L2",
			"M 1,1 and an error",
		},
		{
			"a comma too many is passed over",
			"M1 1L2 2,,3 3",
			"M 1,1 L 2,2 L 3,3",
		},
		{
			"a flag that is none ends it",
			"M0 0a5 5 0 2 1 9 9",
			"M 0,0 and an error",
		},
		{
			"no move at the start",
			"L1 1 2 2",
			"and an error",
		},
		{
			"a number alone",
			"7",
			"and an error",
		},
		{
			"a number too large is left to the shape to refuse",
			"M0 0L1e400 5",
			"M 0,0 L +Inf,5",
		},
		{
			"not a number",
			"M0 0LNaN 5",
			"M 0,0 and an error",
		},
		{
			"a move at the end",
			"M0 0L1 1M9 9",
			"M 0,0 L 1,1 M 9,9",
		},
		{
			"two moves",
			"M0 0M5 5L6 6",
			"M 0,0 M 5,5 L 6,6",
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			contours, whole := parsed(c.d)
			got := commands(contours)
			if !whole {
				got = strings.TrimSpace(got + " and an error")
			}
			if got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}

// TestPathsReadBack writes random paths with absolute commands and reads them.
func TestPathsReadBack(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 1))
	v := func() geom.Vec { return geom.Vec{X: float64(r.IntN(2000)) / 8, Y: float64(r.IntN(2000))/8 - 99} }
	for range 500 {
		var contours []geom.Contour
		for range 1 + r.IntN(3) {
			c := geom.Contour{Start: v(), Closed: r.IntN(2) == 0}
			for range 1 + r.IntN(5) {
				c.Segs = append(c.Segs, geom.Segment{Kind: geom.Kind(r.IntN(3)), C1: v(), C2: v(), To: v()})
			}
			contours = append(contours, c)
		}
		want := commands(contours)
		got, whole := parsed(want)
		if text := commands(got); !whole || text != want {
			t.Fatalf("wrote %s\nread  %s", want, text)
		}
	}
}

// TestTransforms reads each function and compares where it takes a point.
func TestTransforms(t *testing.T) {
	for _, c := range []struct {
		text string
		at   geom.Vec
		ok   bool
	}{
		{"", geom.Vec{X: 3, Y: 4}, true},
		{"translate(10)", geom.Vec{X: 13, Y: 4}, true},
		{"translate(10,-1)", geom.Vec{X: 13, Y: 3}, true},
		{"scale(2)", geom.Vec{X: 6, Y: 8}, true},
		{"scale(2 .5)", geom.Vec{X: 6, Y: 2}, true},
		{"rotate(90)", geom.Vec{X: -4, Y: 3}, true},
		{"rotate(180, 3, 0)", geom.Vec{X: 3, Y: -4}, true},
		{"skewX(45)", geom.Vec{X: 7, Y: 4}, true},
		{"skewY(45)", geom.Vec{X: 3, Y: 7}, true},
		{"matrix(0 1 1 0 0 0)", geom.Vec{X: 4, Y: 3}, true},
		{"matrix(1,0,0,1,5e0,-5)", geom.Vec{X: 8, Y: -1}, true},
		{" translate( 1 , 1 ) scale( 2 ) ", geom.Vec{X: 7, Y: 9}, true},
		{"scale(2)translate(1 1)", geom.Vec{X: 8, Y: 10}, true},
		{"translate(1 1),,scale(2)", geom.Vec{X: 7, Y: 9}, true},
		{"translate(5) spin(3)", geom.Vec{X: 8, Y: 4}, false},
		{"translate()", geom.Vec{X: 3, Y: 4}, false},
		{"matrix(1 0 0 1 5)", geom.Vec{X: 3, Y: 4}, false},
		{"translate(5", geom.Vec{X: 3, Y: 4}, false},
		{"none", geom.Vec{X: 3, Y: 4}, false},
	} {
		m, ok := parseTransform(c.text)
		got := m.Apply(geom.Vec{X: 3, Y: 4})
		if d := got.Sub(c.at); ok != c.ok || math.Hypot(d.X, d.Y) > 1e-9 {
			t.Errorf("%q takes (3, 4) to %v, understood %v", c.text, got, ok)
		}
	}
}

// TestColorsOfCSS reads each way to write a colour, and what is none.
func TestColorsOfCSS(t *testing.T) {
	for text, want := range map[string]string{
		"#abc":                    "#aabbcc 1",
		"#ABCDEF":                 "#abcdef 1",
		"#abc8":                   "#aabbcc 0.53",
		"#abcdef80":               "#abcdef 0.5",
		" Red ":                   "#ff0000 1",
		"REBECCApurple":           "#663399 1",
		"rgb(300,-5,127.6)":       "#ff0080 1",
		"rgb(100% 0% 50%)":        "#ff0080 1",
		"rgba(1,2,3,50%)":         "#010203 0.5",
		"rgb(1 2 3 / .25)":        "#010203 0.25",
		"rgba(1,2,3,7)":           "#010203 1",
		"hsl(0,100%,50%)":         "#ff0000 1",
		"hsl(240deg 100% 50%)":    "#0000ff 1",
		"hsl(-120,100%,50%)":      "#0000ff 1",
		"hsl(480,100%,50%)":       "#00ff00 1",
		"hsla(0,0%,50%,.5)":       "#808080 0.5",
		"hsl(60 100% 50% / 100%)": "#ffff00 1",
		"#ab":                     "none",
		"#abcdefg":                "none",
		"#ggg":                    "none",
		"rgb(1,2)":                "none",
		"rgb(1,2,3":               "none",
		"hsl(0.5turn 100% 50%)":   "#00ffff 1",
		"hsl(200grad 100% 50%)":   "#00ffff 1",
		"hwb(120 0% 49.8039%)":    "#008000 1",
		"hwb(90deg 50% 50% / .5)": "#808080 0.5",

		"lab(46.277 -47.552 48.5864)":                "#008000 1",
		"lab(46.277% -38.0416% 38.86912%)":           "#008000 1",
		"lch(46.277 67.9892 134.3912)":               "#008000 1",
		"oklab(51.975% -0.1403 0.10768 / 50%)":       "#008000 0.5",
		"oklch(0.51975 0.17686 142.495deg)":          "#008000 1",
		"color(srgb 0.5 0 1)":                        "#8000ff 1",
		"color(srgb-linear 0.21586 0.21586 0.21586)": "#808080 1",
		"color(display-p3 0.21604 0.49418 0.13151)":  "#008000 1",
		"color(xyz 0.07719 0.15438 0.02573)":         "#008000 1",
		"color(xyz-d50 0.08312 0.154746 0.020961)":   "#008000 1",
		"color(srgb 1 none 0 / .5)":                  "#ff0000 0.5",
		"color(rec2020 1 1 1)":                       "none",
		"CanvasText":                                 "#000000 1",
		"":                                           "none",
		"no such colour":                             "none",
	} {
		c, alpha, ok := parseColor(text)
		got := fmt.Sprintf("%s %.2g", c.Hex(), alpha)
		if !ok {
			got = "none"
		}
		if got != want {
			t.Errorf("%q is %s, want %s", text, got, want)
		}
	}
	for name, v := range named {
		if c, _, ok := parseColor(name); !ok || c.Hex() != fmt.Sprintf("#%06x", v) {
			t.Errorf("%s is %s", name, c.Hex())
		}
	}
	if len(named) != 148 {
		t.Errorf("%d names; the standard has 148", len(named))
	}
}

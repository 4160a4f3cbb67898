package palette

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
)

// drawn reads a drawing of 100 by 100 and counts its shades.
func drawn(t *testing.T, body string) (*artwork.Sheet, *Canvas, *Shades) {
	t.Helper()
	s, err := read.Sheet("drawing.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">`+body+`</svg>`))
	if err != nil {
		t.Fatal(err)
	}
	var take []int
	for i := range s.Shapes {
		take = append(take, i)
	}
	c, err := Paint(t.Context(), s, take, 200)
	if err != nil {
		t.Fatal(err)
	}
	return s, c, ShadesOf(s, take, func(i int) string { return s.Shapes[i].Color.Hex() }, c)
}

// TestPaint holds what is seen of shapes: areas told by hand, holes by either rule, clips, strokes, what
// lies above.
func TestPaint(t *testing.T) {
	page := `<rect width="100" height="100" fill="#ffffff"/>`
	for _, c := range []struct {
		what, body, hex string
		share           float64
	}{
		{"a disc", page + `<circle cx="50" cy="50" r="40" fill="#a33333"/>`, "#a33333", math.Pi * 0.16},
		{"a ring, even-odd", page + `<path fill-rule="evenodd" fill="#a33333" d="M10 10H90V90H10zM30 30H70V70H30z"/>`, "#a33333", 0.48},
		{"the same, nonzero", page + `<path fill="#a33333" d="M10 10H90V90H10zM30 30H70V70H30z"/>`, "#a33333", 0.64},
		{"what is covered", `<rect width="100" height="100" fill="#a33333"/><rect width="100" height="75" fill="#ffffff"/>`, "#a33333", 0.25},
		{"a stroke", page + `<path d="M0 50H100" stroke="#a33333" stroke-width="10"/>`, "#a33333", 0.1},
		{"what a clip leaves", page + `<clipPath id="c"><rect width="50" height="50"/></clipPath><rect width="100" height="100" clip-path="url(#c)" fill="#a33333"/>`,
			"#a33333", 0.25},
	} {
		_, _, s := drawn(t, c.body)
		i := slices.IndexFunc(s.List, func(x Shade) bool { return x.Hex == c.hex })
		if i < 0 || math.Abs(s.List[i].Area-c.share) > 0.004 {
			t.Errorf("%s: %+v, not %.3f", c.what, s.List, c.share)
		}
	}
}

// gathered gathers a drawing and returns what became of each shade, "a33333>aa4444".
func gathered(t *testing.T, body string, p recipe.Palette) (*Gathered, string) {
	t.Helper()
	_, _, s := drawn(t, body)
	g, err := Gather(t.Context(), s, &p)
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	for i, x := range g.Shades {
		if g.To[i] != x.Hex {
			out = append(out, x.Hex[1:]+">"+g.To[i][1:])
		}
	}
	return g, strings.Join(out, " ")
}

// TestGather holds which shades go together: those of one thing, never those of text and outlines, single
// ones where somebody moves them, and all to given colours.
func TestGather(t *testing.T) {
	r := func(x, y, w, h int, hex string) string {
		return fmt.Sprintf(`<rect x="%d" y="%d" width="%d" height="%d" fill="#%s"/>`, x, y, w, h, hex)
	}
	coat := r(0, 0, 40, 60, "7a4a2a") + r(5, 5, 10, 50, "8a5632") + r(25, 5, 10, 50, "6a3f22")
	sea := r(50, 0, 50, 30, "2a6a9a") + r(50, 30, 50, 30, "3478a8")
	word := `<text x="5" y="90" font-size="20" fill="#2a6a9c">Pier</text>`
	line := `<path d="M2 65H98" stroke="#101010" stroke-width="3" fill="none"/>` + r(60, 70, 20, 20, "181818") + r(2, 70, 4, 4, "101014")
	for _, c := range []struct {
		what, body string
		p          recipe.Palette
		want       string
	}{
		{"three browns of a coat, two blues", coat + sea, recipe.Palette{Count: 2}, "3478a8>2a6a9a 6a3f22>7a4a2a 8a5632>7a4a2a"},
		{"as many as there are", coat + sea, recipe.Palette{Count: 5}, ""},
		{"text keeps its own", coat + sea + word, recipe.Palette{Count: 3}, "2a6a9a>2a6a9c 6a3f22>7a4a2a 8a5632>7a4a2a"},
		{"an outline keeps its own", coat + line, recipe.Palette{Count: 2}, "101014>101010 181818>101010 6a3f22>7a4a2a 8a5632>7a4a2a"},
		{"by a distance", coat + sea, recipe.Palette{Distance: 10}, "3478a8>2a6a9a 6a3f22>7a4a2a 8a5632>7a4a2a"},
		{"by a small one", coat + sea, recipe.Palette{Distance: 1}, ""},
		{"to given colours", coat + sea + word, recipe.Palette{Given: []string{"#2050a0", "#804000", "#ffffff"}},
			"2a6a9a>2050a0 2a6a9c>2050a0 3478a8>2050a0 6a3f22>804000 7a4a2a>804000 8a5632>804000"},
		{"one moved by hand", coat + sea, recipe.Palette{Count: 2, Moved: map[string]string{"#8a5632": "#2a6a9a"}},
			"3478a8>2a6a9a 6a3f22>7a4a2a 8a5632>2a6a9a"},
	} {
		_, got := gathered(t, c.body, c.p)
		want := strings.Split(c.want, " ")
		slices.Sort(want)
		have := strings.Split(got, " ")
		slices.Sort(have)
		if !slices.Equal(have, want) {
			t.Errorf("%s: %s, not %s", c.what, got, c.want)
		}
	}
}

// TestManyShades gathers thousands of random shades: as many colours as are wanted are left, each one of
// the artwork, the order of shapes decides nothing, more colours never differ much more, and it can be
// given up.
func TestManyShades(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 24))
	var tiles []string
	for i := range 4000 {
		tiles = append(tiles, fmt.Sprintf(`<rect x="%d" y="%g" width="2" height="1.25" fill="#%02x%02x%02x"/>`,
			i%50*2, float64(i/50)*1.25, rnd.IntN(256), rnd.IntN(256), rnd.IntN(256)))
	}
	last := math.Inf(1)
	for _, n := range []int{2, 6, 12, 40} {
		g, _ := gathered(t, strings.Join(tiles, ""), recipe.Palette{Count: n})
		own := map[string]bool{}
		for _, x := range g.Shades {
			own[x.Hex] = true
		}
		if len(g.Colors) != n || slices.ContainsFunc(g.Colors, func(h string) bool { return !own[h] }) {
			t.Errorf("%d colours are left, %d wanted", len(g.Colors), n)
		}
		if g.Mean > last {
			t.Errorf("%d colours differ by %g, fewer by %g", n, g.Mean, last)
		}
		last = g.Mean
	}
	rnd.Shuffle(len(tiles), func(i, k int) { tiles[i], tiles[k] = tiles[k], tiles[i] })
	again, _ := gathered(t, strings.Join(tiles, ""), recipe.Palette{Count: 40})
	if again.Mean != last {
		t.Errorf("in another order they differ by %g, not %g", again.Mean, last)
	}
	_, _, s := drawn(t, strings.Join(tiles, ""))
	ctx, stop := context.WithCancel(t.Context())
	stop()
	if _, err := Gather(ctx, s, &recipe.Palette{Count: 3}); !errors.Is(err, context.Canceled) {
		t.Errorf("given up: %v", err)
	}
}

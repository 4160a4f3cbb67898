package raise

import (
	"errors"
	"math"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// sheetAt is a square of two triangles at one height, its side in grid units.
func sheetAt(x, y, side, z int32) *Surface {
	pts := []plane.Point{{X: x, Y: y}, {X: x + side, Y: y}, {X: x + side, Y: y + side}, {X: x, Y: y + side}}
	return &Surface{
		Pts: pts, Z: []int32{z, z, z, z}, Tris: [][3]int32{{0, 1, 2}, {0, 2, 3}},
		Rim: [][2]int32{{0, 1}, {1, 2}, {2, 3}, {3, 0}}, Group: make([]mesh.Group, 2), RimZ: z,
	}
}

// TestBlocksGoTogether closes squares side by side at all kinds of heights: the volume is
// theirs, and what meets hangs together.
func TestBlocksGoTogether(t *testing.T) {
	type block struct{ x, y, under, top int32 }
	for name, c := range map[string]struct {
		blocks []block
		shells int
	}{
		"one":                  {[]block{{0, 0, 0, 5}}, 1},
		"two alike":            {[]block{{0, 0, 0, 5}, {1, 0, 0, 5}}, 1},
		"a step":               {[]block{{0, 0, 0, 5}, {1, 0, 0, 8}}, 1},
		"a step on both sides": {[]block{{0, 0, 0, 5}, {1, 0, 2, 8}}, 1},
		"one within the other": {[]block{{0, 0, 0, 9}, {1, 0, 3, 5}}, 1},
		"one above the other":  {[]block{{0, 0, 0, 3}, {1, 0, 5, 8}}, 2},
		"three in a corner":    {[]block{{0, 0, 0, 5}, {1, 0, 0, 7}, {0, 1, 1, 4}}, 1}, // with what is outside four, but never two peaks
		"a stair of four":      {[]block{{0, 0, 0, 2}, {1, 0, 0, 4}, {2, 0, 0, 6}, {3, 0, 0, 8}}, 1},
		"apart":                {[]block{{0, 0, 0, 5}, {3, 0, 0, 5}}, 2},
	} {
		var upper, lower []*Surface
		want := 0.0
		for _, b := range c.blocks {
			upper = append(upper, sheetAt(100*b.x, 100*b.y, 100, 10*b.top))
			lower = append(lower, sheetAt(100*b.x, 100*b.y, 100, 10*b.under))
			want += 100 * 100 * 10 * float64(b.top-b.under)
		}
		m, err := assemble(t.Context(), 1, upper, lower, Crease)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-want) > 1e-6*want || rep.Shells != c.shells {
			t.Errorf("%s: %+v, want %g in %d", name, rep, want, c.shells)
		}
		if welded := mesh.Check(m.Weld(), true); !welded.Sound() || welded.Vertices != rep.Vertices {
			t.Errorf("%s, welded: %+v", name, welded)
		}
	}
}

// TestSidesMustFit refuses an upper and a lower side with different borders.
func TestSidesMustFit(t *testing.T) {
	for name, lower := range map[string][]*Surface{
		"another square": {sheetAt(5, 0, 100, 0)},
		"none":           {},
		"twice":          {sheetAt(0, 0, 100, 0), sheetAt(0, 0, 100, 0)},
	} {
		if _, err := assemble(t.Context(), 1, []*Surface{sheetAt(0, 0, 100, 50)}, lower, Crease); !errors.Is(err, errBorders) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

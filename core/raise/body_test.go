package raise

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// plansOf plans a region for a form.
func plansOf(t testing.TB, loops []plane.Loop, f Form) *Plans {
	t.Helper()
	p, err := NewPlans(t.Context(), region(t, loops), f, testStep)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func square(x0, y0, x1, y1 float64) []plane.Loop {
	return []plane.Loop{{mm(x0, y0), mm(x1, y0), mm(x1, y1), mm(x0, y1)}}
}

// TestDetailsHaveTheirVolume cuts into a plate and raises from it, where the volume is
// known.
func TestDetailsHaveTheirVolume(t *testing.T) {
	plate, chamfered := Form{Depth: 5}, Form{Depth: 5, Front: bevel(Chamfer, 2, 2, 1)}
	inner, beyond := square(-4, -4, 4, 4), square(5, -4, 15, 4)
	frustum := 400*3 + 2.0/3*(400+16*16+20*16)
	for _, c := range []struct {
		name    string
		host    Form
		details []Detail
		where   [][]plane.Loop
		want    float64
	}{
		{"recess", plate, []Detail{{Form: Form{Depth: 2}, Cut: true}}, [][]plane.Loop{inner}, 2000 - 64*2},
		{"through", plate, []Detail{{Form: Form{Depth: 2}, Cut: true, Through: true}}, [][]plane.Loop{inner}, 2000 - 64*5},
		{"deeper than the plate", plate, []Detail{{Form: Form{Depth: 7}, Cut: true}}, [][]plane.Loop{inner}, 2000 - 64*5},
		{"raised", plate, []Detail{{Form: Form{Depth: 3}}}, [][]plane.Loop{inner}, 2000 + 64*3},
		{"chiselled", plate, []Detail{{Form: Form{Depth: 4, Front: bevel(Chamfer, 4, 4, 1)}, Cut: true}}, [][]plane.Loop{inner}, 2000 - 64*4/3.0},
		{"recess over the rim", plate, []Detail{{Form: Form{Depth: 2}, Cut: true}}, [][]plane.Loop{beyond}, 2000 - 40*2},
		{"raised over the rim", plate, []Detail{{Form: Form{Depth: 3}}}, [][]plane.Loop{beyond}, 2000 + 40*3 + 40*8},
		{"through over the rim", plate, []Detail{{Form: Form{Depth: 9}, Cut: true}}, [][]plane.Loop{beyond}, 2000 - 40*5},
		// Across the bevel: what the chamfer has taken away already is 8 mm long.
		{"recess across a bevel", chamfered, []Detail{{Form: Form{Depth: 1}, Cut: true}}, [][]plane.Loop{beyond}, frustum - 8*(3+0.5)},
		{"two", plate, []Detail{{Form: Form{Depth: 2}, Cut: true}, {Form: Form{Depth: 1}}}, [][]plane.Loop{inner, square(-8, -8, -6, -6)}, 2000 - 128 + 4},
	} {
		for _, back := range []Bevel{{}, bevel(Chamfer, 0.5, 0.5, 1)} {
			b := Body{Form: c.host, Details: c.details}
			want, tol := c.want, 1e-3
			if b.Form.Back = back; back.On() {
				tol = 0.02
			}
			b.Plans = plansOf(t, square(-10, -10, 10, 10), b.Form)
			for i := range b.Details {
				b.Details[i].Plans = plansOf(t, c.where[i], b.Details[i].Form)
				b.Details[i].Part = int32(i) + 1
			}
			m, err := b.Solid(t.Context(), testStep, Shaded)
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			rep := mesh.Check(m, true)
			if !rep.Sound() || math.Abs(rep.VolumeMM3-want) > want*tol {
				t.Errorf("%s, back %v: %+v, want volume %g", c.name, back.On(), rep, want)
			}
			checkNormals(t, m)
		}
	}
}

// someBody returns a nasty body with some nasty details.
func someBody(t testing.TB, i int) Body {
	r := rand.New(rand.NewPCG(uint64(i), 15))
	loops := smallNasty(i)
	b := Body{Form: someForm(r)}
	b.Form.Wall = 0
	b.Plans = plansOf(t, loops, b.Form)
	for k := range 1 + r.IntN(3) {
		loops := smallNasty(i*7 + k + 3)
		d := Detail{Form: someForm(r), Cut: r.IntN(2) == 0, Through: r.IntN(6) == 0, Part: int32(k) + 1}
		d.Form.Back, d.Form.Wall, d.Form.Outward = Bevel{}, 0, false
		d.Form.Depth *= r.Float64()
		d.Plans = plansOf(t, loops, d.Form)
		b.Details = append(b.Details, d)
	}
	return b
}

// smallNasty returns a nasty outline; the largest are left to the full set.
func smallNasty(i int) []plane.Loop {
	for ; ; i++ {
		_, loops := nasty(i)
		n := 0
		for _, l := range loops {
			n += len(l)
		}
		if n < 1500 || howMany(0, 1) > 0 {
			return loops
		}
	}
}

// howMany returns how many cases of a generated set are tried: the usual number, or one of
// so many of those that BILDHAUER_NASTY asks for.
func howMany(usual, of int) int {
	if n, err := strconv.Atoi(os.Getenv("BILDHAUER_NASTY")); err == nil {
		return max(usual, n/of)
	}
	return usual
}

// TestEveryDetailIsSound cuts nasty outlines into nasty bodies and raises them from
// these.
func TestEveryDetailIsSound(t *testing.T) {
	const some = 8
	count := howMany(some, 16)
	for i := range count {
		if count == some && i%5 == 2 {
			continue // these take ten seconds each: make bench has them
		}
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			t.Parallel()
			b := someBody(t, i)
			m, err := b.Solid(t.Context(), testStep, Finish(i%3))
			if err != nil {
				t.Fatal(err)
			}
			if rep := mesh.Check(m, true); len(m.Tris) > 0 && !rep.Sound() {
				t.Errorf("%+v", rep)
			}
		})
	}
}

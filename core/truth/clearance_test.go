package truth

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// away returns how far a place lies from all that a body covers; less than 0 within.
func (b *body) away(p vec) float64 {
	least := -b.own.inward(p)
	for _, r := range b.raised {
		least = math.Min(least, -r.inward(p))
	}
	return least
}

// TestClearance raises bodies side by side with a clearance, some of whose walls stand outside: nowhere
// are two nearer to each other, and nothing is lost but what lies within it of another body.
func TestClearance(t *testing.T) {
	for i := range howMany(2) {
		rnd := rand.New(rand.NewPCG(uint64(i), 29))
		d := overlapping(rnd, true)
		d.relief, d.spread, d.clearance = recipe.Relief{}, 0, between(rnd, 0.2, 1.2)
		for k := range d.parts {
			how := &d.parts[k].how
			how.Front.Height, how.Back.Height = 0.5, 0.5 // so that there is something everywhere
			how.Outward = i%2 == 1 && rnd.IntN(2) == 0
		}
		line, regions, mid := d.resolved(t)
		solids := map[string]*solid{}
		arranged := stages.Arrangement(regions, &line.Recipe.Parts)
		for k := range arranged {
			m, err := line.Body(t.Context(), regions, &arranged[k], raise.Plain)
			if err != nil {
				t.Fatal(err)
			}
			solids[regions.Parts[arranged[k].Index].ID] = solidOf(m.Value.Mesh)
		}
		d.apart(t, i, rnd, solids, mid)
	}
}

// apart looks at random places of bodies that were raised.
func (d *drawing) apart(t *testing.T, i int, rnd *rand.Rand, solids map[string]*solid, mid vec) {
	t.Helper()
	bodies := d.bodies()
	const near = 0.05
	over := func(b *body, p vec) column {
		c, err := solids[b.id].over(p.plus(mid, -1))
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	judged := 0
	for range 700 {
		p := vec{mid.x + between(rnd, -32, 32), mid.y + between(rnd, -24, 24)}
		for k, b := range bodies {
			in := -b.away(p)
			if in < near {
				continue
			}
			judged++
			got := over(b, p)
			others := math.Inf(1)
			for j, o := range bodies {
				if j != k {
					others = math.Min(others, o.away(p))
				}
			}
			rim := near
			if b.own.wide > 0 { // it grows from what its region has kept
				rim += d.clearance
			}
			if len(got) == 0 && others > d.clearance+near && b.own.inward(p) > rim {
				t.Errorf("%d: %s has nothing at %v, %.3f mm from all others", i, b.id, p, others)
			}
			if len(got) == 0 || others > 2*d.clearance {
				continue
			}
			for a := range 24 {
				sin, cos := math.Sincos(2 * math.Pi * float64(a) / 24)
				q := p.plus(vec{cos, sin}, d.clearance*0.98)
				for j, o := range bodies {
					if j != k && meet(got, over(o, q)) {
						t.Errorf("%d: %s and %s are nearer than %.3f mm at %v", i, b.id, o.id, d.clearance, p)
						return
					}
				}
			}
		}
	}
	if judged < 100 {
		t.Errorf("%d: only %d places", i, judged)
	}
}

// meet reports whether two columns share heights.
func meet(a, b column) bool {
	for _, s := range a {
		for _, o := range b {
			if math.Min(s.hi, o.hi)-math.Max(s.lo, o.lo) > rounding {
				return true
			}
		}
	}
	return false
}

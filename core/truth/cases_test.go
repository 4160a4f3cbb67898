package truth

import (
	"math"
	"math/rand/v2"
	"slices"

	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// kinds of drawings that are judged.
var kinds = []struct {
	name string
	draw func(*rand.Rand) *drawing
}{
	{"plain", func(r *rand.Rand) *drawing { return alone(r, someMeasures(r)) }},
	{"custom", func(r *rand.Rand) *drawing {
		m := someMeasures(r)
		m.Front = drawnRim(r)
		return alone(r, m)
	}},
	{"outward", func(r *rand.Rand) *drawing {
		m := someMeasures(r)
		m.Outward = true
		return alone(r, m)
	}},
	{"wide", func(r *rand.Rand) *drawing { // bevels whose rings are far apart, on what is round
		m := someMeasures(r)
		m.Outward = r.IntN(2) == 0
		m.Front = recipe.Rim{Width: between(r, 4, 12), Height: between(r, 1, 4), Profile: recipe.Chamfer, Segments: 1}
		if r.IntN(2) == 0 {
			m.Front.Profile, m.Front.Segments = recipe.Step, 2
		}
		disc := ring{}
		for i := range 400 {
			s, c := math.Sincos(2 * math.Pi * float64(i) / 400)
			disc = append(disc, vec{25 * c, 25 * s})
		}
		return &drawing{cut: true, parts: []drawnPart{{color: "#336699", shape: shape{disc}, how: m}}}
	}},
	{"mitred", func(r *rand.Rand) *drawing {
		m := someMeasures(r)
		m.Mitred, m.Outward = true, r.IntN(2) == 0
		narrowed(&m) // that is as wide as the part is by what is round
		for {
			if d := alone(r, m); len(d.parts[0].shape[0]) != 3 { // corners of 60 degrees are at the very limit
				return d
			}
		}
	}},
	{"dome", func(r *rand.Rand) *drawing { return alone(r, domed(r)) }},
	{"hollow dome", func(r *rand.Rand) *drawing {
		m := domed(r)
		m.Back, m.Wall = recipe.Rim{}, 0.6+1.5*r.Float64()
		m.Depth += m.Wall
		return alone(r, m)
	}},
	{"domes on a plate", func(r *rand.Rand) *drawing {
		d := detailed(r, []string{recipe.Recess, recipe.Raised, recipe.Resting}[r.IntN(3)])
		for i := range d.parts[1:] {
			d.parts[i+1].how.Front = domed(r).Front
		}
		return d
	}},
	{"hollow", func(r *rand.Rand) *drawing {
		m := someMeasures(r)
		m.Back, m.Wall = recipe.Rim{}, 0.6+1.5*r.Float64()
		m.Depth += m.Wall
		return alone(r, m)
	}},
	{"frame", func(r *rand.Rand) *drawing {
		m := someMeasures(r)
		m.Wall, m.OpenFront, m.OpenBack = 0.6+1.5*r.Float64(), true, true
		narrowed(&m) // how wide a wall is tells no formula
		return alone(r, m)
	}},
	{"recess", func(r *rand.Rand) *drawing { return detailed(r, recipe.Recess) }},
	{"raised", func(r *rand.Rand) *drawing { return detailed(r, recipe.Raised) }},
	{"resting", func(r *rand.Rand) *drawing { return detailed(r, recipe.Resting) }},
	{"stack", stack},
	{"tube", wired},
	{"side by side", func(r *rand.Rand) *drawing { return overlapping(r, true) }},
	{"outward, side by side", func(r *rand.Rand) *drawing {
		d := overlapping(r, true)
		for i := range d.parts {
			d.parts[i].how.Outward = r.IntN(2) == 0
		}
		return d
	}},
	{"relief", levelled},
	{"through each other", func(r *rand.Rand) *drawing { return overlapping(r, false) }},
}

// narrowed turns bevels that are as wide as the part into rounds.
func narrowed(m *recipe.Measures) {
	for _, rim := range []*recipe.Rim{&m.Front, &m.Back} {
		if rim.Full() {
			rim.Profile = recipe.Round
		}
	}
}

// wired is a tube along lines with bends, over a plate.
func wired(r *rand.Rand) *drawing {
	w := &wire{width: between(r, 2, 9), round: r.IntN(2) == 0}
	for range 1 + r.IntN(2) {
		at, turn := vec{between(r, -18, 18), between(r, -14, 14)}, between(r, 0, 2*math.Pi)
		line := ring{at}
		for range 1 + r.IntN(3) {
			s, c := math.Sincos(turn)
			at = at.plus(vec{c, s}, between(r, w.width, 20))
			at = vec{math.Max(-18, math.Min(18, at.x)), math.Max(-14, math.Min(14, at.y))}
			if last := line[len(line)-1]; math.Hypot(at.x-last.x, at.y-last.y) > w.width {
				line = append(line, at)
			}
			turn += between(r, -2.4, 2.4)
		}
		if len(line) > 1 {
			w.lines = append(w.lines, line)
		}
	}
	if len(w.lines) == 0 {
		w.lines = []ring{{{-15, 0}, {15, 0}}}
	}
	m := someMeasures(r)
	m.Back = recipe.Rim{}
	tube := drawnPart{color: "#a33333", wire: w, how: m, role: recipe.Role{Kind: recipe.AsTube}}
	return &drawing{parts: []drawnPart{plate(r), tube}}
}

func between(r *rand.Rand, lo, hi float64) float64 { return lo + (hi-lo)*r.Float64() }

// someRim is a bevel up to wide mm wide.
func someRim(r *rand.Rand, wide float64) recipe.Rim {
	profiles := slices.DeleteFunc(terms.Names("profile"), func(name string) bool { return name == recipe.Custom || name == recipe.Dome })
	return recipe.Rim{
		Width: between(r, 0.3, wide), Height: between(r, 0.3, 3), Profile: profiles[r.IntN(len(profiles))], Segments: 1 + r.IntN(6),
	}
}

// drawnRim is a bevel with a profile that somebody drew.
func drawnRim(r *rand.Rand) recipe.Rim {
	n := 2 + r.IntN(4)
	curve := []recipe.Knot{{}}
	for i := range n {
		curve = append(curve, recipe.Knot{T: float64(i+1) / float64(n), F: r.Float64(), Bend: between(r, -1, 1)})
	}
	return recipe.Rim{Width: between(r, 0.5, 4), Height: between(r, 0.5, 3), Profile: recipe.Custom, Segments: 1 + r.IntN(8), Curve: curve}
}

// domed is measures with a dome, in front at least. It is cut finely: beside the rim, where it is upright,
// facets are off by most.
func domed(r *rand.Rand) recipe.Measures {
	m := someMeasures(r)
	m.Front = recipe.Rim{Width: 1, Height: between(r, 0.5, 3), Profile: recipe.Dome, Segments: 14 + r.IntN(6)}
	if r.IntN(3) == 0 {
		m.Back = m.Front
		m.Back.Height = between(r, 0.5, 2)
	}
	return m
}

func someMeasures(r *rand.Rand) recipe.Measures {
	m := recipe.Measures{
		Depth: between(r, 4, 10), Front: someRim(r, 4), Direction: terms.Names("direction")[r.IntN(3)], Offset: between(r, -3, 3),
	}
	switch r.IntN(3) {
	case 0:
		m.Back = someRim(r, 3)
	case 1:
		m.Back = m.Front
	}
	return m
}

// someShape is an outline about a middle, as far as size from it, some with a hole.
func someShape(r *rand.Rand, mid vec, size float64) shape {
	turn := between(r, 0, 2*math.Pi)
	n := []int{3, 4, 5, 6, 10, 12, 40}[r.IntN(7)]
	long := ring{}
	deep := between(r, 0.45, 1)
	for i := range n {
		s, c := math.Sincos(turn + 2*math.Pi*float64(i)/float64(n))
		k := size
		if i%2 == 1 && n >= 10 {
			k *= deep
		}
		long = append(long, vec{mid.x + k*c, mid.y + k*s})
	}
	out := shape{long}
	if r.IntN(3) == 0 {
		hole := ring{}
		for i := range 5 {
			s, c := math.Sincos(turn - 2*math.Pi*float64(i)/5)
			hole = append(hole, vec{mid.x + 0.2*size*c, mid.y + 0.2*size*s})
		}
		out = append(out, hole)
	}
	return out
}

func alone(r *rand.Rand, m recipe.Measures) *drawing {
	return &drawing{cut: true, parts: []drawnPart{{color: "#336699", shape: someShape(r, vec{}, between(r, 12, 25)), how: m}}}
}

// plate is a wide body for others to lie on, sometimes hollow.
func plate(r *rand.Rand) drawnPart {
	m := someMeasures(r)
	m.Depth += 4
	if r.IntN(4) == 0 {
		m.Wall = between(r, 0.8, 2)
	}
	return drawnPart{color: "#336699", shape: shape{{{-25, -20}, {25, -20}, {25, 20}, {-25, 20}}}, how: m}
}

// detailed is a plate with parts that belong to it, of one role.
func detailed(r *rand.Rand, kind string) *drawing {
	d := &drawing{cut: true, parts: []drawnPart{plate(r)}}
	for i, color := range []string{"#a33333", "#338855"}[:1+r.IntN(2)] {
		m := someMeasures(r)
		m.Depth = between(r, 0.5, 5)
		m.Offset = 0
		mid := vec{-10 + 20*float64(i) + between(r, -3, 3), between(r, -6, 6)}
		p := drawnPart{color: color, shape: someShape(r, mid, between(r, 4, 9)), how: m, role: recipe.Role{Kind: kind, On: "c336699"}}
		if kind == recipe.Resting && r.IntN(2) == 0 {
			p.how.Offset = between(r, 0, 3)
		}
		d.parts = append(d.parts, p)
	}
	return d
}

// stack is a plate with a recess and a raised detail, on each of which something rests, or beside them.
func stack(r *rand.Rand) *drawing {
	d := &drawing{cut: true, parts: []drawnPart{plate(r)}}
	for i, kind := range []string{recipe.Recess, recipe.Raised} {
		m := someMeasures(r)
		m.Depth = between(r, 1, 2.5)
		mid := vec{-11 + 22*float64(i), 0}
		on := recipe.Role{Kind: kind, On: "c336699"}
		d.parts = append(d.parts, drawnPart{color: []string{"#a33333", "#338855"}[i], shape: someShape(r, mid, 9)[:1], how: m, role: on})
	}
	for i := range 2 {
		m := someMeasures(r)
		m.Depth, m.Offset = between(r, 1, 4), 0
		mid := vec{-11 + 22*float64(i), 0}
		on := recipe.Role{Kind: recipe.Resting, On: "c336699"}
		d.parts = append(d.parts, drawnPart{color: []string{"#888833", "#663399"}[i], shape: someShape(r, mid, 2)[:1], how: m, role: on})
	}
	d.cut = false // what rests takes nothing from what it rests on
	return d
}

// overlapping is three bodies that overlap, one with a detail.
func overlapping(r *rand.Rand, cut bool) *drawing {
	d := &drawing{cut: cut}
	for i, color := range []string{"#336699", "#a33333", "#338855"} {
		mid := vec{-10 + 10*float64(i), between(r, -8, 8)}
		d.parts = append(d.parts, drawnPart{color: color, shape: someShape(r, mid, between(r, 10, 16)), how: someMeasures(r)})
	}
	if r.IntN(2) == 0 {
		d.relief.Step, d.spread = between(r, -1, 2), between(r, -2, 2)
	}
	m := someMeasures(r)
	m.Depth = between(r, 1, 3)
	on := recipe.Role{Kind: []string{recipe.Recess, recipe.Raised}[r.IntN(2)], On: "c336699"}
	d.parts = append(d.parts, drawnPart{color: "#888833", shape: someShape(r, vec{-12, 0}, 5), how: m, role: on})
	if _, _, unclear := d.levels(); unclear {
		d.relief = recipe.Relief{}
	}
	return d
}

// levelled is bodies that step up as they lie on each other, by a total height or by a step.
func levelled(r *rand.Rand) *drawing {
	for {
		d := &drawing{cut: r.IntN(4) > 0, rest: between(r, 1, 6)}
		for _, color := range []string{"#336699", "#a33333", "#338855", "#888833", "#663399", "#225577"}[:3+r.IntN(4)] {
			mid := vec{between(r, -14, 14), between(r, -12, 12)}
			m := someMeasures(r)
			m.Offset, m.Depth = 0, d.rest+between(r, 0, 2)
			d.parts = append(d.parts, drawnPart{color: color, shape: someShape(r, mid, between(r, 6, 16)), how: m})
		}
		if d.relief.Step = between(r, 0.3, 1.5); r.IntN(2) == 0 {
			d.relief = recipe.Relief{Total: between(r, 3, 9)}
		}
		if _, most, unclear := d.levels(); !unclear && most > 1 {
			return d
		}
	}
}

package truth

import (
	"math/rand/v2"
	"testing"

	"bildhauer/core/recipe"
)

// box is a rectangle between two corners.
func box(x0, y0, x1, y1 float64) shape { return shape{{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}} }

// slab is a part without bevels, on or in another one if it has a role.
func slab(color string, s shape, depth float64, role recipe.Role) drawnPart {
	return drawnPart{color: color, shape: s, how: recipe.Measures{Depth: depth}, role: role}
}

// found is what was made wrong once.
var found = map[string]func() *drawing{
	"a profile of 256 facets": func() *drawing {
		rim := recipe.Rim{Width: 4, Height: 3, Profile: recipe.Custom, Segments: 32, Curve: []recipe.Knot{{}}}
		for i := range 8 {
			rim.Curve = append(rim.Curve, recipe.Knot{T: float64(i+1) / 8, F: float64(i+1)/8 - 0.05*float64(i%2), Bend: 0.5})
		}
		p := slab("#336699", box(-20, -20, 20, 20), 8, recipe.Role{})
		p.how.Front = rim
		return &drawing{cut: true, parts: []drawnPart{p}}
	},
	"resting on a raised detail": func() *drawing {
		return &drawing{cut: true, parts: []drawnPart{
			slab("#336699", box(-20, -20, 20, 20), 5, recipe.Role{}),
			slab("#a33333", box(-10, -10, 10, 10), 3, recipe.Role{Kind: recipe.Raised, On: "c336699"}),
			slab("#338855", box(-5, -5, 5, 5), 2, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
		}}
	},
	"resting in a recess": func() *drawing {
		return &drawing{cut: true, parts: []drawnPart{
			slab("#336699", box(-20, -20, 20, 20), 5, recipe.Role{}),
			slab("#a33333", box(-10, -10, 10, 10), 3, recipe.Role{Kind: recipe.Recess, On: "c336699"}),
			slab("#338855", box(-5, -5, 5, 5), 2, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
		}}
	},
	"resting on what rests": func() *drawing {
		return &drawing{cut: true, parts: []drawnPart{
			slab("#336699", box(-20, -20, 20, 20), 5, recipe.Role{}),
			slab("#a33333", box(-10, -10, 10, 10), 3, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
			slab("#338855", box(-5, -5, 5, 5), 2, recipe.Role{Kind: recipe.Resting, On: "ca33333"}),
		}}
	},
	"resting on a face that a profile lowers": func() *drawing {
		p := slab("#336699", box(-20, -20, 20, 20), 6, recipe.Role{})
		p.how.Front = recipe.Rim{
			Width: 3, Height: 2, Profile: recipe.Custom, Segments: 3, Curve: []recipe.Knot{{}, {T: 0.5, F: 1}, {T: 1, F: 0.25}},
		}
		return &drawing{cut: true, parts: []drawnPart{
			p, slab("#338855", box(-5, -5, 5, 5), 2, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
		}}
	},
	"resting on a recess that is smaller": func() *drawing {
		return &drawing{cut: true, parts: []drawnPart{
			slab("#336699", box(-20, -20, 20, 20), 5, recipe.Role{}),
			slab("#a33333", box(-5, -5, 5, 5), 3, recipe.Role{Kind: recipe.Recess, On: "c336699"}),
			slab("#338855", box(0, -2, 10, 2), 2, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
		}}
	},
	"resting where recesses lie over each other": func() *drawing {
		return &drawing{parts: []drawnPart{
			slab("#336699", box(-20, -20, 20, 20), 8, recipe.Role{}),
			slab("#a33333", box(-10, -10, 5, 10), 4, recipe.Role{Kind: recipe.Recess, On: "c336699"}),
			slab("#888833", box(-5, -10, 10, 10), 2, recipe.Role{Kind: recipe.Recess, On: "c336699"}),
			slab("#338855", box(-4, -4, 4, 4), 3, recipe.Role{Kind: recipe.Resting, On: "c336699"}),
		}}
	},
	"bodies with details, in one order": func() *drawing { return twoHosts(false) },
	"and in the other":                  func() *drawing { return twoHosts(true) },
	"a raised detail on a hollow body": func() *drawing {
		p := slab("#336699", box(-20, -20, 20, 20), 6, recipe.Role{})
		p.how.Wall = 1.5
		return &drawing{cut: true, parts: []drawnPart{
			p, slab("#a33333", box(-5, -5, 15, 5), 2, recipe.Role{Kind: recipe.Raised, On: "c336699"}),
		}}
	},
	"a raised detail over a back bevel": func() *drawing {
		p := slab("#336699", box(-20, -20, 20, 20), 6, recipe.Role{})
		p.how.Back = recipe.Rim{Width: 3, Height: 3, Profile: recipe.Chamfer, Segments: 1}
		return &drawing{cut: true, parts: []drawnPart{
			p, slab("#a33333", box(5, -5, 20, 5), 2, recipe.Role{Kind: recipe.Raised, On: "c336699"}),
		}}
	},
	"hollow below a bead":  func() *drawing { return hollowed(recipe.Bead) },
	"hollow below steps":   func() *drawing { return hollowed(recipe.Step) },
	"hollow below a round": func() *drawing { return hollowed(recipe.Round) },
	"a recess deeper than a hollow body's wall": func() *drawing {
		p := slab("#336699", box(-20, -20, 20, 20), 6, recipe.Role{})
		p.how.Wall = 1.5
		return &drawing{cut: true, parts: []drawnPart{
			p, slab("#a33333", box(-5, -5, 15, 5), 2.5, recipe.Role{Kind: recipe.Recess, On: "c336699"}),
		}}
	},
	"a gap below what rests": func() *drawing {
		on := slab("#a33333", box(-10, -15, 10, 15), 3, recipe.Role{Kind: recipe.Resting, On: "c336699"})
		on.how.Offset = 3
		return &drawing{cut: true, parts: []drawnPart{slab("#336699", box(-20, -20, 20, 20), 5, recipe.Role{}), on}}
	},
}

func hollowed(profile string) *drawing {
	p := slab("#336699", box(-20, -20, 20, 20), 8, recipe.Role{})
	p.how.Wall, p.how.Front = 1, recipe.Rim{Width: 6, Height: 4, Profile: profile, Segments: 4}
	return &drawing{cut: true, parts: []drawnPart{p}}
}

// twoHosts is two bodies that overlap, one with a recess there: the order of the list decides nothing.
func twoHosts(turned bool) *drawing {
	parts := []drawnPart{
		slab("#336699", box(-20, -10, 10, 10), 10, recipe.Role{}),
		slab("#a33333", box(-10, -20, 20, 20), 5, recipe.Role{}),
		slab("#338855", box(-5, -5, 15, 5), 2, recipe.Role{Kind: recipe.Recess, On: "ca33333"}),
	}
	if turned {
		parts[0], parts[1] = parts[1], parts[0]
	}
	return &drawing{parts: parts}
}

func TestFound(t *testing.T) {
	for name, draw := range found {
		if got := made(t, rand.New(rand.NewPCG(1, 2)), draw()); got.wrong > 0 || got.judged < 300 {
			t.Errorf("%s: %d of %d places wrong: %s", name, got.wrong, got.judged, got.first)
		}
	}
}

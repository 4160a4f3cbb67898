package show

import (
	"math"
	"slices"
	"sort"

	"bildhauer/core/curves"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// usualSpring is how a spring swings where nobody has said so.
var usualSpring = [2]float64{terms.Of("swings").Usual, terms.Of("damping").Usual}

// eased returns how far one is along the way from a key to the next, s from 0 to 1.
func eased(k *recipe.Key, s float64) float64 {
	spring := k.Spring
	if spring == [2]float64{} {
		spring = usualSpring
	}
	return curves.Eased(k.Ease, k.Curve, spring, s)
}

// between returns the keys around a frame and how far one is from the first to the second;
// both are the same before the first key and after the last.
func between(t *recipe.Track, frame float64) (a, b *recipe.Key, s float64) {
	i := sort.Search(len(t.Keys), func(i int) bool { return t.Keys[i].Frame > frame })
	switch {
	case i == 0:
		return &t.Keys[0], &t.Keys[0], 0
	case i == len(t.Keys):
		return &t.Keys[i-1], &t.Keys[i-1], 0
	}
	a, b = &t.Keys[i-1], &t.Keys[i]
	return a, b, eased(a, (frame-a.Frame)/(b.Frame-a.Frame))
}

// valueAt returns a track's value at a frame: that of its first key before it, of its last
// after it.
func valueAt(t *recipe.Track, frame float64) float64 {
	a, b, s := between(t, frame)
	return a.Value + (b.Value-a.Value)*s
}

// colorAt returns a track's colour at a frame; light is mixed, not its figures.
func colorAt(t *recipe.Track, frame float64) picture.RGB {
	a, b, s := between(t, frame)
	c := light(a.Color, picture.RGB{}).Mix(light(b.Color, picture.RGB{}), s)
	for i := range c {
		c[i] = math.Max(0, c[i])
	}
	return c
}

// moment is all that moves, at one frame.
type moment struct {
	values map[[2]string]float64
	colors map[string]picture.RGB // of parts, or of the piece
	paths  map[string]spotOn
	absent map[string]bool // parts that others become: these stand for them
}

// momentOf works out a moment; courses are those of the paths, see coursesOf.
func momentOf(m *recipe.Motion, courses []*course, frame float64) moment {
	out := moment{map[[2]string]float64{}, map[string]picture.RGB{}, map[string]spotOn{}, map[string]bool{}}
	for i := range m.Tracks {
		t := &m.Tracks[i]
		if t.What == "colour" {
			out.colors[t.Of] = colorAt(t, frame)
			continue
		}
		out.values[[2]string{t.Of, t.What}] += valueAt(t, frame)
		if t.What == recipe.Becoming {
			out.absent[t.Into] = true
		}
	}
	for i := range m.Paths {
		p := &m.Paths[i]
		at, way := courses[i].at(out.values[[2]string{p.Of, recipe.Along}])
		out.paths[p.Of] = spotOn{at, way, p.Faces}
	}
	return out
}

// on returns where something is on its path; nil where it has none.
func (m moment) on(who string) *spotOn {
	for _, who := range []string{who, recipe.BaseOf(who)} {
		if s, ok := m.paths[who]; ok {
			return &s
		}
	}
	return nil
}

// of returns a figure, or a value where nothing moves it.
func (m moment) of(who, what string, rest float64) float64 {
	for _, who := range []string{who, recipe.BaseOf(who)} {
		if v, ok := m.values[[2]string{who, what}]; ok {
			return v
		}
	}
	return rest
}

// Growth is what makes another solid of a part at a frame.
type Growth struct {
	Depth   float64 `json:"depth"` // factors of what they are at rest
	Bevel   float64 `json:"bevel"`
	Written float64 `json:"written"`        // how much of it is there, along its outline or line; 1 for all
	Into    string  `json:"into,omitempty"` // the part that it becomes
	Became  float64 `json:"became"`         // how much of it has
}

// Grown returns what makes other solids of parts at a frame than they are at rest, by part or recipe.OfPiece; nil where
// nothing does.
func Grown(m *recipe.Motion, frame float64) map[string]Growth {
	var out map[string]Growth
	for i := range m.Tracks {
		t := &m.Tracks[i]
		if !slices.Contains([]string{"depth", "bevel", recipe.Written, recipe.Becoming}, t.What) {
			continue
		}
		if out == nil {
			out = map[string]Growth{}
		}
		g, ok := out[t.Of]
		if !ok {
			g = Growth{Depth: 1, Bevel: 1, Written: 1}
		}
		switch v := valueAt(t, frame); t.What {
		case "depth":
			g.Depth = math.Max(0, v)
		case "bevel":
			g.Bevel = math.Max(0, v)
		case recipe.Written:
			g.Written = math.Max(0, math.Min(1, v))
		case recipe.Becoming:
			g.Into, g.Became = t.Into, v
		}
		out[t.Of] = g
	}
	return out
}

// GrowthOf returns that of a part, with what the piece adds.
func GrowthOf(all map[string]Growth, part string) Growth {
	out, ok := all[part]
	if !ok {
		out, ok = all[recipe.BaseOf(part)]
	}
	if !ok {
		out = Growth{Depth: 1, Bevel: 1, Written: 1}
	}
	if piece, ok := all[recipe.OfPiece]; ok {
		out.Depth, out.Bevel, out.Written = out.Depth*piece.Depth, out.Bevel*piece.Bevel, math.Min(out.Written, piece.Written)
	}
	return out
}

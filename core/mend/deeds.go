package mend

import (
	"errors"
	"fmt"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// Refusal says in the words of the person why a deed changed nothing. Lost
// tells that what it is about is not there any more.
type Refusal struct {
	Text string
	Lost bool
}

// Error is part of error.
func (r *Refusal) Error() string { return r.Text }

func refuse(format string, args ...any) error { return &Refusal{Text: fmt.Sprintf(format, args...)} }

func lost(what string) error { return &Refusal{what + " is not in the artwork any more", true} }

// deed is one kind of change. do changes w, which is a copy.
type deed struct {
	do     func(w *Work, m *recipe.Mend) error
	sized  bool // looks at the final size
	shapes int  // how many shapes it names at least
	mm     int  // how many lengths it reads at least
	at     int  // how many places
	places bool // it does the same in any number of places
}

// deeds are all kinds of change, by the name that recipes give them.
var deeds map[string]deed

func init() {
	deeds = map[string]deed{
		// outlines
		"close":   {do: closeContours, sized: true, shapes: 1},
		"link":    {do: linkEnds, shapes: 1},
		"weld":    {do: weldNodes, sized: true, shapes: 1, mm: 1},
		"resolve": {do: resolve, shapes: 1},
		"refit":   {do: refit, sized: true, shapes: 1, mm: 1},
		"nodes":   {do: editNodes, shapes: 1},
		"contour": {do: setContourRole, shapes: 1},
		// areas
		"drop":      {do: drop, shapes: 1},
		"only":      {do: only, shapes: 1},
		"shed":      {do: shed, shapes: 1, at: 1, places: true},
		"unite":     {do: unite, shapes: 2},
		"subtract":  {do: subtract, shapes: 2},
		"intersect": {do: intersect, shapes: 2},
		"divide":    {do: divide, shapes: 2},
		"hole":      {do: punchShapes, shapes: 1},
		"split":     {do: split, shapes: 1},
		"compound":  {do: compound, shapes: 2},
		"grow":      {do: growShapes, sized: true, shapes: 1, mm: 1},
		"ring":      {do: ringShapes, sized: true, shapes: 1, mm: 1},
		"seam":      {do: closeSeam, sized: true, shapes: 2, mm: 1},
		"part":      {do: partTouch, sized: true, shapes: 1, mm: 1, at: 1},
		"blunt":     {do: blunt, sized: true, shapes: 1, mm: 1, at: 1, places: true},
		"thicken":   {do: thicken, sized: true, shapes: 1, mm: 1, at: 1, places: true},
		"widen":     {do: widen, sized: true, shapes: 1, mm: 1, at: 1, places: true},
		"plug":      {do: plug, sized: true, shapes: 1, at: 1, places: true},
		"bridge":    {do: bridge, sized: true, shapes: 1, mm: 1, at: 2},
		// place
		"move":   {do: moveShapes, shapes: 1, at: 1},
		"turn":   {do: turnShapes, shapes: 1, at: 1},
		"mirror": {do: mirrorShapes, shapes: 1, at: 1},
		// added shapes
		"plate":     {do: addPlate, sized: true, mm: 2, at: 1},
		"disc":      {do: addDisc, sized: true, mm: 1, at: 1},
		"border":    {do: addBorder, sized: true, mm: 1},
		"strip":     {do: addStrip, sized: true, mm: 2},
		"eyelet":    {do: addEyelet, sized: true, mm: 2, at: 1},
		"punch":     {do: punchHole, sized: true, mm: 1, at: 1},
		"lettering": {do: addLettering, sized: true, mm: 1, at: 1},
	}
}

// Sized reports whether what a deed does depends on the final size.
func Sized(do string) bool { return deeds[do].sized }

// Apply returns the work with a change, which leaves w as it is. Errors are
// *Refusal.
func Apply(w *Work, m *recipe.Mend) (*Work, error) {
	d, ok := deeds[m.Do]
	switch {
	case !ok:
		return nil, refuse("there is no mend %.40q", m.Do)
	case len(m.Shapes) < d.shapes:
		return nil, refuse("choose %s first", atLeast(d.shapes))
	case len(m.MM) < d.mm || len(m.At) < d.at:
		return nil, refuse("a figure or a place is missing")
	}
	out := w.clone()
	if err := d.do(out, m); err != nil {
		var r *Refusal
		if !errors.As(err, &r) {
			err = &Refusal{Text: err.Error()}
		}
		return nil, err
	}
	out.removeEmptied(w)
	if n := out.Sheet.Nodes(); n > maxNodes && n > w.Sheet.Nodes() {
		return nil, refuse("the outlines would have %d nodes, more than the %d that can be raised", n, maxNodes)
	}
	return out, nil
}

// Overtaken reports whether a mend that changed outlines has no effect on what came of w: its shapes went later.
func (w *Work) Overtaken(m *recipe.Mend) bool {
	switch m.Do {
	case "drop", "only", "hole", "unite", "subtract", "intersect", "divide", "split", "compound", "link":
		return false // shapes go by what it does
	}
	for _, k := range m.Shapes {
		if w.Find(k) >= 0 {
			return false
		}
	}
	return len(m.Shapes) > 0
}

// removeEmptied takes out shapes of which a deed left nothing.
func (w *Work) removeEmptied(before *Work) {
	var gone []int
	for i := range w.Sheet.Shapes {
		if len(w.Sheet.Shapes[i].Contours) > 0 {
			continue
		}
		if k := before.Find(w.Sheet.Shapes[i].Key); k >= 0 && len(before.Sheet.Shapes[k].Contours) > 0 {
			gone = append(gone, i)
		}
	}
	if len(gone) > 0 {
		w.remove(gone...)
	}
}

// maxNodes bounds the nodes of a mended sheet: with curves in few pieces each,
// what the engine takes (stages.MaxPoints).
const maxNodes = 2_000_000

func atLeast(n int) string {
	if n == 1 {
		return "a shape"
	}
	return "at least two shapes"
}

// named returns the indices of the shapes that a mend names, in its order.
func (w *Work) named(m *recipe.Mend) ([]int, error) {
	var out []int
	for _, k := range m.Shapes {
		i := w.Find(k)
		if i < 0 {
			return nil, lost("its shape")
		}
		if slices.Contains(out, i) {
			continue
		}
		out = append(out, i)
	}
	return out, nil
}

// first returns the first shape that a mend names.
func (w *Work) first(m *recipe.Mend) (int, error) {
	i := w.Find(m.Shapes[0])
	if i < 0 {
		return -1, lost("its shape")
	}
	return i, nil
}

func vec(p [2]float64) geom.Vec { return geom.Vec{X: p[0], Y: p[1]} }

// nameOf returns what to call a shape.
func nameOf(sh *artwork.Shape) string {
	if sh.Name != "" {
		return sh.Name
	}
	return "the shape"
}

// newShape returns a shape that a mend makes.
func newShape(m *recipe.Mend, n int, name string, color artwork.Color, list []geom.Contour) artwork.Shape {
	return artwork.Shape{
		Key: recipe.MendKey(m.ID, n), Name: name, Group: -1, Color: color, Opacity: 1, Veil: 1,
		Contours: list, Matrix: geom.Identity,
	}
}

// regions returns the areas of several shapes, noting their curves in src.
func (w *Work) regions(which []int, src *sources) ([]plane.Region, error) {
	out := make([]plane.Region, len(which))
	for k, i := range which {
		var err error
		if out[k], err = w.region(i, src); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// union returns the area of several regions together.
func union(list []plane.Region) (plane.Region, error) {
	var loops []plane.Loop
	for _, r := range list {
		r.Loops(func(l plane.Loop) { loops = append(loops, l) })
	}
	return fill(loops)
}

// below returns the shapes that take part and lie under shape i and meet a box.
func (w *Work) below(i int, box geom.Box) []int {
	var out []int
	for k := range i {
		if w.In[k] && w.Sheet.Shapes[k].Box().Overlaps(box) {
			out = append(out, k)
		}
	}
	return out
}

// atTop is the index behind all shapes.
func (w *Work) atTop() int { return len(w.Sheet.Shapes) }

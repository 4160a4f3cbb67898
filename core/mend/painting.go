package mend

import (
	"reflect"
	"slices"
	"sync"

	"bildhauer/core/artwork"
	"bildhauer/core/gauge"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// painting is what is seen of a work: the areas of its shapes, in the order in which they are painted.
type painting struct {
	w      *Work
	tol    float64
	paints *paints
	shapes []painted
	byKey  func() map[string]int // index in shapes, made when somebody asks first
}

// find returns the shape of a key, which is mostly that at a place, or -1.
func (p *painting) find(key string, at int) int {
	if at < len(p.shapes) && p.shapes[at].shape.Key == key {
		return at
	}
	if n, have := p.byKey()[key]; have {
		return n
	}
	return -1
}

// painted is one shape that takes part.
type painted struct {
	shape  *artwork.Shape
	region plane.Region
	lo, hi plane.Point
	color  artwork.Color // as it was decided
	paint  int32         // number of what it is painted with
}

// paints numbers what shapes are painted with: a colour, or a gradient, which is one of its own where it
// differs in anything.
type paints struct {
	mu        sync.Mutex
	colors    []artwork.Color
	plain     map[plainPaint]int32
	gradients map[artwork.Color][]gradientPaint
}

type plainPaint struct {
	color   artwork.Color
	opacity float64
}

type gradientPaint struct {
	gradient *artwork.Gradient
	n        int32
}

func newPaints() *paints {
	return &paints{plain: map[plainPaint]int32{}, gradients: map[artwork.Color][]gradientPaint{}}
}

// of returns the number of a shape's paint, from 1.
func (p *paints) of(sh *artwork.Shape, color artwork.Color) int32 {
	p.mu.Lock()
	defer p.mu.Unlock()
	if sh.Gradient == nil || color != sh.Color { // a colour that was decided takes a gradient's place
		k := plainPaint{color, sh.Opacity}
		n, have := p.plain[k]
		if !have {
			n = p.add(color)
			p.plain[k] = n
		}
		return n
	}
	for _, g := range p.gradients[color] {
		if g.gradient == sh.Gradient || reflect.DeepEqual(g.gradient, sh.Gradient) {
			return g.n
		}
	}
	n := p.add(color)
	p.gradients[color] = append(p.gradients[color], gradientPaint{sh.Gradient, n})
	return n
}

func (p *paints) add(c artwork.Color) int32 {
	p.colors = append(p.colors, c)
	return int32(len(p.colors))
}

// painting returns what is seen, of the regions that were made for the looking.
func (l *look) painting() *painting {
	p := &painting{w: l.Work, tol: l.tol, paints: newPaints()}
	for k, i := range l.taken {
		p.put(&l.Sheet.Shapes[i], l.Color[i], l.region[k])
	}
	p.index()
	return p
}

// newPainting makes it for somebody who looks for nothing else.
func newPainting(w *Work, m *memory) (*painting, error) {
	p := &painting{w: w, tol: w.lookTol(), paints: newPaints()}
	m.within(p.tol)
	regions := make([]plane.Region, len(w.Sheet.Shapes))
	err := parallel.Each(len(regions), func(i int) (err error) {
		if w.In[i] {
			a, wrong := m.area(w, i)
			regions[i], err = a.region, wrong
		}
		return err
	})
	for i := range regions {
		if w.In[i] {
			p.put(&w.Sheet.Shapes[i], w.Color[i], regions[i])
		}
	}
	p.index()
	return p, err
}

// ink returns how much is covered, mm².
func (p *painting) ink() (float64, error) {
	layers := make([]plane.Layer, len(p.shapes))
	for n := range p.shapes {
		layers[n] = plane.Layer{Loops: gauge.LoopsOf(p.shapes[n].region), Label: 1}
	}
	all, err := plane.Stack(layers, p.w.Stop)
	return p.w.area(all[1]), err
}

func (p *painting) put(sh *artwork.Shape, color artwork.Color, r plane.Region) {
	lo, hi, _ := r.Bounds()
	p.shapes = append(p.shapes, painted{sh, r, lo, hi, color, p.paints.of(sh, color)})
}

func (p *painting) index() {
	p.byKey = sync.OnceValue(func() map[string]int {
		out := make(map[string]int, len(p.shapes))
		for n := range p.shapes {
			out[p.shapes[n].shape.Key] = n
		}
		return out
	})
}

// after returns the painting of a work that came from this one's. Areas of shapes that are as before are not
// made again.
func (p *painting) after(w *Work) (*painting, error) {
	q := &painting{w: w, tol: p.tol, paints: p.paints, shapes: make([]painted, 0, len(p.shapes))}
	for i := range w.Sheet.Shapes {
		if !w.In[i] {
			continue
		}
		sh := &w.Sheet.Shapes[i]
		if n := p.find(sh.Key, len(q.shapes)); n >= 0 && sameArea(p.shapes[n].shape, sh) {
			was := p.shapes[n]
			if was.color != w.Color[i] || was.shape.Gradient != sh.Gradient || was.shape.Opacity != sh.Opacity {
				was.paint, was.color = p.paints.of(sh, w.Color[i]), w.Color[i]
			}
			was.shape = sh
			q.shapes = append(q.shapes, was)
			continue
		}
		r, err := w.regionWithin(i, nil, p.tol)
		if err != nil {
			return nil, err
		}
		q.put(sh, w.Color[i], r)
	}
	q.index()
	return q, nil
}

// sameArea reports whether two states of a shape share their outlines, so that they cover the same.
func sameArea(a, b *artwork.Shape) bool {
	return a == b || a.Matrix == b.Matrix && a.EvenOdd == b.EvenOdd && a.Stroke == b.Stroke &&
		sameList(a.Contours, b.Contours) && sameList(a.Clips, b.Clips)
}

// sameList reports whether two slices are one.
func sameList[T any](a, b []T) bool {
	return len(a) == len(b) && (len(a) == 0 || &a[0] == &b[0])
}

// frame is a box that grows.
type frame struct {
	lo, hi plane.Point
	some   bool
}

func (f *frame) add(p plane.Point) {
	if !f.some {
		f.lo, f.hi, f.some = p, p, true
		return
	}
	f.lo = plane.Point{X: min(f.lo.X, p.X), Y: min(f.lo.Y, p.Y)}
	f.hi = plane.Point{X: max(f.hi.X, p.X), Y: max(f.hi.Y, p.Y)}
}

func (f *frame) addAll(r plane.Region) {
	if lo, hi, ok := r.Bounds(); ok {
		f.add(lo)
		f.add(hi)
	}
}

// frameRim is by how many grid units a frame is larger than what it holds: crossings at its sides are rounded.
const frameRim = 64

// edges returns where two regions may differ: around edges that one of them has and the other has not.
func (f *frame) edges(a, b plane.Region) {
	have := map[[2]plane.Point]int{}
	each := func(r plane.Region, by int) {
		r.Loops(func(l plane.Loop) {
			for i, p := range l {
				have[[2]plane.Point{p, l[(i+1)%len(l)]}] += by
			}
		})
	}
	each(a, 1)
	each(b, -1)
	for e, n := range have {
		if n != 0 {
			f.add(e[0])
			f.add(e[1])
		}
	}
}

// differs returns where what is seen of two paintings may differ.
func (p *painting) differs(q *painting) frame {
	var f frame
	same := func(n, m int) bool {
		a, b := &p.shapes[n], &q.shapes[m]
		return a.paint == b.paint && sameArea(a.shape, b.shape)
	}
	// Shapes that are as before keep their order; another one has its place by how many of these lie below it.
	rank := func(at, other *painting) []int {
		out, n := make([]int, len(at.shapes)), 0
		for i := range at.shapes {
			out[i] = n
			k := other.find(at.shapes[i].shape.Key, i)
			if k >= 0 && (at == p && same(i, k) || at == q && same(k, i)) {
				n++
			}
		}
		return out
	}
	before, now := rank(p, q), rank(q, p)
	for n := range p.shapes {
		m := q.find(p.shapes[n].shape.Key, n)
		switch {
		case m < 0:
			f.addAll(p.shapes[n].region)
		case before[n] != now[m] || p.shapes[n].paint != q.shapes[m].paint:
			f.addAll(p.shapes[n].region)
			f.addAll(q.shapes[m].region)
		case !same(n, m):
			f.edges(p.shapes[n].region, q.shapes[m].region)
		}
	}
	for m := range q.shapes {
		if p.find(q.shapes[m].shape.Key, m) < 0 {
			f.addAll(q.shapes[m].region)
		}
	}
	return f
}

// layers returns what is painted in a frame.
func (p *painting) layers(f *frame) []plane.Layer {
	var out []plane.Layer
	for n := range p.shapes {
		s := &p.shapes[n]
		if len(s.region) == 0 || s.lo.X > f.hi.X || s.hi.X < f.lo.X || s.lo.Y > f.hi.Y || s.hi.Y < f.lo.Y {
			continue
		}
		var loops []plane.Loop
		for _, l := range gauge.LoopsOf(s.region) {
			if c := l.Cropped(f.lo, f.hi); len(c) > 2 {
				loops = append(loops, c)
			}
		}
		out = append(out, plane.Layer{Loops: loops, Label: s.paint, Rule: plane.NonZero})
	}
	return out
}

// changes returns where two paintings differ, as far as that is more than a rounding.
func (p *painting) changes(q *painting) ([]plane.Change, error) {
	f := p.differs(q)
	if !f.some {
		return nil, nil
	}
	f.lo, f.hi = plane.Point{X: f.lo.X - frameRim, Y: f.lo.Y - frameRim}, plane.Point{X: f.hi.X + frameRim, Y: f.hi.Y + frameRim}
	list, err := plane.Changes(p.layers(&f), q.layers(&f), p.w.Stop)
	if err != nil {
		return nil, err
	}
	for i := range list {
		list[i].Where = withoutSlivers(list[i].Where)
	}
	return slices.DeleteFunc(list, func(c plane.Change) bool { return len(c.Where) == 0 }), nil
}

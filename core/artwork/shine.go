package artwork

import (
	"fmt"
	"math"

	"bildhauer/core/geom"
)

// Shine and shade is light that was painted: a translucent, blended or faded
// shape that only lightens or darkens what lies below. As a body it would lie
// opaque in front of what it should only shine on, so it starts left out.

// The measures of painted light.
const (
	// Below this mean opacity more is seen of what lies below than of the shape.
	shineOpacity = 0.6
	// A gradient that runs out to less than this is seen to end in nothing.
	shineEnd = 0.08
	// Of its area so much has to lie on something else of the artwork.
	shineOn = 0.5
)

// markShine finds painted light among the shapes, once all are read, and notes
// it.
func (s *Sheet) markShine() {
	back := map[int]bool{}
	for _, i := range s.Backdrops() {
		back[i] = true
	}
	var below coverage
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		if sh.Bitmap || sh.Hidden {
			continue
		}
		if !back[i] && sh.light() && below.share(sh) >= shineOn {
			sh.Shine = true
			s.NoteShape(NoteShine, sh)
			continue
		}
		if !back[i] {
			below.add(sh)
		}
	}
}

// light reports whether a shape is painted as light is.
func (sh *Shape) light() bool {
	if sh.Opacity < shineOpacity || sh.Soft || sh.Blend != "" && sh.Blend != "normal" {
		return true
	}
	if sh.Gradient == nil {
		return false
	}
	for _, st := range sh.Gradient.Stops {
		if st.Opacity*sh.Veil < shineEnd {
			return true
		}
	}
	return false
}

// coverage is the shapes so far, flattened coarsely when they are asked about.
type coverage struct {
	shapes []*Shape
	boxes  []geom.Box
	loops  map[int][][]geom.Vec
}

func (c *coverage) add(sh *Shape) {
	c.shapes, c.boxes = append(c.shapes, sh), append(c.boxes, sh.Box())
}

// shineSamples is how finely a shape is looked at, each way; shineLooks bounds
// the work for one.
const (
	shineSamples = 12
	shineLooks   = 200_000
)

// share returns how much of a shape's area the shapes so far cover.
func (c *coverage) share(sh *Shape) float64 {
	b := sh.Box()
	if b.Empty() || len(c.shapes) == 0 {
		return 0
	}
	tol := math.Max(b.W(), b.H()) / 200
	own := sh.Outline(tol)
	inside, covered, looks := 0, 0, 0
	for i := range shineSamples {
		for j := range shineSamples {
			p := geom.Vec{
				X: b.Min.X + b.W()*(float64(i)+0.5)/shineSamples,
				Y: b.Min.Y + b.H()*(float64(j)+0.5)/shineSamples,
			}
			if !covers(own, p) {
				continue
			}
			inside++
			at := geom.Box{Min: p, Max: p}
			for k := len(c.shapes) - 1; k >= 0 && looks < shineLooks; k-- {
				looks++
				if c.boxes[k].Overlaps(at) && covers(c.outline(k), p) {
					covered++
					break
				}
			}
		}
	}
	if inside == 0 { // a sliver between the samples: by its middle
		inside = 1
		for k := range c.shapes {
			if c.boxes[k].Contains(b) {
				covered = 1
			}
		}
	}
	return float64(covered) / float64(inside)
}

func (c *coverage) outline(k int) [][]geom.Vec {
	if l, ok := c.loops[k]; ok {
		return l
	}
	if c.loops == nil {
		c.loops = map[int][][]geom.Vec{}
	}
	b := c.boxes[k]
	c.loops[k] = c.shapes[k].Outline(math.Max(math.Max(b.W(), b.H())/300, 1e-9))
	return c.loops[k]
}

// frame is that of a bitmap, and how many shapes were there before it.
type frame struct {
	m      geom.Matrix
	group  int
	hidden bool
	before int
}

// maxFrames bounds how many bitmaps are offered by their frames.
const maxFrames = 500

// AddBitmap offers a bitmap, which becomes no shape by itself, by its frame: the
// unit square under m. It starts left out.
func (s *Sheet) AddBitmap(m geom.Matrix, group int, hidden bool) {
	box := geom.Box{Max: geom.Vec{X: 1, Y: 1}}.Transform(m)
	if len(s.frames) < maxFrames && m.Finite() && m.Det() != 0 && math.Max(box.W(), box.H()) < 1e8 {
		s.frames = append(s.frames, frame{m, group, hidden, len(s.Shapes)})
	}
}

// addFrames puts the frames of bitmaps among the shapes.
func (s *Sheet) addFrames() {
	if len(s.Shapes) == 0 {
		return // nothing but bitmaps: there is no artwork
	}
	var all []Shape
	at := 0
	for i, f := range s.frames {
		to := min(f.before, len(s.Shapes))
		all = append(all, s.Shapes[at:to]...)
		at = to
		all = append(all, Shape{
			Key: fmt.Sprintf("bitmap %d", i+1), Name: fmt.Sprintf("Frame of bitmap %d", i+1), Group: f.group,
			Hidden: f.hidden, Bitmap: true, Color: Color{0x9a, 0x9a, 0x9a}, Opacity: 1, Veil: 1, Matrix: f.m,
			Contours: []geom.Contour{{Closed: true, Segs: []geom.Segment{
				{To: geom.Vec{X: 1}}, {To: geom.Vec{X: 1, Y: 1}}, {To: geom.Vec{Y: 1}}, {},
			}}},
		})
	}
	s.Shapes, s.frames = append(all, s.Shapes[at:]...), nil
}

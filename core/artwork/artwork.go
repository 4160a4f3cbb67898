// Package artwork is the model of what was read from a file: a sheet with its
// tree of layers and groups, and the shapes in the order in which they are
// painted.
package artwork

import (
	"fmt"
	"math"
	"strings"

	"bildhauer/core/geom"
)

// MMPerPx is the size of a CSS pixel.
const MMPerPx = 25.4 / 96

// Color is an sRGB colour without alpha.
type Color struct{ R, G, B uint8 }

// Hex returns the colour as #rrggbb.
func (c Color) Hex() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

// Group is a layer or a group; Parent is its index in Sheet.Groups, -1 at the
// top.
type Group struct {
	Key    string // unique in the sheet and stable while the file stays
	Name   string
	Layer  bool // a layer of an editor, or a group at the top with a name
	Hidden bool
	Parent int
}

// Shape is one filled area or one stroke. An object with both becomes two.
type Shape struct {
	Key      string // unique in the sheet and stable while the file stays
	Name     string // what a person would call it
	Group    int    // index in Sheet.Groups, -1 for none
	Hidden   bool   // not shown in the file
	Text     string // the words, of a shape made from text
	Color    Color  // of a gradient, its mean over the shape
	Opacity  float64
	Gradient *Gradient // nil for plain colours
	Veil     float64   // opacity on top of the gradient's own
	Blend    string    // how it mixes with what lies below; "" for plainly
	Soft     bool      // seen through a mask with half-tones
	Shine    bool      // painted light, see shine.go
	Bitmap   bool      // the frame of a bitmap

	Clips []*Clip // areas outside which the shape does not show

	Contours []geom.Contour // in the shape's own space
	Matrix   geom.Matrix    // to the page: px, y down
	EvenOdd  bool
	Stroke   *geom.StrokeStyle // nil for a filled area; in the shape's own space
}

// Clip is an area made of several outlines together, or all but that. Shapes
// share it by pointer.
type Clip struct {
	Items   []ClipItem
	Outside bool

	box *geom.Box // of what is never changed any more; see settle
}

// ClipItem is one outline of a clip.
type ClipItem struct {
	Contours []geom.Contour
	Matrix   geom.Matrix // to the page
	EvenOdd  bool
}

// Rectangle returns the box of a clip that is a single upright rectangle, and
// an empty one for any other.
func (c *Clip) Rectangle() geom.Box {
	if c.Outside || len(c.Items) != 1 || len(c.Items[0].Contours) != 1 {
		return geom.EmptyBox()
	}
	if len(c.Items[0].Contours[0].Segs) > 5 {
		return geom.EmptyBox()
	}
	ct := c.Items[0].Contours[0].Transform(c.Items[0].Matrix)
	at := ct.Start
	turns := 0
	for _, s := range ct.Segs {
		if s.Kind != geom.Line || s.To.X != at.X && s.To.Y != at.Y {
			return geom.EmptyBox()
		}
		if s.To != at {
			turns++
		}
		at = s.To
	}
	b := ct.Box()
	d := at.Sub(ct.Start)
	// Three sides and the way back, or four sides.
	if turns == 3 && (d.X == 0 || d.Y == 0) || turns == 4 && d == (geom.Vec{}) {
		return b
	}
	return geom.EmptyBox()
}

// settle finds out the box of a clip once for all shapes that share it, before several look at
// it at a time.
func (c *Clip) settle() {
	if c.box == nil {
		b := c.Box()
		c.box = &b
	}
}

func (s *Sheet) settleClips() {
	for i := range s.Shapes {
		for _, c := range s.Shapes[i].Clips {
			c.settle()
		}
	}
}

// Box returns the box of the clip on the page.
func (c *Clip) Box() geom.Box {
	if c.box != nil {
		return *c.box
	}
	b := geom.EmptyBox()
	for _, it := range c.Items {
		for _, ct := range it.Contours {
			b = b.Union(ct.Transform(it.Matrix).TightBox())
		}
	}
	return b
}

// Outline returns the loops of an item on the page, within tol px.
func (c *ClipItem) Outline(tol float64) [][]geom.Vec {
	return outline(c.Contours, c.Matrix, tol)
}

// Nodes returns the number of nodes of all contours.
func (s *Shape) Nodes() int {
	n := 0
	for _, c := range s.Contours {
		n += len(c.Segs) + 1
	}
	return n
}

// Outline returns the area of the shape as closed loops on the page, within
// tol px, to be filled with the shape's rule (strokes: nonzero), before clips.
func (s *Shape) Outline(tol float64) [][]geom.Vec {
	scale := s.Matrix.MaxScale()
	if scale <= 0 {
		return nil
	}
	if s.Stroke == nil {
		return outline(s.Contours, s.Matrix, tol)
	}
	loops := geom.Stroke(s.Contours, *s.Stroke, tol/scale)
	for _, l := range loops {
		for i := range l {
			l[i] = s.Matrix.Apply(l[i])
		}
	}
	return loops
}

func outline(contours []geom.Contour, m geom.Matrix, tol float64) [][]geom.Vec {
	scale := m.MaxScale()
	if scale <= 0 {
		return nil
	}
	var loops [][]geom.Vec
	for _, c := range contours {
		l := c.Flatten(tol/scale, nil)
		for i := range l {
			l[i] = m.Apply(l[i])
		}
		loops = append(loops, l)
	}
	return loops
}

// Box returns the box on the page, strokes included within a hundredth of
// their width, no larger than the boxes of the clips.
func (s *Shape) Box() geom.Box {
	b := s.box()
	for _, c := range s.Clips {
		if !c.Outside {
			b = b.Intersect(c.Box())
		}
	}
	return b
}

// Reach returns the box of all outlines of the shape, clipped away or not.
func (s *Shape) Reach() geom.Box {
	b := s.box()
	for _, c := range s.Clips {
		b = b.Union(c.Box())
	}
	return b
}

func (s *Shape) box() geom.Box {
	b := geom.EmptyBox()
	if r, ok := s.roundReach(); ok {
		for _, c := range s.Contours {
			if t := c.Transform(s.Matrix).TightBox(); !t.Empty() {
				b = b.Union(geom.Box{Min: t.Min.Sub(geom.Vec{X: r, Y: r}), Max: t.Max.Add(geom.Vec{X: r, Y: r})})
			}
		}
		return b
	}
	if s.Stroke != nil {
		for _, l := range s.Outline(s.Stroke.Width * s.Matrix.MaxScale() / 100) {
			for _, p := range l {
				b = b.Grow(p)
			}
		}
		return b
	}
	for _, c := range s.Contours {
		b = b.Union(c.Transform(s.Matrix).TightBox())
	}
	return b
}

// roundReach returns how far a stroke reaches beyond its line in every direction
// of the page: half its width where all joins and ends are round, nothing is
// dashed, and the matrix keeps circles circles. A stroke then covers the points
// within that distance, whose box is the line's box grown by it.
func (s *Shape) roundReach() (r float64, ok bool) {
	st := s.Stroke
	if st == nil || !(st.Width > 0) || len(st.Dashes) > 0 || st.Join != geom.RoundJoin || st.Cap != geom.RoundCap {
		return 0, false
	}
	m := s.Matrix
	scale := m.MaxScale()
	// Columns of one length that stand square on each other.
	if uneven := math.Hypot(math.Abs(m.A)-math.Abs(m.D), math.Abs(m.B)-math.Abs(m.C)); uneven > 1e-9*scale {
		return 0, false
	}
	if math.Abs(m.A*m.C+m.B*m.D) > 1e-9*scale*scale {
		return 0, false
	}
	return st.Width / 2 * scale, scale > 0
}

// Sheet is one artwork file.
type Sheet struct {
	Name   string
	Format string
	Page   geom.Box // px, y down
	Groups []Group
	Shapes []Shape
	Notes  []Note
	noted  map[string]int // while it is read: index of each entry
	frames []frame        // and the bitmaps

	Pages, PageNumber int // of files with pages; 0 for others

	Bitmap   bool // it was traced from one
	Pictures int  // bitmaps inside, traced or not

	// How the source gave its page, for writing it back: its attributes and
	// the map from its own units to px.
	SourceWidth, SourceHeight, SourceViewBox, SourceAspect string
	SourceUnits                                            geom.Matrix
}

// Starts reports whether shape i takes part unless somebody decides otherwise:
// hidden shapes, those off the page, painted light and frames of bitmaps do not.
func (s *Sheet) Starts(i int) bool {
	return s.Drawn(i) && !s.Shapes[i].Shine
}

// Drawn reports whether the file shows shape i.
func (s *Sheet) Drawn(i int) bool {
	sh := &s.Shapes[i]
	return !sh.Hidden && !sh.Bitmap && !s.OffPage(i)
}

// OffPage reports whether shape i lies outside the page altogether.
func (s *Sheet) OffPage(i int) bool {
	return !s.Page.Empty() && !s.Shapes[i].Box().Overlaps(s.Page)
}

// Finish gives groups their keys and notes the keys of their shapes, once
// everything has been read.
func (s *Sheet) Finish() {
	s.settleClips()
	s.markShine()
	for i := range s.Groups {
		s.Groups[i].Key = fmt.Sprintf("g%d", i)
	}
	s.keepNotes()
	s.addFrames()
}

// Backdrops returns the plain rectangles under everything else that cover the
// page, in order.
func (s *Sheet) Backdrops() []int {
	var out []int
	tol := 0.01 * math.Max(s.Page.W(), s.Page.H())
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		if !s.Drawn(i) {
			continue
		}
		if s.Page.Empty() || sh.Stroke != nil || len(sh.Contours) != 1 {
			break
		}
		one := Clip{Items: []ClipItem{{Contours: sh.Contours, Matrix: sh.Matrix}}}
		b := one.Rectangle()
		if b.Empty() || b.Min.X > s.Page.Min.X+tol || b.Min.Y > s.Page.Min.Y+tol ||
			b.Max.X < s.Page.Max.X-tol ||
			b.Max.Y < s.Page.Max.Y-tol {
			break
		}
		out = append(out, i)
	}
	return out
}

// Path returns the names of the groups around group g, outermost first.
func (s *Sheet) Path(g int) string {
	var names []string
	for g >= 0 {
		if n := s.Groups[g].Name; n != "" {
			names = append([]string{n}, names...)
		}
		g = s.Groups[g].Parent
	}
	return strings.Join(names, " / ")
}

// Nodes returns the number of nodes of all shapes.
func (s *Sheet) Nodes() int {
	n := 0
	for i := range s.Shapes {
		n += s.Shapes[i].Nodes()
	}
	return n
}

// Bytes returns about how much memory the sheet holds.
func (s *Sheet) Bytes() int64 {
	n := int64(4096) + 96*int64(len(s.Groups))
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		n += 400 + int64(len(sh.Key)+len(sh.Name)+len(sh.Text))
		for _, c := range sh.Contours {
			n += 56 + 56*int64(len(c.Segs))
		}
	}
	return n
}

// AsArea gives a stroke the outline of what it covers, as an area.
func (s *Shape) AsArea() {
	if s.Stroke == nil {
		return
	}
	// A two hundredth of the width is less than what shows of it.
	tol := math.Max(s.Stroke.Width*s.Matrix.MaxScale()/200, 1e-6)
	s.Contours, s.Matrix, s.Stroke, s.EvenOdd = Straight(s.Outline(tol)), geom.Identity, nil, false
}

// Straight returns loops as closed contours of straight segments.
func Straight(loops [][]geom.Vec) []geom.Contour {
	var out []geom.Contour
	for _, l := range loops {
		c := geom.Contour{Closed: true}
		for i, v := range l {
			if i == 0 {
				c.Start = v
			} else {
				c.Segs = append(c.Segs, geom.Segment{To: v})
			}
		}
		out = append(out, c)
	}
	return out
}

package ink

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// Shading is an axial (type 2) or radial (type 3) shading (PLRM 4.9.3).
type Shading struct {
	Kind   int
	Coords []float64  // x0 y0 x1 y1, or x0 y0 r0 x1 y1 r1
	Domain [2]float64 // of the function
	Extend [2]bool
	Color  func(t float64) artwork.Color

	Cost    int                    // steps of the budget for painting with it
	Samples func() []artwork.Color // of other kinds: colours all over it
}

// mean returns the mean of the sampled colours.
func (s *Shading) mean() (artwork.Color, bool) {
	if s.Samples == nil {
		return artwork.Color{}, false
	}
	var r, g, b, n float64
	for _, c := range s.Samples() {
		r, g, b, n = r+float64(c.R), g+float64(c.G), b+float64(c.B), n+1
	}
	if n == 0 {
		return artwork.Color{}, false
	}
	to := func(v float64) uint8 { return uint8(math.Round(v / n)) }
	return artwork.Color{R: to(r), G: to(g), B: to(b)}, true
}

// stops is how many colours of a function are kept along a gradient.
const stops = 48

// Gradient returns the shading as a gradient, m leading to the page; nil for
// other kinds. Beyond an end that is not extended it goes on, too: Limit says
// where it must not show.
func (s *Shading) Gradient(m geom.Matrix) *artwork.Gradient {
	if s.Kind != 2 && s.Kind != 3 || len(s.Coords) < 2*s.Kind {
		return nil
	}
	c := s.Coords
	g := &artwork.Gradient{Spread: "pad", Matrix: m}
	if s.Kind == 2 {
		g.P, g.Q = geom.Vec{X: c[0], Y: c[1]}, geom.Vec{X: c[2], Y: c[3]}
	} else {
		g.Radial = true
		g.P, g.FR, g.Q, g.R = geom.Vec{X: c[0], Y: c[1]}, c[2], geom.Vec{X: c[3], Y: c[4]}, c[5]
	}
	flip := g.Radial && g.FR > g.R // gradients grow outwards
	if flip {
		g.P, g.FR, g.Q, g.R = g.Q, g.R, g.P, g.FR
	}
	var last artwork.Color
	for i := range stops + 1 {
		at := float64(i) / stops
		t := at
		if flip {
			t = 1 - at
		}
		col := s.Color(s.Domain[0] + t*(s.Domain[1]-s.Domain[0]))
		if i > 1 && i < stops && col == last && g.Stops[len(g.Stops)-2].Color == col {
			g.Stops[len(g.Stops)-1].At = at // one long run of a colour
			continue
		}
		g.Stops = append(g.Stops, artwork.Stop{At: at, Color: col, Opacity: 1})
		last = col
	}
	return g
}

// Limit returns the area outside which a shading without extension shows
// nothing, on the page and at most reach large; ok is false when it has none.
func (s *Shading) Limit(m geom.Matrix, reach float64) (artwork.ClipItem, bool) {
	c := s.Coords
	switch {
	case s.Kind == 2 && len(c) >= 4 && !(s.Extend[0] && s.Extend[1]) && m.Det() != 0:
		p, q := geom.Vec{X: c[0], Y: c[1]}, geom.Vec{X: c[2], Y: c[3]}
		d := q.Sub(p).Unit()
		if d == (geom.Vec{}) {
			return artwork.ClipItem{}, false
		}
		far := reach / math.Sqrt(math.Abs(m.Det()))
		n := geom.Vec{X: -d.Y, Y: d.X}.Mul(far)
		if s.Extend[0] {
			p = p.Sub(d.Mul(far))
		}
		if s.Extend[1] {
			q = q.Add(d.Mul(far))
		}
		return artwork.ClipItem{Matrix: m, Contours: []geom.Contour{{Start: p.Add(n), Closed: true,
			Segs: []geom.Segment{{To: q.Add(n)}, {To: q.Sub(n)}, {To: p.Sub(n)}}}}}, true
	case s.Kind == 3 && len(c) >= 6 && !(s.Extend[0] && s.Extend[1]):
		// One circle within the other: the ring between them.
		d := math.Hypot(c[3]-c[0], c[4]-c[1])
		big, small := 1, 0
		if c[2] > c[5] {
			big, small = 0, 1
		}
		r := [2]float64{c[2], c[5]}
		if d > r[big]-r[small]+1e-9 || s.Extend[big] && (s.Extend[small] || r[small] == 0) {
			return artwork.ClipItem{}, false
		}
		circle := func(k int) geom.Contour {
			t := geom.Matrix{A: r[k], D: r[k], E: c[3*k], F: c[3*k+1]}
			return geom.Contour{
				Start:  t.Apply(geom.Vec{X: 1}),
				Segs:   geom.UnitArc(t, 0, 2*math.Pi),
				Closed: true,
			}
		}
		it := artwork.ClipItem{Matrix: m, EvenOdd: true}
		if s.Extend[big] {
			return artwork.ClipItem{}, false
		}
		it.Contours = append(it.Contours, circle(big))
		if !s.Extend[small] && r[small] > 0 {
			it.Contours = append(it.Contours, circle(small))
		}
		return it, true
	}
	return artwork.ClipItem{}, false
}

// Paint gives a shape the gradient of the shading, m leading to the page, and
// its mean colour. Of kinds that become no gradient it is the mean of sampled
// colours, or else grey, and the report says so. It returns false for a shape
// that shows nothing.
func (s *Shading) Paint(sheet *artwork.Sheet, sh *artwork.Shape, m geom.Matrix) bool {
	g := s.Gradient(m)
	if g == nil {
		var ok bool
		if sh.Color, ok = s.mean(); ok {
			sheet.Note(artwork.NoteMeanColor, "")
		} else {
			sh.Color = artwork.Color{R: 0x80, G: 0x80, B: 0x80}
			sheet.Note(artwork.NoteShading, "")
		}
		return sh.Opacity > 0
	}
	tol := func() float64 {
		b := sh.Reach()
		return math.Max((b.W()+b.H())/100, 1e-6)
	}()
	where := [][][]geom.Vec{sh.Outline(tol)}
	if it, ok := s.Limit(m, 4*math.Hypot(sheet.Page.W(), sheet.Page.H())); ok {
		sh.Clips = append(
			sh.Clips[:len(sh.Clips):len(sh.Clips)],
			&artwork.Clip{Items: []artwork.ClipItem{it}},
		)
		where = append(where, it.Outline(tol))
	}
	veil := sh.Opacity
	sh.Gradient, sh.Veil = g, veil
	sh.Color, sh.Opacity = g.Mean(where...)
	sh.Opacity *= veil
	sheet.Note(artwork.NoteMeanColor, "")
	return sh.Opacity > 0
}

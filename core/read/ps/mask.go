package ps

import (
	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
	"bildhauer/core/read/trace"
)

// smallMask is how many samples a mask may have to become outlines along their very edges, as
// rules and bullets are drawn, and the letters of bitmap fonts; those of larger ones are traced
// as what was scanned.
const smallMask = 4096

// opImageMask paints a bitmap of one bit in the current colour; its samples become outlines.
func opImageMask(m *machine) error {
	if len(m.stack) == 0 {
		return m.err("stackunderflow")
	}
	var w, h int
	var t geom.Matrix
	var one bool
	var src object
	if d, ok := m.stack[len(m.stack)-1].ref.(*dict); ok {
		m.pop()
		w, h, src = d.m["Width"].n, d.m["Height"].n, d.m["DataSource"]
		t, _ = m.dictMatrix(d, "ImageMatrix")
		v, _ := m.numArray(d.m["Decode"])
		one = len(v) > 0 && v[0] == 1
	} else {
		if len(m.stack) < 5 {
			return m.err("stackunderflow")
		}
		a := m.stack[len(m.stack)-5:]
		v, ok := m.numArray(a[3])
		if !ok || len(v) != 6 || !a[0].number() || !a[1].number() {
			return m.err("typecheck")
		}
		w, h, one, src = a[0].n, a[1].n, a[2].n != 0, a[4]
		t = geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
		m.stack = m.stack[:len(m.stack)-5]
	}
	if w <= 0 || h <= 0 {
		return nil
	}
	n := (w + 7) / 8 * h
	if m.silent || t.Det() == 0 || w > ink.MaxTrace/h {
		m.images++
		m.imageAt(float64(w), float64(h), t)
		return m.skipData(src, n)
	}
	data, err := m.takeData(src, n)
	if err != nil {
		return err
	}
	m.budget.Spend(budget.Steps, w*h/4)
	to := m.gs.ctm.Mul(t.Inverse())
	loops := func() []geom.Contour {
		if m.fontDepth > 0 || w*h <= smallMask {
			return ink.Trace(w, h, ink.Bit(data, w, one))
		}
		var list []geom.Contour
		list, err = trace.Mask(w, h, ink.Bit(data, w, one), m.budget)
		return list
	}
	var path []geom.Contour
	for _, c := range loops() {
		path = append(path, c.Transform(to))
	}
	if err != nil {
		return err
	}
	if m.fontDepth == 0 {
		return m.shape(path, m.flip, true, nil)
	}
	m.sheet.Note(artwork.NoteDotLetters, "")
	return m.shape(path, m.flip, true, nil)
}

// takeData reads the bytes of a data source.
func (m *machine) takeData(src object, n int) ([]byte, error) {
	if src.kind == kFile || src.kind == kString {
		s, err := m.sourceBytes(src)
		if err != nil {
			return nil, err
		}
		end := min(len(s.b), s.i+n)
		out := s.b[s.i:end]
		s.i = end
		return out, nil
	}
	a, ok := src.ref.(*array)
	if !ok {
		return nil, m.err("typecheck")
	}
	return m.pull(a, n)
}

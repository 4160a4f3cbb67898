package ps

import (
	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// smallMask is how many samples a mask outside of fonts may have to become
// outlines: rules and bullets are drawn as such.
const smallMask = 4096

// opImageMask paints a bitmap of one bit in the current colour. In letters of
// bitmap fonts, and where it is small, its samples become outlines; anywhere
// else it is a bitmap like any other.
func opImageMask(m *machine) error {
	if n := len(m.stack); m.fontDepth == 0 {
		samples := smallMask + 1
		if n > 0 {
			if d, ok := m.stack[n-1].ref.(*dict); ok {
				samples = d.m["Width"].n * d.m["Height"].n
			} else if n >= 5 {
				samples = m.stack[n-5].n * m.stack[n-4].n
			}
		}
		if samples > smallMask {
			return opImage(m)
		}
	}
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
		return m.skipData(src, n)
	}
	data, err := m.takeData(src, n)
	if err != nil {
		return err
	}
	m.budget.Spend(budget.Steps, w*h/4)
	to := m.gs.ctm.Mul(t.Inverse())
	var path []geom.Contour
	for _, c := range ink.Trace(w, h, ink.Bit(data, w, one)) {
		path = append(path, c.Transform(to))
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

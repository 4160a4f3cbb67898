package svg

import (
	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/trace"
)

// picture is a bitmap in the file, and where it is drawn.
type picture struct {
	data   []byte
	m      geom.Matrix // of its upper left corner
	w, h   float64
	aspect string
}

// traced is the sheet of a file that holds nothing but one bitmap: many are saved so. The
// bitmap is traced where it is drawn.
func (r *reader) traced() (*artwork.Sheet, error) {
	p := r.picture
	s, err := trace.Sheet(r.sheet.Name, p.data, trace.Settings{}, r.budget)
	if err != nil {
		return nil, err
	}
	w, h := s.Page.W(), s.Page.H()
	if !(p.w > 0) { // as large as it is
		p.w, p.h = w, h
	}
	m := p.m.Mul(fit(s.Page, p.w, p.h, p.aspect))
	out := r.sheet
	out.Notes = nil // it is not left out
	out.Note(artwork.NoteTraced, "", int(w), int(h))
	out.Shapes = s.Shapes
	for i := range out.Shapes {
		out.Shapes[i].Matrix = m
	}
	return out, nil
}

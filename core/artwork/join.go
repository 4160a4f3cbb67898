package artwork

import (
	"fmt"

	"bildhauer/core/geom"
)

// Placed is a sheet within a piece.
type Placed struct {
	Sheet  *Sheet
	Prefix string // put before its keys; "" for the first sheet
	Beside bool   // to the right of the sheets before it, not over them
}

// Join puts several sheets together as one: their shapes in order, each under
// a group with the sheet's name. A single sheet comes back as it is.
func Join(parts []Placed) *Sheet {
	if len(parts) == 1 && parts[0].Prefix == "" {
		return parts[0].Sheet
	}
	out := &Sheet{Page: geom.EmptyBox(), SourceUnits: geom.Identity}
	for i, p := range parts {
		s := p.Sheet
		shift := geom.Identity
		if p.Beside && !out.Page.Empty() {
			gap := 0.1 * max(out.Page.W(), s.Page.W())
			shift = geom.Translate(out.Page.Max.X+gap-s.Page.Min.X, out.Page.Min.Y-s.Page.Min.Y)
		}
		if i == 0 {
			out.Name, out.Format = s.Name, s.Format
		} else {
			out.Name += ", " + s.Name
			if out.Format != s.Format {
				out.Format = "several"
			}
		}
		out.Page = out.Page.Union(s.Page.Transform(shift))
		top := len(out.Groups)
		out.Groups = append(out.Groups, Group{Key: p.Prefix + "sheet", Name: s.Name, Layer: true, Parent: -1})
		for _, g := range s.Groups {
			g.Key = p.Prefix + g.Key
			if g.Parent < 0 {
				g.Parent = top
			} else {
				g.Parent += top + 1
			}
			out.Groups = append(out.Groups, g)
		}
		clips := map[*Clip]*Clip{}
		for _, sh := range s.Shapes {
			sh.Key = p.Prefix + sh.Key
			if sh.Group < 0 {
				sh.Group = top
			} else {
				sh.Group += top + 1
			}
			if shift != geom.Identity {
				sh = sh.moved(shift, clips)
			}
			out.Shapes = append(out.Shapes, sh)
		}
		for _, n := range s.Notes {
			m := n
			m.Keys, m.Places = nil, nil
			for _, k := range n.Keys {
				m.Keys = append(m.Keys, p.Prefix+k)
			}
			for _, b := range n.Places {
				m.Places = append(m.Places, b.Transform(shift))
			}
			if len(parts) > 1 {
				m.Text = fmt.Sprintf("%s (%s)", n.Text, s.Name)
			}
			out.Notes = append(out.Notes, m)
		}
	}
	out.SortNotes()
	mm := func(px float64) string { return fmt.Sprintf("%.4fmm", px*MMPerPx) }
	out.SourceWidth, out.SourceHeight = mm(out.Page.W()), mm(out.Page.H())
	out.SourceViewBox = fmt.Sprintf("%.4f %.4f %.4f %.4f", out.Page.Min.X, out.Page.Min.Y, out.Page.W(), out.Page.H())
	return out
}

// moved returns the shape moved on the page, its shared clips once each.
func (s Shape) moved(shift geom.Matrix, clips map[*Clip]*Clip) Shape {
	s.Matrix = shift.Mul(s.Matrix)
	if s.Gradient != nil {
		g := *s.Gradient
		g.Matrix = shift.Mul(g.Matrix)
		s.Gradient = &g
	}
	own := make([]*Clip, len(s.Clips))
	for i, c := range s.Clips {
		if clips[c] == nil {
			m := &Clip{Outside: c.Outside}
			for _, it := range c.Items {
				it.Matrix = shift.Mul(it.Matrix)
				m.Items = append(m.Items, it)
			}
			clips[c] = m
		}
		own[i] = clips[c]
	}
	s.Clips = own
	return s
}

package artwork

import (
	"fmt"
	"slices"
	"strconv"

	"bildhauer/core/geom"
)

// Placed is a sheet within a piece.
type Placed struct {
	Sheet  *Sheet
	Slot   int      // from 1; stays when the file changes
	Beside bool     // to the right of the sheets before it, not over them
	Shift  geom.Vec // from there
}

// SheetGroup is the key, within its slot, of the group that Join makes for a
// sheet.
const SheetGroup = "sheet"

// JoinedKey returns the key that a shape or group of a slot has in the joined
// sheet. Keys of slot 1 stay as they are, so that they are short where there
// is one sheet, unless they look as if they named a slot themselves; no two
// pairs of slot and key give the same.
func JoinedKey(slot int, key string) string {
	if slot <= 1 && prefixLen(key) == 0 {
		return key
	}
	return strconv.Itoa(slot) + ":" + key
}

// SlotOf returns the slot of a joined key.
func SlotOf(joined string) int {
	n := prefixLen(joined)
	if n == 0 {
		return 1
	}
	slot, err := strconv.Atoi(joined[:n-1])
	if err != nil {
		return 1
	}
	return slot
}

// prefixLen returns the length of digits and colon at the begin of a key, 0
// for none.
func prefixLen(key string) int {
	i := 0
	for i < len(key) && key[i] >= '0' && key[i] <= '9' {
		i++
	}
	if i == 0 || i == len(key) || key[i] != ':' {
		return 0
	}
	return i + 1
}

// plain reports whether all keys of a sheet are the same when joined in slot 1.
func (s *Sheet) plain() bool {
	for i := range s.Shapes {
		if prefixLen(s.Shapes[i].Key) > 0 {
			return false
		}
	}
	return true
}

// shiftBy returns how sheet i of a piece is moved, page being that of the sheets
// before it. The first one stays.
func (p *Placed) shiftBy(i int, page geom.Box) geom.Matrix {
	if i == 0 {
		return geom.Identity
	}
	shift := geom.Translate(p.Shift.X, p.Shift.Y)
	if p.Beside && !page.Empty() {
		own := p.Sheet.Page
		gap := 0.1 * max(page.W(), own.W())
		shift = shift.Mul(geom.Translate(page.Max.X+gap-own.Min.X, page.Min.Y-own.Min.Y))
	}
	return shift
}

// Shifts returns how each sheet is moved when they are joined.
func Shifts(parts []Placed) []geom.Matrix {
	out := make([]geom.Matrix, len(parts))
	page := geom.EmptyBox()
	for i := range parts {
		out[i] = parts[i].shiftBy(i, page)
		page = page.Union(parts[i].Sheet.Page.Transform(out[i]))
	}
	return out
}

// Join puts several sheets together as one: their shapes in order, each under
// a group with the sheet's name. A single sheet comes back as it is, but for
// its keys.
func Join(parts []Placed) *Sheet {
	if len(parts) == 1 && parts[0].Slot <= 1 {
		if parts[0].Sheet.plain() {
			return parts[0].Sheet
		}
		return parts[0].Sheet.rekeyed()
	}
	out := &Sheet{Page: geom.EmptyBox(), SourceUnits: geom.Identity}
	shifts := Shifts(parts)
	for i, p := range parts {
		s, shift := p.Sheet, shifts[i]
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
		out.Groups = append(
			out.Groups,
			Group{Key: JoinedKey(p.Slot, SheetGroup), Name: s.Name, Layer: true, Parent: -1},
		)
		for _, g := range s.Groups {
			g.Key = JoinedKey(p.Slot, g.Key)
			if g.Parent < 0 {
				g.Parent = top
			} else {
				g.Parent += top + 1
			}
			out.Groups = append(out.Groups, g)
		}
		clips := map[*Clip]*Clip{}
		for _, sh := range s.Shapes {
			sh.Key = JoinedKey(p.Slot, sh.Key)
			if sh.Group < 0 {
				sh.Group = top
			} else {
				sh.Group += top + 1
			}
			if shift != geom.Identity {
				sh = sh.Moved(shift, clips)
			}
			out.Shapes = append(out.Shapes, sh)
		}
		for _, n := range s.Notes {
			m := n
			m.Keys, m.Places = nil, nil
			for _, k := range n.Keys {
				m.Keys = append(m.Keys, JoinedKey(p.Slot, k))
			}
			for _, b := range n.Places {
				m.Places = append(m.Places, b.Transform(shift))
			}
			if len(parts) > 1 {
				m.Sheet = s.Name
			}
			out.Notes = append(out.Notes, m)
		}
	}
	out.sortNotes()
	mm := func(px float64) string { return fmt.Sprintf("%.4fmm", px*MMPerPx) }
	out.SourceWidth, out.SourceHeight = mm(out.Page.W()), mm(out.Page.H())
	out.SourceViewBox = fmt.Sprintf(
		"%.4f %.4f %.4f %.4f",
		out.Page.Min.X,
		out.Page.Min.Y,
		out.Page.W(),
		out.Page.H(),
	)
	return out
}

// rekeyed returns a single sheet with the keys of slot 1.
func (s *Sheet) rekeyed() *Sheet {
	out := *s
	out.Shapes = slices.Clone(s.Shapes)
	for i := range out.Shapes {
		out.Shapes[i].Key = JoinedKey(1, out.Shapes[i].Key)
	}
	out.Notes = slices.Clone(s.Notes)
	for i := range out.Notes {
		out.Notes[i].Keys = slices.Clone(out.Notes[i].Keys)
		for j, k := range out.Notes[i].Keys {
			out.Notes[i].Keys[j] = JoinedKey(1, k)
		}
	}
	return &out
}

// Moved returns the shape moved on the page, its shared clips once each; clips
// remembers them from one shape to the next.
func (s Shape) Moved(shift geom.Matrix, clips map[*Clip]*Clip) Shape {
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
			m.settle()
			clips[c] = m
		}
		own[i] = clips[c]
	}
	s.Clips = own
	return s
}

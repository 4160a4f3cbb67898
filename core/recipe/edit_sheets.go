package recipe

import (
	"errors"
	"fmt"
	"slices"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

var errNoSheet = errors.New("this sheet is not in the piece any more")

// AddSheet adds a sheet in a slot of its own, whatever slot it names.
type AddSheet struct{ Sheet Sheet }

// Apply is part of Edit.
func (e *AddSheet) Apply(r *Recipe, _ *artwork.Sheet) error {
	list := slices.Clone(r.Sheets.All())
	if float64(len(list)) >= terms.Of("sheets").Max {
		return fmt.Errorf("a piece holds at most %g sheets", terms.Of("sheets").Max)
	}
	s := e.Sheet
	s.Slot = r.Sheets.FreeSlot()
	r.Sheets.List = append(list, s)
	return nil
}

// EditSheet changes which page of a sheet is taken and where it lies; nil stays.
type EditSheet struct {
	Slot   int   `json:"slot"`
	Page   *int  `json:"page"`
	Beside *bool `json:"beside"`

	Shift *[2]float64 `json:"shift"`
	Trace *Tracing    `json:"trace"`
}

// Apply is part of Edit.
func (e *EditSheet) Apply(r *Recipe, _ *artwork.Sheet) error {
	i := r.Sheets.Find(e.Slot)
	if i < 0 {
		return errNoSheet
	}
	list := slices.Clone(r.Sheets.All())
	give(e.Page, &list[i].Page)
	give(e.Beside, &list[i].Beside)
	give(e.Shift, &list[i].Shift)
	if e.Trace != nil {
		own := *e.Trace
		list[i].Trace = &own
	}
	r.Sheets.List = list
	return nil
}

// DropSheet takes a sheet out of the piece.
type DropSheet struct {
	Slot int `json:"slot"`
}

// Apply is part of Edit.
func (e *DropSheet) Apply(r *Recipe, _ *artwork.Sheet) error {
	i := r.Sheets.Find(e.Slot)
	switch {
	case i < 0:
		return errNoSheet
	case len(r.Sheets.All()) == 1:
		return errors.New("a piece needs one sheet. Add another before you take this one out")
	}
	r.Sheets.List = slices.Delete(slices.Clone(r.Sheets.All()), i, i+1)
	return nil
}

// AddFont adds a font.
type AddFont struct{ Font Font }

// Apply is part of Edit.
func (e *AddFont) Apply(r *Recipe, _ *artwork.Sheet) error {
	if float64(len(r.Sheets.Fonts)) >= terms.Of("fonts").Max {
		return fmt.Errorf("a piece holds at most %g fonts", terms.Of("fonts").Max)
	}
	r.Sheets.Fonts = append(r.Sheets.Fonts, e.Font)
	return nil
}

// DropFont takes a font out of the piece.
type DropFont struct {
	File string `json:"file"`
}

// Apply is part of Edit.
func (e *DropFont) Apply(r *Recipe, _ *artwork.Sheet) error {
	n := len(r.Sheets.Fonts)
	r.Sheets.Fonts = slices.DeleteFunc(r.Sheets.Fonts, func(f Font) bool { return f.File == e.File })
	if len(r.Sheets.Fonts) == n {
		return errors.New("this font is not in the piece any more")
	}
	return nil
}

// ExchangeSheet puts a changed file in the place of a sheet. Decisions stay
// with the shapes that they belong to, and parts with their shapes.
type ExchangeSheet struct {
	Slot       int
	Replaces   string // the file that the matching is about
	File, Name string
	Page       int // of the new file
	Old, New   *artwork.Sheet
	Matching   artwork.Matching // from the one to the other
}

// Apply is part of Edit.
func (e *ExchangeSheet) Apply(r *Recipe, _ *artwork.Sheet) error {
	i := r.Sheets.Find(e.Slot)
	if i < 0 {
		return errNoSheet
	}
	if r.Sheets.All()[i].File != e.Replaces {
		return errors.New("this sheet was replaced meanwhile. Choose the changed file once more")
	}
	shapes, groups := e.joined(e.Matching.Shapes), e.joined(e.Matching.Groups)
	top := artwork.JoinedKey(e.Slot, artwork.SheetGroup)
	groups[top] = top
	before := r.Intake.clone()
	r.Intake.rekey(shapes, groups, func(k string) bool { return artwork.SlotOf(k) != e.Slot })
	r.Mends.rekey(shapes, func(k string) bool { return artwork.SlotOf(k) != e.Slot || Mended(k) })
	list := slices.Clone(r.Sheets.All())
	list[i].File, list[i].Name, list[i].Page = e.File, e.Name, e.Page
	r.Sheets.List = list
	r.Parts.follow(e.recolored(&before, &r.Intake))
	return nil
}

func (e *ExchangeSheet) joined(keys map[string]string) map[string]string {
	out := map[string]string{}
	for k, v := range keys {
		out[artwork.JoinedKey(e.Slot, k)] = artwork.JoinedKey(e.Slot, v)
	}
	return out
}

// recolored tells which colours the kept shapes had and have.
func (e *ExchangeSheet) recolored(before, after *Intake) []Recolored {
	was := map[string]string{} // by key in the new file
	for i := range e.Old.Shapes {
		sh := e.Old.Shapes[i]
		to, kept := e.Matching.Shapes[sh.Key]
		if !kept {
			continue
		}
		sh.Key = artwork.JoinedKey(e.Slot, sh.Key)
		was[to] = before.ColorOf(&sh)
	}
	out := make([]Recolored, len(e.New.Shapes))
	for i := range e.New.Shapes {
		sh := e.New.Shapes[i]
		from := was[sh.Key]
		sh.Key = artwork.JoinedKey(e.Slot, sh.Key)
		out[i] = Recolored{Was: from, Is: after.ColorOf(&sh), In: e.New.Starts(i)}
	}
	return out
}

package recipe

import (
	"errors"
	"fmt"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/terms"
)

var errNoMend = errors.New("this mend is not in the list any more")

// AddMends adds changes of the outlines behind the others, or before the one
// with the id Before. Their ids are given here.
type AddMends struct {
	List   []Mend `json:"list"`
	Before string `json:"before"`
}

// Apply is part of Edit.
func (e *AddMends) Apply(r *Recipe, _ *artwork.Sheet) error {
	at := len(r.Mends.List)
	if e.Before != "" {
		if at = r.Mends.Find(e.Before); at < 0 {
			return errNoMend
		}
	}
	list := slices.Clone(e.List)
	for i := range list {
		r.Mends.Next++
		list[i].ID = fmt.Sprintf("m%d", r.Mends.Next)
	}
	r.Mends.List = slices.Insert(r.Mends.List, at, list...)
	return nil
}

// EditMend changes one mend; nil stays. To is the place in the order it moves
// to, from 0.
type EditMend struct {
	ID   string        `json:"id"`
	Off  *bool         `json:"off"`
	How  *string       `json:"how"`
	MM   *[]float64    `json:"mm"`
	At   *[][2]float64 `json:"at"`
	Turn *float64      `json:"turn"`
	Text *string       `json:"text"`
	Name *string       `json:"name"`
	To   *int          `json:"to"`
}

// Apply is part of Edit.
func (e *EditMend) Apply(r *Recipe, _ *artwork.Sheet) error {
	i := r.Mends.Find(e.ID)
	if i < 0 {
		return errNoMend
	}
	m := r.Mends.List[i]
	give(e.Off, &m.Off)
	give(e.How, &m.How)
	give(e.MM, &m.MM)
	give(e.At, &m.At)
	give(e.Turn, &m.Turn)
	give(e.Text, &m.Text)
	give(e.Name, &m.Name)
	r.Mends.List[i] = m
	if e.To != nil {
		to := max(0, min(len(r.Mends.List)-1, *e.To))
		r.Mends.List = slices.Insert(slices.Delete(r.Mends.List, i, i+1), to, m)
	}
	return nil
}

// DropMends takes changes out of the list.
type DropMends struct {
	IDs []string `json:"ids"`
}

// Apply is part of Edit.
func (e *DropMends) Apply(r *Recipe, _ *artwork.Sheet) error {
	for _, id := range e.IDs {
		i := r.Mends.Find(id)
		if i < 0 {
			return errNoMend
		}
		r.Mends.List = slices.Delete(r.Mends.List, i, i+1)
	}
	return nil
}

// LeaveFindings remembers that findings are left as they are, or, with Reopen,
// forgets it.
type LeaveFindings struct {
	List   []Leave `json:"list"`
	Reopen bool    `json:"reopen"`
}

// Apply is part of Edit.
func (e *LeaveFindings) Apply(r *Recipe, _ *artwork.Sheet) error {
	for _, l := range e.List {
		same := func(o Leave) bool {
			return o.Kind == l.Kind && o.At == l.At && slices.Equal(o.Shapes, l.Shapes)
		}
		at := slices.IndexFunc(r.Mends.Left, same)
		switch {
		case e.Reopen && at < 0:
			return errors.New("this finding is open already")
		case e.Reopen:
			r.Mends.Left = slices.Delete(r.Mends.Left, at, at+1)
		case at < 0:
			r.Mends.Left = append(r.Mends.Left, l)
		}
	}
	return nil
}

// SetMendLimits changes from which measures on something is a finding; a
// measure that is as usual is forgotten.
type SetMendLimits struct {
	Limits map[string]float64 `json:"limits"`
}

// Apply is part of Edit.
func (e *SetMendLimits) Apply(r *Recipe, _ *artwork.Sheet) error {
	for name, v := range e.Limits {
		set(&r.Mends.Limits, name, v)
		if slices.Contains(MendLimits(), name) && terms.Of(limitPrefix+name).Usual == v {
			delete(r.Mends.Limits, name)
		}
	}
	return nil
}

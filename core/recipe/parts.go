package recipe

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"bildhauer/core/artwork"
)

// Parts is the section of the solid bodies: which shapes each takes, and how
// it is raised. A colour that no part of the list takes makes a part of its
// own, raised like Default (see Taking).
type Parts struct {
	Default Measures `json:"default"`
	List    []Part   `json:"list,omitempty"`
	Next    int      `json:"next,omitempty"` // number of the last id that was given
}

// Part is one solid body. Nothing but its id identifies it.
type Part struct {
	ID    string    `json:"id"`
	Name  string    `json:"name,omitempty"` // "" for words for its colour
	Takes Rule      `json:"takes"`
	Out   bool      `json:"out,omitempty"` // left out of the piece
	How   *Measures `json:"how,omitempty"` // nil for Default
}

// Rule says which shapes a part takes.
type Rule struct {
	Colors []string `json:"colors,omitempty"` // of these colours, #rrggbb
}

// Measures is how a part is raised, lengths in mm.
type Measures struct {
	Depth       float64 `json:"depth"`
	BevelWidth  float64 `json:"bevelWidth"`
	BevelHeight float64 `json:"bevelHeight"`
	Profile     string  `json:"profile"` // one of Profiles
	Segments    int     `json:"segments"`
	Back        string  `json:"back"` // Flat or Bevelled
}

// The profiles of bevels, named after mouldings.
const (
	Round   = "round"
	Chamfer = "chamfer"
)

// Profiles lists all profiles.
var Profiles = []string{Round, Chamfer}

// The forms of a back.
const (
	Flat     = "flat"
	Bevelled = "bevel"
)

func newMeasures() Measures {
	return Measures{Depth: 8, BevelWidth: 1, BevelHeight: 1, Profile: Round, Segments: 4, Back: Flat}
}

// Find returns the part of the list with an id, or nil.
func (p *Parts) Find(id string) *Part {
	for i := range p.List {
		if p.List[i].ID == id {
			return &p.List[i]
		}
	}
	return nil
}

// Taking returns the part that takes a colour: that of the list, or one that
// has not been touched yet. The id of the latter is made from the colour and
// differs from all in the list; it stays when the part enters the list.
func (p *Parts) Taking(color string) Part {
	for i := range p.List {
		if slices.Contains(p.List[i].Takes.Colors, color) {
			return p.List[i]
		}
	}
	id := untouched + strings.TrimPrefix(color, "#")
	for n := 2; p.Find(id) != nil; n++ {
		id = fmt.Sprintf("%s%s-%d", untouched, strings.TrimPrefix(color, "#"), n)
	}
	return Part{ID: id, Takes: Rule{Colors: []string{color}}}
}

// untouched begins the ids of parts that are not in the list.
const untouched = "c"

// Part returns the part with an id, in the list or not touched yet; ok is
// false when there can be none.
func (p *Parts) Part(id string) (part Part, ok bool) {
	if q := p.Find(id); q != nil {
		return *q, true
	}
	hex, found := strings.CutPrefix(id, untouched)
	if !found || len(hex) < 6 {
		return Part{}, false
	}
	if _, ok := artwork.ParseHex("#" + hex[:6]); !ok {
		return Part{}, false
	}
	part = p.Taking("#" + hex[:6])
	return part, part.ID == id
}

// Measures returns how the part with an id is raised.
func (p *Parts) Measures(id string) Measures {
	if q := p.Find(id); q != nil && q.How != nil {
		return *q.How
	}
	return p.Default
}

// Deepest returns the greatest depth of any part.
func (p *Parts) Deepest() float64 {
	d := p.Default.Depth
	for _, q := range p.List {
		if q.How != nil {
			d = math.Max(d, q.How.Depth)
		}
	}
	return d
}

// Own reports whether any part has a name or measures of its own.
func (p *Parts) Own() bool {
	return slices.ContainsFunc(p.List, func(q Part) bool { return q.How != nil || q.Name != "" || q.Out })
}

// enter returns the part with an id within the list, put there if it was not
// touched yet.
func (p *Parts) enter(id string) (*Part, error) {
	if q := p.Find(id); q != nil {
		return q, nil
	}
	part, ok := p.Part(id)
	if !ok {
		return nil, errors.New("this part is not in the piece any more")
	}
	p.List = append(p.List, part)
	return &p.List[len(p.List)-1], nil
}

// freeID returns an id that no part had before.
func (p *Parts) freeID() string {
	for {
		p.Next++
		if id := fmt.Sprintf("p%d", p.Next); p.Find(id) == nil {
			return id
		}
	}
}

func (p Parts) clone() Parts {
	p.List = slices.Clone(p.List)
	for i := range p.List {
		p.List[i].Takes.Colors = slices.Clone(p.List[i].Takes.Colors)
		if how := p.List[i].How; how != nil {
			own := *how
			p.List[i].How = &own
		}
	}
	return p
}

func (p *Parts) check() error {
	if err := PartsLimit.Check(float64(len(p.List))); err != nil {
		return err
	}
	if err := p.Default.check(); err != nil {
		return err
	}
	ids, colors := map[string]bool{}, map[string]bool{}
	for _, q := range p.List {
		if q.ID == "" || ids[q.ID] {
			return fmt.Errorf("two parts share the id %.40q", q.ID)
		}
		ids[q.ID] = true
		for _, c := range q.Takes.Colors {
			if _, ok := artwork.ParseHex(c); !ok || colors[c] {
				return fmt.Errorf("the colour %.40q is taken by two parts, or is none", c)
			}
			colors[c] = true
		}
		if err := checkName("A part's name", q.Name); err != nil {
			return err
		}
		if q.How == nil {
			continue
		}
		if err := q.How.check(); err != nil {
			return err
		}
	}
	return nil
}

func (m *Measures) check() error {
	for _, f := range []struct {
		limit Limit
		v     float64
	}{
		{DepthLimit, m.Depth}, {BevelWidthLimit, m.BevelWidth}, {BevelHeightLimit, m.BevelHeight},
		{SegmentsLimit, float64(m.Segments)},
	} {
		if err := f.limit.Check(f.v); err != nil {
			return err
		}
	}
	if m.Back != Flat && m.Back != Bevelled {
		return fmt.Errorf("the back is flat or bevelled (%q, %q)", Flat, Bevelled)
	}
	if !slices.Contains(Profiles, m.Profile) {
		return fmt.Errorf(
			"the profile %.40q is not known; there are %s",
			m.Profile,
			strings.Join(Profiles, ", "),
		)
	}
	return nil
}

package recipe

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

// Parts is the section of the solid bodies: which shapes each takes, and how
// it is raised. What no part of the list takes makes parts of its own, by colour or
// as By says, raised like Default (see Taking and Assign).
type Parts struct {
	Default   Measures `json:"default"`                                // how parts are raised that have no measures of their own
	By        string   `json:"by,omitempty" choice:"grouping"`         // one of terms.Names("grouping")
	List      []Part   `json:"list,omitempty" count:"parts"`           // parts that somebody has touched
	Next      int      `json:"next,omitempty"`                         // number of the last id that was given
	Order     []string `json:"order,omitempty" count:"parts"`          // ids, where they are not in the order of painting
	Palette   Palette  `json:"palette,omitzero"`                       // how shades become few colours
	Relief    Relief   `json:"relief,omitzero"`                        // how parts step up as they lie on each other
	Spread    float64  `json:"spread,omitempty" figure:"spread"`       // by how much each part starts farther in front, mm
	Clearance float64  `json:"clearance,omitempty" figure:"clearance"` // that neighbours leave between them, mm
	Fused     string   `json:"fused,omitempty" choice:"fused"`         // Together, Apart or ""
	Curves    []Curve  `json:"curves,omitempty" count:"curves"`        // profiles kept by name
	Mesh      Mesh     `json:"mesh,omitzero" within:""`                // how their meshes are made
}

// Mesh is how the meshes of all parts are made.
type Mesh struct {
	Crease  float64 `json:"crease,omitempty" figure:"crease"`   // degrees from which corners look hard; 0 for 30
	Caps    string  `json:"caps,omitempty" choice:"caps"`       // how flat sides are filled: "" with the fewest triangles
	Spacing float64 `json:"spacing,omitempty" figure:"spacing"` // of points inside of flat sides, mm
	// Simplify is by how much surfaces may move for fewer triangles, mm.
	Simplify  float64 `json:"simplify,omitempty" figure:"simplify"`
	Triangles int     `json:"triangles,omitempty" figure:"triangles"` // at most, of the whole piece, as far as that goes; 0 for any number
}

// How flat sides may be filled beyond that.
const (
	EvenCaps = "even" // nearly equilateral triangles
	GridCaps = "grid" // squares
)

// Part is one solid body. Nothing but its id identifies it.
type Part struct {
	ID    string    `json:"id"`                             // unlike those of other parts
	Name  string    `json:"name,omitempty"`                 // "" for words for its colour
	Takes Rule      `json:"takes"`                          // the shapes that it is made of
	Out   bool      `json:"out,omitempty"`                  // left out of the piece
	Role  Role      `json:"role,omitzero" within:""`        // what it is to the others
	Level int       `json:"level,omitempty" figure:"level"` // of a relief, from 1; 0 for what overlaps give
	How   *Measures `json:"how,omitempty"`                  // nil for Default
}

// Rule says which shapes a part takes.
type Rule struct {
	Colors   []string `json:"colors,omitempty"`   // of these colours, #rrggbb
	Groups   []string `json:"groups,omitempty"`   // in these layers and groups, by key
	Shapes   []string `json:"shapes,omitempty"`   // these, by key
	Outlines []string `json:"outlines,omitempty"` // these outlines of shapes, see OutlineKey
}

func (r Rule) clone() Rule {
	return Rule{slices.Clone(r.Colors), slices.Clone(r.Groups), slices.Clone(r.Shapes), slices.Clone(r.Outlines)}
}

// Sorted returns the rule in a normal form.
func (r Rule) Sorted() Rule { return r.join(Rule{}) }

// join returns the rule that takes what either takes.
func (r Rule) join(o Rule) Rule {
	both := func(a, b []string) []string { return slices.Compact(slices.Sorted(slices.Values(slices.Concat(a, b)))) }
	return Rule{both(r.Colors, o.Colors), both(r.Groups, o.Groups), both(r.Shapes, o.Shapes), both(r.Outlines, o.Outlines)}
}

// Role is what a part is to the others.
type Role struct {
	Kind string `json:"kind,omitempty" choice:"role"` // "" a body
	On   string `json:"on,omitempty"`                 // the part that it is cut into, raised from or rests on
	// Through is a recess that goes all the way.
	Through bool `json:"through,omitempty"`
}

// The roles of parts.
const (
	Body    = ""
	Recess  = "recess"  // cut into another part
	Raised  = "raised"  // one body with another part, higher than its face
	Resting = "resting" // a body that rests on another part's face
	AsTube  = "tube"    // follows the lines of its strokes
	Backing = "backing" // lies behind the others, which do not cut it
)

// OnOther reports whether a part of this role needs another one.
func (r Role) OnOther() bool { return r.Kind == Recess || r.Kind == Raised || r.Kind == Resting }

// What parts are made of where nobody said otherwise.
const (
	ByColour  = ""
	ByLayer   = "layer"
	ByGroup   = "group"
	ByShape   = "shape"
	ByOutline = "outline" // each connected area of a shape; the dot of a letter stays with it
)

// What leaves as one body; "" is what suits the format.
const (
	Together = "together"
	Apart    = "apart"
)

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
	if base := BaseOf(id); base != id {
		_, ok := p.Part(base)
		return Part{ID: id}, ok
	}
	if by, key, found := strings.Cut(id, ":"); found && key != "" {
		for grouping, prefix := range prefixes {
			if prefix == by {
				return Part{ID: id, Takes: ruleFor(grouping, key)}, true
			}
		}
		return Part{}, false
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
	for _, id := range []string{id, BaseOf(id)} {
		if q := p.Find(id); q != nil && q.How != nil {
			return *q.How
		}
	}
	return p.Default
}

// IsOut reports whether a part was left out, or what a relief divided it from.
func (p *Parts) IsOut(id string) bool {
	own, base := p.Find(id), p.Find(BaseOf(id))
	return own != nil && own.Out || base != nil && base.Out
}

// LevelOf returns the level that a part was given, or 0.
func (p *Parts) LevelOf(id string) int {
	if q := p.Find(id); q != nil {
		return q.Level
	}
	return 0
}

// Together reports whether all parts leave as one body in a format. Where files are
// printed from they do, unless a clearance or the person keeps them apart: bodies that
// share walls make edges with four faces, at which printers stumble.
func (p *Parts) Together(format string) bool {
	if p.Fused == "" {
		return format == "stl" && p.Clearance == 0
	}
	return p.Fused == Together
}

// RoleOf returns the role of the part with an id.
func (p *Parts) RoleOf(id string) Role {
	if q := p.Find(BaseOf(id)); q != nil {
		return q.Role
	}
	return Role{}
}

// StandsOn reports whether a part belongs to another one, rests on it or on what rests on it.
func (p *Parts) StandsOn(id, on string) bool {
	for range p.List { // no more than all, whoever rests on whom
		r := p.RoleOf(id)
		if !r.OnOther() {
			return false
		}
		if id = r.On; id == on {
			return true
		}
	}
	return false
}

// Deepest returns how far from the plane any of n parts, made of so many shapes, may reach.
func (p *Parts) Deepest(n, shapes int) float64 {
	reach := func(m *Measures) float64 { return m.Depth + math.Abs(m.Offset) }
	far := reach(&p.Default)
	sum, stacked := far, false
	for i := range p.List {
		q := &p.List[i]
		if q.How != nil {
			far = math.Max(far, reach(q.How))
			sum += reach(q.How)
		}
		stacked = stacked || q.Role.OnOther()
	}
	if stacked {
		far = sum + reach(&p.Default)*float64(n)
	}
	return far + p.Relief.most(p.highest(shapes)) + float64(n)*math.Abs(p.Spread)
}

// highest returns a level that no part of so many shapes is above.
func (p *Parts) highest(shapes int) int {
	own := 0
	for i := range p.List {
		own = max(own, p.List[i].Level)
	}
	return min(own+shapes+1, MostLevels)
}

// Widest returns how far beyond its outline any part may reach.
func (p *Parts) Widest() float64 {
	wide := 0.0
	grow := func(m *Measures) {
		if m.Outward {
			wide = math.Max(wide, math.Max(m.Front.Width, m.Back.Width))
		}
	}
	grow(&p.Default)
	for i := range p.List {
		if p.List[i].How != nil {
			grow(p.List[i].How)
		}
	}
	return wide
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
		return nil, errNoPart
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
		p.List[i].Takes = p.List[i].Takes.clone()
		if how := p.List[i].How; how != nil {
			own := how.clone()
			p.List[i].How = &own
		}
	}
	p.Palette = p.Palette.clone()
	p.Default, p.Order, p.Curves = p.Default.clone(), slices.Clone(p.Order), slices.Clone(p.Curves)
	return p
}

func (p *Parts) check() error {
	if err := terms.CheckTags(p); err != nil {
		return err
	}
	if err := p.Default.check(); err != nil {
		return err
	}
	if err := p.Palette.check(); err != nil {
		return err
	}
	if err := p.Relief.check(); err != nil {
		return err
	}
	for _, c := range p.Curves {
		if err := checkName("A profile's name", c.Name); err != nil {
			return err
		}
		if err := checkCurve(c.Points); err != nil {
			return err
		}
	}
	taken := map[string]bool{}
	for i := range p.List {
		if err := p.List[i].check(taken); err != nil {
			return err
		}
	}
	return p.checkRoles()
}

// check checks a part; taken holds the ids and rules of those before.
func (q *Part) check(taken map[string]bool) error {
	if q.ID == "" || taken["id "+q.ID] {
		return fmt.Errorf("two parts share the id %.40q", q.ID)
	}
	taken["id "+q.ID] = true
	for _, c := range q.Takes.Colors {
		if _, ok := artwork.ParseHex(c); !ok || taken["colour "+c] {
			return fmt.Errorf("the colour %.40q is taken by two parts, or is none", c)
		}
		taken["colour "+c] = true
	}
	for what, keys := range map[string][]string{"group ": q.Takes.Groups, "shape ": q.Takes.Shapes, "outline ": q.Takes.Outlines} {
		for _, k := range keys {
			if taken[what+k] {
				return fmt.Errorf("the %s%.40q is taken by two parts", what, k)
			}
			taken[what+k] = true
		}
	}
	if err := checkName("A part's name", q.Name); err != nil {
		return err
	}
	if err := terms.CheckTags(q); err != nil {
		return err
	}
	if Divided(q.ID) && q.Role != (Role{}) {
		return errDividedRole
	}
	if q.How == nil {
		return nil
	}
	return q.How.check()
}

// checkRoles refuses parts that rest on themselves by way of others, and on details,
// which have no face of their own.
func (p *Parts) checkRoles() error {
	for _, q := range p.List {
		if !q.Role.OnOther() {
			continue
		}
		if q.Role.On == "" || q.Role.On == q.ID {
			return errors.New("a part can't be cut into, raised from or rest on itself")
		}
		at := q.Role.On
		for range len(p.List) + 1 {
			host := p.Find(at)
			if host == nil || !host.Role.OnOther() {
				at = ""
				break
			}
			if host.Role.Kind != Resting && q.Role.Kind != Resting {
				return errors.New("a recess or a raised detail can't be the base of another")
			}
			at = host.Role.On
		}
		if at != "" {
			return errors.New("these parts would rest on each other in a circle")
		}
	}
	return nil
}

package recipe

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"bildhauer/core/artwork"
)

// EditParts changes names, roles and measures of parts, by id; "*" changes what new
// parts are raised like, and all that have no measures of their own.
type EditParts struct {
	Parts map[string]PartPatch `json:"parts"`
}

// Everything stands for the measures of parts that have none of their own.
const Everything = "*"

// PartPatch is what is changed about a part; nil stays.
type PartPatch struct {
	Name  *string `json:"name"`
	Out   *bool   `json:"out"`
	Role  *Role   `json:"role"`
	Level *int    `json:"level"` // of a relief; 0 for what overlaps give
	Reset bool    `json:"reset"` // to the measures of new parts, before the rest
	MeasuresPatch
}

// MeasuresPatch is what is changed about measures; nil stays.
type MeasuresPatch struct {
	Depth     *float64  `json:"depth"`
	Direction *string   `json:"direction"`
	Offset    *float64  `json:"offset"`
	Front     RimPatch  `json:"front"`
	Back      RimPatch  `json:"back"`
	Outward   *bool     `json:"outward"`
	Mitred    *bool     `json:"mitred"`
	OpenFront *bool     `json:"openFront"`
	OpenBack  *bool     `json:"openBack"`
	Wall      *float64  `json:"wall"`
	Tube      *Tube     `json:"tube"`
	All       *Measures `json:"all"` // all of them at once, before the rest
}

// RimPatch is what is changed about a bevel; nil stays.
type RimPatch struct {
	Width    *float64 `json:"width"`
	Height   *float64 `json:"height"`
	Profile  *string  `json:"profile"`
	Segments *int     `json:"segments"`
	Curve    *[]Knot  `json:"curve"`
	Name     *string  `json:"name"`
}

// Measures returns m with what the patch gives.
func (p *MeasuresPatch) Measures(m Measures) Measures {
	give(p.All, &m)
	m = m.clone()
	give(p.Depth, &m.Depth)
	give(p.Direction, &m.Direction)
	give(p.Offset, &m.Offset)
	p.Front.give(&m.Front)
	p.Back.give(&m.Back)
	give(p.Outward, &m.Outward)
	give(p.Mitred, &m.Mitred)
	give(p.OpenFront, &m.OpenFront)
	give(p.OpenBack, &m.OpenBack)
	give(p.Wall, &m.Wall)
	give(p.Tube, &m.Tube)
	return m
}

func (p *RimPatch) give(r *Rim) {
	give(p.Width, &r.Width)
	give(p.Height, &r.Height)
	give(p.Profile, &r.Profile)
	give(p.Segments, &r.Segments)
	give(p.Curve, &r.Curve)
	give(p.Name, &r.Name)
}

// Apply is part of Edit.
func (e *EditParts) Apply(r *Recipe, _ *artwork.Sheet) error {
	for _, id := range slices.Sorted(maps.Keys(e.Parts)) {
		patch := e.Parts[id]
		if id == Everything {
			r.Parts.Default = patch.Measures(r.Parts.Default)
			continue
		}
		part, err := r.Parts.enter(id)
		if err != nil {
			return err
		}
		if patch.Name != nil {
			part.Name = strings.TrimSpace(*patch.Name)
		}
		give(patch.Out, &part.Out)
		give(patch.Level, &part.Level)
		if patch.Role != nil {
			if Divided(id) && *patch.Role != (Role{}) {
				return errDividedRole
			}
			if part.Role = *patch.Role; !part.Role.OnOther() {
				part.Role.On = ""
			}
		}
		if patch.Reset {
			part.How = nil
		}
		was := r.Parts.Measures(id)
		if now := patch.Measures(was); !now.Equal(was) {
			part.How = &now
		}
	}
	return nil
}

// SetParts changes what is decided about all parts together; nil stays.
type SetParts struct {
	By        *string   `json:"by"`
	Order     *[]string `json:"order"`
	Palette   *Palette  `json:"palette"`
	Relief    *Relief   `json:"relief"`
	Spread    *float64  `json:"spread"`
	Clearance *float64  `json:"clearance"`
	Fused     *string   `json:"fused"`
	Curves    *[]Curve  `json:"curves"`
	Crease    *float64  `json:"crease"`
	Caps      *string   `json:"caps"`
	Spacing   *float64  `json:"spacing"`
	Simplify  *float64  `json:"simplify"`
	Triangles *int      `json:"triangles"`
}

// Apply is part of Edit.
func (e *SetParts) Apply(r *Recipe, _ *artwork.Sheet) error {
	give(e.By, &r.Parts.By)
	give(e.Order, &r.Parts.Order)
	give(e.Palette, &r.Parts.Palette)
	give(e.Relief, &r.Parts.Relief)
	give(e.Spread, &r.Parts.Spread)
	give(e.Clearance, &r.Parts.Clearance)
	give(e.Fused, &r.Parts.Fused)
	give(e.Curves, &r.Parts.Curves)
	give(e.Crease, &r.Parts.Mesh.Crease)
	give(e.Caps, &r.Parts.Mesh.Caps)
	give(e.Spacing, &r.Parts.Mesh.Spacing)
	give(e.Simplify, &r.Parts.Mesh.Simplify)
	give(e.Triangles, &r.Parts.Mesh.Triangles)
	return nil
}

// JoinParts makes one part of several. It keeps the id, name and measures of the
// first.
type JoinParts struct {
	IDs    []string            `json:"ids"`
	Shapes map[string][]string `json:"shapes"` // of those that a relief divided from others: the keys of their shapes
}

// Apply is part of Edit.
func (e *JoinParts) Apply(r *Recipe, _ *artwork.Sheet) error {
	if len(e.IDs) < 2 {
		return errors.New("it takes two parts at least to join them")
	}
	rule := Rule{}
	for _, id := range e.IDs {
		part, ok := r.Parts.Part(id)
		if !ok {
			return errNoPart
		}
		if Divided(id) {
			if part.Takes.Shapes = e.Shapes[id]; len(part.Takes.Shapes) == 0 {
				return errNoPart
			}
		}
		rule = rule.join(part.Takes)
	}
	first, err := r.Parts.enter(e.IDs[0])
	if err != nil {
		return err
	}
	made := *first
	made.Takes = rule
	gone := map[string]string{}
	if Divided(made.ID) {
		how := r.Parts.Measures(made.ID)
		made.How = &how
	}
	if _, _, auto := strings.Cut(made.ID, ":"); auto || Divided(made.ID) || strings.HasPrefix(made.ID, untouched) {
		made.ID = r.Parts.freeID() // so that it stays whatever parts are made of
		gone[first.ID] = made.ID
	}
	for _, id := range e.IDs {
		gone[id] = made.ID
	}
	at := slices.IndexFunc(r.Parts.List, func(q Part) bool { return q.ID == e.IDs[0] })
	r.Parts.List[at] = made
	r.Parts.List = slices.DeleteFunc(r.Parts.List, func(q Part) bool { return q.ID != made.ID && gone[q.ID] != "" })
	for i := range r.Parts.List {
		q := &r.Parts.List[i]
		if to := gone[q.Role.On]; to != "" && q.Role.On != "" {
			if q.Role.On = to; q.ID == to {
				q.Role = Role{}
			}
		}
	}
	for i, id := range r.Parts.Order {
		if to := gone[id]; to != "" {
			r.Parts.Order[i] = to
		}
	}
	r.Parts.Order = unique(r.Parts.Order)
	return nil
}

func unique(list []string) []string {
	seen := map[string]bool{}
	return slices.DeleteFunc(list, func(s string) bool {
		was := seen[s]
		seen[s] = true
		return was
	})
}

// TakeShapes makes a part of shapes or outlines that other parts have, with the
// measures of the one they are in; To names a part that they go into instead.
type TakeShapes struct {
	Shapes   []string `json:"shapes"`
	Outlines []string `json:"outlines"`
	From     string   `json:"from"`
	To       string   `json:"to"`
	Name     string   `json:"name"`
}

// Apply is part of Edit.
func (e *TakeShapes) Apply(r *Recipe, on *artwork.Sheet) error {
	keys := map[string]bool{}
	for _, k := range e.Shapes {
		keys[k] = true
	}
	for _, k := range e.Outlines {
		keys[ShapeOfOutline(k)] = true
	}
	if len(keys) == 0 {
		return errors.New("no shape was chosen")
	}
	if err := known(on, keys); err != nil {
		return err
	}
	from, ok := r.Parts.Part(e.From)
	if !ok {
		return errNoPart
	}
	out := Part{Name: strings.TrimSpace(e.Name)}
	if e.To != "" {
		to, err := r.Parts.enter(e.To)
		if err != nil {
			return err
		}
		out = *to
	} else {
		out.ID = r.Parts.freeID()
		how := from.How
		if base := r.Parts.Find(BaseOf(e.From)); how == nil && base != nil {
			how = base.How
		}
		if how != nil {
			own := how.clone()
			out.How = &own
		}
	}
	for i := range r.Parts.List { // a shape is in one rule
		t := &r.Parts.List[i].Takes
		t.Shapes = slices.DeleteFunc(t.Shapes, func(k string) bool { return slices.Contains(e.Shapes, k) })
		t.Outlines = slices.DeleteFunc(t.Outlines, func(k string) bool { return slices.Contains(e.Outlines, k) })
	}
	if e.To == "" {
		r.Parts.List = append(r.Parts.List, out)
	}
	to := r.Parts.Find(out.ID)
	to.Takes = to.Takes.join(Rule{Shapes: e.Shapes, Outlines: e.Outlines})
	return nil
}

var errDividedRole = errors.New(
	"a part that the relief divided can't have a role of its own. Split its shapes off first, or give the role to the part it was divided from")

var errNoPart = errors.New("this part is not in the piece any more")

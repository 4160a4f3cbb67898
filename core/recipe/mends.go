package recipe

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"bildhauer/core/terms"
)

// Mends is the section of what is done to the outlines: changes in their order
// on top of the untouched sheets, findings that were left as they are, and from
// which measures on something counts as a finding.
type Mends struct {
	List   []Mend             `json:"list,omitempty"`   // in the order in which they are applied
	Left   []Leave            `json:"left,omitempty"`   // findings that are to stay as they are
	Limits map[string]float64 `json:"limits,omitempty"` // of MendLimits, where they differ
	Next   int                `json:"next,omitempty"`   // number of the last id that was given
}

// Mend is one change of the outlines. What it does, and which of the fields it
// reads, is for core/mend to say. Places are of the page, in px with y down, so
// that they stay where they are in the drawing; lengths are real ones.
type Mend struct {
	ID     string       `json:"id"`               // unlike those of other mends
	Do     string       `json:"do"`               // the deed, as `inspect` and Mend name it
	Name   string       `json:"name,omitempty"`   // what it does, in words
	Off    bool         `json:"off,omitempty"`    // it is kept, but not applied
	Shapes []string     `json:"shapes,omitempty"` // keys
	How    string       `json:"how,omitempty"`    // which way the deed is done
	MM     []float64    `json:"mm,omitempty"`     // lengths at the final size
	At     [][2]float64 `json:"at,omitempty"`     // places, px of the page
	Nodes  [][2]int     `json:"nodes,omitempty"`  // contour and node, from 0
	Turn   float64      `json:"turn,omitempty"`   // degrees
	Text   string       `json:"text,omitempty"`   // of a lettering
	Font   string       `json:"font,omitempty"`   // of a lettering
	Color  string       `json:"color,omitempty"`  // #rrggbb
	Batch  string       `json:"batch,omitempty"`  // the same of those that were taken at once
}

// Leave is a finding that was left as it is: of that kind, about those shapes,
// near that place.
type Leave struct {
	Kind   string     `json:"kind"`   // of the finding
	Shapes []string   `json:"shapes"` // that it is about
	At     [2]float64 `json:"at"`     // where, px of the page
}

// limitPrefix begins the names of the figures that tell from which measure on something is a finding.
const limitPrefix = "mend."

// MendLimits names the measures from which on something counts as a finding, as documents call them.
func MendLimits() []string {
	var out []string
	for _, f := range terms.Figures() {
		if name, ok := strings.CutPrefix(f.Name, limitPrefix); ok {
			out = append(out, name)
		}
	}
	return out
}

// Limit returns the measure in force, by its name in documents.
func (m *Mends) Limit(name string) float64 {
	if v, ok := m.Limits[name]; ok {
		return v
	}
	return terms.Of(limitPrefix + name).Usual
}

// Find returns the index of the mend with an id, or -1.
func (m *Mends) Find(id string) int {
	return slices.IndexFunc(m.List, func(x Mend) bool { return x.ID == id })
}

func (m Mends) clone() Mends {
	m.List = slices.Clone(m.List)
	m.Left = slices.Clone(m.Left)
	m.Limits = maps.Clone(m.Limits)
	return m
}

func (m *Mends) check() error {
	if err := terms.Of("mends").Check(float64(max(len(m.List), len(m.Left)))); err != nil {
		return err
	}
	ids := map[string]bool{}
	for i := range m.List {
		x := &m.List[i]
		if x.ID == "" || ids[x.ID] {
			return fmt.Errorf("two mends share the id %.40q", x.ID)
		}
		ids[x.ID] = true
		if err := x.check(); err != nil {
			return err
		}
	}
	for name, v := range m.Limits {
		if !slices.Contains(MendLimits(), name) {
			return fmt.Errorf("there is no measure %.40q for findings", name)
		}
		if err := terms.Of(limitPrefix + name).Check(v); err != nil {
			return err
		}
	}
	return nil
}

// check holds what every mend must keep, whatever it does.
func (x *Mend) check() error {
	if err := checkName("What a mend does", x.Name); err != nil {
		return err
	}
	if len(x.Text) > int(terms.Of("mendText").Max) {
		return terms.Of("mendText").Check(float64(len(x.Text)))
	}
	for _, v := range x.MM {
		if !(math.Abs(v) <= terms.Of("mendLength").Max) {
			return terms.Of("mendLength").Check(v)
		}
	}
	for _, p := range x.At {
		if !(math.Abs(p[0]) <= farAway && math.Abs(p[1]) <= farAway) {
			return fmt.Errorf("a place of %.60q lies too far away", x.Name)
		}
	}
	if err := terms.Of("edits").Check(float64(max(len(x.Shapes), len(x.At), len(x.Nodes)))); err != nil {
		return err
	}
	return terms.Of("mendTurn").Check(x.Turn)
}

// farAway bounds coordinates of the page in px, as the readers do.
const farAway = 1e9

// goneKey begins the key of a shape that an exchanged file does not have any
// more, so that no other shape is taken for it.
const goneKey = "gone:"

// MendKey returns the key of the nth shape, from 0, that a mend makes.
func MendKey(id string, n int) string {
	if n == 0 {
		return mendedKey + id
	}
	return fmt.Sprintf("%s%s.%d", mendedKey, id, n)
}

// Mended reports whether a key is one of MendKey.
func Mended(key string) bool { return strings.HasPrefix(key, mendedKey) }

// mendedKey begins the keys of shapes that mends make.
const mendedKey = "~"

// rekey moves mends to the keys of an exchanged sheet. Those that lead nowhere
// are kept: the mend will say that it does not find its shape.
func (m *Mends) rekey(shapes map[string]string, keep func(key string) bool) {
	move := func(keys []string) []string {
		out := make([]string, len(keys))
		for i, k := range keys {
			out[i] = k
			if keep(k) {
				continue
			}
			if n, ok := shapes[k]; ok {
				out[i] = n
			} else if !strings.HasPrefix(k, goneKey) {
				out[i] = goneKey + k
			}
		}
		return out
	}
	for i := range m.List {
		if len(m.List[i].Shapes) > 0 {
			m.List[i].Shapes = move(m.List[i].Shapes)
		}
	}
	for i := range m.Left {
		m.Left[i].Shapes = move(m.Left[i].Shapes)
	}
}

package recipe

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
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

// MendLimit is a measure from which on something counts as a finding.
type MendLimit struct {
	Limit
	Usual float64 `json:"usual"`
	Hint  string  `json:"hint"`
}

// The measures of findings. The usual ones suit a piece of 5 to 50 cm that is
// printed with a nozzle of 0.4 mm or cut.
var (
	// What lies nearer than a hair's fifth can't have been meant.
	WeldLimit = MendLimit{Limit{"weld", "The distance of doubled nodes", 0, 5, "mm", 0.005}, 0.01,
		"Nodes nearer to each other are one."}
	GapLimit = MendLimit{Limit{"gap", "The gap", 0, 100, "mm", 0.05}, 0.5,
		"Ends and neighbours nearer than this were meant to meet."}
	// Two walls of a nozzle of 0.4 mm.
	ThinLimit = MendLimit{Limit{"thin", "The smallest width", 0, 100, "mm", 0.1}, 0.8,
		"Strokes and bridges thinner than this break."}
	SlotLimit = MendLimit{Limit{"slot", "The smallest hole", 0, 100, "mm", 0.1}, 0.5,
		"Holes and slots narrower than this close when printed or painted."}
	TipLimit = MendLimit{Limit{"tip", "The sharpest tip", 0, 90, "°", 1}, 15,
		"Tips sharper than this break off or prick."}
	ScrapLimit = MendLimit{Limit{"scrap", "The smallest shape", 0, 100, "mm", 0.1}, 0.6,
		"Shapes smaller than this in both directions are left over."}
	RefitLimit = MendLimit{Limit{"refit", "The deviation of new curves", 0.0005, 5, "mm", 0.005}, 0.02,
		"How far an outline with fewer nodes may depart from the old one."}
)

// MendLimits lists them.
func MendLimits() []MendLimit {
	return []MendLimit{WeldLimit, GapLimit, ThinLimit, SlotLimit, TipLimit, ScrapLimit, RefitLimit}
}

// Limit returns the measure in force.
func (m *Mends) Limit(l MendLimit) float64 {
	if v, ok := m.Limits[l.Name]; ok {
		return v
	}
	return l.Usual
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
	if err := MendsLimit.Check(float64(max(len(m.List), len(m.Left)))); err != nil {
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
		i := slices.IndexFunc(MendLimits(), func(l MendLimit) bool { return l.Name == name })
		if i < 0 {
			return fmt.Errorf("there is no measure %.40q for findings", name)
		}
		if err := MendLimits()[i].Check(v); err != nil {
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
	if len(x.Text) > int(MendTextLimit.Max) {
		return MendTextLimit.Check(float64(len(x.Text)))
	}
	for _, v := range x.MM {
		if !(math.Abs(v) <= MendLengthLimit.Max) {
			return MendLengthLimit.Check(v)
		}
	}
	for _, p := range x.At {
		if !(math.Abs(p[0]) <= farAway && math.Abs(p[1]) <= farAway) {
			return fmt.Errorf("a place of %.60q lies too far away", x.Name)
		}
	}
	if err := EditsLimit.Check(float64(max(len(x.Shapes), len(x.At), len(x.Nodes)))); err != nil {
		return err
	}
	return TurnLimit.Check(x.Turn)
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

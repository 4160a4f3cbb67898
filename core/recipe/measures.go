package recipe

import (
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"

	"bildhauer/core/terms"
)

// Measures is how a part is raised, lengths in mm.
type Measures struct {
	Depth     float64 `json:"depth" figure:"depth"`                   // of a recess or a raised detail: how far from the face
	Direction string  `json:"direction,omitempty" choice:"direction"` // from the plane: "" forward
	Offset    float64 `json:"offset,omitempty" figure:"offset"`       // of the plane it starts from
	Front     Rim     `json:"front"`                                  // the bevel in front
	Back      Rim     `json:"back"`                                   // the bevel behind
	Outward   bool    `json:"outward,omitempty"`                      // faces keep their size, walls stand outside of them
	Mitred    bool    `json:"mitred,omitempty"`                       // bevels go round inner corners as two planes, not as a cone
	OpenFront bool    `json:"openFront,omitempty"`                    // without a cap in front
	OpenBack  bool    `json:"openBack,omitempty"`                     // without a cap behind; with a wall and both open, only the wall stands
	Wall      float64 `json:"wall,omitempty" figure:"wall"`           // of a hollow part; 0 for a solid one
	Tube      Tube    `json:"tube,omitzero" within:""`                // of a part that is one
}

// Rim is the bevel of one side.
type Rim struct {
	Width    float64 `json:"width" figure:"bevelWidth"`   // how far it reaches inward, or outward; 0 for no bevel
	Height   float64 `json:"height" figure:"bevelHeight"` // how far it reaches down; 0 for no bevel
	Profile  string  `json:"profile" choice:"profile"`    // one of Profiles
	Segments int     `json:"segments" figure:"segments"`  // across each curve of the profile
	Curve    []Knot  `json:"curve,omitempty"`             // of Custom
	Name     string  `json:"name,omitempty"`              // that the curve is kept by
}

// On reports whether the rim is bevelled.
func (r *Rim) On() bool { return r.Height > 0 && (r.Width > 0 || r.Full()) }

// Full reports whether the rim is as wide as the part is.
func (r *Rim) Full() bool { return terms.ProfileOf(r.Profile).Full }

// Knot is a point of a profile drawn on a square: t from the rim inward and f up,
// both from 0 to 1, and how the piece that leads to it bends, from -1 (hollow) to 1
// (bulging).
type Knot struct {
	T    float64 `json:"t"`              // from the rim, 0, to the end of the bevel, 1
	F    float64 `json:"f"`              // from the lowest, 0, to the face, 1
	Bend float64 `json:"bend,omitempty"` // of the piece that leads here
}

// Tube is a part that follows the lines of its strokes.
type Tube struct {
	Width float64 `json:"width,omitempty" figure:"tube"`    // 0 for that of the artwork
	Ends  string  `json:"ends,omitempty" choice:"tubeEnds"` // "" as in the artwork
	Own   bool    `json:"own,omitempty"`                    // has the part's depth and bevels across, and is not round
}

// Some of the profiles of bevels; all are in terms.Profiles.
const (
	Chamfer = "chamfer"
	Round   = "round"
	Cove    = "cove"
	Ogee    = "ogee"
	Bead    = "bead"
	Step    = "step"
	Pillow  = "pillow" // as wide as the part is, with an edge on its ridge
	Dome    = "dome"   // the same, smooth over its ridge
	Custom  = "custom"
)

// Where a part lies from its plane; forward is "".
const (
	Backward = "back"
	BothWays = "both"
)

// How the ends of tubes are.
const (
	RoundEnds = "round"
	FlatEnds  = "flat"
)

func newMeasures() Measures {
	front := Rim{Width: 1, Height: 1, Profile: Round, Segments: 4}
	back := front
	back.Width, back.Height = 0, 0
	return Measures{Depth: 8, Front: front, Back: back}
}

// Bottom returns the z of the back, over the plane that all parts start from.
func (m *Measures) Bottom() float64 {
	switch m.Direction {
	case Backward:
		return m.Offset - m.Depth
	case BothWays:
		return m.Offset - m.Depth/2
	}
	return m.Offset
}

// Equal reports whether two measures are the same.
func (m Measures) Equal(o Measures) bool { return reflect.DeepEqual(m, o) }

func (m Measures) clone() Measures {
	m.Front.Curve, m.Back.Curve = slices.Clone(m.Front.Curve), slices.Clone(m.Back.Curve)
	return m
}

// scale multiplies all lengths by k, within their limits.
func (m *Measures) scale(k float64) {
	by := func(v *float64, l terms.Figure) { *v = math.Max(l.Min, math.Min(l.Max, math.Round(*v*k*1e4)/1e4)) }
	by(&m.Depth, terms.Of("depth"))
	by(&m.Offset, terms.Of("offset"))
	by(&m.Wall, terms.Of("wall"))
	by(&m.Tube.Width, terms.Of("tube"))
	for _, r := range []*Rim{&m.Front, &m.Back} {
		by(&r.Width, terms.Of("bevelWidth"))
		by(&r.Height, terms.Of("bevelHeight"))
	}
}

func (m *Measures) check() error {
	if err := terms.CheckTags(m); err != nil {
		return err
	}
	if err := m.Front.check(); err != nil {
		return err
	}
	return m.Back.check()
}

// figure is a value and its limit.
type figure struct {
	limit terms.Figure
	v     float64
}

func checkAll(list []figure) error {
	for _, f := range list {
		if err := f.limit.Check(f.v); err != nil {
			return err
		}
	}
	return nil
}

func (r *Rim) check() error {
	if err := terms.CheckTags(r); err != nil {
		return err
	}
	if r.Profile == Custom && len(r.Curve) == 0 {
		return errors.New("a custom profile needs its points")
	}
	if err := checkName("A profile's name", r.Name); err != nil {
		return err
	}
	return checkCurve(r.Curve)
}

// checkCurve returns an error for a profile that is none. One that reaches back under
// itself is one: it is flattened where it is built.
func checkCurve(curve []Knot) error {
	if err := terms.Of("knots").Check(float64(len(curve))); err != nil {
		return err
	}
	for i, k := range curve {
		if !(k.T >= 0 && k.T <= 1 && k.F >= 0 && k.F <= 1) {
			return fmt.Errorf("point %d of the profile lies outside its square", i+1)
		}
		if !(k.Bend >= -1 && k.Bend <= 1) {
			return fmt.Errorf("the piece that leads to point %d of the profile bends too far", i+1)
		}
	}
	return nil
}

// Curve is a profile that is kept by its name.
type Curve struct {
	Name   string `json:"name"`   // that it is kept by
	Points []Knot `json:"points"` // from the rim inward
}

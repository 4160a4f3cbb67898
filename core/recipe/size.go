package recipe

import (
	"errors"
	"math"
	"slices"

	"bildhauer/core/terms"
)

// Size is the section of how large the piece really is, how it lies, and how
// closely its outlines follow the artwork.
type Size struct {
	By        string        `json:"by" choice:"by"`                          // what is fixed: Width, Height or Distance; the rest follows
	MM        float64       `json:"mm"`                                      // its length
	Between   [2][2]float64 `json:"between,omitzero"`                        // of Distance: two places, px of the page
	Stretch   float64       `json:"stretch,omitempty" figure:"stretch,zero"` // the height beyond what the ratio gives, as a factor; 0 for 1
	Tolerance float64       `json:"tolerance" figure:"tolerance"`            // how far outlines may depart from the curves, mm
	Overlap   string        `json:"overlap" choice:"overlap"`                // Cut or Keep
	Origin    string        `json:"origin,omitempty" choice:"origin"`        // of what leaves: "" the middle of what it lies on
	Lying     string        `json:"lying,omitempty" choice:"lying"`          // "" on its back, face up
	Up        string        `json:"up,omitempty" choice:"up"`                // "" z
	Frame     *Frame        `json:"frame,omitempty"`                         // that is drawn around the piece
	Frames    []Frame       `json:"frames,omitempty" count:"frames"`         // the person's own
	Measures  string        `json:"measures,omitempty" choice:"measures"`    // what a change of size does to depths and bevels; "" asks
}

// Frame is a plate or bed that the piece fits into.
type Frame struct {
	Name   string  `json:"name"`                         // as it is shown
	Width  float64 `json:"width" figure:"frame.width"`   // mm
	Height float64 `json:"height" figure:"frame.height"` // mm
	Margin float64 `json:"margin"`                       // kept free all round
}

// What a size may fix.
const (
	Width    = "width"
	Height   = "height"
	Distance = "distance" // between two places of the drawing
)

// What becomes of shapes that overlap: upper ones cut the lower ones, so that
// parts fit like inlays, or all stay whole.
const (
	Cut  = "cut"
	Keep = "keep"
)

// Where the origin of what leaves is, and how it lies.
const (
	OriginCentre = "centre" // the middle of the body
	OriginCorner = "corner" // its lowest corner
	FaceDown     = "down"
	Upright      = "upright"
	UpY          = "y"
)

// What a change of size does to depths and bevels.
const (
	MeasuresStay  = "stay"
	MeasuresScale = "scale"
)

func newSize() (s Size) {
	terms.Fill(&s)
	s.MM, s.Stretch = terms.Of("width").Usual, 0
	return s
}

// Ratio returns how much higher the piece is than the drawing has it.
func (s *Size) Ratio() float64 {
	if s.Stretch == 0 {
		return 1
	}
	return s.Stretch
}

// Posed reports whether the piece leaves in another place than it is built in.
func (s *Size) Posed() bool { return s.Origin != "" || s.Lying != "" || s.Up != "" }

func (s Size) clone() Size {
	s.Frames = slices.Clone(s.Frames)
	if s.Frame != nil {
		own := *s.Frame
		s.Frame = &own
	}
	return s
}

func (s *Size) check() error {
	if err := terms.CheckTags(s); err != nil {
		return err
	}
	if err := terms.Of("width").CheckAs("The "+s.By, s.MM); err != nil {
		return err
	}
	for _, p := range s.Between {
		if !(math.Abs(p[0]) <= farAway && math.Abs(p[1]) <= farAway) {
			return errors.New("a place of the distance lies too far away")
		}
	}
	all := s.Frames
	if s.Frame != nil {
		all = append(slices.Clone(all), *s.Frame)
	}
	for i := range all {
		if err := all[i].check(); err != nil {
			return err
		}
	}
	return nil
}

func (f *Frame) check() error {
	if err := checkName("A frame's name", f.Name); err != nil {
		return err
	}
	if err := terms.CheckTags(f); err != nil {
		return err
	}
	if !(f.Margin >= 0 && 2*f.Margin < min(f.Width, f.Height)) {
		return errors.New("the margin of the frame leaves no room")
	}
	return nil
}

// scaleMeasures multiplies all depths and bevels, within their limits.
func (p *Parts) scaleMeasures(k float64) {
	p.Default.scale(k)
	for i := range p.List {
		if p.List[i].How != nil {
			p.List[i].How.scale(k)
		}
	}
	by := func(v *float64, l terms.Figure) { *v = math.Max(l.Min, math.Min(l.Max, *v*k)) }
	if p.Relief.Total != 0 {
		by(&p.Relief.Total, terms.Of("relief"))
	}
	by(&p.Relief.Step, terms.Of("reliefStep"))
	by(&p.Spread, terms.Of("spread"))
}

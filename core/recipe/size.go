package recipe

import "errors"

// Size is the section of how large the piece really is and how closely its
// outlines follow the artwork.
type Size struct {
	By        string  `json:"by"`        // the side that is fixed, Width or Height; the other follows
	MM        float64 `json:"mm"`        // its length
	Tolerance float64 `json:"tolerance"` // how far outlines may depart from the curves, mm
	Overlap   string  `json:"overlap"`   // Cut or Keep
}

// The sides that a size may fix.
const (
	Width  = "width"
	Height = "height"
)

// What becomes of shapes that overlap: upper ones cut the lower ones, so that
// parts fit like inlays, or all stay whole.
const (
	Cut  = "cut"
	Keep = "keep"
)

func newSize() Size { return Size{By: Width, MM: 100, Tolerance: 0.02, Overlap: Cut} }

func (s *Size) check() error {
	if s.By != Width && s.By != Height {
		return errors.New("the size goes by width or height")
	}
	if err := SideLimit.checkAs("The "+s.By, s.MM); err != nil {
		return err
	}
	if err := ToleranceLimit.Check(s.Tolerance); err != nil {
		return err
	}
	if s.Overlap != Cut && s.Overlap != Keep {
		return errors.New("overlaps are cut or kept (\"cut\", \"keep\")")
	}
	return nil
}

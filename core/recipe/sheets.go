package recipe

import (
	"fmt"
	"slices"

	"bildhauer/core/terms"
)

// Sheets is the section of the files that a piece is made of.
type Sheets struct {
	List  []Sheet `json:"list,omitempty"`  // empty in documents of the first days: the first file of the piece
	Fonts []Font  `json:"fonts,omitempty"` // that were added to the piece
}

// Sheet is one artwork file of a piece. Its slot stays when the file changes;
// keys of its shapes go by it (see Key).
type Sheet struct {
	Slot   int        `json:"slot"`             // its number in the piece, which begins the keys of its shapes from 2 on
	File   string     `json:"file"`             // id in the store
	Name   string     `json:"name"`             // of the file
	Page   int        `json:"page,omitempty"`   // from 1; 0 for the first
	Beside bool       `json:"beside,omitempty"` // to the right of those before, not over them
	Shift  [2]float64 `json:"shift,omitzero"`   // from there, px of the page, y down
	Trace  *Tracing   `json:"trace,omitempty"`  // of a bitmap, or of those inside
}

// Tracing says how a bitmap is traced; what is not said is decided by the picture.
type Tracing struct {
	By        string  `json:"by,omitempty" choice:"trace.by"`               // one of Tracings
	Threshold float64 `json:"threshold,omitempty" figure:"trace.threshold"` // of light, below which it is drawn
	Light     bool    `json:"light,omitempty"`                              // what is light is drawn
	Colours   int     `json:"colours,omitempty" figure:"trace.colours"`     // how many, without the ground
	Speckle   float64 `json:"speckle,omitempty" figure:"trace.speckle"`     // smaller areas are left out, px2
	Smooth    float64 `json:"smooth,omitempty" figure:"trace.smooth"`       // by how much curves may depart from edges, px
	Corner    float64 `json:"corner,omitempty" figure:"trace.corner"`       // turns of more degrees are corners
	Pictures  bool    `json:"pictures,omitempty"`                           // bitmaps inside the artwork are traced
}

func (t *Tracing) check() error {
	return terms.CheckTags(t)
}

// Font is a font added to a piece.
type Font struct {
	File   string `json:"file"`   // id in the store
	Name   string `json:"name"`   // of the file
	Family string `json:"family"` // that it stands for
}

// All returns the sheets of a piece; documents of the first days name none.
func (s *Sheets) All() []Sheet {
	if len(s.List) == 0 {
		return []Sheet{{Slot: 1}}
	}
	return s.List
}

// Find returns the index of the sheet in a slot, or -1.
func (s *Sheets) Find(slot int) int {
	return slices.IndexFunc(s.All(), func(x Sheet) bool { return x.Slot == slot })
}

// FreeSlot returns a slot that no sheet of this recipe has.
func (s *Sheets) FreeSlot() int {
	slot := 1
	for _, x := range s.All() {
		slot = max(slot, x.Slot+1)
	}
	return slot
}

func (s Sheets) clone() Sheets {
	return Sheets{slices.Clone(s.List), slices.Clone(s.Fonts)}
}

func (s *Sheets) check() error {
	if float64(len(s.List)) > terms.Of("sheets").Max {
		return fmt.Errorf("a piece holds at most %g sheets", terms.Of("sheets").Max)
	}
	if float64(len(s.Fonts)) > terms.Of("fonts").Max {
		return fmt.Errorf("a piece holds at most %g fonts", terms.Of("fonts").Max)
	}
	seen := map[int]bool{}
	for _, x := range s.List {
		if x.Slot < 1 || seen[x.Slot] {
			return fmt.Errorf("two sheets share the slot %d", x.Slot)
		}
		seen[x.Slot] = true
		if err := terms.Of("page").Check(float64(x.Page)); err != nil {
			return err
		}
		if err := x.Trace.check(); err != nil {
			return err
		}
		// A file's name is the file's; it may be longer than one that is typed.
		if len(x.Name) > 4*int(terms.Of("name").Max) {
			return fmt.Errorf("the name of the sheet %.40s is too long", x.Name)
		}
	}
	return nil
}

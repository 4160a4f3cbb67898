package recipe

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"bildhauer/core/artwork"
)

// Edit is one typed change of a recipe. Apply changes r, which its caller owns;
// on is the artwork that the recipe is about, or nil where it is not at hand
// (parts do not follow new colours then). It returns an error in the words of
// the person when what it is about is not there any more.
type Edit interface {
	Apply(r *Recipe, on *artwork.Sheet) error
}

// Change is one step of the history: what was done in words, and the edits that
// do it.
type Change struct {
	Label string
	Edits []Edit
}

// Apply returns r with the change; r stays as it is.
func (c Change) Apply(r Recipe, on *artwork.Sheet) (Recipe, error) {
	r = r.Clone()
	for _, e := range c.Edits {
		if err := e.Apply(&r, on); err != nil {
			return r, err
		}
	}
	return r, r.Check()
}

// kinds makes an empty edit of each kind, by its name in JSON.
var kinds = map[string]func() Edit{
	"name":       func() Edit { return &SetName{} },
	"size":       func() Edit { return &SetSize{} },
	"frame":      func() Edit { return &KeepFrame{} },
	"choose":     func() Edit { return &Choose{} },
	"shapes":     func() Edit { return &EditShapes{} },
	"groupNames": func() Edit { return &NameGroups{} },
	"newGroup":   func() Edit { return &AddGroup{} },
	"parts":      func() Edit { return &EditParts{} },
	"allParts":   func() Edit { return &SetParts{} },
	"joinParts":  func() Edit { return &JoinParts{} },
	"takeShapes": func() Edit { return &TakeShapes{} },
	"sheet":      func() Edit { return &EditSheet{} },
	"dropSheet":  func() Edit { return &DropSheet{} },
	"dropFont":   func() Edit { return &DropFont{} },
	"mends":      func() Edit { return &AddMends{} },
	"mend":       func() Edit { return &EditMend{} },
	"dropMends":  func() Edit { return &DropMends{} },
	"leave":      func() Edit { return &LeaveFindings{} },
	"mendLimits": func() Edit { return &SetMendLimits{} },
	"scene":      func() Edit { return &SetScene{} },
	"paint":      func() Edit { return &PaintFaces{} },
	"takeScene":  func() Edit { return &TakeScene{} },
	"key":        func() Edit { return &SetKey{} },
	"moveKeys":   func() Edit { return &MoveKeys{} },
	"easeKeys":   func() Edit { return &EaseKeys{} },
	"dropKeys":   func() Edit { return &DropKeys{} },
	"path":       func() Edit { return &SetPath{} },
	"retime":     func() Edit { return &Retime{} },
	"print":      func() Edit { return &SetPrint{} },
}

// ParseEdits reads a list of edits as pages send them: objects with the field
// "kind" beside the fields of the edit.
func ParseEdits(data []byte) ([]Edit, error) {
	var list []json.RawMessage
	if err := json.Unmarshal(data, &list); err != nil {
		return nil, errors.New("this change could not be read")
	}
	out := make([]Edit, len(list))
	for i, raw := range list {
		var head struct{ Kind string }
		if err := json.Unmarshal(raw, &head); err != nil {
			return nil, errors.New("this change could not be read")
		}
		build, ok := kinds[head.Kind]
		if !ok {
			return nil, fmt.Errorf("a change of the kind %.40q is not known", head.Kind)
		}
		out[i] = build()
		if err := json.Unmarshal(raw, out[i]); err != nil {
			return nil, fmt.Errorf("this change could not be read: %w", plainJSON(err))
		}
	}
	return out, nil
}

// SetName names the piece.
type SetName struct {
	Name string `json:"name"`
}

// Apply is part of Edit.
func (e *SetName) Apply(r *Recipe, _ *artwork.Sheet) error {
	if r.Name = strings.TrimSpace(e.Name); r.Name == "" {
		return errors.New("a piece needs a name")
	}
	return nil
}

// SetSize changes what is given about the size.
type SetSize struct {
	By        *string  `json:"by"`
	MM        *float64 `json:"mm"`
	Tolerance *float64 `json:"tolerance"`
	Overlap   *string  `json:"overlap"`

	Between  *[2][2]float64 `json:"between"`
	Stretch  *float64       `json:"stretch"`
	Origin   *string        `json:"origin"`
	Lying    *string        `json:"lying"`
	Up       *string        `json:"up"`
	Frame    *Frame         `json:"frame"` // one without a name takes it away
	Measures *string        `json:"measures"`
	Scale    float64        `json:"scale"` // of depths and bevels; 0 leaves them
}

// Apply is part of Edit.
func (e *SetSize) Apply(r *Recipe, _ *artwork.Sheet) error {
	give(e.By, &r.Size.By)
	give(e.MM, &r.Size.MM)
	give(e.Tolerance, &r.Size.Tolerance)
	give(e.Overlap, &r.Size.Overlap)
	give(e.Between, &r.Size.Between)
	give(e.Stretch, &r.Size.Stretch)
	give(e.Origin, &r.Size.Origin)
	give(e.Lying, &r.Size.Lying)
	give(e.Up, &r.Size.Up)
	give(e.Measures, &r.Size.Measures)
	if e.Frame != nil {
		own := *e.Frame
		if r.Size.Frame = &own; own.Name == "" {
			r.Size.Frame = nil
		}
	}
	if e.Scale > 0 {
		r.Parts.scaleMeasures(e.Scale)
	}
	return nil
}

// KeepFrame keeps a frame by its name, in the place of one of that name; Drop
// forgets it.
type KeepFrame struct {
	Frame Frame `json:"frame"`
	Drop  bool  `json:"drop"`
}

// Apply is part of Edit.
func (e *KeepFrame) Apply(r *Recipe, _ *artwork.Sheet) error {
	name := strings.TrimSpace(e.Frame.Name)
	if name == "" {
		return errors.New("a frame needs a name")
	}
	list := slices.DeleteFunc(slices.Clone(r.Size.Frames), func(f Frame) bool { return f.Name == name })
	if e.Drop && len(list) == len(r.Size.Frames) {
		return errors.New("this frame is not saved any more")
	}
	if !e.Drop {
		e.Frame.Name = name
		list = append(list, e.Frame)
	}
	r.Size.Frames = list
	return nil
}

// give copies a value that is there.
func give[T any](from *T, to *T) {
	if from != nil {
		*to = *from
	}
}

// Package recipe is the document of all decisions about a piece, and nothing
// that is computed from it. Each step of the application has a section of its
// own; what the artwork comes to under a recipe is the business of the stages.
//
// The guarantees:
//  1. A document of an older version opens: one migration for each step of the
//     version, see migrate.go.
//  2. A document of a newer version is refused with ErrNewer, never half read.
//  3. Fields that this program does not know stay in a document that it opens
//     and saves again, see unknown.go.
//  4. A recipe that passed Check is within the limits of core/terms.
//  5. Changes are typed values (edits.go) that leave the recipe they are
//     applied to as it is.
package recipe

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"bildhauer/core/terms"
)

// Version is the version of the document that this program writes.
const Version = 5

// Recipe is all decisions of a piece. Lengths are in mm.
type Recipe struct {
	Version int    `json:"version"`        // of the document
	Name    string `json:"name,omitempty"` // of the piece
	Sheets  Sheets `json:"sheets"`         // the artwork files and fonts
	Intake  Intake `json:"intake"`         // what was decided about shapes and groups
	Mends   Mends  `json:"mends,omitzero"` // what was done to the outlines
	Size    Size   `json:"size"`           // how large the piece is and how it lies
	Parts   Parts  `json:"parts"`          // the bodies
	Scene   Scene  `json:"scene,omitzero"` // how it is shown
	Print   Print  `json:"print,omitzero"` // how it is printed

	rest map[string]any // what the document held beyond these fields
}

// New returns the recipe that a new piece starts with.
func New() Recipe {
	return Recipe{Version: Version, Size: newSize(), Parts: Parts{Default: newMeasures()}, Print: newPrint()}
}

// ErrNewer is returned for documents of a later version.
var ErrNewer = errors.New("the recipe was written by a newer Bildhauer")

// Parse reads a recipe that a person wrote. Missing fields keep the values of
// New; a field that is not known is an error, for it may be a slip of the pen.
func Parse(data []byte) (Recipe, error) {
	r, err := Open(data)
	if err != nil {
		return r, err
	}
	if name := firstUnknown(r.rest, ""); name != "" {
		return r, fmt.Errorf("the recipe has a field %q that is not known", name)
	}
	return r, nil
}

// Open reads a stored document, of this version or an older one. Fields that
// are not known are kept and written again. It returns ErrNewer for a newer
// one.
func Open(data []byte) (Recipe, error) {
	r := New()
	tree, err := decodeTree(data)
	if err != nil {
		return r, fmt.Errorf("the recipe is not readable: %w", err)
	}
	if tree, err = migrate(tree); err != nil {
		return r, err
	}
	raw, err := json.Marshal(tree)
	if err != nil {
		return r, err
	}
	if err := json.Unmarshal(raw, (*fields)(&r)); err != nil {
		return r, fmt.Errorf("the recipe is not readable: %w", plainJSON(err))
	}
	r.rest = unknownFields(tree)
	return r, r.Check()
}

// plainJSON words a type error of the JSON package for people.
func plainJSON(err error) error {
	var t *json.UnmarshalTypeError
	if errors.As(err, &t) {
		return fmt.Errorf("%q can't be a %s", t.Field, t.Value)
	}
	return err
}

// fields is a Recipe without its methods.
type fields Recipe

// MarshalJSON writes the document, with the fields it was opened with.
func (r Recipe) MarshalJSON() ([]byte, error) {
	raw, err := json.Marshal(fields(r))
	if err != nil || len(r.rest) == 0 {
		return raw, err
	}
	tree, err := decodeTree(raw)
	if err != nil {
		return nil, err
	}
	putBack(tree, r.rest)
	return json.Marshal(tree)
}

// UnmarshalJSON reads a stored document (see Open).
func (r *Recipe) UnmarshalJSON(data []byte) (err error) {
	*r, err = Open(data)
	return err
}

func decodeTree(data []byte) (map[string]any, error) {
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	var tree map[string]any
	err := d.Decode(&tree)
	if err == nil && tree == nil {
		err = errors.New("it is empty")
	}
	return tree, err
}

// Clone returns a copy that shares nothing with r that edits change.
func (r Recipe) Clone() Recipe {
	r.Sheets = r.Sheets.clone()
	r.Intake = r.Intake.clone()
	r.Mends = r.Mends.clone()
	r.Size = r.Size.clone()
	r.Parts = r.Parts.clone()
	r.Scene = r.Scene.clone()
	return r
}

// Check returns an error that names the first figure out of its limits.
func (r *Recipe) Check() error {
	if err := checkName("A piece's name", r.Name); err != nil {
		return err
	}
	for _, section := range []interface{ check() error }{&r.Sheets, &r.Intake, &r.Mends, &r.Size, &r.Parts, &r.Scene, &r.Print} {
		if err := section.check(); err != nil {
			return err
		}
	}
	return nil
}

func checkName(what, name string) error {
	if n := utf8.RuneCountInString(name); float64(n) > terms.Of("name").Max {
		return fmt.Errorf("%s has at most %g letters", what, terms.Of("name").Max)
	}
	if strings.ContainsFunc(name, func(r rune) bool { return r < ' ' }) {
		return fmt.Errorf("%s can't hold line breaks", what)
	}
	return nil
}

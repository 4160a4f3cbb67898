// Package recipe holds the decisions about a piece as one versioned document,
// and applies them to the artwork: which shapes take part, how large it is in
// the end, which parts it falls into and how each is raised.
package recipe

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"

	"bildhauer/core/raise"
)

// Version is the version of the document that this program writes.
const Version = 1

// Recipe is all decisions of a piece. Lengths are in mm.
type Recipe struct {
	Version   int             `json:"version"`
	Size      Size            `json:"size"`
	Tolerance float64         `json:"tolerance"`       // how far outlines may depart from the curves
	Overlap   string          `json:"overlap"`         // "cut": upper shapes cut the lower ones; "keep"
	Choice    map[string]bool `json:"choice"`          // by shape key: taken in or left out, where it differs from the rule
	Edits     map[string]Edit `json:"edits,omitempty"` // by shape key
	Default   Part            `json:"default"`
	Parts     map[string]Part `json:"parts"` // by part id, where it differs from Default

	GroupNames map[string]string `json:"groupNames,omitempty"` // by group key
	NewGroups  []NewGroup        `json:"newGroups,omitempty"`
}

// Size fixes one side; the other follows.
type Size struct {
	By string  `json:"by"` // "width" or "height"
	MM float64 `json:"mm"`
}

// Part is how one part is raised.
type Part struct {
	Name     string        `json:"name,omitempty"`
	Depth    float64       `json:"depth"`
	Width    float64       `json:"bevelWidth"`
	Height   float64       `json:"bevelHeight"`
	Profile  raise.Profile `json:"profile"`
	Segments int           `json:"segments"`
	Back     string        `json:"back"` // "flat" or "bevel"
	Out      bool          `json:"out,omitempty"`
}

// New returns the recipe that a new piece starts with.
func New() Recipe {
	return Recipe{
		Version: Version, Size: Size{"width", 100}, Tolerance: 0.02, Overlap: "cut",
		Choice: map[string]bool{}, Parts: map[string]Part{},
		Default: Part{Depth: 8, Width: 1, Height: 1, Profile: raise.Round, Segments: 4, Back: "flat"},
	}
}

// Limits of the measures, in mm.
const (
	MinSize, MaxSize   = 0.1, 100_000
	MaxSegments        = 32
	MinTolerance       = 0.0005
	MinDepth, MaxDepth = 0.01, 100_000
)

// Parse reads a recipe document; missing fields keep the values of New.
func Parse(data []byte) (Recipe, error) {
	r := New()
	if err := json.Unmarshal(data, &r); err != nil {
		return r, fmt.Errorf("the recipe is not readable: %w", err)
	}
	if r.Version > Version {
		return r, fmt.Errorf("the recipe was written by a newer Bildhauer (version %d, this one knows %d)", r.Version, Version)
	}
	r.Version = Version
	if r.Choice == nil {
		r.Choice = map[string]bool{}
	}
	if r.Parts == nil {
		r.Parts = map[string]Part{}
	}
	return r, r.Check()
}

// Check returns an error that names the first measure out of range.
func (r *Recipe) Check() error {
	if r.Size.By != "width" && r.Size.By != "height" {
		return errors.New("the size goes by width or height")
	}
	if err := within("The "+r.Size.By, r.Size.MM, MinSize, MaxSize); err != nil {
		return err
	}
	if err := within("The tolerance", r.Tolerance, MinTolerance, 10); err != nil {
		return err
	}
	if r.Overlap != "cut" && r.Overlap != "keep" {
		return errors.New("overlaps are cut or kept")
	}
	if err := r.checkEdits(); err != nil {
		return err
	}
	if err := r.Default.check(); err != nil {
		return err
	}
	for _, p := range r.Parts {
		if err := p.check(); err != nil {
			return err
		}
	}
	return nil
}

func within(what string, v, lo, hi float64) error {
	if !(v >= lo && v <= hi) {
		return fmt.Errorf("%s must be between %g and %g mm", what, lo, hi)
	}
	return nil
}

func (p *Part) check() error {
	if err := within("The depth", p.Depth, MinDepth, MaxDepth); err != nil {
		return err
	}
	if err := within("The bevel's width", p.Width, 0, MaxSize); err != nil {
		return err
	}
	if err := within("The bevel's height", p.Height, 0, MaxSize); err != nil {
		return err
	}
	if p.Segments < 1 || p.Segments > MaxSegments {
		return fmt.Errorf("a bevel has 1 to %d segments", MaxSegments)
	}
	if p.Back != "flat" && p.Back != "bevel" {
		return errors.New("the back is flat or bevelled (\"flat\", \"bevel\")")
	}
	return p.Profile.Valid()
}

// Of returns how the part with this id is raised.
func (r *Recipe) Of(id string) Part {
	if p, ok := r.Parts[id]; ok {
		return p
	}
	return r.Default
}

// Bevel returns the bevel of a part.
func (p Part) Bevel() raise.Bevel {
	return raise.Bevel{Profile: p.Profile, Width: p.Width, Height: p.Height, Segments: p.Segments}
}

// Spec returns the upright measures of a part.
func (p Part) Spec() raise.Spec {
	return raise.Spec{Depth: p.Depth, Height: p.Height, BackBevel: p.Back == "bevel" && p.Bevel().On()}
}

// deepest returns the greatest depth of any part.
func (r *Recipe) deepest() float64 {
	d := r.Default.Depth
	for _, p := range r.Parts {
		d = math.Max(d, p.Depth)
	}
	return d
}

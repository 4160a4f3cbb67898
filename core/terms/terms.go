// Package terms is the one description of all that a person sets: every figure with its unit and
// limits, every choice with its options. Documents are checked by it, fields of pages, flags of the
// command line and the tables in docs are made from it (go generate ./core/terms). It computes nothing.
package terms

//go:generate go run bildhauer/internal/describe ../..

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"bildhauer/core/units"
)

// Range is what a figure may be.
type Range struct {
	Unit string  `json:"unit,omitempty"` // "mm", "°" …, or "" for a count or a ratio
	Min  float64 `json:"min"`            // least value
	Max  float64 `json:"max"`            // greatest value
	Step float64 `json:"step,omitempty"` // what an arrow key adds
}

// Figure is one figure that a person sets, or the size of something that a document holds.
type Figure struct {
	Name  string `json:"name"`  // as documents, pages and tags of fields call it; unlike all others
	Label string `json:"label"` // beside its field; "" where no field shows it
	What  string `json:"what"`  // as a sentence about it begins
	Range
	Usual float64 `json:"usual,omitempty"` // what it is where nobody has said so
	Whole bool    `json:"whole,omitempty"` // only whole numbers
	// Low and High are the ends of its slider, equal where it has none. Reach is the share of the piece's
	// larger side that the slider goes to, at least to High.
	Low   float64 `json:"low,omitempty"`
	High  float64 `json:"high,omitempty"`
	Reach float64 `json:"reach,omitempty"`
	// Scale is by how much larger it is shown, in the unit Shown: 100 for a share in per cent.
	Scale float64 `json:"scale,omitempty"`
	Shown string  `json:"shown,omitempty"`
	Zero  string  `json:"zero,omitempty"` // said in place of 0
	Flag  string  `json:"flag,omitempty"` // of the command line, without dashes
	Help  string  `json:"help,omitempty"` // what it does, as a sentence
}

// Option is one answer of a choice.
type Option struct {
	Name  string `json:"name"`           // as documents call it; "" for what is usual
	Label string `json:"label"`          // as pages show it
	Help  string `json:"help,omitempty"` // one line
	Flag  string `json:"flag,omitempty"` // as the command line says it, where that is not the name
	Unit  string `json:"unit,omitempty"` // of what is measured of it
}

// Choice is a set of answers of which one holds.
type Choice struct {
	Name    string   `json:"name"`           // unlike all others
	Label   string   `json:"label"`          // beside it
	What    string   `json:"what"`           // as a sentence about it begins
	Flag    string   `json:"flag,omitempty"` // of the command line, without dashes
	Help    string   `json:"help,omitempty"` // what it decides, as a sentence
	Options []Option `json:"options"`
}

// Figures lists all figures, in the order in which people meet them.
func Figures() []Figure {
	all := slices.Concat(sizeFigures, intakeFigures, mendFigures, raiseFigures, showFigures, motionFigures, printFigures, counts)
	for i := range all {
		if all[i].What == "" {
			all[i].What = "The " + strings.ToLower(all[i].Label)
		}
	}
	return all
}

// Choices lists all choices, in the same order.
func Choices() []Choice {
	return slices.Concat(sizeChoices, intakeChoices, mendChoices, raiseChoices, showChoices, motionChoices, printChoices)
}

var figures, choices = byName()

func byName() (map[string]Figure, map[string]Choice) {
	f, c := map[string]Figure{}, map[string]Choice{}
	for _, x := range Figures() {
		f[x.Name] = x
	}
	for _, x := range Choices() {
		c[x.Name] = x
	}
	return f, c
}

// Of returns a figure by its name. One that is not known is a mistake of the program and panics.
func Of(name string) Figure {
	f, ok := figures[name]
	if !ok {
		panic("terms: no figure " + name)
	}
	return f
}

// Pick returns a choice by its name, and panics like Of.
func Pick(name string) Choice {
	c, ok := choices[name]
	if !ok {
		panic("terms: no choice " + name)
	}
	return c
}

// Names lists what documents call the options of a choice.
func Names(choice string) []string {
	c := Pick(choice)
	out := make([]string, len(c.Options))
	for i, o := range c.Options {
		out[i] = o.Name
	}
	return out
}

// Check returns a sentence for a value outside the limits.
func (f Figure) Check(v float64) error { return f.CheckAs(f.What, v) }

// CheckAs is Check with other words for the figure.
func (f Figure) CheckAs(what string, v float64) error {
	if v >= f.Min && v <= f.Max {
		return nil
	}
	least := strings.TrimSuffix(f.Write(f.Min), " "+f.Unit)
	return fmt.Errorf("%s must be between %s and %s", what, least, f.Write(f.Max))
}

// Write writes a value with its unit.
func (f Figure) Write(v float64) string {
	switch {
	case f.Unit != "":
		return units.Figure(v) + " " + f.Unit
	case v == math.Round(v):
		return units.Count(int(v))
	}
	return units.Figure(v)
}

// Check returns a sentence for a word that is none of the options.
func (c Choice) Check(word string) error {
	if slices.ContainsFunc(c.Options, func(o Option) bool { return o.Name == word }) {
		return nil
	}
	return c.Refuse(word)
}

// Refuse returns the sentence for a word that is none of the options.
func (c Choice) Refuse(word string) error {
	return fmt.Errorf("%s can be %s, not %.40q", c.What, c.List(), word)
}

// Find returns an option as documents or the command line call it.
func (c Choice) Find(word string) (Option, bool) {
	i := slices.IndexFunc(c.Options, func(o Option) bool { return o.Said() == word || o.Name == word && word != "" })
	if i < 0 {
		return Option{}, false
	}
	return c.Options[i], true
}

// Said is how the command line says the option.
func (o Option) Said() string {
	if o.Flag != "" {
		return o.Flag
	}
	return o.Name
}

// List writes all options as the command line says them.
func (c Choice) List() string {
	var out []string
	for _, o := range c.Options {
		if o.Said() != "" {
			out = append(out, o.Said())
		}
	}
	if len(out) < 2 {
		return strings.Join(out, "")
	}
	return strings.Join(out[:len(out)-1], ", ") + " or " + out[len(out)-1]
}

package mend

import (
	"slices"
	"testing"

	"bildhauer/core/terms"
)

// TestAdditionsAreDeeds compares the table of additions with the deeds: each is one, has the lengths and places that it
// wants, usual ones that mends may say, and nothing that adds is missing in the table.
func TestAdditionsAreDeeds(t *testing.T) {
	length := terms.Of("mendLength")
	for _, a := range terms.Additions {
		d, ok := deeds[a.Name]
		if !ok || d.mm > len(a.Figures) || d.at > a.Places {
			t.Errorf("%s: the deed wants %d lengths and %d places, the table has %d and %d", a.Name, d.mm, d.at, len(a.Figures), a.Places)
		}
		for _, f := range a.Figures {
			if err := length.Check(f.Usual); err != nil {
				t.Errorf("%s, %s: %v", a.Name, f.Label, err)
			}
		}
	}
	for name, d := range deeds {
		listed := slices.ContainsFunc(terms.Additions, func(a terms.Addition) bool { return a.Name == name })
		if d.shapes == 0 && d.sized && !listed {
			t.Errorf("%s adds something and is not in the table", name)
		}
	}
}

package demo

import (
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/studio"
)

// TestDemoPiecesAreSound fills a studio and raises every part; each measure
// of a demo piece must belong to a part that is there.
func TestDemoPiecesAreSound(t *testing.T) {
	s, err := studio.New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := Fill(t.Context(), s); err != nil {
		t.Fatal(err)
	}
	list, err := s.Pieces(t.Context())
	if err != nil || len(list) != len(pieces) {
		t.Fatalf("%d pieces, %v", len(list), err)
	}
	for _, p := range list {
		solids, err := s.Solids(t.Context(), p.Piece)
		if err != nil {
			t.Fatal(err)
		}
		have := map[string]bool{}
		for _, solid := range solids {
			for _, o := range solid.Owners {
				have[o.ID] = true
			}
			if !mesh.Check(solid.Mesh, true).Sound() {
				t.Errorf("%s: %s is not sound", p.Recipe.Name, solid.Name)
			}
		}
		for _, part := range p.Recipe.Parts.List {
			if !have[part.ID] {
				t.Errorf("%s: no part %s for %q", p.Recipe.Name, part.ID, part.Name)
			}
		}
	}
}

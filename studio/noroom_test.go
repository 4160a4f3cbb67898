package studio

import (
	"strings"
	"testing"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
)

// TestWhatDoesNotFitIsNotCut makes a piece wider than its bed: the report says so and nothing else, as it is not cut into layers; it
// can't be laid out; and who prints it elsewhere is told the changes of the filament all the same.
func TestWhatDoesNotFitIsNotCut(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{Name: "wide.svg", Data: []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="20">` +
		`<rect width="100" height="20" fill="#336699"/><rect x="20" y="5" width="60" height="10" fill="#a33333"/></svg>`)})
	if _, err := s.ColoursByHeight(t.Context(), id, Latest, Heights{2, 0.8, 0.4}); err != nil {
		t.Fatal(err)
	}
	wide := 300.0
	p, err := s.Change(t.Context(), id, Latest, recipe.Change{Label: "Wide", Edits: []recipe.Edit{&recipe.SetSize{MM: &wide}}})
	if err != nil {
		t.Fatal(err)
	}
	r, err := s.PrintReport(t.Context(), p)
	if err != nil || r.Layers != 0 || len(r.Findings) != 1 || r.Findings[0].Kind != print.TooLarge || len(r.Page) != 1 || len(r.Spots) != 1 {
		t.Errorf("%+v, %v", r, err)
	}
	if _, err := s.PrintJob(t.Context(), p); err == nil || !strings.Contains(err.Error(), "It does not fit the bed: it is 300 by 60") {
		t.Errorf("laid out: %v", err)
	}
	if note := s.changesNote(t.Context(), p); !strings.Contains(note, "from layer 5 on, 0.8 mm up") {
		t.Errorf("the note: %q", note)
	}
}

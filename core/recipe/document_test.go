package recipe

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"
)

func load(t *testing.T, name string) []byte {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("testdata", name))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func mustOpen(t *testing.T, data []byte) Recipe {
	t.Helper()
	r, err := Open(data)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// TestFirstVersionOpens opens documents of version 1 and finds every decision
// in its section.
func TestFirstVersionOpens(t *testing.T) {
	r := mustOpen(t, load(t, "v1/piece.json"))
	if r.Version != Version || r.Name != "Harbour lamp" {
		t.Errorf("version %d, name %q", r.Version, r.Name)
	}
	if !reflect.DeepEqual(r.Size, Size{By: Height, MM: 42, Tolerance: 0.05, Overlap: Keep}) {
		t.Errorf("size %+v", r.Size)
	}
	wantSheets := []Sheet{
		{Slot: 1, File: "aa01", Name: "lamp.svg"},
		{Slot: 2, File: "bb02", Name: "rim.svg", Page: 2, Beside: true},
	}
	if !reflect.DeepEqual(r.Sheets.List, wantSheets) || len(r.Sheets.Fonts) != 1 ||
		r.Sheets.Fonts[0].Family != "Harbour Hand" {
		t.Errorf("sheets %+v", r.Sheets)
	}
	// Only the key of a slot that there is stays as it stands: the other one
	// belonged to the first sheet.
	wantChoice := map[string]bool{"lamp": false, "2:lamp": true, "1:7:odd": false}
	if !reflect.DeepEqual(r.Intake.Choice, wantChoice) {
		t.Errorf("choice %v", r.Intake.Choice)
	}
	if e := r.Intake.Shapes["post"]; e != (ShapeEdit{"Post", "#336699", "new1"}) {
		t.Errorf("edit %+v", e)
	}
	if r.Intake.GroupNames["g0"] != "Lights" || r.Intake.NewGroups[0] != (NewGroup{"new1", "Ironwork"}) {
		t.Errorf("groups %+v", r.Intake)
	}
	chamfer := Rim{Width: 0.5, Height: 0.5, Profile: Chamfer, Segments: 1}
	if !r.Parts.Default.Equal(Measures{Depth: 5, Front: chamfer, Back: chamfer}) {
		t.Errorf("default %+v", r.Parts.Default)
	}
	blue := r.Parts.Taking("#336699")
	if blue.ID != "c336699" || blue.Name != "Blue" || !blue.How.Equal(Measures{
		Depth: 9, Front: Rim{Width: 1, Height: 2, Profile: Round, Segments: 6}, Back: Rim{Profile: Round, Segments: 6},
	}) ||
		blue.Out {
		t.Errorf("blue part %+v", blue)
	}
	if red := r.Parts.Taking("#a33333"); !red.Out || red.How.Depth != 3 {
		t.Errorf("red part %+v", red)
	}
	saved, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	for _, kept := range []string{`"harbourmaster":{"stamp":17}`, `"ledger":"Q-118"`} {
		if !strings.Contains(string(saved), kept) {
			t.Errorf("%s was lost: %s", kept, saved)
		}
	}
}

// TestEarliestDocuments opens one that names no sheets, and one that a person
// wrote for the command line.
func TestEarliestDocuments(t *testing.T) {
	r := mustOpen(t, load(t, "v1/first-days.json"))
	if all := r.Sheets.All(); len(all) != 1 || all[0].Slot != 1 || all[0].File != "" ||
		r.Name != "Pier sign" {
		t.Errorf("first days: %+v", r.Sheets)
	}
	bare, err := Parse(load(t, "v1/bare.json"))
	if err != nil {
		t.Fatal(err)
	}
	if bare.Size.MM != 250 || bare.Size.Tolerance != newSize().Tolerance || bare.Parts.Default.Depth != 12 ||
		bare.Parts.Default.Front.Segments != 4 {
		t.Errorf("bare: %+v", bare)
	}
	if m := bare.Parts.Measures("cc9973f"); m.Depth != 14 || m.Front.Profile != Round || m.Front.Width != 1 {
		t.Errorf("bare part: %+v", m)
	}
}

// TestUnknownFieldsStay saves a document with fields of someone else's, changed
// and unchanged, and finds them where they were.
func TestUnknownFieldsStay(t *testing.T) {
	data := load(t, "v2.json")
	r := mustOpen(t, data)
	tree := func(v any) map[string]any {
		t.Helper()
		raw, err := json.Marshal(v)
		if err != nil {
			t.Fatal(err)
		}
		out, err := decodeTree(raw)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	before, after := tree(json.RawMessage(data)), tree(r)
	delete(before["sheets"].(map[string]any), "fonts") // an empty list is none
	before["version"] = json.Number(fmt.Sprint(Version))
	if before, _ = rimsApart(before); before == nil {
		t.Fatal("the bevels were lost")
	}
	before, after = tree(before), tree(after)
	if !reflect.DeepEqual(before, after) {
		t.Errorf("changed by opening and saving:\n%v\n%v", before, after)
	}
	depth := 3.0
	next, err := Change{Edits: []Edit{
		&EditParts{Parts: map[string]PartPatch{"p1": {MeasuresPatch: MeasuresPatch{Depth: &depth}}}},
		&DropSheet{Slot: 1},
		&EditShapes{Shapes: map[string]ShapePatch{"post": {Name: new(string)}}},
	}}.Apply(r, nil)
	if err != nil {
		t.Fatal(err)
	}
	saved, _ := json.Marshal(next)
	for _, kept := range []string{
		`"grain":"fine"`,
		`"layers":["Glass"]`,
		`"wind":"north-west"`,
		`"leaning":"front"`,
		`"big":12345678901234567890`,
		`"order":["post","lamp"]`,
	} {
		if !strings.Contains(string(saved), kept) {
			t.Errorf("%s was lost: %s", kept, saved)
		}
	}
	// What it belonged to is gone, and so is the field.
	for _, gone := range []string{`"hash"`, `"weight"`} {
		if strings.Contains(string(saved), gone) {
			t.Errorf("%s came back: %s", gone, saved)
		}
	}
}

// TestReliefsKeepTheirStep opens documents in which a relief was a step in the order of painting.
func TestReliefsKeepTheirStep(t *testing.T) {
	for doc, want := range map[string]Relief{
		`{"version":4,"parts":{"relief":1.2}}`:         {Step: 1.2},
		`{"version":4,"parts":{"relief":-0.5}}`:        {Step: -0.5},
		`{"version":4,"parts":{"relief":0}}`:           {},
		`{"version":4,"parts":{}}`:                     {},
		`{"version":5,"parts":{"relief":{"total":3}}}`: {Total: 3},
	} {
		if r, err := Open([]byte(doc)); err != nil || r.Parts.Relief != want {
			t.Errorf("%s: %+v, %v", doc, r.Parts.Relief, err)
		}
	}
}

// TestNewerDocumentsAreRefused holds that nothing of them is taken.
func TestNewerDocumentsAreRefused(t *testing.T) {
	for _, doc := range []string{`{"version":6,"name":"x"}`, `{"name":"x","recipe":{"version":9}}`} {
		if _, err := Open([]byte(doc)); !errors.Is(err, ErrNewer) ||
			!strings.Contains(err.Error(), "this one knows 5") {
			t.Errorf("%s: %v", doc, err)
		}
	}
}

// TestParseNamesWhatIsWrong gives documents as people write them.
func TestParseNamesWhatIsWrong(t *testing.T) {
	for doc, want := range map[string]string{
		`[`:                                                      "not readable",
		`null`:                                                   "it is empty",
		`{"version":"two"}`:                                      "is none",
		`{"version":0}`:                                          "is none",
		`{"size":{"by":"width","mm":0}}`:                         "The width must be between 0.1 and 100000 mm",
		`{"size":{"by":"height","mm":1e9}}`:                      "The height must be between 0.1 and 100000 mm",
		`{"size":{"by":"breadth","mm":5}}`:                       "width, height or distance",
		`{"tolerance":0}`:                                        "The tolerance must be between 0.0005 and 10 mm",
		`{"overlap":"melt"}`:                                     "The overlap can be cut",
		`{"default":{"depth":-1}}`:                               "The depth must be between 0.01 and 100000 mm",
		`{"default":{"segments":99}}`:                            "must be between 1 and 32",
		`{"default":{"segments":0}}`:                             "must be between 1 and 32",
		`{"default":{"profile":"spiky"}}`:                        `The profile can be chamfer, round, cove`,
		`{"default":{"back":"hollow"}}`:                          "flat or bevelled",
		`{"default":{"front":{"width":-0.1}}}`:                   "The bevel's width",
		`{"default":{"depht":3}}`:                                `"parts.default.depht" that is not known`,
		`{"version":2,"size":{"by":"width","mm":9,"x":1}}`:       `"size.x" that is not known`,
		`{"version":2,"colour":"red"}`:                           `"colour" that is not known`,
		`{"version":2,"size":{"mm":"wide"}}`:                     `"size.mm" can't be a string`,
		`{"version":2,"parts":{"list":[{"id":"a"},{"id":"a"}]}}`: "share the id",
		`{"version":2,"parts":{"list":[{"id":""}]}}`:             "share the id",
		`{"version":2,"parts":{"list":[{"id":"a","takes":{"colors":["red"]}}]}}`:                                               "taken by two parts, or is none",
		`{"version":2,"parts":{"list":[{"id":"a","takes":{"colors":["#112233"]}},{"id":"b","takes":{"colors":["#112233"]}}]}}`: "taken by two parts",
		`{"version":2,"sheets":{"list":[{"slot":1},{"slot":1}]}}`:                                                              "share the slot 1",
		`{"version":2,"sheets":{"list":[{"slot":0}]}}`:                                                                         "share the slot 0",
		`{"version":2,"sheets":{"list":[{"slot":1,"page":-2}]}}`:                                                               "The page must be between",
		`{"version":2,"intake":{"shapes":{"a":{"color":"red"}}}}`:                                                              "is not a colour; write it like #a9492b",
		`{"version":2,"intake":{"newGroups":[{"key":"","name":"x"}]}}`:                                                         "needs a short key",
		`{"version":2,"intake":{"groupNames":{"g1":"a\nb"}}}`:                                                                  "line breaks",
		`{"version":2,"name":"` + strings.Repeat("x", 121) + `"}`:                                                              "at most 120 letters",
	} {
		if _, err := Parse([]byte(doc)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s:\n got %v\nwant %s", doc, err, want)
		}
	}
}

// FuzzOpen holds that no document breaks the reader, and that what opens can be
// saved and opened again with the same result.
func FuzzOpen(f *testing.F) {
	for _, name := range []string{"v1/piece.json", "v1/first-days.json", "v1/bare.json", "v2.json"} {
		data, err := os.ReadFile(filepath.Join("testdata", name))
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		r, err := Open(data)
		if err != nil {
			return
		}
		saved, err := json.Marshal(r)
		if err != nil {
			t.Fatal(err)
		}
		again, err := Open(saved)
		if err != nil {
			t.Fatalf("what was saved does not open: %v\n%s", err, saved)
		}
		twice, _ := json.Marshal(again)
		if string(twice) != string(saved) {
			t.Errorf("saved twice, it differs:\n%s\n%s", saved, twice)
		}
	})
}

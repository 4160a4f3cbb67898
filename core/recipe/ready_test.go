package recipe

import (
	"errors"
	"strings"
	"testing"
)

// TestReadyRecipesAreWhole writes each as a document, opens it again and finds it the same;
// names are different.
func TestReadyRecipesAreWhole(t *testing.T) {
	seen := map[string]bool{}
	for _, n := range Ready() {
		if seen[n.Name] {
			t.Errorf("two are called %s", n.Name)
		}
		seen[n.Name] = true
		doc, err := n.Document()
		if err != nil {
			t.Fatalf("%s: %v", n.Name, err)
		}
		again, err := OpenNamed(doc)
		if err != nil {
			t.Fatalf("%s: %v", n.Name, err)
		}
		if again.Ready = true; !again.How.Equal(n.How) || again.Tube != n.Tube || again.Relief != n.Relief || again.Clearance != n.Clearance {
			t.Errorf("%s became %+v", n.Name, again)
		}
		if _, err := Parse(doc); err != nil {
			t.Errorf("%s as a recipe of the command line: %v", n.Name, err)
		}
	}
}

// TestForeignRecipesAreRefused words what is wrong, and takes the whole of older ones.
func TestForeignRecipesAreRefused(t *testing.T) {
	for doc, want := range map[string]string{
		`{"version":9,"name":"x"}`:                                  "newer Bildhauer",
		`{"version":4,"parts":{}}`:                                  "no name",
		`{"version":4,"name":"x","parts":{"default":{"depth":-1}}}`: "The depth",
		`{"version":4,"name":"x","parts":{"default":{"front":{"profile":"custom","width":1}}}}`: "needs its points",
		`pot`: "not readable",
	} {
		if _, err := OpenNamed([]byte(doc)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", doc, err, want)
		}
		if _, err := OpenNamed([]byte(doc)); strings.Contains(want, "newer") && !errors.Is(err, ErrNewer) {
			t.Errorf("%s: %v", doc, err)
		}
	}
	old, err := OpenNamed([]byte(`{"version":3,"name":"Old","parts":{"default":{"depth":3,"bevelWidth":0.5,"bevelHeight":0.4,
		"profile":"chamfer","segments":1,"back":"bevel"}}}`))
	if err != nil || old.How.Depth != 3 || old.How.Back.Height != 0.4 {
		t.Errorf("%+v %v", old, err)
	}
}

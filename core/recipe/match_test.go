package recipe

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
)

func drawing(t *testing.T, body string) *artwork.Sheet {
	t.Helper()
	s, err := read.Sheet("a.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400">`+body+`</svg>`))
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// TestMatchOfChangedFiles changes a file in the ways that clients do and holds
// which shapes are kept.
func TestMatchOfChangedFiles(t *testing.T) {
	const a = `<g id="sails"><rect id="main" x="10" y="10" width="50" height="80" fill="#336699"/><rect x="70" y="10" width="30" height="80" fill="#a33333"/></g><circle cx="200" cy="200" r="30"/><path d="M300 300h50v50z" stroke="#000" fill="none"/>`
	for _, c := range []struct {
		name, after       string
		kept, fresh, gone int
		changed           int
	}{
		{"nothing", a, 4, 0, 0, 0},
		{"a new order", `<path d="M300 300h50v50z" stroke="#000" fill="none"/><circle cx="200" cy="200" r="30"/><g id="sails"><rect x="70" y="10" width="30" height="80" fill="#a33333"/><rect id="main" x="10" y="10" width="50" height="80" fill="#336699"/></g>`, 4, 0, 0, 0},
		{"a colour, by its id", strings.Replace(a, "#336699", "#00ff00", 1), 4, 0, 0, 1},
		{"a move, by its form", strings.Replace(a, `cx="200"`, `cx="212"`, 1), 4, 0, 0, 1},
		{"one more in front", `<rect x="350" y="5" width="9" height="9"/>` + a, 4, 1, 0, 0},
		{"one less", strings.Replace(a, `<circle cx="200" cy="200" r="30"/>`, "", 1), 3, 0, 1, 0},
		{"another drawing", `<ellipse cx="390" cy="20" rx="3" ry="2"/>`, 0, 1, 4, 0},
	} {
		old, new := drawing(t, a), drawing(t, c.after)
		m := Match(old, new)
		if len(m.Shapes) != c.kept || len(m.New) != c.fresh || len(m.Gone) != c.gone || len(m.Changed) != c.changed {
			t.Errorf("%s: kept %d, new %d, gone %d, changed %d", c.name, len(m.Shapes), len(m.New), len(m.Gone), len(m.Changed))
		}
		seen := map[string]bool{}
		for _, k := range m.Shapes {
			if seen[k] {
				t.Errorf("%s: %s was matched twice", c.name, k)
			}
			seen[k] = true
		}
	}
	// However the shapes are shuffled and nudged, each finds itself.
	r := rand.New(rand.NewPCG(3, 4))
	var one, two []string
	place := r.Perm(30)
	for i := range 30 {
		x, y := 20+60*(i%6), 20+70*(i/6)
		one = append(one, fmt.Sprintf(`<circle cx="%d" cy="%d" r="%d" fill="#%02x6699"/>`, x, y, 6+i%5, 8*i))
		two = append(two, fmt.Sprintf(`<circle cx="%.1f" cy="%.1f" r="%d" fill="#%02x6699"/>`, float64(x)+r.Float64()*8, float64(y)+r.Float64()*8, 6+i%5, 8*i))
	}
	shuffled := make([]string, len(two))
	for i, p := range place {
		shuffled[p] = two[i]
	}
	old, new := drawing(t, strings.Join(one, "")), drawing(t, strings.Join(shuffled, ""))
	m := Match(old, new)
	at := map[string]int{}
	for i := range new.Shapes {
		at[new.Shapes[i].Key] = i
	}
	for i := range old.Shapes {
		if j, ok := at[m.Shapes[old.Shapes[i].Key]]; !ok || new.Shapes[j].Color != old.Shapes[i].Color {
			t.Errorf("circle %d was not found again", i)
		}
	}
}

// TestEditsAndJoins renames, recolours and regroups without touching the
// sheet, puts sheets together, and moves decisions to other keys.
func TestEditsAndJoins(t *testing.T) {
	s := drawing(t, `<g id="sails"><rect id="main" width="50" height="80" fill="#336699"/></g><g id="hull"><rect id="keel" y="90" width="50" height="8"/></g>`)
	r := New()
	r.Edits = map[string]Edit{"main": {Name: "Mainsail", Color: "#a33333", Group: "g1"}, "keel": {Group: "new1"}}
	r.GroupNames = map[string]string{"g1": "Hull and deck"}
	r.NewGroups = []NewGroup{{"new1", "Below water"}}
	if err := r.Check(); err != nil {
		t.Fatal(err)
	}
	e := r.Edited(s)
	if sh := e.Shapes[0]; sh.Name != "Mainsail" || sh.Color.Hex() != "#a33333" || e.Path(sh.Group) != "Hull and deck" || e.Path(e.Shapes[1].Group) != "Below water" {
		t.Errorf("edited: %+v in %q", sh.Color, e.Path(sh.Group))
	}
	if s.Shapes[0].Name != "main" || s.Groups[1].Name != "hull" {
		t.Error("the sheet itself changed")
	}
	j := artwork.Join([]artwork.Placed{{Sheet: s}, {Sheet: s, Prefix: "2:", Beside: true}})
	if len(j.Shapes) != 4 || j.Shapes[2].Key != "2:main" || j.Page.W() <= 2*s.Page.W() || j.Shapes[2].Box().Min.X <= s.Page.Max.X || j.Path(j.Shapes[3].Group) != "a.svg / hull" {
		t.Errorf("joined: %d shapes, %v", len(j.Shapes), j.Page)
	}
	r.Choice = map[string]bool{"main": false, "2:main": false, "lost": true}
	moved := r.Rekeyed(map[string]string{"main": "topsail"}, map[string]string{"g1": "g0"}, func(k string) bool { return strings.HasPrefix(k, "2:") })
	if fmt.Sprint(moved.Choice) != "map[2:main:false topsail:false]" || moved.Edits["topsail"].Group != "g0" || moved.GroupNames["g0"] != "Hull and deck" || len(moved.Edits) != 1 {
		t.Errorf("moved: %v %v %v", moved.Choice, moved.Edits, moved.GroupNames)
	}
	for name, bad := range map[string]Recipe{"colour": {Edits: map[string]Edit{"a": {Color: "red"}}}, "name": {GroupNames: map[string]string{"a": strings.Repeat("x", 300)}}} {
		b := New()
		b.Edits, b.GroupNames = bad.Edits, bad.GroupNames
		if b.Check() == nil {
			t.Errorf("a wrong %s was accepted", name)
		}
	}
}

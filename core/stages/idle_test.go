package stages

import (
	"math"
	"strings"
	"testing"

	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
)

// TestIdleMeasures holds, for each role and each measure, that what is said to change nothing changes
// nothing, and that what is not said does: by the volume of the piece, fused.
func TestIdleMeasures(t *testing.T) {
	const doc = `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40" viewBox="0 0 60 40">` +
		`<rect width="60" height="40" fill="#204060"/>` +
		`<path d="M15 12H42V32" fill="none" stroke="#d04020" stroke-width="8" stroke-linejoin="round"/></svg>`
	bevel := recipe.Rim{Width: 3, Height: 2.5, Profile: recipe.Chamfer, Segments: 1}
	volume := func(kind string, how recipe.Measures) (float64, []string) {
		s, err := read.Sheet("two.svg", []byte(doc))
		if err != nil {
			t.Fatal(err)
		}
		r := recipe.New()
		r.Parts.Default = recipe.Measures{Depth: 6, Front: recipe.Rim{Profile: recipe.Chamfer, Segments: 1}, Back: recipe.Rim{Profile: recipe.Chamfer, Segments: 1}}
		role := recipe.Role{Kind: kind}
		if role.OnOther() {
			role.On = "c204060"
		}
		r.Parts.List = []recipe.Part{{ID: "cd04020", Takes: recipe.Rule{Colors: []string{"#d04020"}}, Role: role, How: &how}}
		p, err := regionsOf(s, &r)
		if err != nil {
			t.Fatal(err)
		}
		line, list := lineOf(&r), Arrangement(p, &r.Parts)
		m, err := line.Fused(t.Context(), p, list, raise.Plain)
		if err != nil {
			t.Fatal(err)
		}
		rep, err := line.Check(t.Context(), m, false)
		if err != nil {
			t.Fatal(err)
		}
		var said []string
		for i := range list {
			said = append(said, list[i].idle(&r.Parts, p, Names(&r, p))...)
		}
		lo, hi := m.Value.Mesh.Box()
		return rep.VolumeMM3 + 10*lo[2] + hi[2], said // where it lies counts, too
	}
	// A round tube has no bevel in front, and no recess that goes all the way has one.
	for _, c := range []struct {
		role recipe.Role
		bare bool
		want string
	}{
		{recipe.Role{Kind: recipe.AsTube}, false, "on a round tube the bevel in front changes nothing"},
		{recipe.Role{Kind: recipe.AsTube}, true, ""},
		{recipe.Role{Kind: recipe.Recess}, false, ""},
		{recipe.Role{Kind: recipe.Recess, Through: true}, false, "on a recess that goes all the way the bevel in front changes nothing"},
	} {
		if got := strings.Join(idleOf(recipe.Measures{Front: bevel}, c.role, c.bare), "; "); got != c.want {
			t.Errorf("%+v: %q, want %q", c.role, got, c.want)
		}
	}
	base := recipe.Measures{Depth: 3, Front: bevel, Back: recipe.Rim{Profile: recipe.Chamfer, Segments: 1}}
	for _, kind := range []string{recipe.Body, recipe.Recess, recipe.Raised, recipe.Resting, recipe.AsTube} {
		plain, said := volume(kind, base)
		if kind != recipe.AsTube && len(said) > 0 {
			t.Errorf("%q: %q is said of what counts", kind, said)
		}
		for word, change := range map[string]func(m *recipe.Measures){
			"the bevel behind": func(m *recipe.Measures) { m.Back = bevel },
			"outward":          func(m *recipe.Measures) { m.Outward = true },
			"the wall":         func(m *recipe.Measures) { m.Wall = 1 },
			"mitred":           func(m *recipe.Measures) { m.Mitred = true },
			"open":             func(m *recipe.Measures) { m.OpenFront = true },
			"direction":        func(m *recipe.Measures) { m.Direction = recipe.Backward },
			"offset":           func(m *recipe.Measures) { m.Offset = 5 },
		} {
			how := base
			change(&how)
			got, said := volume(kind, how)
			idle := strings.Contains(strings.Join(said, "; "), word)
			if changed := math.Abs(got-plain) > 1; changed == idle { // the grid may be another
				t.Errorf("%q, %s: changed %v, said %q", kind, word, changed, said)
			}
		}
	}
}

package recipe

import (
	"strings"
	"testing"

	"bildhauer/core/artwork"
)

// layered is a sheet of two layers: a group within the first, shapes in each.
func layered() *artwork.Sheet {
	color := func(hex string) artwork.Color {
		c, _ := artwork.ParseHex(hex)
		return c
	}
	return &artwork.Sheet{
		Groups: []artwork.Group{
			{Key: "hull", Name: "Hull", Layer: true, Parent: -1},
			{Key: "deck", Name: "Deck", Parent: 0},
			{Key: "sails", Name: "Sails", Layer: true, Parent: -1},
		},
		Shapes: []artwork.Shape{
			{Key: "keel", Group: 0, Color: color(blue)},
			{Key: "rail", Group: 1, Color: color(red)},
			{Key: "main", Group: 2, Color: color(red)},
			{Key: "jib", Group: 2, Color: color(green)},
			{Key: "loose", Group: -1, Color: color(green)},
		},
	}
}

// whoTakes lists the part of each shape; "/" stands where its outlines are apart.
func whoTakes(p *Parts, s *artwork.Sheet) string {
	a := p.Assigner(s)
	var out []string
	for i := range s.Shapes {
		id, apart := a.Of(i, s.Shapes[i].Color.Hex())
		if apart {
			id += "/" + a.Outline(s.Shapes[i].Key, 0, id) + "/" + a.Outline(s.Shapes[i].Key, 1, id)
		}
		out = append(out, id)
	}
	return strings.Join(out, " ")
}

// TestWhoTakesAShape divides the sheet by everything, with rules of every kind on top.
func TestWhoTakesAShape(t *testing.T) {
	s := layered()
	hand := func(rule Rule) Part { return Part{ID: "p1", Takes: rule} }
	for name, c := range map[string]struct {
		by   string
		list []Part
		want string
	}{
		"by colour":          {ByColour, nil, "c336699 ca33333 ca33333 c338855 c338855"},
		"by layer":           {ByLayer, nil, "l:hull l:hull l:sails l:sails l:-"},
		"by group":           {ByGroup, nil, "g:hull g:deck g:sails g:sails g:-"},
		"by shape":           {ByShape, nil, "s:keel s:rail s:main s:jib s:loose"},
		"by outline":         {ByOutline, nil, "/o:keel#0/o:keel#1 /o:rail#0/o:rail#1 /o:main#0/o:main#1 /o:jib#0/o:jib#1 /o:loose#0/o:loose#1"},
		"a shape of its own": {ByColour, []Part{hand(Rule{Shapes: []string{"main"}})}, "c336699 ca33333 p1 c338855 c338855"},
		"a group of its own": {ByColour, []Part{hand(Rule{Groups: []string{"hull"}})}, "p1 p1 ca33333 c338855 c338855"},
		"the inner group":    {ByLayer, []Part{hand(Rule{Groups: []string{"deck"}})}, "l:hull p1 l:sails l:sails l:-"},
		"two colours":        {ByColour, []Part{hand(Rule{Colors: []string{blue, green}})}, "p1 ca33333 ca33333 p1 p1"},
		"a colour by hand":   {ByShape, []Part{hand(Rule{Colors: []string{red}})}, "s:keel p1 p1 s:jib s:loose"},
		"shapes before all": {ByColour, []Part{
			hand(Rule{Shapes: []string{"rail"}}), {ID: "p2", Takes: Rule{Groups: []string{"deck"}}},
		}, "c336699 p1 ca33333 c338855 c338855"},
		"an outline": {ByColour, []Part{hand(Rule{Outlines: []string{"main#1"}})}, "c336699 ca33333 ca33333/ca33333/p1 c338855 c338855"},
		"of another grouping": {ByLayer, []Part{
			{ID: "ca33333", Takes: Rule{Colors: []string{red}}}, {ID: "s:jib", Takes: Rule{Shapes: []string{"jib"}}},
		}, "l:hull l:hull l:sails l:sails l:-"},
		"of this grouping": {ByShape, []Part{{ID: "s:jib", Takes: Rule{Shapes: []string{"jib", "loose"}}}}, "s:keel s:rail s:main s:jib s:jib"},
	} {
		if got := whoTakes(&Parts{By: c.by, List: c.list}, s); got != c.want {
			t.Errorf("%s: %s, want %s", name, got, c.want)
		}
	}
}

// TestPartsByHand joins parts, takes shapes out of them and puts them into others; every
// shape stays in exactly one part, and measures come along.
func TestPartsByHand(t *testing.T) {
	s := layered()
	r := apply(t, New(), s, depthOf("ca33333", 3), depthOf("c338855", 4), roleOf("c338855", Role{Kind: Recess, On: "ca33333"}))
	joined := apply(t, r, s, &JoinParts{IDs: []string{"ca33333", "c336699"}})
	if got := whoTakes(&joined.Parts, s); got != "p1 p1 p1 c338855 c338855" || joined.Parts.Measures("p1").Depth != 3 {
		t.Errorf("joined: %s, %+v", got, joined.Parts)
	}
	if role := joined.Parts.RoleOf("c338855"); role.On != "p1" {
		t.Errorf("the recess is in %q", role.On)
	}
	out := apply(t, joined, s, &TakeShapes{Shapes: []string{"rail"}, From: "p1", Name: "Rail"})
	if got := whoTakes(&out.Parts, s); got != "p1 p2 p1 c338855 c338855" || out.Parts.Measures("p2").Depth != 3 || out.Parts.Find("p2").Name != "Rail" {
		t.Errorf("taken out: %s, %+v", got, out.Parts)
	}
	back := apply(t, out, s, &TakeShapes{Shapes: []string{"rail", "jib"}, From: "p2", To: "p1"})
	if got := whoTakes(&back.Parts, s); got != "p1 p1 p1 p1 c338855" {
		t.Errorf("put back: %s", got)
	}
	for want, e := range map[string]Edit{
		"would rest on each other in a circle": &EditParts{Parts: map[string]PartPatch{
			"ca33333": {Role: &Role{Kind: Resting, On: "c338855"}}, "c338855": {Role: &Role{Kind: Resting, On: "ca33333"}},
		}},
		"can't be the base of another":               roleOf("c336699", Role{Kind: Raised, On: "c338855"}),
		"this part is not in the piece any more":     &JoinParts{IDs: []string{"p9", "ca33333"}},
		"a shape of this change is not in the piece": &TakeShapes{Shapes: []string{"anchor"}, From: "ca33333"},
	} {
		if _, err := (Change{Edits: []Edit{e}}).Apply(r, s); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%T: %v, want %q", e, err, want)
		}
	}
	sorted := (&Parts{Order: []string{"c", "a"}}).Sorted([]string{"a", "b", "c", "d"})
	if got := []int{2, 0, 1, 3}; len(sorted) != 4 || sorted[0] != got[0] || sorted[1] != got[1] || sorted[2] != got[2] {
		t.Errorf("sorted %v", sorted)
	}
}

// TestDefaultsReachAllWithout changes what new parts are raised like: parts with measures
// of their own keep them, and a part that is reset follows again.
func TestDefaultsReachAllWithout(t *testing.T) {
	s := layered()
	r := apply(t, New(), s, depthOf("ca33333", 3))
	wide, open := 2.5, true
	r = apply(t, r, s, &EditParts{Parts: map[string]PartPatch{Everything: {MeasuresPatch: MeasuresPatch{
		Front: RimPatch{Width: &wide}, OpenBack: &open,
	}}}})
	if m := r.Parts.Measures("c336699"); m.Front.Width != 2.5 || !m.OpenBack {
		t.Errorf("an untouched part: %+v", m)
	}
	if m := r.Parts.Measures("ca33333"); m.Front.Width != 1 || m.Depth != 3 {
		t.Errorf("a part of its own: %+v", m)
	}
	r = apply(t, r, s, &EditParts{Parts: map[string]PartPatch{"ca33333": {Reset: true}}})
	if m := r.Parts.Measures("ca33333"); m.Front.Width != 2.5 || m.Depth != 8 || r.Parts.Find("ca33333").How != nil {
		t.Errorf("reset: %+v", m)
	}
	scaled := apply(t, r, s, &SetParts{Relief: &Relief{Step: 2}}, &SetSize{Scale: 2})
	if m := scaled.Parts.Measures("ca33333"); m.Front.Width != 5 || m.Depth != 16 || scaled.Parts.Relief.Step != 4 {
		t.Errorf("scaled: %+v, relief %g", m, scaled.Parts.Relief.Step)
	}
}

// TestBottoms tells where parts begin.
func TestBottoms(t *testing.T) {
	for direction, want := range map[string]float64{"": 2, Backward: -6, BothWays: -2} {
		m := Measures{Depth: 8, Offset: 2, Direction: direction}
		if got := m.Bottom(); got != want {
			t.Errorf("%q: %g, want %g", direction, got, want)
		}
	}
	p := Parts{Default: newMeasures(), Relief: Relief{Step: 1}}
	if d := p.Deepest(3, 3); d < 10 || p.Together("glb") || !p.Together("stl") {
		t.Errorf("deepest %g", d)
	}
	p.Clearance = 0.2
	if p.Together("stl") {
		t.Error("parts with a clearance would be fused")
	}
	p.Fused = Together
	if !p.Together("glb") {
		t.Error("parts would not leave as one though that was asked for")
	}
}

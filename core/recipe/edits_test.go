package recipe

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// sheetOf makes a sheet of shapes that are "key colour", a star for hidden ones.
func sheetOf(shapes ...string) *artwork.Sheet {
	s := &artwork.Sheet{Name: "a.svg", Page: geom.EmptyBox()}
	s.Groups = []artwork.Group{{Key: "g0", Name: "Sails", Parent: -1}}
	for _, text := range shapes {
		key, hex, _ := strings.Cut(strings.TrimSuffix(text, "*"), " ")
		c, ok := artwork.ParseHex(hex)
		if !ok {
			panic(text)
		}
		s.Shapes = append(
			s.Shapes,
			artwork.Shape{Key: key, Name: key, Group: 0, Color: c, Hidden: strings.HasSuffix(text, "*")},
		)
	}
	return s
}

func apply(t *testing.T, r Recipe, on *artwork.Sheet, edits ...Edit) Recipe {
	t.Helper()
	next, err := Change{Edits: edits}.Apply(r, on)
	if err != nil {
		t.Fatal(err)
	}
	return next
}

func ptr[T any](v T) *T { return &v }

func recolour(keys string, color string) *EditShapes {
	e := &EditShapes{Shapes: map[string]ShapePatch{}}
	for _, k := range strings.Fields(keys) {
		e.Shapes[k] = ShapePatch{Color: &color}
	}
	return e
}

func rimOf(id string, p RimPatch) *EditParts {
	return &EditParts{Parts: map[string]PartPatch{id: {MeasuresPatch: MeasuresPatch{Front: p}}}}
}

func roleOf(id string, r Role) *EditParts {
	return &EditParts{Parts: map[string]PartPatch{id: {Role: &r}}}
}

func depthOf(id string, mm float64) *EditParts {
	return &EditParts{Parts: map[string]PartPatch{id: {MeasuresPatch: MeasuresPatch{Depth: &mm}}}}
}

const (
	blue, red, green = "#336699", "#a33333", "#338855"
)

// TestPartsFollowTheirShapes recolours in all ways and holds which measures
// each colour has afterwards, and that ids stay.
func TestPartsFollowTheirShapes(t *testing.T) {
	s := sheetOf("a "+blue, "b "+blue, "c "+red, "d "+blue+"*")
	base := apply(t, New(), s, depthOf("c336699", 20), depthOf("ca33333", 30))
	for name, c := range map[string]struct {
		edits []Edit
		want  map[string]string // colour -> id and depth
	}{
		"nothing":               {nil, map[string]string{blue: "c336699 20", red: "ca33333 30"}},
		"one of three":          {[]Edit{recolour("a", green)}, map[string]string{blue: "c336699 20", green: "p1 20"}},
		"all that take part":    {[]Edit{recolour("a b", green)}, map[string]string{green: "c336699 20", blue: "p1 20"}},
		"all, hidden ones too":  {[]Edit{recolour("a b d", green)}, map[string]string{green: "c336699 20", blue: "c336699-2 8"}},
		"into another's colour": {[]Edit{recolour("a b d", red)}, map[string]string{red: "ca33333 30", blue: "c336699 20"}},
		"each its own": {
			[]Edit{recolour("a", green), recolour("b", "#010203")},
			map[string]string{green: "p1 20", "#010203": "c336699 20", blue: "p2 20"},
		},
		"two at once": {
			[]Edit{&EditShapes{Shapes: map[string]ShapePatch{"a": {Color: ptr(green)}, "b": {Color: ptr("#010203")}, "d": {Color: ptr("#010203")}}}},
			map[string]string{green: "c336699 20", "#010203": "p1 20"},
		},
		"there and back": {
			[]Edit{recolour("a b d", green), recolour("a b d", "")},
			map[string]string{blue: "c336699 20", green: "c338855 8"},
		},
		"a part without measures":        {[]Edit{recolour("c", green)}, map[string]string{green: "ca33333 30"}},
		"letter case is no other colour": {[]Edit{recolour("a", "#336699"), recolour("a", strings.ToUpper(blue))}, map[string]string{blue: "c336699 20"}},
		"to a colour of the past": {
			[]Edit{recolour("a b d", green), recolour("c", blue)},
			map[string]string{green: "c336699 20", blue: "ca33333 30"},
		},
		"untouched parts make no entries": {[]Edit{recolour("c", green), recolour("c", "")}, map[string]string{red: "ca33333 30"}},
	} {
		r := apply(t, base, s, c.edits...)
		for color, want := range c.want {
			part := r.Parts.Taking(color)
			if got := fmt.Sprint(part.ID, " ", r.Parts.Measures(part.ID).Depth); got != want {
				t.Errorf("%s: %s is taken by %s, want %s", name, color, got, want)
			}
		}
	}
	// An untouched part that moves keeps its id, too, so a selection stays.
	r := apply(t, New(), s, recolour("c", green))
	if got := r.Parts.Taking(green); got.ID != "ca33333" || got.How != nil || r.Parts.Own() {
		t.Errorf("an untouched part became %+v", got)
	}
}

// TestFollowingNeverLosesMeasures recolours at random: whatever happens, every
// shape has the measures of some part of before, and one that keeps its colour
// keeps its measures.
func TestFollowingNeverLosesMeasures(t *testing.T) {
	rnd := rand.New(rand.NewPCG(7, 11))
	colors := []string{blue, red, green, "#101010", "#202020", "#303030"}
	for round := range 400 {
		n := 2 + rnd.IntN(6)
		var shapes []string
		for i := range n {
			shapes = append(shapes, fmt.Sprintf("s%d %s", i, colors[rnd.IntN(len(colors))]))
		}
		s := sheetOf(shapes...)
		r := New()
		for i := range s.Shapes { // each colour its own depth
			r = apply(
				t,
				r,
				s,
				depthOf(r.Parts.Taking(s.Shapes[i].Color.Hex()).ID, 10+float64(s.Shapes[i].Color.R)),
			)
		}
		for range 5 {
			before := r
			e := &EditShapes{Shapes: map[string]ShapePatch{}}
			for i := range n {
				if rnd.IntN(2) == 0 {
					e.Shapes[fmt.Sprint("s", i)] = ShapePatch{Color: ptr(colors[rnd.IntN(len(colors))])}
				}
			}
			r = apply(t, r, s, e)
			depth := func(r *Recipe, i int) float64 {
				return r.Parts.Measures(r.Parts.Taking(r.Intake.ColorOf(&s.Shapes[i])).ID).Depth
			}
			depths := map[float64]bool{r.Parts.Default.Depth: true}
			for _, p := range before.Parts.List {
				depths[before.Parts.Measures(p.ID).Depth] = true
			}
			for i := range s.Shapes {
				if d := depth(&r, i); !depths[d] {
					t.Fatalf("round %d: shape %d is raised %g, which nothing was before", round, i, d)
				}
				same := before.Intake.ColorOf(&s.Shapes[i]) == r.Intake.ColorOf(&s.Shapes[i])
				if same && depth(&before, i) != depth(&r, i) {
					t.Fatalf(
						"round %d: shape %d kept its colour and went from %g to %g",
						round,
						i,
						depth(&before, i),
						depth(&r, i),
					)
				}
			}
			if err := r.Check(); err != nil {
				t.Fatalf("round %d: %v", round, err)
			}
		}
	}
}

// TestEditsLeaveTheRecipe applies each edit and holds that the recipe it was
// applied to is as before.
func TestEditsLeaveTheRecipe(t *testing.T) {
	s := sheetOf("a "+blue, "b "+red, "2:c "+green)
	r := mustOpen(t, load(t, "v2.json"))
	r = apply(
		t,
		r,
		nil,
		&AddGroup{NewGroup{"new1", "Group 1"}},
		&Choose{map[string]bool{"a": false}},
		&AddFont{Font{"f1", "x.ttf", "X"}},
		&AddMends{List: []Mend{{Do: "drop", Shapes: []string{"a"}}, {Do: "weld", Shapes: []string{"2:c"}, MM: []float64{1}}}},
		&LeaveFindings{List: []Leave{{"tip", []string{"b"}, [2]float64{1, 2}}}},
		&SetMendLimits{map[string]float64{"tip": 9}},
		&KeepFrame{Frame: Frame{"Bed", 220, 200, 5}},
	)
	before, _ := json.Marshal(r)
	twoSheets := []Edit{
		&SetName{"Other"}, &SetSize{By: ptr(Height), MM: ptr(12.0), Tolerance: ptr(0.3), Overlap: ptr(Keep)},
		&Choose{
			map[string]bool{"a": true, "b": false},
		}, recolour("a b", green), &NameGroups{map[string]string{"g0": "Jib"}},
		&AddGroup{
			NewGroup{"new2", "Group 2"},
		}, depthOf("p1", 50), &AddSheet{Sheet{File: "x"}}, &EditSheet{Slot: 3, Page: ptr(2), Beside: ptr(true)},
		&DropSheet{1}, &AddFont{Font{"f2", "y.ttf", "Y"}}, &DropFont{"f1"},
		&AddMends{List: []Mend{{Do: "drop", Shapes: []string{"b"}}}, Before: "m1"}, &EditMend{ID: "m2", MM: &[]float64{2}},
		&EditMend{ID: "m2", To: ptr(0)}, &EditMend{ID: "m1", Off: ptr(true)}, &DropMends{[]string{"m1"}},
		&LeaveFindings{List: []Leave{{"tip", []string{"b"}, [2]float64{1, 2}}}, Reopen: true},
		&LeaveFindings{List: []Leave{{"tip", []string{"b"}, [2]float64{3, 2}}}}, &SetMendLimits{map[string]float64{"tip": 15}},
		&KeepFrame{Frame: Frame{Name: "Bed"}, Drop: true}, &KeepFrame{Frame: Frame{"Bed", 100, 100, 5}},
		&SetSize{Frame: &Frame{"Sign", 300, 80, 4}, Lying: ptr(Upright), Scale: 2}, &EditSheet{Slot: 3, Shift: &[2]float64{4, 5}},
		&SetPrint{"copies": 3}, &EditSheet{Slot: 3, Trace: &Tracing{By: "colours", Colours: 3}},
		&ExchangeSheet{
			Slot:     1,
			Replaces: "aa01",
			File:     "new",
			Name:     "n.svg",
			Old:      s,
			New:      s,
			Matching: artwork.Matching{Shapes: map[string]string{"a": "a"}, Groups: map[string]string{}},
		},
	}
	for _, e := range twoSheets {
		next := apply(t, r, s, e)
		if after, _ := json.Marshal(r); string(after) != string(before) {
			t.Fatalf("%T changed the recipe it was applied to:\n%s\n%s", e, before, after)
		}
		if changed, _ := json.Marshal(next); string(changed) == string(before) {
			t.Errorf("%T changed nothing", e)
		}
	}
}

// TestEditsThatDoNotFit are refused in the words of the person.
func TestEditsThatDoNotFit(t *testing.T) {
	s := sheetOf("a "+blue, "b "+red)
	r := New()
	r.Sheets.List = []Sheet{{Slot: 1, File: "f1", Name: "a.svg"}}
	for want, e := range map[string]Edit{
		"a piece needs a name":                           &SetName{"  "},
		"this mend is not in the list any more":          &DropMends{[]string{"m7"}},
		"The sharpest tip must be between 0 and 90":      &SetMendLimits{map[string]float64{"tip": 100}},
		"there is no measure \"snow\"":                   &SetMendLimits{map[string]float64{"snow": 1}},
		"The length in a mend must be between":           &AddMends{List: []Mend{{Do: "grow", MM: []float64{math.Inf(1)}}}},
		"lies too far away":                              &AddMends{List: []Mend{{Do: "move", At: [][2]float64{{1e300, 0}}}}},
		"The length of a lettering":                      &AddMends{List: []Mend{{Do: "lettering", Text: strings.Repeat("a", 500)}}},
		"the margin of the frame leaves no room":         &KeepFrame{Frame: Frame{"Bed", 20, 20, 10}},
		"a frame needs a name":                           &KeepFrame{Frame: Frame{"", 20, 20, 1}},
		"this frame is not saved any more":               &KeepFrame{Frame: Frame{"Bed", 20, 20, 1}, Drop: true},
		"The orientation can be":                         &SetSize{Lying: ptr("askew")},
		"The stretch of the height must be":              &SetSize{Stretch: ptr(40.0)},
		"this finding is open already":                   &LeaveFindings{List: []Leave{{Kind: "tip"}}, Reopen: true},
		"The width must be between":                      &SetSize{MM: ptr(-3.0)},
		"a shape of this change is not in the piece":     &Choose{map[string]bool{"a": true, "lost": true}},
		"a shape of this change":                         recolour("lost", green),
		"a group of this change":                         &NameGroups{map[string]string{"g9": "x"}},
		"this part is not in the piece any more":         depthOf("p77", 3),
		"The depth must be between":                      depthOf("c336699", 1e300),
		"this sheet is not in the piece any more":        &EditSheet{Slot: 4},
		"a piece needs one sheet":                        &DropSheet{1},
		"this font is not in the piece any more":         &DropFont{"nope"},
		"is not a colour":                                recolour("a", "reddish"),
		"A shape's name has at most 120":                 &EditShapes{map[string]ShapePatch{"a": {Name: ptr(strings.Repeat("é", 121))}}},
		"this sheet was replaced meanwhile":              &ExchangeSheet{Slot: 1, Replaces: "other", Old: s, New: s},
		"must be between 1 and 32":                       rimOf("c336699", RimPatch{Segments: ptr(1000)}),
		"The profile can be chamfer":                     rimOf("c336699", RimPatch{Profile: ptr("wavy")}),
		"a custom profile needs its points":              rimOf("c336699", RimPatch{Profile: ptr(Custom)}),
		"point 2 of the profile lies outside its square": rimOf("c336699", RimPatch{Curve: &[]Knot{{}, {T: 2}}}),
		"on itself":                     roleOf("c336699", Role{Kind: Recess, On: "c336699"}),
		"The role can be":               roleOf("c336699", Role{Kind: "hat"}),
		"What parts are made by can be": &SetParts{By: ptr("size")},
		"The bodies can be together":    &SetParts{Fused: ptr("melted")},
		"The clearance must be":         &SetParts{Clearance: ptr(-1.0)},
		"it takes two parts":            &JoinParts{IDs: []string{"c336699"}},
		"no shape was chosen":           &TakeShapes{From: "c336699"},
	} {
		if _, err := (Change{Edits: []Edit{e}}).Apply(r, s); err == nil ||
			!strings.Contains(err.Error(), want) {
			t.Errorf("%T: %v, want %q", e, err, want)
		}
	}
	many := r
	for range int(terms.Of("sheets").Max) - 1 {
		many = apply(t, many, nil, &AddSheet{Sheet{File: "x"}})
	}
	if _, err := (Change{Edits: []Edit{&AddSheet{Sheet{File: "x"}}}}).Apply(many, nil); err == nil ||
		!strings.Contains(err.Error(), "at most 40 sheets") {
		t.Errorf("41 sheets: %v", err)
	}
	slots := map[int]bool{}
	for _, sh := range many.Sheets.List {
		slots[sh.Slot] = true
	}
	if len(slots) != 40 {
		t.Errorf("%d slots for 40 sheets", len(slots))
	}
}

// TestParseEdits reads each kind as the page sends it.
func TestParseEdits(t *testing.T) {
	list, err := ParseEdits(
		[]byte(
			`[{"kind":"name","name":"Pier"},{"kind":"size","by":"height","mm":20},{"kind":"choose","choice":{"a":true}},
		{"kind":"shapes","shapes":{"a":{"color":"#010203","name":""}}},{"kind":"groupNames","names":{"g0":"x"}},
		{"kind":"newGroup","key":"new1","name":"Group 1"},
		{"kind":"parts","parts":{"c336699":{"depth":3,"out":true}}},{"kind":"sheet","slot":1,"page":2},
		{"kind":"dropSheet","slot":2},{"kind":"dropFont","file":"f"},
		{"kind":"mends","list":[{"do":"drop","shapes":["a"]}]},{"kind":"mend","id":"m1","off":true},{"kind":"dropMends","ids":["m1"]},
		{"kind":"leave","list":[{"kind":"tip","shapes":["a"],"at":[1,2]}]},{"kind":"mendLimits","limits":{"tip":9}},
		{"kind":"allParts","relief":{"step":1}},{"kind":"joinParts","ids":["a","b"]},{"kind":"takeShapes","from":"c336699","shapes":["a"]},
		{"kind":"scene","setting":"from above"},{"kind":"paint","parts":["c336699"],"material":{"rough":0.3}},
		{"kind":"takeScene","scene":{"exposure":1}},
		{"kind":"key","of":"piece","what":"turn","key":{"frame":3,"value":9}},{"kind":"moveKeys","by":3},{"kind":"easeKeys","ease":"even"},
		{"kind":"path","path":{"of":"camera","points":[{"at":[0,0,9]},{"at":[9,0,0]}]}},{"kind":"dropKeys"},{"kind":"retime","rate":50},{"kind":"print","layer":0.1},
		{"kind":"frame","frame":{"name":"Bed","width":220,"height":220,"margin":5}}]`,
		),
	)
	if err != nil || len(list) != len(kinds) {
		t.Fatalf("%d edits, %v", len(list), err)
	}
	seen := map[reflect.Type]bool{}
	for _, e := range list {
		seen[reflect.TypeOf(e)] = true
	}
	if len(seen) != len(kinds) {
		t.Errorf("%d kinds of %d", len(seen), len(kinds))
	}
	if g := list[5].(*AddGroup); g.Key != "new1" || g.Name != "Group 1" {
		t.Errorf("group %+v", g)
	}
	if p := list[6].(*EditParts).Parts["c336699"]; *p.Depth != 3 || !*p.Out || p.Name != nil {
		t.Errorf("patch %+v", p)
	}
	for _, bad := range []string{``, `{}`, `[1]`, `[{"kind":"melt"}]`, `[{"kind":"parts","parts":{"a":{"depth":"deep"}}}]`, `[{"name":"x"}]`} {
		if _, err := ParseEdits([]byte(bad)); err == nil {
			t.Errorf("%s was read", bad)
		}
	}
}

// TestExchangeKeepsDecisions moves them with the shapes they are about, in the
// slot that is exchanged and in no other.
func TestExchangeKeepsDecisions(t *testing.T) {
	old := sheetOf("main "+blue, "jib "+blue, "keel "+red)
	fresh := sheetOf("top "+green, "jib "+green, "mast "+red)
	r := New()
	r.Sheets.List = []Sheet{{Slot: 1, File: "f1"}, {Slot: 2, File: "f2", Page: 4}}
	r = apply(
		t,
		r,
		nil,
		depthOf("c336699", 20),
		&Choose{map[string]bool{"main": false, "2:main": false, "2:keel": true}},
		&EditShapes{
			map[string]ShapePatch{
				"2:main": {Name: ptr("Mainsail"), Group: ptr("2:g0")},
				"main":   {Name: ptr("First")},
			},
		},
		&NameGroups{map[string]string{"2:g0": "Rig", "2:sheet": "Boat", "g0": "Land"}},
		&AddMends{List: []Mend{{Do: "drop", Shapes: []string{"2:main", "2:keel", "main", MendKey("m1", 0)}}}},
	)
	m := artwork.Matching{
		Shapes: map[string]string{"main": "top", "jib": "jib"},
		Groups: map[string]string{"g0": "g0"},
	}
	next := apply(
		t,
		r,
		nil,
		&ExchangeSheet{
			Slot:     2,
			Replaces: "f2",
			File:     "f3",
			Name:     "boat-2.svg",
			Page:     1,
			Old:      old,
			New:      fresh,
			Matching: m,
		},
	)
	if want := (map[string]bool{"main": false, "2:top": false}); !reflect.DeepEqual(
		next.Intake.Choice,
		want,
	) {
		t.Errorf("choice %v", next.Intake.Choice)
	}
	if e := next.Intake.Shapes["2:top"]; e.Name != "Mainsail" || e.Group != "2:g0" ||
		next.Intake.Shapes["main"].Name != "First" {
		t.Errorf("edits %v", next.Intake.Shapes)
	}
	if want := (map[string]string{"2:g0": "Rig", "2:sheet": "Boat", "g0": "Land"}); !reflect.DeepEqual(
		next.Intake.GroupNames,
		want,
	) {
		t.Errorf("names %v", next.Intake.GroupNames)
	}
	if got := next.Mends.List[0].Shapes; !slices.Equal(got, []string{"2:top", "gone:2:keel", "main", MendKey("m1", 0)}) {
		t.Errorf("mends name %v", got)
	}
	if again := apply(t, next, nil, &ExchangeSheet{
		Slot: 2, Replaces: "f3", File: "f4", Old: fresh, New: old, Matching: artwork.Matching{Shapes: map[string]string{"top": "main"}},
	}); !slices.Equal(again.Mends.List[0].Shapes, []string{"2:main", "gone:2:keel", "main", MendKey("m1", 0)}) {
		t.Errorf("after the second exchange: %v", again.Mends.List[0].Shapes)
	}
	if s := next.Sheets.List[1]; s.File != "f3" || s.Page != 1 || s.Slot != 2 {
		t.Errorf("sheet %+v", s)
	}
	if p := next.Parts.Taking(green); p.ID != "c336699" || next.Parts.Measures(p.ID).Depth != 20 {
		t.Errorf("the measures did not follow the sails to their new colour: %+v", p)
	}
}

// TestKeysOfSlots holds that no two shapes of different slots share a key, and
// that the slot can be told from each.
func TestKeysOfSlots(t *testing.T) {
	own := []string{"lamp", "2:lamp", "1:lamp", "1:2:lamp", "12", "12:", ":x", "7:7:", "", "a:1"}
	seen := map[string]string{}
	for slot := 1; slot <= 12; slot++ {
		for _, k := range own {
			j := artwork.JoinedKey(slot, k)
			from := fmt.Sprint(slot, " ", k)
			if other, ok := seen[j]; ok {
				t.Errorf("%q and %q share the key %q", from, other, j)
			}
			seen[j] = from
			if artwork.SlotOf(j) != slot {
				t.Errorf("%q: slot %d", from, artwork.SlotOf(j))
			}
		}
	}
	if artwork.JoinedKey(1, "lamp") != "lamp" {
		t.Error("plain keys of the first sheet stay as they are")
	}
}

// TestIncluded lets hidden shapes start left out, and a choice win.
func TestIncluded(t *testing.T) {
	s := sheetOf("a "+blue, "b "+red+"*")
	in := Intake{}
	if !in.Included(s, 0) || in.Included(s, 1) {
		t.Error("the rule")
	}
	in.Choice = map[string]bool{"a": false, "b": true}
	if in.Included(s, 0) || !in.Included(s, 1) {
		t.Error("the choice")
	}
}

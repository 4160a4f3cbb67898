package stages

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"sync"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// inputs lists the input struct of every stage.
var inputs = []any{
	FontInput{}, ReadInput{}, JoinInput{}, BeginInput{}, MendInput{}, FindInput{}, SeeInput{}, ShadesInput{}, GatherInput{}, ChooseInput{}, SizeInput{},
	RegionsInput{}, PlanInput{}, BodyInput{}, LimbInput{}, DetailInput{}, Fewer{}, SolidInput{}, FuseInput{}, CheckInput{},
	PictureInput{}, Shown{}, ShownBody{}, ShownOwner{}, Drawn{}, Page{}, PanoramaInput{}, ShapeInput{}, AmbienceInput{}, SampleInput{}, BeddingInput{}, LayersInput{}, LayersOwner{}, StandsInput{}, PrintInput{}, RehearsalInput{}, WritingInput{}, FullnessInput{}, BecomingInput{}, CommonInput{},
}

// TestEveryFieldIsInTheKey walks the fields of every input struct and holds that
// a change of any of them changes the key.
func TestEveryFieldIsInTheKey(t *testing.T) {
	for _, in := range inputs {
		typ := reflect.TypeOf(in)
		base := hashOf("stage", in)
		for i := range typ.NumField() {
			f := typ.Field(i)
			if !f.IsExported() || f.Tag.Get("json") != "" {
				t.Errorf("%s.%s would not be hashed", typ, f.Name)
			}
			v := reflect.New(typ).Elem()
			other(t, v.Field(i))
			if hashOf("stage", v.Interface()) == base {
				t.Errorf("%s.%s is not in the key", typ, f.Name)
			}
		}
		if hashOf("other stage", in) == base {
			t.Errorf("%s: two stages share a key", typ)
		}
	}
}

// other gives a field a value that it did not have.
func other(t *testing.T, v reflect.Value) {
	t.Helper()
	if key := v.FieldByName; v.Kind() == reflect.Struct && key("Key").IsValid() {
		v.FieldByName("Key").SetString("another")
		return
	}
	switch v.Kind() {
	case reflect.String:
		v.SetString("another")
	case reflect.Int:
		v.SetInt(7)
	case reflect.Uint8:
		v.SetUint(2)
	case reflect.Float64:
		v.SetFloat(0.7)
	case reflect.Bool:
		v.SetBool(true)
	case reflect.Array:
		other(t, v.Index(0))
	case reflect.Map:
		v.Set(reflect.MakeMap(v.Type()))
		v.SetMapIndex(reflect.ValueOf("a"), reflect.Zero(v.Type().Elem()))
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 1, 1))
	case reflect.Struct:
		other(t, v.Field(0))
	default:
		t.Fatalf("a field of kind %s", v.Kind())
	}
}

// recorder keeps everything and remembers which stages ran.
type recorder struct {
	mu   sync.Mutex
	kept map[Key]any
	ran  []string
}

func (r *recorder) Keep(ctx context.Context, t Task) (any, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if v, ok := r.kept[t.Key]; ok {
		return v, nil
	}
	v, bytes, err := t.Run(ctx)
	if err != nil {
		return nil, err
	}
	if bytes <= 0 {
		return nil, fmt.Errorf("%s: a result of %d bytes", t.Stage, bytes)
	}
	r.kept[t.Key] = v
	r.ran = append(r.ran, t.Stage)
	return v, nil
}

// took returns which stages ran since the last call, each once.
func (r *recorder) took() string {
	names := map[string]int{}
	for _, n := range r.ran {
		names[n]++
	}
	r.ran = nil
	out := slices.Sorted(maps.Keys(names))
	for i, n := range out {
		if names[n] > 1 {
			out[i] = fmt.Sprint(n, " ", names[n])
		}
	}
	return strings.Join(out, ", ")
}

const twoSigns = `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="20">
	<g id="left"><rect id="a" width="20" height="20" fill="#336699"/><circle id="hole" cx="10" cy="10" r="4" fill="#a33333"/></g>
	<rect id="b" x="40" width="20" height="20" fill="#338855"/><path id="hid" display="none" d="M22 2h9v9z" fill="#338855"/></svg>`

func files(data map[string]string) func(string) Source {
	return func(id string) Source {
		return Source{ID: id, Load: func() ([]byte, error) { return []byte(data[id]), nil }}
	}
}

// TestWhatAChangeCosts makes one change after the other and holds exactly which
// stages run anew.
func TestWhatAChangeCosts(t *testing.T) {
	rec := &recorder{kept: map[Key]any{}}
	r := recipe.New()
	r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f1", Name: "two.svg"}}
	data := map[string]string{"f1": twoSigns, "f2": strings.Replace(twoSigns, `r="4"`, `r="3"`, 1)}
	keys := map[string]Key{}
	build := func() {
		t.Helper()
		line := &Line{Keep: rec, Recipe: &r, Open: files(data)}
		regions, err := line.Regions(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		for _, b := range Arrangement(regions.Value, &r.Parts) {
			id := regions.Value.Parts[b.Index].ID
			solid, err := line.Body(t.Context(), regions.Value, &b, raise.Shaded)
			if err != nil {
				t.Fatal(err)
			}
			keys[id] = solid.Key
			if told := line.BodyKey(regions.Value, &b); told != solid.Key {
				t.Errorf("the key of %s was said to be %s and is %s", id, told, solid.Key)
			}
			if _, err := line.Check(t.Context(), solid, false); err != nil {
				t.Fatal(err)
			}
		}
	}
	on := func() *artwork.Sheet {
		j, err := (&Line{Keep: rec, Recipe: &r, Open: files(data)}).Joined(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return j.Value.Sheet
	}
	build()
	const all = "check 3, choose, join, plan 3, read, regions, size, solid 3"
	if got := rec.took(); got != all {
		t.Errorf("at first: %s", got)
	}
	partOf := func(id string) func(patch recipe.PartPatch) recipe.Edit {
		return func(patch recipe.PartPatch) recipe.Edit {
			return &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: patch}}
		}
	}
	part, red := partOf("c336699"), partOf("ca33333")
	how := func(m recipe.MeasuresPatch) recipe.Edit { return part(recipe.PartPatch{MeasuresPatch: m}) }
	front := func(r recipe.RimPatch) recipe.Edit { return how(recipe.MeasuresPatch{Front: r}) }
	shape := func(key string, p recipe.ShapePatch) recipe.Edit {
		return &recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{key: p}}
	}
	for _, c := range []struct {
		name string
		edit recipe.Edit
		want string
	}{
		{"a name of the piece", &recipe.SetName{Name: "Signs"}, ""},
		{"a depth", how(recipe.MeasuresPatch{Depth: ptr(9.0)}), "check, solid"},
		{"a bevel's height", front(recipe.RimPatch{Height: ptr(2.0)}), "check, solid"},
		{"a back", how(recipe.MeasuresPatch{Back: recipe.RimPatch{Width: ptr(1.0), Height: ptr(1.0)}}), "check, plan, solid"},
		{"its height", how(recipe.MeasuresPatch{Back: recipe.RimPatch{Height: ptr(0.5)}}), "check, solid"},
		{"a direction", how(recipe.MeasuresPatch{Direction: ptr(recipe.Backward)}), "check, solid"},
		{"an offset", how(recipe.MeasuresPatch{Offset: ptr(3.0)}), "check, solid"},
		{"an open front", how(recipe.MeasuresPatch{OpenFront: ptr(true)}), "check, solid"},
		{"a recess", red(recipe.PartPatch{Role: &recipe.Role{Kind: recipe.Recess, On: "c336699"}}), "check, plan, regions, solid"},
		{"its depth", red(recipe.PartPatch{MeasuresPatch: recipe.MeasuresPatch{Depth: ptr(2.0)}}), "check, solid"},
		{"no recess any more", &recipe.EditParts{Parts: map[string]recipe.PartPatch{"ca33333": {Role: &recipe.Role{}, Reset: true}}}, ""},
		{"a relief", &recipe.SetParts{Relief: &recipe.Relief{Step: 1}}, "check, regions, solid"},
		{"no relief", &recipe.SetParts{Relief: &recipe.Relief{}}, ""},
		{"fewer triangles", &recipe.SetParts{Simplify: ptr(0.01)}, "check 3, solid 3"},
		{"all of them", &recipe.SetParts{Simplify: ptr(0.0)}, ""},
		{"a crease", &recipe.SetParts{Crease: ptr(50.0)}, "check 3, solid 3"},
		{"the usual crease", &recipe.SetParts{Crease: ptr(30.0)}, ""},
		{"caps without a spacing", &recipe.SetParts{Caps: ptr(recipe.EvenCaps)}, ""},
		{"caps with points", &recipe.SetParts{Spacing: ptr(3.0)}, "check 3, plan 3, solid 3"},
		{"plain caps", &recipe.SetParts{Caps: ptr("")}, ""},
		{"a bevel's width", front(recipe.RimPatch{Width: ptr(2.0)}), "check, plan, solid"},
		{"segments of a round", front(recipe.RimPatch{Segments: ptr(6)}), "check, plan, solid"},
		{"a profile", front(recipe.RimPatch{Profile: ptr(recipe.Chamfer)}), "check, plan, solid"},
		{"segments of a chamfer", front(recipe.RimPatch{Segments: ptr(3)}), ""},
		{"a part's name", part(recipe.PartPatch{Name: ptr("Plate")}), ""},
		{"a part left out", part(recipe.PartPatch{Out: ptr(true)}), ""},
		{"taken in again", part(recipe.PartPatch{Out: ptr(false)}), ""},
		{"a shape's name", shape("a", recipe.ShapePatch{Name: ptr("Plate")}), ""},
		{"a shape's group", shape("a", recipe.ShapePatch{Group: ptr("g0")}), ""},
		{"a group's name", &recipe.NameGroups{Names: map[string]string{"g0": "Left"}}, ""},
		{"a choice as the rule has it", &recipe.Choose{Choice: map[string]bool{"a": true, "hid": false}}, ""},
		{"a colour of the file", shape("a", recipe.ShapePatch{Color: ptr("#336699")}), ""},
		// The others' outlines stay as they are, to the bit.
		{"another colour", shape("b", recipe.ShapePatch{Color: ptr("#aabb00")}), "choose, regions, size"},
		{"a hole left out", &recipe.Choose{Choice: map[string]bool{"hole": false}}, "check, choose, plan, regions, size, solid"},
		{"overlaps kept", &recipe.SetSize{Overlap: ptr(recipe.Keep)}, "regions"},
		{"a size", &recipe.SetSize{MM: ptr(90.0)}, "check 2, plan 2, regions, size, solid 2"},
		{"a coarser grid for a great depth", how(recipe.MeasuresPatch{Depth: ptr(900.0)}), "check 2, plan 2, regions, solid 2"},
	} {
		next, err := recipe.Change{Edits: []recipe.Edit{c.edit}}.Apply(r, on())
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		rec.took()
		r = next
		build()
		if got := rec.took(); got != c.want {
			t.Errorf("%s: %q ran, want %q", c.name, got, c.want)
		}
	}
	// Another file of the same colours is another solid, where it differs.
	before := maps.Clone(keys)
	r.Intake.Choice = nil
	build()
	rec.took()
	before = maps.Clone(keys)
	r.Sheets.List[0].File = "f2"
	build()
	if keys["ca33333"] == before["ca33333"] || keys["c338855"] != before["c338855"] {
		t.Errorf("an exchange of the file: %v, then %v", before, keys)
	}
}

func ptr[T any](v T) *T { return &v }

// TestKeysAreStable holds keys that other runs and machines gave.
func TestKeysAreStable(t *testing.T) {
	in := PlanInput{Step: 0.5, Front: Rim{Profile: "round", Width: 1, Segments: 4}}
	if got := Plan.Key(in); got != "0f2622e4cc791ad16a91ee85c6960f72" {
		t.Errorf("the key of a plan became %s; say so if the form of keys has changed", got)
	}
	raw, _ := json.Marshal(Made[*raise.Plans]{Key: "k"})
	if string(raw) != `"k"` {
		t.Errorf("a result counts as %s", raw)
	}
}

// TestProblemsAreSentences words every kind.
func TestProblemsAreSentences(t *testing.T) {
	for k, s := range sentences {
		args := []any{"width", "7"}
		if k == int(TooLong) {
			args[1] = 7.0
		}
		if k == int(TooMuchMemory) {
			args = []any{7.0, 3.0}
		}
		text := (&Problem{Kind(k), args[:strings.Count(s, "%")]}).Error()
		if strings.Contains(text, "%!") || !strings.HasSuffix(text, ".") ||
			strings.ToUpper(text[:1]) != text[:1] && k != int(Tangled) {
			t.Errorf("kind %d: %q", k, text)
		}
	}
}

// TestWhatCannotBeParted words the errors of bodies that touch, as a problem of their owner's.
func TestWhatCannotBeParted(t *testing.T) {
	for want, err := range map[string]error{
		"At 12.5 mm right and -3 mm up from the middle": &raise.TouchError{X: 12.5, Y: -3},
		"What lies over each other here: ":              plane.ErrTooTangled,
	} {
		var p *Problem
		if got := unparted(fmt.Errorf("fused: %w", err)); !errors.As(got, &p) || !strings.HasPrefix(got.Error(), want) {
			t.Errorf("%v: %v", err, got)
		}
	}
	if err := unparted(context.Canceled); err != context.Canceled {
		t.Errorf("cancelled: %v", err)
	}
}

// TestProblems brings artwork to each problem.
func TestProblems(t *testing.T) {
	for name, c := range map[string]struct {
		svg  string
		edit recipe.Edit
		kind Kind
	}{
		"all hidden":   {`<rect display="none" width="9" height="9"/>`, nil, AllLeftOut},
		"a level line": {`<path d="M0 0L5 0L9 0Z" fill="red"/>`, &recipe.SetSize{By: ptr(recipe.Height)}, NoSide},
		"no area":      {`<path d="M0 0L9 9L0 0"/>`, nil, NoArea},
		"a long strip": {`<rect width="1" height="9000"/>`, &recipe.SetSize{MM: ptr(500.0)}, TooLong},
		"clipped to naught": {
			`<clipPath id="c"><rect x="50" width="2" height="2"/></clipPath><rect clip-path="url(#c)" width="9" height="9"/>`,
			nil,
			AllLeftOut,
		},
	} {
		r := recipe.New()
		r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f", Name: "a.svg"}}
		if c.edit != nil {
			r, _ = recipe.Change{Edits: []recipe.Edit{c.edit}}.Apply(r, nil)
		}
		doc := `<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10">` + c.svg + `</svg>`
		_, err := (&Line{Keep: Direct{}, Recipe: &r, Open: files(map[string]string{"f": doc})}).Regions(
			t.Context(),
		)
		p, ok := err.(*Problem)
		if !ok || p.Kind != c.kind {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// TestCancelledStages stop with the context's error and give no result.
func TestCancelledStages(t *testing.T) {
	r := recipe.New()
	r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f", Name: "a.svg"}}
	line := &Line{Keep: Direct{}, Recipe: &r, Open: files(map[string]string{"f": twoSigns})}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := line.Regions(ctx); err != context.Canceled {
		t.Errorf("cancelled: %v", err)
	}
}

// TestHugeBevelHeights holds that a height beyond all grids is as high as the
// depth allows, not nothing.
func TestHugeBevelHeights(t *testing.T) {
	s := sheet(t, "../../demo/compass-badge.svg")
	for _, back := range []bool{false, true} {
		for _, high := range []float64{7, 80, 8_000, 20_000, 100_000} {
			r := recipe.New()
			m := &r.Parts.Default
			if m.Front.Height = high; back {
				m.Back = m.Front
			}
			p, err := regionsOf(s, &r)
			if err != nil {
				t.Fatal(err)
			}
			made, err := lineOf(&r).Body(t.Context(), p, &Arrangement(p, &r.Parts)[0], raise.Plain)
			if err != nil {
				t.Fatal(err)
			}
			want := min(high, 8)
			if back {
				want = min(high, 4)
			}
			if got := made.Value.Bodies[0].High; got > want || got < want-0.01 {
				t.Errorf("a bevel of %g mm, back %v, became %g mm high", high, back, got)
			}
		}
	}
}

// TestNamesOfParts names the list of parts in the order of painting, with names counted.
func TestNamesOfParts(t *testing.T) {
	list := []Outline{
		{
			ID:    "c336699",
			Color: artwork.Color{R: 0x33, G: 0x66, B: 0x99},
		}, {ID: "c34679a", Color: artwork.Color{R: 0x34, G: 0x67, B: 0x9a}},
		{ID: "p1", Color: artwork.Color{R: 0xff}},
	}
	r := &recipe.Recipe{Parts: recipe.Parts{List: []recipe.Part{{ID: "p1", Name: "Lamp"}}}}
	if got := fmt.Sprint(Names(r, &Regions{Parts: list})); got != "[Blue Blue 2 Lamp]" {
		t.Errorf("names %s", got)
	}
}

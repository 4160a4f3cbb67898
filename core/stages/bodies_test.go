package stages

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// harbour is three colours in two layers: a plate, a disc on it, a bar across both, and
// the word that a sign needs.
const harbour = `<rect id="plate" width="100" height="60" fill="#336699"/>
	<g id="upper"><circle id="disc" cx="30" cy="30" r="20" fill="#a33333"/>
	<rect id="bar" x="20" y="25" width="90" height="10" fill="#338855"/></g>`

const (
	plateID, discID, barID = "c336699", "ca33333", "c338855"
)

// linedUp is the stages for a drawing and some edits.
func linedUp(t *testing.T, body string, edits ...recipe.Edit) (*Line, *Regions) {
	t.Helper()
	r := with(t, onSheets(), edits...)
	line := &Line{Keep: Direct{}, Recipe: &r, Open: svg(body)}
	made, err := line.Regions(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return line, made.Value
}

func role(id, kind, on string) recipe.Edit {
	return &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {Role: &recipe.Role{Kind: kind, On: on}}}}
}

func deep(id string, depth float64) recipe.Edit {
	return &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {MeasuresPatch: recipe.MeasuresPatch{Depth: &depth}}}}
}

// fusedSTL raises all as one, writes it as STL and reads that back, welded.
func fusedSTL(t *testing.T, line *Line, r *Regions) (mesh.Report, mesh.Report) {
	t.Helper()
	made, err := line.Fused(t.Context(), r, Arrangement(r, &line.Recipe.Parts), raise.Plain)
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := write.STL(&b, []write.Part{{Name: "piece", Mesh: made.Value.Mesh}}); err != nil {
		t.Fatal(err)
	}
	return mesh.Check(made.Value.Mesh, true), mesh.Check(readSTL(t, b.Bytes()).Weld(), true)
}

// volumes adds up the parts by themselves.
func volumes(t testing.TB, line *Line, r *Regions) (sum float64) {
	t.Helper()
	for _, b := range Arrangement(r, &line.Recipe.Parts) {
		s, err := line.Body(t.Context(), r, &b, raise.Plain)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(s.Value.Mesh, true)
		if !rep.Sound() {
			t.Errorf("%s: %+v", r.Parts[b.Index].ID, rep)
		}
		sum += rep.VolumeMM3
	}
	return sum
}

// TestFusedPiecesAreOneBody fuses the demo pieces and others with many colours: the file,
// welded, is sound and holds the sum of the parts.
func TestFusedPiecesAreOneBody(t *testing.T) {
	for _, file := range []string{"compass-badge.svg", "tide-clock.svg", "gull-crest.eps", "pier-key-tag.ai", "rope-mark.ai"} {
		s := sheet(t, "../../demo/"+file)
		for _, relief := range []float64{0, 1.5} {
			if (relief == 0) != (file == "tide-clock.svg") {
				continue
			}
			r := recipe.New()
			r.Parts.Relief.Step = relief
			line := lineOf(&r)
			made, err := line.RegionsOf(t.Context(), joinedOf(s))
			if err != nil {
				t.Fatal(err)
			}
			inside, file1 := fusedSTL(t, line, made.Value)
			want := volumes(t, line, made.Value)
			if !inside.Sound() || !file1.Sound() || math.Abs(file1.VolumeMM3-want) > 1e-6*want {
				t.Errorf("%s, relief %g: %+v, in the file %+v, parts %g mm3", file, relief, inside, file1, want)
			}
		}
	}
}

// TestRolesOfParts raises the same drawing with each role.
func TestRolesOfParts(t *testing.T) {
	flat := &recipe.EditParts{Parts: map[string]recipe.PartPatch{recipe.Everything: {MeasuresPatch: recipe.MeasuresPatch{
		Front: recipe.RimPatch{Width: new(float64)},
	}}}}
	size := &recipe.SetSize{MM: ptr(110.0)}
	line, r := linedUp(t, harbour, flat, size)
	area := func(i int) float64 { return r.Step.Area(r.Parts[i].Region.Value) }
	plain := volumes(t, line, r)
	for name, c := range map[string]struct {
		edits  []recipe.Edit
		bodies int
		want   float64 // volume of all bodies
		rise   float64 // of the whole
	}{
		"side by side":  {nil, 3, plain, 8},
		"recess":        {[]recipe.Edit{role(discID, recipe.Recess, plateID), deep(discID, 2)}, 2, plain - 2*area(1), 8},
		"through":       {[]recipe.Edit{role(discID, recipe.Recess, plateID), deep(discID, 50)}, 2, plain - 8*area(1), 8},
		"raised":        {[]recipe.Edit{role(discID, recipe.Raised, plateID), deep(discID, 2)}, 2, plain + 2*area(1), 10},
		"bar over edge": {[]recipe.Edit{role(barID, recipe.Raised, plateID), deep(barID, 1)}, 2, 8*6000 + 8*100 + 900, 9},
		"resting":       {[]recipe.Edit{role(discID, recipe.Resting, plateID), deep(discID, 3)}, 3, plain + 3*area(1), 11},
		"backing":       {[]recipe.Edit{role(plateID, recipe.Backing, "")}, 3, plain + 8*(6000-areaOf(r, plateID)), 8},
	} {
		line, r := linedUp(t, harbour, append([]recipe.Edit{flat, size}, c.edits...)...)
		list := Arrangement(r, &line.Recipe.Parts)
		if len(list) != c.bodies {
			t.Errorf("%s: %d bodies, want %d", name, len(list), c.bodies)
		}
		if got := volumes(t, line, r); math.Abs(got-c.want) > 1e-3*c.want {
			t.Errorf("%s: %g mm3, want %g", name, got, c.want)
		}
		inside, file := fusedSTL(t, line, r)
		if !inside.Sound() || !file.Sound() {
			t.Errorf("%s, fused: %+v", name, file)
		}
		low, high := math.Inf(1), math.Inf(-1)
		for _, b := range list {
			s, _ := line.Body(t.Context(), r, &b, raise.Plain)
			lo, hi := s.Value.Mesh.Box()
			low, high = math.Min(low, lo[2]), math.Max(high, hi[2])
		}
		if math.Abs(high-low-c.rise) > 0.01 {
			t.Errorf("%s: %g mm high, want %g", name, high-low, c.rise)
		}
	}
}

func areaOf(r *Regions, id string) float64 {
	for i := range r.Parts {
		if r.Parts[i].ID == id {
			return r.Step.Area(r.Parts[i].Region.Value)
		}
	}
	return 0
}

// TestClearancesAreKept measures the distance between all neighbours in the written
// outlines: never below the clearance by more than a hundredth of it.
func TestClearancesAreKept(t *testing.T) {
	for _, c := range []float64{0.1, 0.4, 2} {
		_, r := linedUp(t, harbour, &recipe.SetParts{Clearance: &c})
		least := math.Inf(1)
		for i := range r.Parts {
			for _, poly := range r.Parts[i].Region.Value {
				index := plane.NewSegmentIndex(poly)
				for j := range r.Parts {
					if i == j {
						continue
					}
					r.Parts[j].Region.Value.Loops(func(l plane.Loop) {
						for _, p := range l {
							d := r.Step.MM(plane.Units(index.Nearest(float64(p.X), float64(p.Y), 1e9).Dist))
							least = math.Min(least, d)
						}
					})
				}
			}
		}
		if least < 0.99*c || least > 1.02*c {
			t.Errorf("a clearance of %g mm became %g", c, least)
		}
	}
}

// TestPartsByEverything makes parts of colours, layers, groups, shapes and outlines.
func TestPartsByEverything(t *testing.T) {
	word := harbour + `<text id="word" x="10" y="56" font-size="14" fill="#111111">sail i!</text>`
	for by, want := range map[string]string{
		recipe.ByColour:  "Blue, Red, Green, Black",
		recipe.ByLayer:   "Blue, upper, ",
		recipe.ByShape:   "plate, disc, bar, sail i!",
		recipe.ByOutline: "plate, disc, bar, s, a, i, l, i 2, !",
	} {
		line, r := linedUp(t, word, &recipe.SetParts{By: &by})
		got := strings.Join(Names(line.Recipe, r), ", ")
		if by == recipe.ByLayer {
			got = strings.Replace(got, "Black", "", 1)
		}
		if !strings.HasPrefix(got, strings.TrimSuffix(want, ", ")) {
			t.Errorf("by %q: %s, want %s", by, got, want)
		}
	}
	// Joined, the two halves of a word are one part; taken out again, they are two.
	by := recipe.ByOutline
	line, r := linedUp(t, word, &recipe.SetParts{By: &by})
	ids := []string{r.Parts[3].ID, r.Parts[4].ID}
	line, r = linedUp(t, word, &recipe.SetParts{By: &by}, &recipe.JoinParts{IDs: ids})
	if got := Names(line.Recipe, r); len(got) != 8 {
		t.Errorf("joined: %v", got)
	}
	if !slices.ContainsFunc(r.Parts, func(o Outline) bool { return o.ID == "p1" && len(o.Outlines) == 2 }) {
		t.Errorf("no joined part: %+v", r.Parts)
	}
	line, r = linedUp(t, word, &recipe.TakeShapes{Shapes: []string{"bar"}, From: barID, Name: "Beam"})
	if got := strings.Join(Names(line.Recipe, r), ", "); got != "Blue, Red, Beam, Black" {
		t.Errorf("taken out: %s", got)
	}
	// Divided by hand, a shape is a part for each of its letters.
	line, r = linedUp(t, word)
	id := r.Parts[len(r.Parts)-1].ID
	keys, err := line.OutlinesOf(t.Context(), &r.Parts[len(r.Parts)-1])
	if err != nil || len(keys) != 6 {
		t.Fatalf("outlines: %v %v", keys, err)
	}
	var take []recipe.Edit
	for _, k := range keys[1:] {
		take = append(take, &recipe.TakeShapes{Outlines: []string{k}, From: id})
	}
	line, r = linedUp(t, word, take...)
	if got := strings.Join(Names(line.Recipe, r), ", "); got != "Blue, Red, Green, Black, a, i, l, i 2, !" {
		t.Errorf("divided: %s", got)
	}
	if again, err := line.OutlinesOf(t.Context(), &r.Parts[4]); err != nil || len(again) != 1 {
		t.Errorf("outlines of a letter: %v %v", again, err)
	}
	order := []string{barID, plateID}
	line, r = linedUp(t, harbour, &recipe.SetParts{Order: &order})
	if got := fmt.Sprint(r.Parts[0].ID, r.Parts[1].ID, r.Parts[2].ID); got != barID+plateID+discID {
		t.Errorf("ordered: %s", got)
	}
}

// TestReliefStepsUp holds the depths of a relief by order.
func TestReliefStepsUp(t *testing.T) {
	line, r := linedUp(t, harbour, &recipe.SetParts{Relief: &recipe.Relief{Step: 1.5}, Spread: ptr(0.5)})
	for i, b := range Arrangement(r, &line.Recipe.Parts) {
		if b.How.Depth != 8+1.5*float64(i) || b.Base != 0.5*float64(i) {
			t.Errorf("part %d: %g deep from %g", i, b.How.Depth, b.Base)
		}
	}
}

// TestWhatCouldNotBeIsSaid raises parts in forms that they have no room for.
func TestWhatCouldNotBeIsSaid(t *testing.T) {
	const id = "c336699"
	plate := `<path id="a" d="M10 10H90V50H10z" fill="#336699"/>`
	rim := func(profile string, height float64) recipe.RimPatch {
		return recipe.RimPatch{Profile: &profile, Width: ptr(2.0), Height: &height}
	}
	for want, patch := range map[string]recipe.PartPatch{
		"no strokes that a tube could follow": {Role: &recipe.Role{Kind: recipe.AsTube}},
		"the depth allows no more":            {MeasuresPatch: recipe.MeasuresPatch{Front: rim(recipe.Round, 30)}},
		"leave no room; it is solid":          {MeasuresPatch: recipe.MeasuresPatch{Wall: ptr(30.0)}},
		"its bevels run inward":               {MeasuresPatch: recipe.MeasuresPatch{Front: rim(recipe.Pillow, 2), Outward: ptr(true)}},
	} {
		l, r := linedUp(t, plate, &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: patch}})
		b := Arrangement(r, &l.Recipe.Parts)[0]
		made, err := l.Body(t.Context(), r, &b, raise.Plain)
		if err != nil {
			t.Fatal(err)
		}
		if rep := mesh.Check(made.Value.Mesh, true); !rep.Sound() {
			t.Errorf("%s: %+v", want, rep)
		}
		if said := strings.Join(b.Limits(made.Value.Bodies[0]), "; "); !strings.Contains(said, want) {
			t.Errorf("%q was said, not %q", said, want)
		}
	}
}

// TestTubesAreRound raises strokes as tubes: straight, bent, crossing, of two widths, with
// flat, round and set ends; their volume is that of cylinders, spheres and what they share.
func TestTubesAreRound(t *testing.T) {
	const id = "c336699"
	line := func(more string) string {
		return `<path id="a" d="M10 50H90" stroke="#336699" stroke-width="8" fill="none" ` + more + `/>`
	}
	size := &recipe.SetSize{MM: ptr(80.0)}
	fine := &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {
		Role: &recipe.Role{Kind: recipe.AsTube}, MeasuresPatch: recipe.MeasuresPatch{Front: recipe.RimPatch{Segments: ptr(16)}},
	}}}
	tube := func(v recipe.Tube) recipe.Edit {
		return &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {MeasuresPatch: recipe.MeasuresPatch{Tube: &v}}}}
	}
	own := []recipe.Edit{tube(recipe.Tube{Own: true}), &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {
		MeasuresPatch: recipe.MeasuresPatch{Depth: ptr(3.0), Front: recipe.RimPatch{Profile: ptr(recipe.Chamfer), Width: ptr(1.0), Height: ptr(1.0)}},
	}}}}
	cylinder := func(r, long float64) float64 { return math.Pi * r * r * long }
	for name, c := range map[string]struct {
		svg   string
		edits []recipe.Edit
		want  float64
		tol   float64
	}{
		"flat ends":  {line(""), nil, cylinder(4, 80), 0.01},
		"round ends": {line(`stroke-linecap="round"`), []recipe.Edit{&recipe.SetSize{MM: ptr(88.0)}}, cylinder(4, 80) + 4.0/3*math.Pi*64, 0.01},
		"set width":  {line(""), []recipe.Edit{tube(recipe.Tube{Width: 3})}, cylinder(1.5, 80), 0.01},
		"set wide":   {line(""), []recipe.Edit{tube(recipe.Tube{Width: 40})}, cylinder(20, 80), 0.01},
		"set wider":  {line(""), []recipe.Edit{tube(recipe.Tube{Width: 300})}, cylinder(150, 80), 0.01},
		"far wider":  {line(""), []recipe.Edit{tube(recipe.Tube{Width: 600})}, cylinder(300, 80), 0.01},
		"set ends": {line(""), []recipe.Edit{
			tube(recipe.Tube{Width: 4, Ends: recipe.RoundEnds}), &recipe.SetSize{MM: ptr(80.0)},
		}, cylinder(2, 80) + 4.0/3*math.Pi*8, 0.01},
		"square": {line(`stroke-linecap="square"`), []recipe.Edit{&recipe.SetSize{MM: ptr(88.0)}}, cylinder(4, 88), 0.01},
		// Two cylinders that cross at right angles share 16 r^3 / 3.
		"crossing":   {line("") + `<path d="M50 10V90" stroke="#336699" stroke-width="8" fill="none"/>`, nil, 2*cylinder(4, 80) - 16*64/3.0, 0.015},
		"two widths": {line("") + `<path d="M50 70V90" stroke="#336699" stroke-width="4" fill="none"/>`, nil, cylinder(4, 80) + cylinder(2, 20), 0.01},
		// 3 mm deep with a chamfer of 1 mm in front, the flat ends without; where two cross,
		// what they share is counted once: a square of 8 by 8 less its valleys.
		"own section": {line(""), own, 80 * (8*3 - 1), 0.005},
		"own, two crossing": {
			line("") + `<path d="M50 10V90" stroke="#336699" stroke-width="8" fill="none"/>`, own,
			2*80*(8*3-1) - (8*8*3 - 8*8 + 6*6 + (8*8-6*6)/3.0), 0.005,
		},
		"dashes": {line(`stroke-dasharray="10 10"`), []recipe.Edit{&recipe.SetSize{MM: ptr(70.0)}}, cylinder(4, 40), 0.01},
	} {
		l, r := linedUp(t, c.svg, append([]recipe.Edit{size, fine}, c.edits...)...)
		made, err := l.Body(t.Context(), r, &Arrangement(r, &l.Recipe.Parts)[0], raise.Shaded)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		rep := mesh.Check(made.Value.Mesh, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-c.want) > c.tol*c.want {
			t.Errorf("%s: %+v, want %g mm3", name, rep, c.want)
		}
		for _, v := range made.Value.Mesh.Verts {
			if v[0] != int32(float32(v[0])) || v[1] != int32(float32(v[1])) || v[2] != int32(float32(v[2])) {
				t.Errorf("%s: %v is not exact in 32 bits", name, v)
				break
			}
		}
		inside, file := fusedSTL(t, l, r)
		if !inside.Sound() || !file.Sound() {
			t.Errorf("%s, fused: %+v", name, file)
		}
	}
}

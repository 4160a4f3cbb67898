package stages

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// box is a rectangle in thousands of grid units.
func box(x0, y0, x1, y1 int32) plane.Polygon {
	at := func(x, y int32) plane.Point { return plane.Point{X: x * 1000, Y: y * 1000} }
	return plane.Polygon{Outer: plane.Loop{at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)}}
}

// TestLettersKeepTheirDots divides areas as letters would lie.
func TestLettersKeepTheirDots(t *testing.T) {
	for name, c := range map[string]struct {
		r    plane.Region
		want string // polygons of each letter
	}{
		"two stems":          {plane.Region{box(0, 0, 3, 20), box(10, 0, 13, 20)}, "1 1"},
		"an i":               {plane.Region{box(0, 0, 3, 20), box(0, 23, 3, 26)}, "2"},
		"an a with two dots": {plane.Region{box(0, 0, 12, 16), box(1, 19, 4, 22), box(8, 19, 11, 22)}, "3"},
		"a bang":             {plane.Region{box(0, 6, 3, 26), box(0, 0, 3, 3)}, "2"},
		"an equals sign":     {plane.Region{box(0, 0, 12, 3), box(0, 8, 12, 11)}, "1 1"},
		"a colon":            {plane.Region{box(0, 0, 3, 3), box(0, 10, 3, 13)}, "1 1"},
		"a word":             {plane.Region{box(0, 0, 3, 20), box(0, 23, 3, 26), box(8, 0, 14, 14), box(20, 0, 23, 20), box(20, 23, 23, 26)}, "2 1 2"},
		"two lines":          {plane.Region{box(0, 40, 3, 60), box(0, 63, 3, 66), box(0, 0, 3, 20), box(0, 23, 3, 26)}, "2 2"},
		"a mark beside":      {plane.Region{box(0, 0, 12, 20), box(16, 0, 18, 2)}, "1 1"},
	} {
		var got []string
		for _, l := range Letters(c.r) {
			got = append(got, fmt.Sprint(len(l)))
		}
		if s := strings.Join(got, " "); s != c.want {
			t.Errorf("%s: %s, want %s", name, s, c.want)
		}
	}
}

// TestLettersHaveRoles gives two bars of one shape roles of their own: what rests cuts nothing and stands
// in the recess below it, the other cuts the plate.
func TestLettersHaveRoles(t *testing.T) {
	resting := recipe.Role{Kind: recipe.Resting, On: plateID}
	recess := recipe.Role{Kind: recipe.Recess, On: plateID}
	keys := []string{recipe.OutlineKey("bars", 0)}
	line, r := linedUp(t, `<rect id="plate" width="100" height="40" fill="#336699"/><rect id="pond" x="50" y="4" width="45" height="32" fill="#a33333"/>
		<path id="bars" fill="#338855" d="M60 10H64V30H60ZM80 10H84V30H80Z"/>`,
		&recipe.SetSize{MM: ptr(100.0)},
		&recipe.TakeShapes{Outlines: keys, From: barID, Name: "First"},
		&recipe.EditParts{Parts: map[string]recipe.PartPatch{
			"p1":   {Role: &resting, MeasuresPatch: recipe.MeasuresPatch{Offset: new(float64)}},
			discID: {Role: &recess, MeasuresPatch: recipe.MeasuresPatch{Depth: ptr(3.0)}},
		}})
	list := Arrangement(r, &line.Recipe.Parts)
	for i := range list {
		o := &r.Parts[list[i].Index]
		area := r.Step.Area(o.Region.Value)
		want := map[string]float64{plateID: 100*40 - 4*20, "p1": 4 * 20, barID: 4 * 20}[o.ID]
		if math.Abs(area-want) > 0.01 {
			t.Errorf("%s covers %g mm2, want %g", o.ID, area, want)
		}
		if o.ID == "p1" && math.Abs(list[i].Base-5) > 1e-9 {
			t.Errorf("what lies in a recess 3 mm deep begins at %g mm", list[i].Base)
		}
	}
}

// TestLeftOutDetails leaves out what is cut into a plate or raised from it: the plate is whole, and what
// rests there stands on its face.
func TestLeftOutDetails(t *testing.T) {
	for _, kind := range []string{recipe.Recess, recipe.Raised} {
		on := recipe.Role{Kind: kind, On: plateID}
		rests := recipe.Role{Kind: recipe.Resting, On: plateID}
		line, r := linedUp(t, `<rect id="plate" width="100" height="40" fill="#336699"/><rect id="pond" x="50" y="4" width="45" height="32" fill="#a33333"/>
			<rect x="60" y="10" width="10" height="10" fill="#338855"/>`,
			&recipe.SetSize{MM: ptr(100.0)},
			&recipe.EditParts{Parts: map[string]recipe.PartPatch{
				discID: {Role: &on, Out: ptr(true), MeasuresPatch: recipe.MeasuresPatch{Depth: ptr(3.0)}}, barID: {Role: &rests},
			}})
		for _, b := range Arrangement(r, &line.Recipe.Parts) {
			o := &r.Parts[b.Index]
			area := r.Step.Area(o.Region.Value)
			if want := map[string]float64{plateID: 100 * 40, barID: 100}[o.ID]; math.Abs(area-want) > 0.01 || len(b.Details) > 0 {
				t.Errorf("%s: %s covers %g mm2, want %g", kind, o.ID, area, want)
			}
			if o.ID == barID && math.Abs(b.Base-8) > 1e-9 {
				t.Errorf("%s: what rests begins at %g mm", kind, b.Base)
			}
		}
	}
}

// TestOutlinesBehindOthers makes parts of outlines where a sign's counters show the plate
// behind: the plate stays one part, however many pieces of it show.
func TestOutlinesBehindOthers(t *testing.T) {
	by := recipe.ByOutline
	_, r := linedUp(t, `<rect id="plate" width="100" height="40" fill="#336699"/>
		<path id="ring" fill="#a33333" fill-rule="evenodd" d="M10 5H40V35H10ZM18 12H32V28H18Z"/>
		<path id="bars" fill="#338855" d="M60 5H64V35H60ZM80 5H84V35H80Z"/>`, &recipe.SetParts{By: &by})
	var got []string
	for i := range r.Parts {
		got = append(got, fmt.Sprint(r.Parts[i].ID, " ", len(r.Parts[i].Region.Value)))
	}
	if s := strings.Join(got, ", "); s != "o:plate#0 2, o:ring#0 1, o:bars#0 1, o:bars#1 1" {
		t.Error(s)
	}
}

// TestDetailsOfDetails holds what becomes of roles whose host is gone or left out: a body.
func TestDetailsOfDetails(t *testing.T) {
	out := true
	for name, edits := range map[string][]recipe.Edit{
		"host left out":  {role(discID, recipe.Recess, plateID), &recipe.EditParts{Parts: map[string]recipe.PartPatch{plateID: {Out: &out}}}},
		"host unknown":   {role(discID, recipe.Raised, "p7")},
		"resting on air": {role(discID, recipe.Resting, "p7")},
	} {
		line, r := linedUp(t, harbour, edits...)
		for _, b := range Arrangement(r, &line.Recipe.Parts) {
			if r.Parts[b.Index].ID == discID && (b.Role.Kind != recipe.Body || b.Base != 0) {
				t.Errorf("%s: %+v", name, b)
			}
			if s, err := line.Body(t.Context(), r, &b, 0); err != nil || len(s.Value.Mesh.Tris) == 0 {
				t.Errorf("%s: %v", name, err)
			}
		}
	}
	// What rests on what rests stands on both.
	line, r := linedUp(t, harbour, role(discID, recipe.Resting, plateID), deep(discID, 3), role(barID, recipe.Resting, discID), deep(barID, 2))
	bases := map[string]float64{}
	for _, b := range Arrangement(r, &line.Recipe.Parts) {
		bases[r.Parts[b.Index].ID] = b.Base
	}
	if bases[discID] != 8 || bases[barID] != 11 {
		t.Errorf("bases %v", bases)
	}
}

// TestLimitsAreSentences words what could not be.
func TestLimitsAreSentences(t *testing.T) {
	rim := recipe.Rim{Width: 2, Height: 5, Profile: recipe.Round, Segments: 4}
	b := Raised{How: recipe.Measures{Depth: 4, Front: rim, Back: rim}}
	got := b.Limits(Got{High: 2, Low: 1.9, Holes: []int{0}, Massive: true})
	want := "the bevel became 2 mm high; the depth allows no more|the bevel behind became 1.9 mm high; the depth allows no more|" +
		"a recess goes through|the walls leave no room; it is solid"
	if s := strings.Join(got, "|"); s != want {
		t.Error(s)
	}
	if said := b.Limits(Got{High: 5, Low: 5}); len(said) != 0 {
		t.Errorf("nothing was limited, but %v", said)
	}
	if math.Abs(b.How.Bottom()) > 0 {
		t.Error("a part forward of the plane begins at it")
	}
}

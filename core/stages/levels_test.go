package stages

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// levelled returns the levels of parts by name, "Blue 2, White, level 3 3", in the order of their list.
func levelled(line *Line, r *Regions) string {
	levels, _ := Levels(r, &line.Recipe.Parts)
	var out []string
	for i, name := range Names(line.Recipe, r) {
		out = append(out, fmt.Sprintf("%s: %d", name, levels[i]))
	}
	slices.Sort(out)
	return strings.Join(out, "; ")
}

// tile draws a rectangle.
func tile(x, y, w, h int, color string) string {
	return fmt.Sprintf(`<rect x="%d" y="%d" width="%d" height="%d" fill="%s"/>`, x, y, w, h, color)
}

// TestLevels holds what lies on what, and what a person may say about it.
func TestLevels(t *testing.T) {
	const blue, red, green, white = "#336699", "#a33333", "#338855", "#ffffff"
	ground := tile(0, 0, 200, 100, blue)
	hill := ground + tile(10, 10, 100, 80, red) + tile(20, 20, 40, 40, green)
	eyes := hill + tile(30, 30, 10, 10, white) + tile(150, 20, 30, 30, white)
	drawn := hill + `<path d="M10 10H110V90H10z" fill="none" stroke="#111111" stroke-width="6"/>`
	set := func(id string, level int) recipe.Edit {
		return &recipe.EditParts{Parts: map[string]recipe.PartPatch{id: {Level: &level}}}
	}
	relief := func(r recipe.Relief) recipe.Edit { return &recipe.SetParts{Relief: &r} }
	step := relief(recipe.Relief{Step: 1})
	lines := func(where string) recipe.Edit { return relief(recipe.Relief{Step: 1, Lines: where}) }
	out := true
	for _, c := range []struct {
		what, drawing string
		edits         []recipe.Edit
		want          string
	}{
		{"each lies on the one before", hill, []recipe.Edit{step}, "Blue: 1; Green: 3; Red: 2"},
		{"no relief", hill, nil, "Blue: 0; Green: 0; Red: 0"},
		{"what does not touch shares a level", ground + tile(10, 10, 20, 20, red) + tile(60, 10, 20, 20, green), []recipe.Edit{step},
			"Blue: 1; Green: 2; Red: 2"},
		{"a rim that touches does not count", tile(0, 0, 100, 100, blue) + tile(98, 0, 100, 100, red), []recipe.Edit{step}, "Blue: 1; Red: 1"},
		{"what is mostly covered is below", tile(90, 0, 20, 20, blue) + tile(0, 0, 98, 98, red), []recipe.Edit{step}, "Blue: 1; Red: 2"},
		{"one colour on two levels is two parts", eyes, []recipe.Edit{step},
			"Blue: 1; Green: 3; Red: 2; White, level 2: 2; White, level 4: 4"},
		{"a shape on one of its own colour shares its level", ground + tile(10, 10, 80, 80, red) + tile(50, 50, 80, 40, red), []recipe.Edit{step},
			"Blue: 1; Red: 2"},
		{"what lies on a part goes up with it", hill, []recipe.Edit{step, set("ca33333", 4)}, "Blue: 1; Green: 5; Red: 4"},
		{"two set equal", hill, []recipe.Edit{step, set("c338855", 2)}, "Blue: 1; Green: 2; Red: 2"},
		{"one part of a colour alone is set", eyes, []recipe.Edit{step, set("cffffff~2", 7)},
			"Blue: 1; Green: 3; Red: 2; White, level 2: 2; White, level 7: 7"},
		{"back to what overlaps give", hill, []recipe.Edit{step, set("c338855", 2), set("c338855", 0)}, "Blue: 1; Green: 3; Red: 2"},
		{"nothing lies on what is left out", hill, []recipe.Edit{step,
			&recipe.EditParts{Parts: map[string]recipe.PartPatch{"ca33333": {Out: &out}}}}, "Blue: 1; Green: 2; Red: 1"},
		{"details have no level", hill, []recipe.Edit{step, role("c338855", recipe.Recess, "ca33333")}, "Blue: 1; Green: 0; Red: 2"},
		{"outlines as all others", drawn, []recipe.Edit{step}, "Black: 3; Blue: 1; Green: 3; Red: 2"},
		{"outlines highest", drawn, []recipe.Edit{lines(recipe.LinesHighest)}, "Black: 4; Blue: 1; Green: 3; Red: 2"},
		{"outlines in a groove", drawn, []recipe.Edit{lines(recipe.LinesLowest)}, "Black: 1; Blue: 2; Green: 4; Red: 3"},
		{"dark areas are no outlines", drawn + tile(140, 20, 30, 30, "#111111"), []recipe.Edit{lines(recipe.LinesHighest)},
			"Black, level 2: 2; Black, outlines: 4; Blue: 1; Green: 3; Red: 2"},
		{"outlines alone", `<path d="M10 10H110V90H10z" fill="none" stroke="#111111" stroke-width="6"/>`, []recipe.Edit{lines(recipe.LinesHighest)},
			"Black: 1"},
	} {
		line, r := linedUp(t, c.drawing, c.edits...)
		if got := levelled(line, r); got != c.want {
			t.Errorf("%s: %s, not %s", c.what, got, c.want)
		}
	}
}

// TestLevelsOfWholes sets two layers against each other that each lie on the other: the one that does so more is
// higher, and circles of three come to an end.
func TestLevelsOfWholes(t *testing.T) {
	layer := func(id string, boxes ...string) string {
		return `<g id="` + id + `">` + strings.Join(boxes, "") + `</g>`
	}
	by, step := recipe.ByLayer, &recipe.SetParts{Relief: &recipe.Relief{Step: 1}}
	take := &recipe.SetParts{By: &by}
	two := layer("low", tile(0, 0, 60, 60, "#336699"), tile(70, 0, 60, 60, "#336699")) + layer("high", tile(10, 10, 40, 40, "#a33333")) +
		tile(80, 10, 10, 10, "#338855")
	line, r := linedUp(t, two, take, step)
	if got := levelled(line, r); !strings.Contains(got, "high: 2; low: 1") {
		t.Errorf("two: %s", got)
	}
	rnd := rand.New(rand.NewPCG(1, 24))
	for range 40 {
		drawing := ""
		for i := range 30 {
			drawing += fmt.Sprintf(`<rect id="r%d" x="%d" y="%d" width="%d" height="%d" fill="#%02x3040"/>`,
				i, rnd.IntN(80), rnd.IntN(80), 10+rnd.IntN(40), 10+rnd.IntN(40), 40*(i%5))
		}
		line, r := linedUp(t, drawing, step)
		var edits []recipe.Edit
		for k := range 4 { // parts by hand, of shapes that lie anywhere in the stack
			take := &recipe.TakeShapes{From: r.Parts[0].ID}
			for i := k; i < 24; i += 4 {
				take.Shapes = append(take.Shapes, r.Sheet.Shapes[i].Key)
			}
			edits = append(edits, take)
		}
		line, r = linedUp(t, drawing, append(edits, step)...)
		_, most := Levels(r, &line.Recipe.Parts)
		if most < 2 || most > 12 {
			t.Errorf("%d levels: %s", most, levelled(line, r))
		}
	}
}

// TestReliefKeepsItsHeight raises drawings of many colours in a relief of 3 mm: it is as high as that and
// no higher, each part is higher than what it lies on, and all together are one sound body.
func TestReliefKeepsItsHeight(t *testing.T) {
	rnd := rand.New(rand.NewPCG(2, 24))
	for n := range 6 {
		drawing := tile(0, 0, 200, 200, "#336699")
		for i := range 60 {
			drawing += fmt.Sprintf(`<circle cx="%d" cy="%d" r="%d" fill="#%02x%02x40"/>`,
				rnd.IntN(200), rnd.IntN(200), 5+rnd.IntN(30), rnd.IntN(4)*60, 40+i%4*50)
		}
		bevel := 0.05
		line, r := linedUp(t, drawing, &recipe.SetParts{Relief: &recipe.Relief{Total: 3}},
			&recipe.EditParts{Parts: map[string]recipe.PartPatch{"*": {MeasuresPatch: recipe.MeasuresPatch{Front: recipe.RimPatch{Width: &bevel, Height: &bevel}}}}})
		levels, most := Levels(r, &line.Recipe.Parts)
		depth := map[string]float64{}
		for _, b := range Arrangement(r, &line.Recipe.Parts) {
			depth[r.Parts[b.Index].ID] = b.How.Depth
			if want := 3 * float64(levels[b.Index]) / float64(most); math.Abs(b.How.Depth-want) > 1e-9 {
				t.Errorf("%d: level %d of %d is %g mm deep", n, levels[b.Index], most, b.How.Depth)
			}
		}
		for _, o := range r.Parts {
			for _, on := range o.On {
				if depth[on] >= depth[o.ID] {
					t.Errorf("%d: %s lies on %s and is no higher", n, o.ID, on)
				}
			}
		}
		made, err := line.Fused(t.Context(), r, Arrangement(r, &line.Recipe.Parts), raise.Plain)
		if err != nil {
			t.Fatal(err)
		}
		lo, hi := made.Value.Mesh.Box()
		if rep := mesh.Check(made.Value.Mesh, true); !rep.Sound() || math.Abs(hi[2]-lo[2]-3) > 1e-6 {
			t.Errorf("%d: %g mm high, %+v", n, hi[2]-lo[2], rep)
		}
	}
}

package stages

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/print"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// lyingBlock is a block of 30 by 20 by 5 mm, off the middle, in layers.
func lyingBlock(t *testing.T, in BeddingInput) *Layered {
	t.Helper()
	const step = 1.0 / (1 << 16)
	at := func(x, y float64) plane.Point { return plane.Point{X: int32(x / step), Y: int32(y / step)} }
	region := plane.Region{{Outer: plane.Loop{at(5, 2), at(35, 2), at(35, 22), at(5, 22)}}}
	form := raise.Form{Depth: 5}
	plans, err := raise.NewPlans(t.Context(), region, form, step)
	if err != nil {
		t.Fatal(err)
	}
	body := raise.Body{Plans: plans, Form: form}
	m, err := body.Solid(t.Context(), step, raise.Plain)
	if err != nil {
		t.Fatal(err)
	}
	in.Solids = []Made[*Solid]{{Value: &Solid{Mesh: m}}}
	in.Owners = [][]LayersOwner{{{Name: "Block", Color: "#336699"}}}
	lain, err := Bedding.Make(t.Context(), Direct{}, in)
	if err != nil {
		t.Fatal(err)
	}
	made, err := Layers.Make(t.Context(), Direct{}, LayersInput{Bedded: lain, First: 0.2, Height: 0.2})
	if err != nil {
		t.Fatal(err)
	}
	return made.Value
}

// TestPlacesLeadBackToTheDrawing lies a block in all ways: its layers have its volume, its
// height is what it should be, and corners of the layers are corners of the drawing.
func TestPlacesLeadBackToTheDrawing(t *testing.T) {
	for name, c := range map[string]struct {
		in   BeddingInput
		tall float64
	}{
		"as it is":      {BeddingInput{}, 5},
		"face down":     {BeddingInput{Pose: recipe.Size{Lying: recipe.FaceDown}}, 5},
		"upright":       {BeddingInput{Pose: recipe.Size{Lying: recipe.Upright}}, 20},
		"from a corner": {BeddingInput{Pose: recipe.Size{Origin: recipe.OriginCorner}}, 5},
		"turned":        {BeddingInput{Turn: 33}, 5},
		"leaning":       {BeddingInput{Tilt: 90}, 20},
		"on its side":   {BeddingInput{Roll: 90, Tilt: 90, Turn: 20}, 30},
		"leaning by 30, face down": {BeddingInput{Tilt: 30, Turn: 10, Pose: recipe.Size{Lying: recipe.FaceDown}},
			20*math.Sin(math.Pi/6) + 5*math.Cos(math.Pi/6)},
	} {
		l := lyingBlock(t, c.in)
		lo, hi := l.Mesh.Box()
		if math.Abs(hi[2]-lo[2]-c.tall) > 1e-3 {
			t.Errorf("%s: %g mm high, want %g", name, hi[2]-lo[2], c.tall)
		}
		sum := 0.0
		for _, x := range l.Layers {
			sum += plane.Step(l.Mesh.Step).Area(x.Area) * x.Height
		}
		if math.Abs(sum-3000) > 3 {
			t.Errorf("%s: the layers have %g mm3", name, sum)
		}
		for v := range l.Mesh.Verts {
			p := l.Mesh.Pos(int32(v))
			flat := l.Flat([3]float64{float64(p[0]), float64(p[1]), float64(p[2]) - lo[2]})
			near := math.Min(math.Abs(flat[0]-5), math.Abs(flat[0]-35)) + math.Min(math.Abs(flat[1]-2), math.Abs(flat[1]-22))
			if near > 1e-3 {
				t.Errorf("%s: a corner is at %v of the drawing", name, flat)
			}
		}
	}
	rnd := rand.New(rand.NewPCG(3, 3))
	for range 100 {
		p := [3]float64{rnd.Float64(), rnd.Float64(), rnd.Float64()}
		tilt, turn := 360*rnd.Float64(), 360*rnd.Float64()
		back := mesh.RotateBack(mesh.Rotate(p, tilt, turn), tilt, turn)
		if math.Abs(back[0]-p[0])+math.Abs(back[1]-p[1])+math.Abs(back[2]-p[2]) > 1e-12 {
			t.Fatalf("%v came back as %v", p, back)
		}
	}
}

// TestSetupsFollowTheRecipe changes each decision of a print: the setup is another one, but
// for what only says how the piece lies.
func TestSetupsFollowTheRecipe(t *testing.T) {
	usual := recipe.New().Print
	if got := SetupOf(&usual); got != print.Usual() {
		t.Errorf("a print that nobody has changed: %+v", got)
	}
	r := with(t, onSheets(), &recipe.SetPrint{"bed": "256", "nozzle": 0.6, "infill": "grid", "copies": 4})
	got := SetupOf(&r.Print)
	if got.Bed[0] != 256 || got.Nozzle != 0.6 || got.Infill != print.Grid || got.Copies != 4 {
		t.Errorf("%+v", got)
	}
	// The whole way: a job of copies that knows its name.
	l := lyingBlock(t, BeddingInput{})
	made, err := Rehearsal.Make(t.Context(), Direct{}, RehearsalInput{Layered: Made[*Layered]{Value: l}, Name: "Block", Setup: got})
	if err != nil || made.Value.Name != "Block" || len(made.Value.Places) != 4 || len(made.Value.Laid) != 25 || made.Value.Time() < 60 {
		t.Errorf("%v, %v", made.Value, err)
	}
}

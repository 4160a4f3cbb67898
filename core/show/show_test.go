package show

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/picture"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// plate is a plate of 40 by 20 by 4 mm with a chamfer, of one part.
func plate(t *testing.T) Body {
	t.Helper()
	const step = 1.0 / (1 << 16)
	at := func(x, y float64) plane.Point { return plane.Point{X: int32(x / step), Y: int32(y / step)} }
	region, err := plane.Fill([]plane.Loop{{at(-20, -10), at(20, -10), at(20, 10), at(-20, 10)}}, plane.NonZero)
	if err != nil {
		t.Fatal(err)
	}
	form := raise.Form{Depth: 4, Front: raise.Bevel{Profile: raise.Chamfer, Width: 1, Height: 1, Segments: 1}}
	plans, err := raise.NewPlans(context.Background(), region, form, step)
	if err != nil {
		t.Fatal(err)
	}
	m, err := plans.Solid(t.Context(), form, step, raise.Shaded)
	if err != nil {
		t.Fatal(err)
	}
	return Body{Mesh: m, Owners: []Owner{{ID: "p1", Color: artwork.Color{R: 255}}}}
}

// TestPaintsLieOverEachOther paints parts and faces: the last that fits counts.
func TestPaintsLieOverEachOther(t *testing.T) {
	b := plate(t)
	brass := Materials()[0]
	paint := func(part, faces string, m recipe.Material) recipe.Paint {
		return recipe.Paint{Part: part, Faces: faces, Material: m}
	}
	for name, c := range map[string]struct {
		paints []recipe.Paint
		metal  map[string]float64 // of each face
	}{
		"none":         {nil, map[string]float64{"front": 0, "bevel": 0, "side": 0, "back": 0}},
		"all":          {[]recipe.Paint{paint("", "", brass)}, map[string]float64{"front": 1, "bevel": 1, "side": 1, "back": 1}},
		"the bevel":    {[]recipe.Paint{paint("p1", "bevel", brass)}, map[string]float64{"front": 0, "bevel": 1, "side": 0, "back": 0}},
		"another part": {[]recipe.Paint{paint("p2", "", brass)}, map[string]float64{"front": 0, "bevel": 0, "side": 0, "back": 0}},
		"the front again": {[]recipe.Paint{paint("", "", brass), paint("", "front", usual)},
			map[string]float64{"front": 0, "bevel": 1, "side": 1, "back": 1}},
	} {
		shape := ShapeOf(b.Mesh)
		list := At(&recipe.Scene{Paints: c.paints}, []Body{b}, 0).looks(&b, shape)
		if len(list) != 4 {
			t.Fatalf("%s: %d sights", name, len(list))
		}
		for i, s := range list {
			face := shape.sights[i].face
			if s.Material.Metal != c.metal[face] {
				t.Errorf("%s: the %s has %g of metal", name, face, s.Material.Metal)
			}
			if want := (picture.RGB{1, 0, 0}); s.Material.Metal == 0 && s.Material.Base != want {
				t.Errorf("%s: the %s is %v", name, face, s.Material.Base)
			}
		}
	}
}

// TestLampsLightFully puts every kind of lamp at a strength of 0 above a white square: it
// is lit fully at its middle.
func TestLampsLightFully(t *testing.T) {
	for _, l := range []recipe.Lamp{
		{Kind: "panel", At: [3]float64{0, 0, 300}, Size: [2]float64{20, 20}},
		{Kind: "spot", At: [3]float64{0, 0, 300}, Size: [2]float64{5}, Angle: 40},
		{Kind: "sun", At: [3]float64{0, 0, 300}, Angle: 1},
	} {
		for _, stops := range []float64{0, 1} {
			l.Strength = stops
			light := lamp(&l, geom.Vec3{})
			at := geom.Vec3{}
			lit := 0.0
			const n = 64
			for i := range n {
				for j := range n {
					d, c := picture.Toward(light, at, (float64(i)+0.5)/n, (float64(j)+0.5)/n)
					lit += c.Luma() * math.Max(0, d.Z) / math.Pi / (n * n)
				}
			}
			if want := math.Exp2(stops); math.Abs(lit-want) > 0.01*want {
				t.Errorf("%s at %g stops lights %.3f", l.Kind, stops, lit)
			}
		}
	}
}

// TestThePieceFits looks through cameras from all sides: every corner of the piece is in
// the picture, and at least one comes up to the margin.
func TestThePieceFits(t *testing.T) {
	b := newBox()
	b.take([3]float64{-50, 0, -4})
	b.take([3]float64{70, 30, 9})
	for turn := -180.0; turn <= 180; turn += 45 {
		for _, c := range []recipe.Camera{
			{Turn: turn, Height: 20}, {Turn: turn + 1, Height: -60, Focal: 24, Aspect: "9:16"}, {Turn: turn + 1, Height: 5, Margin: 0.3},
		} {
			cam := camera(&c, b)
			ratio, _ := c.Ratio()
			margin := c.Margin
			if margin == 0 {
				margin = usualMargin
			}
			nearest := 1.0
			for _, p := range b.corners() {
				x, y := cam.On(p, ratio)
				edge := math.Min(math.Min(x, 1-x), math.Min(y, 1-y))
				nearest = math.Min(nearest, edge)
			}
			if math.Abs(nearest-margin) > 0.005 {
				t.Errorf("%+v: the nearest corner is %.3f from the edge, margin %.3f", c, nearest, margin)
			}
		}
	}
}

// TestSurroundingsAreEven checks what is drawn from formulas: no negative light, none that
// is not a number, and an overcast sky with the law of the CIE.
func TestSurroundingsAreEven(t *testing.T) {
	for _, name := range terms.Names("surroundings") {
		s := sky(&recipe.Surroundings{Name: name, Turn: 30}, nil)
		if (s == nil) != (name == "none") {
			t.Errorf("%s: %v", name, s)
		}
		if s == nil {
			continue
		}
		for i := range 2000 {
			a, z := float64(i)*2.399963, 1-2*(float64(i)+0.5)/2000
			r := math.Sqrt(1 - z*z)
			c := s.Light(geom.Vec3{X: r * math.Cos(a), Y: z, Z: r * math.Sin(a)})
			for _, v := range c {
				if !(v >= 0 && v < 100) {
					t.Fatalf("%s: %v", name, c)
				}
			}
		}
	}
	up, low := quay(geom.Vec3{Y: 1}).Luma(), quay(geom.Vec3{X: 1, Y: 0.031}).Luma()
	if k := up / low; math.Abs(k-3/1.062) > 0.01 {
		t.Errorf("overhead %.2f times as bright as at the horizon", k)
	}
}

// TestBackdropsStandBehind makes a small picture over every backdrop.
func TestBackdropsStandBehind(t *testing.T) {
	for _, kind := range terms.Names("backdrop") {
		s, _ := Of(&recipe.Scene{Backdrop: recipe.Backdrop{Kind: kind, Color: "#0000ff"}}, []Body{plate(t)}, nil, 0)
		f := picture.NewFilm(32, 18, 1)
		if err := s.Expose(context.Background(), f, 4); err != nil {
			t.Fatal(err)
		}
		p := f.Picture()
		corner, middle := p.Light[0], p.Light[9*32+16]
		if a := p.Alpha[0]; (a == 0) != (kind == "clear") {
			t.Errorf("%s: alpha %g in the corner", kind, a)
		}
		if p.Alpha[9*32+16] < 0.99 || middle[0] < 2*middle[2] {
			t.Errorf("%s: the red plate looks %v", kind, middle)
		}
		if (kind == "colour" || kind == "sweep") && corner[2] < 2*corner[0] {
			t.Errorf("%s: the corner is %v", kind, corner)
		}
	}
}

// TestEveryFaceGroupHasAName goes through the groups of meshes.
func TestEveryFaceGroupHasAName(t *testing.T) {
	for g := range mesh.Groups {
		if faces[mesh.Group(g)] == "" {
			t.Errorf("%s has no name in scenes", mesh.Groups[g])
		}
	}
	for _, m := range Materials() {
		r := recipe.New()
		r.Scene.Paints = []recipe.Paint{{Material: m}}
		if err := r.Check(); err != nil {
			t.Errorf("%s: %v", m.Name, err)
		}
	}
}

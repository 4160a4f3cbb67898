package stages

import (
	"bytes"
	"math"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/ext/lightspunctual"
	"github.com/qmuntal/gltf/modeler"

	"bildhauer/core/geom"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/write"
)

// spun turns a vector by a quaternion.
func spun(q [4]float64, v geom.Vec3) geom.Vec3 {
	u := geom.Vec3{X: q[0], Y: q[1], Z: q[2]}
	t := u.Cross(v).Times(2)
	return v.Plus(q[3], t).Add(u.Cross(t))
}

// TestGLBMovesAsThePictureDoes writes pieces that move, lying in all ways, reads the file
// back, and finds every part at every frame where the scene has it, as the camera sees it.
func TestGLBMovesAsThePictureDoes(t *testing.T) {
	s := sheet(t, "../../demo/gull-crest.eps")
	for name, size := range map[string]recipe.Size{
		"as it is": {}, "corner": {Origin: recipe.OriginCorner}, "face down": {Lying: recipe.FaceDown},
	} {
		r := recipe.New()
		r.Size.Lying, r.Size.Origin = size.Lying, size.Origin
		regions, err := regionsOf(s, &r)
		if err != nil {
			t.Fatal(err)
		}
		var parts []write.Part
		for _, b := range Arrangement(regions, &r.Parts) {
			made, err := lineOf(&r).Body(t.Context(), regions, &b, raise.Shaded)
			if err != nil {
				t.Fatal(err)
			}
			o := &regions.Parts[b.Index]
			parts = append(parts, write.Part{Name: o.ID, Color: o.Color, Mesh: made.Value.Mesh, Moves: o.ID})
		}
		shown, err := lineOf(&r).Shown(t.Context(), regions, 0)
		if err != nil {
			t.Fatal(err)
		}
		for _, act := range []show.Act{
			{Move: "assemble", Frames: 20, Order: "in order", Delay: 3}, {Move: "turntable", Frames: 20}, {Move: "camera round", Frames: 20},
			{Move: "light sweep", Frames: 20},
		} {
			if err := shown.Give(&r.Scene, act); err != nil {
				t.Fatal(err)
			}
		}
		r.Scene.Motion.Frames = 30
		film := FilmOf(&r.Scene, parts, &r.Size)
		var file bytes.Buffer
		if err := write.GLB(&file, Place(parts, &r.Size, true), film); err != nil {
			t.Fatal(err)
		}
		doc := new(gltf.Document)
		if err := gltf.NewDecoder(&file).Decode(doc); err != nil {
			t.Fatal(err)
		}
		lamps, ok := doc.Extensions[lightspunctual.ExtensionName].(lightspunctual.Lights)
		if !ok || len(lamps) != 4 || len(doc.Cameras) != 1 {
			t.Errorf("%s: %d lights, %d cameras", name, len(lamps), len(doc.Cameras))
		}
		// What the animation says of nodes: translation, rotation and scale by frame.
		said := map[int]map[gltf.TRSProperty]any{}
		for _, c := range doc.Animations[0].Channels {
			sampler := doc.Animations[0].Samplers[c.Sampler]
			data, err := modeler.ReadAccessor(doc, doc.Accessors[sampler.Output], nil)
			if err != nil {
				t.Fatal(err)
			}
			node := *c.Target.Node
			if said[node] == nil {
				said[node] = map[gltf.TRSProperty]any{}
			}
			said[node][c.Target.Path] = data
		}
		at := func(node, frame int, v geom.Vec3) geom.Vec3 {
			n := doc.Nodes[node]
			turn, move := n.Rotation, n.Translation
			if d, ok := said[node][gltf.TRSRotation].([][4]float32); ok {
				for k := range turn {
					turn[k] = float64(d[frame][k])
				}
			}
			if d, ok := said[node][gltf.TRSTranslation].([][3]float32); ok {
				for k := range move {
					move[k] = float64(d[frame][k])
				}
			}
			return spun(turn, v).Add(geom.Vec3{X: move[0], Y: move[1], Z: move[2]})
		}
		camera := -1
		for i, n := range doc.Nodes {
			if n.Camera != nil {
				camera = i
			}
		}
		placed := Place(parts, &r.Size, true)
		for _, frame := range []int{0, 7, 13, 29} {
			st := (&Shown{Bodies: shown.Bodies, Scene: r.Scene}).StillAt(float64(frame))
			eye := at(camera, frame, geom.Vec3{}).Times(1000)
			for i := range parts {
				for _, v := range []int32{0, 5, 9} {
					p, q := parts[i].Mesh.Pos(v), placed[i].Mesh.Pos(v)
					want := st.Poses[i].At(geom.Vec3{X: float64(p[0]), Y: float64(p[1]), Z: float64(p[2])})
					got := at(i, frame, geom.Vec3{X: float64(q[0]), Y: float64(q[1]), Z: float64(q[2])})
					// However the piece lies, the eye is as far from each of its places.
					a, b := want.Sub(st.Camera.Eye).Len(), got.Sub(eye).Len()
					if math.Abs(a-b) > 1e-3*a {
						t.Errorf("%s, frame %d, part %d: %g mm from the eye, want %g", name, frame, i, b, a)
					}
				}
			}
		}
	}
	if FilmOf(&recipe.Scene{}, []write.Part{{}}, &recipe.Size{}) != nil {
		t.Error("a piece that nobody has shown has a film")
	}
}

// TestDepthsGrowWithoutPlanning raises a piece at frames in which depth and bevel grow:
// plans are made once, heights are as the factors say.
func TestDepthsGrowWithoutPlanning(t *testing.T) {
	s := sheet(t, "../../demo/gull-crest.eps")
	r := recipe.New()
	r.Scene.Motion = recipe.Motion{Frames: 11, Tracks: []recipe.Track{
		{Of: recipe.OfPiece, What: "depth", Keys: []recipe.Key{{Frame: 0, Value: 0.2, Ease: "even"}, {Frame: 10, Value: 1}}},
		{Of: recipe.OfPiece, What: "bevel", Keys: []recipe.Key{{Frame: 0, Value: 0.5, Ease: "even"}, {Frame: 10, Value: 1}}},
	}}
	keep := &recorder{kept: map[Key]any{}}
	line := &Line{Keep: keep, Recipe: &r}
	made, err := line.RegionsOf(t.Context(), joinedOf(s))
	if err != nil {
		t.Fatal(err)
	}
	keep.took()
	for i, frame := range []float64{10, 5, 0} {
		shown, err := line.Shown(t.Context(), made.Value, frame)
		if err != nil {
			t.Fatal(err)
		}
		lo, hi := shown.Bodies[0].Solid.Value.Mesh.Box()
		if want := 8 * (0.2 + 0.08*frame); math.Abs(hi[2]-lo[2]-want) > 0.01 {
			t.Errorf("frame %g: %g mm deep, want %g", frame, hi[2]-lo[2], want)
		}
		if ran := keep.took(); strings.Contains(ran, "plan") != (i == 0) || !strings.Contains(ran, "solid") {
			t.Errorf("frame %g: what ran is %s", frame, ran)
		}
		if rest := shown.Bodies[0].Rest; math.Abs(rest[1][2]-rest[0][2]-8) > 0.01 {
			t.Errorf("frame %g: at rest it is %g mm deep", frame, rest[1][2]-rest[0][2])
		}
	}
}

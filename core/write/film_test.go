package write

import (
	"bytes"
	"math"
	"testing"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/ext/lightspunctual"
	"github.com/qmuntal/gltf/modeler"
)

func at(x, y, z float64) Stand {
	return Stand{Turn: [4]float64{0, 0, 0, 1}, Size: 1, At: [3]float64{x, y, z}}
}

// turned is a turn about the upright axis.
func turned(degrees float64) Stand {
	s := at(0, 0, 0)
	s.Turn[1], s.Turn[3] = math.Sincos(degrees / 2 * math.Pi / 180)
	return s
}

// TestFilmsHoldWhatMoves writes a film and reads what the file says: only what changes has
// channels, turns go the shorter way, camera and lamps stand in metres.
func TestFilmsHoldWhatMoves(t *testing.T) {
	film := &Film{Rate: 25, Lens: [2]float64{0.4, 1.5}}
	hidden := at(0, 0, 0)
	hidden.Size = 0
	film.Parts = [][]Stand{
		{turned(0), turned(170), turned(340)}, // on by 170 degrees each, beyond half a turn
		{hidden, at(0, 0, 0), at(0, 0, 0)},
	}
	film.Camera = []Stand{at(0, 0, 500), at(0, 0, 500), at(0, 0, 500)}
	film.Lamps = []Lamp{
		{
			Name: "Key", Kind: "spot", Color: [3]float64{1, 0.5, 0.25}, Strength: 3, Inner: 0.2, Outer: 0.6,
			At: []Stand{at(100, 0, 0), at(200, 0, 0), at(300, 0, 0)},
		},
		{Name: "Sun", Kind: "directional", Color: [3]float64{1, 1, 1}, Strength: 2, At: []Stand{at(0, 9, 0), at(0, 9, 0), at(0, 9, 0)}},
	}
	parts := pair()
	if len(parts) != 2 {
		t.Fatalf("%d parts", len(parts))
	}
	var file bytes.Buffer
	if err := GLB(&file, parts, film); err != nil {
		t.Fatal(err)
	}
	doc := new(gltf.Document)
	if err := gltf.NewDecoder(&file).Decode(doc); err != nil {
		t.Fatal(err)
	}
	lamps, ok := doc.Extensions[lightspunctual.ExtensionName].(lightspunctual.Lights)
	if !ok || len(lamps) != 2 || *lamps[0].Spot.OuterConeAngle != 0.6 || lamps[1].Spot != nil || *lamps[1].Intensity != 2 {
		t.Errorf("lamps: %+v", lamps)
	}
	if c := doc.Cameras[0].Perspective; c.Yfov != 0.4 || *c.AspectRatio != 1.5 || c.Znear <= 0 || *c.Zfar < 5 {
		t.Errorf("camera: %+v", c)
	}
	type channel struct {
		node string
		path gltf.TRSProperty
	}
	got := map[channel]any{}
	for _, c := range doc.Animations[0].Channels {
		s := doc.Animations[0].Samplers[c.Sampler]
		times, err := modeler.ReadAccessor(doc, doc.Accessors[s.Input], nil)
		if err != nil || len(times.([]float32)) != 3 || times.([]float32)[2] != 2./25 {
			t.Errorf("times: %v, %v", times, err)
		}
		data, err := modeler.ReadAccessor(doc, doc.Accessors[s.Output], nil)
		if err != nil {
			t.Fatal(err)
		}
		got[channel{doc.Nodes[*c.Target.Node].Name, c.Target.Path}] = data
	}
	if len(got) != 3 {
		t.Errorf("%d channels: %v", len(got), got)
	}
	q, ok := got[channel{parts[0].Name, gltf.TRSRotation}].([][4]float32)
	if !ok {
		t.Fatalf("the first part does not turn: %v", got)
	}
	for i := range q[1:] {
		dot := float32(0)
		for k := range 4 {
			dot += q[i][k] * q[i+1][k]
		}
		if dot < 0 {
			t.Errorf("the long way from frame %d: %v", i, q)
		}
	}
	if s, ok := got[channel{parts[1].Name, gltf.TRSScale}].([][3]float32); !ok || s[0] != [3]float32{} || s[1] != [3]float32{1, 1, 1} {
		t.Errorf("the second part appears with %v", s)
	}
	if m, ok := got[channel{"Key", gltf.TRSTranslation}].([][3]float32); !ok || m[2][0] != 0.3 {
		t.Errorf("the lamp moves by %v", m)
	}
	for _, n := range doc.Nodes {
		if n.Camera != nil && n.Translation != [3]float64{0, 0, 0.5} {
			t.Errorf("the camera stands at %v", n.Translation)
		}
	}
	// A still has no animation.
	still := &Film{Rate: 25, Parts: [][]Stand{{at(1, 2, 3)}, {at(0, 0, 0)}}, Camera: film.Camera[:1], Lens: film.Lens}
	file.Reset()
	if err := GLB(&file, parts, still); err != nil {
		t.Fatal(err)
	}
	doc = new(gltf.Document)
	if err := gltf.NewDecoder(&file).Decode(doc); err != nil || len(doc.Animations) != 0 || doc.Nodes[0].Translation != [3]float64{1, 2, 3} {
		t.Errorf("a still: %v, %+v", err, doc.Nodes[0])
	}
}

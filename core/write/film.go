package write

import (
	"math"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/ext/lightspunctual"
	"github.com/qmuntal/gltf/modeler"
)

// Film is how parts are shown, for formats that carry it: camera, lights and motion. Lengths
// in mm, in the coordinates of the parts; one value a frame, or one in all.
type Film struct {
	Rate   float64   // frames a second
	Parts  [][]Stand // of each part
	Camera []Stand   // looks along its own -z, y up
	Lens   [2]float64
	Lamps  []Lamp
}

// Stand is where something is: turned by a quaternion (x, y, z, w), larger, and moved.
type Stand struct {
	Turn [4]float64
	Size float64
	At   [3]float64
}

// Lamp is a light that shines along its own -z.
type Lamp struct {
	Name     string
	Kind     string // "directional", "point" or "spot"
	Color    [3]float64
	Strength float64 // candela, or lux of directional ones
	Inner    float64 // of a spot's cone, radians from the axis
	Outer    float64
	At       []Stand
}

// film adds a camera, lights and an animation to a document whose first nodes are the
// parts, within a root that brings mm to m.
func (f *Film) film(doc *gltf.Document) {
	const metres = 0.001
	node := func(n *gltf.Node, at []Stand, scale float64) int {
		put(n, at[0], scale)
		doc.Nodes = append(doc.Nodes, n)
		doc.Scenes[0].Nodes = append(doc.Scenes[0].Nodes, len(doc.Nodes)-1)
		return len(doc.Nodes) - 1
	}
	anim := &gltf.Animation{Name: "motion"}
	for i, at := range f.Parts {
		put(doc.Nodes[i], at[0], 1)
		f.animate(doc, anim, i, at, 1)
	}
	if len(f.Camera) > 0 {
		far := math.Sqrt(f.Camera[0].At[0]*f.Camera[0].At[0]+f.Camera[0].At[1]*f.Camera[0].At[1]+f.Camera[0].At[2]*f.Camera[0].At[2]) * metres
		doc.Cameras = append(doc.Cameras, &gltf.Camera{Name: "camera", Perspective: &gltf.Perspective{
			Yfov: f.Lens[0], AspectRatio: gltf.Float(f.Lens[1]), Znear: max(far/100, 1e-4), Zfar: gltf.Float(max(far*20, 1)),
		}})
		k := node(&gltf.Node{Name: "camera", Camera: gltf.Index(len(doc.Cameras) - 1)}, f.Camera, metres)
		f.animate(doc, anim, k, f.Camera, metres)
	}
	var list lightspunctual.Lights
	for _, l := range f.Lamps {
		one := &lightspunctual.Light{
			Name: l.Name, Type: l.Kind, Color: &l.Color, Intensity: gltf.Float(l.Strength),
		}
		if l.Kind == "spot" {
			one.Spot = &lightspunctual.Spot{InnerConeAngle: l.Inner, OuterConeAngle: gltf.Float(l.Outer)}
		}
		list = append(list, one)
		n := &gltf.Node{Name: l.Name}
		n.Extensions = gltf.Extensions{lightspunctual.ExtensionName: map[string]int{"light": len(list) - 1}}
		k := node(n, l.At, metres)
		f.animate(doc, anim, k, l.At, metres)
	}
	if len(list) > 0 {
		doc.Extensions = gltf.Extensions{lightspunctual.ExtensionName: map[string]any{"lights": list}}
		doc.ExtensionsUsed = append(doc.ExtensionsUsed, lightspunctual.ExtensionName)
	}
	if len(anim.Channels) > 0 {
		doc.Animations = append(doc.Animations, anim)
	}
}

// put gives a node its place.
func put(n *gltf.Node, s Stand, scale float64) {
	n.Rotation = s.Turn
	if s.Size != 1 {
		n.Scale = [3]float64{s.Size, s.Size, s.Size}
	}
	n.Translation = [3]float64{s.At[0] * scale, s.At[1] * scale, s.At[2] * scale}
}

// animate adds the channels of a node that change.
func (f *Film) animate(doc *gltf.Document, anim *gltf.Animation, node int, at []Stand, scale float64) {
	if len(at) < 2 {
		return
	}
	times := make([]float32, len(at))
	move, size, turn := make([][3]float32, len(at)), make([][3]float32, len(at)), make([][4]float32, len(at))
	var moves, sizes, turns bool
	for i, s := range at {
		times[i] = float32(float64(i) / f.Rate)
		q := s.Turn
		if i > 0 && q[0]*float64(turn[i-1][0])+q[1]*float64(turn[i-1][1])+q[2]*float64(turn[i-1][2])+q[3]*float64(turn[i-1][3]) < 0 {
			q = [4]float64{-q[0], -q[1], -q[2], -q[3]} // the shorter way round
		}
		turn[i] = [4]float32{float32(q[0]), float32(q[1]), float32(q[2]), float32(q[3])}
		for k := range 3 {
			move[i][k], size[i][k] = float32(s.At[k]*scale), float32(s.Size)
		}
		moves, sizes, turns = moves || s.At != at[0].At, sizes || s.Size != at[0].Size, turns || s.Turn != at[0].Turn
	}
	var input *int
	channel := func(on bool, path gltf.TRSProperty, values any) {
		if !on {
			return
		}
		if input == nil {
			input = gltf.Index(modeler.WriteAccessor(doc, gltf.TargetNone, times))
			a := doc.Accessors[*input]
			a.Min, a.Max = []float64{float64(times[0])}, []float64{float64(times[len(times)-1])}
		}
		anim.Samplers = append(anim.Samplers, &gltf.AnimationSampler{
			Input: *input, Output: modeler.WriteAccessor(doc, gltf.TargetNone, values), Interpolation: gltf.InterpolationLinear,
		})
		anim.Channels = append(anim.Channels, &gltf.AnimationChannel{
			Sampler: len(anim.Samplers) - 1, Target: gltf.AnimationChannelTarget{Node: gltf.Index(node), Path: path},
		})
	}
	channel(moves, gltf.TRSTranslation, move)
	channel(turns, gltf.TRSRotation, turn)
	channel(sizes, gltf.TRSScale, size)
}

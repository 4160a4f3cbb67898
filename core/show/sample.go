package show

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// Sample is a scene that shows what a material is like: a button of it, 20 mm wide and
// slightly domed with a turned rim, on a clear ground. Materials with the colour of the
// artwork are shown in that of the harbour's enamel.
func Sample(m *recipe.Material) *picture.Scene {
	made := MaterialIn(m, artwork.Color{R: 0x2f, G: 0x73, B: 0x7e})
	body := picture.Surface{Material: made}
	const around = 96
	// The section from the middle to the foot: radius and height in mm.
	section := [][2]float64{
		{0, 4.6}, {2, 4.5}, {4, 4.2}, {5.6, 3.7}, {6.4, 3.2}, {6.7, 2.9}, // the dome
		{7.1, 3.1}, {7.8, 3.5}, {8.6, 3.5}, {9.3, 3.1}, {9.8, 2.3}, {10, 1.2}, {10, 0}, // the rim
	}
	tangent := func(k int) geom.Vec3 { // of the section: across and up
		a, b := section[max(0, k-1)], section[min(len(section)-1, k+1)]
		return geom.Vec3{X: b[0] - a[0], Z: b[1] - a[1]}.Unit()
	}
	at := func(k, i int) (p, n geom.Vec3) {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / around)
		t := tangent(k)
		return geom.Vec3{X: section[k][0] * cos, Y: section[k][0] * sin, Z: section[k][1]},
			geom.Vec3{X: -t.Z * cos, Y: -t.Z * sin, Z: t.X}
	}
	face := func(ids ...[2]int) {
		var c, n [3]geom.Vec3
		for j, id := range ids {
			c[j], n[j] = at(id[0], id[1])
		}
		body.Corners, body.Normals = append(body.Corners, c), append(body.Normals, n)
	}
	for k := range len(section) - 1 {
		for i := range around {
			if k > 0 {
				face([2]int{k, i}, [2]int{k + 1, i}, [2]int{k, i + 1})
			}
			face([2]int{k, i + 1}, [2]int{k + 1, i}, [2]int{k + 1, i + 1})
		}
	}
	rest := newBox()
	rest.take([3]float64{-10, -10, 0})
	rest.take([3]float64{10, 10, 4.6})
	out := &picture.Scene{Surfaces: []picture.Surface{body}, Lights: lamps(Setting("", 9), rest.middle()), Sky: sky(&recipe.Surroundings{}, nil)}
	out.Camera = camera(&recipe.Camera{Turn: -18, Height: 22, Margin: 0.03, Aspect: "1:1"}, rest)
	return out
}

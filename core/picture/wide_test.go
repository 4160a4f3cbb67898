package picture

import (
	"math"
	"math/rand/v2"
	"testing"
	"unsafe"

	"bildhauer/core/geom"
)

// TestFourAtOnceAreEachByItself walks rays through trees by what the machine does for four boxes at once, and by what it
// does for each: the same leaves come in the same order, with the same ways left open. Some rays run along sides of
// boxes, or have nothing but zeros where others have numbers.
func TestFourAtOnceAreEachByItself(t *testing.T) {
	if s := unsafe.Sizeof(four{}); s != 128 {
		t.Fatalf("a node has %d bytes", s)
	}
	r := rand.New(rand.NewPCG(11, 12))
	for _, tris := range [][][3]geom.Vec3{cloud(r, 5), cloud(r, 4000), ball(40), tiles(30)} {
		tree := NewTree(tris)
		leaves := 0
		for k := range 3000 {
			ray := someRay(r)
			switch k % 4 {
			case 1: // along an axis
				ray.Dir = [3]geom.Vec3{{X: 1}, {Y: -1}, {Z: 1}}[r.IntN(3)]
			case 2: // from a corner, in the plane of a side
				ray.From = tris[r.IntN(len(tris))][r.IntN(3)]
				ray.Dir = geom.Vec3{X: r.NormFloat64(), Y: r.NormFloat64()}.Unit()
			case 3:
				ray.Far = 200 * r.Float64()
			}
			a, b := newWalker(&ray), newWalker(&ray)
			var one, other ways
			at := int32(0)
			for top := 0; ; at = -1 {
				c, n := descend(tree.nodes, &a, &one, top, at)
				d, m := descendPlain(tree.nodes, &b, &other, top, at)
				if c != d || n != m || one.child != other.child || one.enter != other.enter {
					t.Fatalf("ray %d: %d with %d open, want %d with %d", k, c, n, d, m)
				}
				if c >= 0 {
					break
				}
				leaves++
				top = n
				if r.IntN(6) == 0 { // something was met: what is behind is left out
					a.far = a.near + (min(a.far, 300)-a.near)*r.Float32()
					b.far = a.far
				}
			}
		}
		if leaves < 500 {
			t.Errorf("%d leaves", leaves)
		}
	}
}

// tiles is a plane of squares whose boxes have no height and share their sides.
func tiles(n int) (out [][3]geom.Vec3) {
	for i := range n {
		for j := range n {
			p := vec(float64(i-n/2), float64(j-n/2), 0)
			q, s, u := p.Add(vec(1, 0, 0)), p.Add(vec(1, 1, 0)), p.Add(vec(0, 1, 0))
			out = append(out, [3]geom.Vec3{p, q, s}, [3]geom.Vec3{p, s, u})
		}
	}
	return out
}

// TestRaysInThePlaneOfSidesMeet sends rays along the sides of boxes, straight down onto the corners of tiles.
func TestRaysInThePlaneOfSidesMeet(t *testing.T) {
	tree := NewTree(tiles(32))
	s := &Scene{Surfaces: []Surface{{Corners: tiles(32), Material: white()}}} // its box ends where the outer ones run
	s.ready()
	var memory searches
	for i := -16; i < 16; i++ {
		for j := -16; j < 16; j++ {
			ray := Ray{From: vec(float64(i), float64(j), 9), Dir: vec(0, 0, -1), Far: math.Inf(1)}
			if h, ok := tree.First(&ray); !ok || math.Abs(h.Dist-9) > 1e-6 {
				t.Fatalf("down onto %d, %d: %v at %g", i, j, ok, h.Dist)
			}
			if h, ok := s.first(&ray, &s.Moments[0], &memory, false); !ok || math.Abs(h.Dist-9) > 1e-6 {
				t.Fatalf("down onto a part at %d, %d: %v at %g", i, j, ok, h.Dist)
			}
		}
	}
}

// TestUnevenTreesAreBounded builds trees over triangles each of which is larger than the one before: the ways
// that are left open have room, and all are found.
func TestUnevenTreesAreBounded(t *testing.T) {
	var tris [][3]geom.Vec3
	for k := range 4000 {
		x := math.Pow(1.005, float64(k)) * 1e-4
		tris = append(tris, [3]geom.Vec3{vec(x, -x, x), vec(x, x, x), vec(x, 0, -x)})
	}
	tree := NewTree(tris)
	if n := needs(tree.nodes); n > openMost {
		t.Errorf("%d ways are left open", n)
	}
	for k := 0; k < len(tris); k += 7 {
		x := tris[k][0].X
		ray := Ray{From: vec(x*1.002, 0, 0), Dir: vec(-1, 0, 0), Far: math.Inf(1)}
		if h, ok := tree.First(&ray); !ok || int(h.ID) != k {
			t.Fatalf("met %d, want %d", h.ID, k)
		}
	}
	// Splits into halves find the same, and are few upon each other.
	halves := &Tree{tris: make([]triangle, len(tris))}
	boxes := make([]bounds, len(tris))
	for i, tri := range tris {
		boxes[i] = noBounds
		for _, v := range tri {
			boxes[i].take([3]float32{float32(v.X), float32(v.Y), float32(v.Z)})
		}
	}
	nodes, ids := nodesOver(boxes, leafMost, true)
	halves.nodes, halves.ids = fours(nodes), ids
	for i, k := range ids {
		for c, v := range tris[k] {
			halves.tris[i][c] = [3]float32{float32(v.X), float32(v.Y), float32(v.Z)}
		}
	}
	if n := needs(halves.nodes); n > 3*12 {
		t.Errorf("halves leave %d ways open", n)
	}
	for k := 0; k < len(tris); k += 7 {
		ray := Ray{From: vec(tris[k][0].X*1.002, 0, 0), Dir: vec(-1, 0, 0), Far: math.Inf(1)}
		if h, ok := halves.First(&ray); !ok || int(h.ID) != k {
			t.Fatalf("by halves met %d, want %d", h.ID, k)
		}
	}
	// A chain in which each node has one leaf and the rest.
	chain := make([]node, 1000)
	for i := range chain {
		box := [2][3]float32{{0, 0, 0}, {1, 1, 1}}
		chain[i] = node{box: [2][2][3]float32{box, box}, child: [2]int32{leaf(i, 1), int32(i + 1)}}
	}
	chain[len(chain)-1].child[1] = leaf(len(chain), 1)
	if n := needs(fours(chain)); n < 900 {
		t.Errorf("a chain needs %d", n)
	}
}

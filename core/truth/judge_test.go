package truth

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"bildhauer/core/mesh"
)

// solid is a mesh as its upright lines see it.
type solid struct {
	tris [][3][3]float64
}

func solidOf(m *mesh.Mesh) *solid {
	s := &solid{}
	for _, t := range m.Tris {
		var c [3][3]float64
		for i, v := range t {
			for k, x := range m.Verts[v] {
				c[i][k] = float64(x) * m.Step
			}
		}
		s.tris = append(s.tris, c)
	}
	return s
}

// over returns what lies inside of the mesh over a place, and whether it is inside once everywhere.
func (s *solid) over(p vec) (column, error) {
	type hit struct {
		z float64
		w int
	}
	var hits []hit
	for _, t := range s.tris {
		side := func(a, b [3]float64) float64 { return (b[0]-a[0])*(p.y-a[1]) - (b[1]-a[1])*(p.x-a[0]) }
		u, v, w := side(t[1], t[2]), side(t[2], t[0]), side(t[0], t[1])
		if sum := u + v + w; sum != 0 && (u > 0) == (v > 0) && (v > 0) == (w > 0) {
			up := 1
			if sum < 0 {
				up = -1
			}
			hits = append(hits, hit{(u*t[0][2] + v*t[1][2] + w*t[2][2]) / sum, up})
		}
	}
	slices.SortFunc(hits, func(a, b hit) int { return cmp.Compare(a.z, b.z) })
	var out column
	n := 0
	for i, h := range hits {
		n -= h.w // an underside begins
		if i+1 == len(hits) {
			break
		}
		if hits[i+1].z-h.z < 1e-4 {
			continue
		}
		switch n {
		case 0:
		case 1:
			out = out.plus(span{h.z, hits[i+1].z})
		default:
			return nil, fmt.Errorf("at %.3f, %.3f it is inside %d times above %.4f", p.x, p.y, n, h.z)
		}
	}
	if n != 0 {
		return nil, fmt.Errorf("at %.3f, %.3f it is open: %d", p.x, p.y, n)
	}
	return out, nil
}

// rounding is what two ends may differ by that are meant to be one, mm.
const rounding = 3e-4

// surely reports whether all is as it is meant to be at a place wherever one looks within near of it: a
// groove may be narrower than that.
func surely(means func(vec) column, p vec, z float64, want bool, near float64) bool {
	for i := range 24 * 10 {
		s, c := math.Sincos(2 * math.Pi * float64(i%24) / 24)
		around := means(p.plus(vec{c, s}, near*float64(1+i/24)/10))
		for k := -4; k <= 4; k++ {
			if around.has(z+near*float64(k)/4) != want {
				return false
			}
		}
	}
	return true
}

// judge compares a mesh with what it is meant to be at random places of boxes, of each as many, but
// within near of a surface, where rounding and chords have a say. It returns how many of how many
// places are wrong, and the first of them.
func judge(rnd *rand.Rand, m *mesh.Mesh, means func(vec) column, boxes [][2]vec, near float64) (wrong, judged int, first string) {
	s := solidOf(m)
	for n := range 200 {
		lo, hi := boxes[n%len(boxes)][0], boxes[n%len(boxes)][1]
		p := vec{lo.x + (hi.x-lo.x)*rnd.Float64(), lo.y + (hi.y-lo.y)*rnd.Float64()}
		got, err := s.over(p)
		if err != nil {
			return 1, 1, err.Error()
		}
		var around []column
		ends := []float64{-1e3, 1e3}
		for _, k := range []vec{{0, 0}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			around = append(around, means(p.plus(k, near)))
		}
		for _, c := range append(around[:1:1], got) {
			for _, sp := range c {
				ends = append(ends, sp.lo, sp.hi)
			}
		}
		slices.Sort(ends)
		for i := range ends[1:] {
			if ends[i+1]-ends[i] < rounding && len(around[0]) > 0 {
				continue
			}
			z := (ends[i] + ends[i+1]) / 2
			want := around[0].has(z)
			clear := true
			for _, c := range around {
				clear = clear && c.has(z) == want && c.has(z-near) == want && c.has(z+near) == want
			}
			if !clear {
				continue
			}
			judged++
			if got.has(z) != want && surely(means, p, z, want, near) {
				wrong++
				if first == "" {
					first = fmt.Sprintf("at %.3f, %.3f, %.3f it is %v, is meant to be %v: %v, meant %v", p.x, p.y, z, !want, want, got, around[0])
				}
			}
		}
	}
	return wrong, judged, first
}

package ink

import "bildhauer/core/artwork"

// OnGrid returns the colours of a function of the place (a shading of type 1) on
// a grid of its domain.
func OnGrid(domain []float64, at func(v []float64) artwork.Color) []artwork.Color {
	const n = 8
	var out []artwork.Color
	for i := range n {
		for j := range n {
			x := domain[0] + (domain[1]-domain[0])*(float64(i)+0.5)/n
			y := domain[2] + (domain[3]-domain[2])*(float64(j)+0.5)/n
			out = append(out, at([]float64{x, y}))
		}
	}
	return out
}

// Mesh is the data of a shading by a mesh (types 4 to 7, PLRM 4.9.3): vertices
// or corners of patches with a colour each, packed bit by bit.
type Mesh struct {
	Kind       int
	Coordinate int // bits of a coordinate
	Component  int // bits of a colour's component
	Flag       int // bits of an edge flag
	Decode     []float64
	Data       []byte
}

// maxMeshColors bounds the colours that are sampled; a mean needs no more.
const maxMeshColors = 20_000

// Colors returns the colours of the mesh, n components each.
func (m *Mesh) Colors(n int) [][]float64 {
	b := packed{data: m.Data}
	var out [][]float64
	color := func() {
		c := make([]float64, n)
		for i := range c {
			v := float64(b.take(m.Component)) / float64(uint64(1)<<max(1, m.Component)-1)
			lo, hi := 0.0, 1.0
			if k := 4 + 2*i; k+1 < len(m.Decode) {
				lo, hi = m.Decode[k], m.Decode[k+1]
			}
			c[i] = lo + v*(hi-lo)
		}
		if !b.over {
			out = append(out, c)
		}
	}
	points := func(n int) {
		for range 2 * n {
			b.take(m.Coordinate)
		}
	}
	if m.Coordinate <= 0 || m.Component <= 0 || m.Coordinate > 32 || m.Component > 16 || n < 1 {
		return nil
	}
	for !b.over && len(out) < maxMeshColors {
		flag := uint64(0)
		if m.Kind != 5 {
			flag = b.take(m.Flag) & 3
		}
		switch m.Kind {
		case 4, 5:
			points(1)
			color()
		case 6, 7:
			all, corners := 12+4*(m.Kind-6), 4
			if flag != 0 { // four points and two colours are those of the patch before
				all, corners = all-4, 2
			}
			points(all)
			for range corners {
				color()
			}
		default:
			return nil
		}
		b.align()
	}
	return out
}

// packed reads numbers of any width, highest bit first.
type packed struct {
	data []byte
	at   int // bit
	over bool
}

func (b *packed) take(n int) uint64 {
	var v uint64
	for range n {
		if b.at>>3 >= len(b.data) {
			b.over = true
			return 0
		}
		v = v<<1 | uint64(b.data[b.at>>3]>>(7-b.at&7)&1)
		b.at++
	}
	return v
}

func (b *packed) align() { b.at = (b.at + 7) &^ 7 }

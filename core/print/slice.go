// Package print judges solids as a printer would: cut into layers, on a bed, in a material.
// Solids lie as they will be printed, z up, the bed below them.
package print

import (
	"context"
	"fmt"
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Layer is what is printed between two heights.
type Layer struct {
	Z, Height float64      // of its upper side above the bed, and how thick it is, mm
	Area      plane.Region // the section of the solid half way up, on the mesh's own grid
}

// MostLayers bounds a piece: two metres of the thinnest layers that printers make.
const MostLayers = 20_000

// Slice cuts a sound solid into layers, the first one of its own height. Sections are exact
// but for rounding to the grid: a plane lies half a unit off the grid, so that it meets no
// point of the mesh, and every edge that it crosses gives one point, which both triangles
// of the edge share; so the outlines of a closed mesh are closed.
func Slice(ctx context.Context, m *mesh.Mesh, first, height float64) ([]Layer, error) {
	if !(first > 0) || !(height > 0) {
		return nil, fmt.Errorf("a layer is thicker than 0 mm")
	}
	lo, hi := m.Box()
	heights, err := heightsOf(hi[2]-lo[2], first, height)
	if err != nil {
		return nil, err
	}
	n := len(heights)
	layers := make([]Layer, n)
	cuts := make([]int64, n) // twice the height of each plane on the grid: odd
	z := 0.0
	for i := range layers {
		l := &layers[i]
		l.Height = heights[i]
		z += l.Height
		l.Z = z
		cuts[i] = 2*int64(math.Floor((lo[2]+z-l.Height/2)/m.Step)) + 1
	}
	progress.Needed(ctx)
	byLayer := crossing(m, cuts)
	err = parallel.Each(n, func(i int) (err error) {
		progress.Needed(ctx)
		if layers[i].Area, err = section(m, byLayer[i], cuts[i]); err != nil {
			return fmt.Errorf("layer %d: %w", i+1, err)
		}
		return ctx.Err()
	})
	return layers, err
}

// thicker is by how much of its height a layer may be thicker than asked for, so that what is left over needs none of its
// own.
const thicker = 0.1

// heightsOf divides a height into layers: the first as thick as asked for, and as many others as it takes for none to be
// thicker than asked for by more than a tenth; what would be left over is shared out among these. Where that is less than
// half a layer for a single one, both share all.
func heightsOf(tall, first, height float64) ([]float64, error) {
	if tall <= math.Max(first, height)*(1+thicker) && tall-first < height/2 {
		return []float64{tall}, nil
	}
	rest := tall - first
	n := max(0, int(math.Ceil(rest/height-thicker)))
	if 1+n > MostLayers {
		return nil, fmt.Errorf("these are %d layers; there are %d at the most: make them thicker", 1+n, MostLayers)
	}
	out := make([]float64, 1+n)
	switch out[0] = first; {
	case n == 1 && rest < height/2:
		out[0], out[1] = tall/2, tall/2
	default:
		for i := range n {
			out[i+1] = rest / float64(n)
		}
	}
	return out, nil
}

// crossing lists the triangles that each plane crosses; planes are in rising order.
func crossing(m *mesh.Mesh, cuts []int64) [][]int32 {
	out := make([][]int32, len(cuts))
	for k, t := range m.Tris {
		lo, hi := int64(math.MaxInt64), int64(math.MinInt64)
		for _, v := range t {
			z := 2 * int64(m.Verts[v][2])
			lo, hi = min(lo, z), max(hi, z)
		}
		// The first plane above the lowest corner, by halving.
		a, b := 0, len(cuts)
		for a < b {
			if mid := (a + b) / 2; cuts[mid] > lo {
				b = mid
			} else {
				a = mid + 1
			}
		}
		for ; a < len(cuts) && cuts[a] < hi; a++ {
			out[a] = append(out[a], int32(k))
		}
	}
	return out
}

// section joins what one plane cuts to outlines, the solid on their left.
func section(m *mesh.Mesh, tris []int32, cut int64) (plane.Region, error) {
	ways := newWays(len(tris))
	for _, k := range tris {
		t := m.Tris[k]
		var down, up [2]int32
		for i, a := range t {
			b := t[(i+1)%3]
			above, later := 2*int64(m.Verts[a][2]) > cut, 2*int64(m.Verts[b][2]) > cut
			edge := [2]int32{min(a, b), max(a, b)}
			switch {
			case above && !later:
				down = edge
			case !above && later:
				up = edge
			}
		}
		ways.put(down, up)
	}
	at := func(e [2]int32) plane.Point {
		a, b := m.Verts[e[0]], m.Verts[e[1]]
		s := float64(cut-2*int64(a[2])) / float64(2*(int64(b[2])-int64(a[2])))
		mix := func(p, q int32) int32 { return p + int32(math.Round(float64(q-p)*s)) }
		return plane.Point{X: mix(a[0], b[0]), Y: mix(a[1], b[1])}
	}
	var loops []plane.Loop
	for i := range ways.list {
		if ways.list[i].taken {
			continue
		}
		var loop plane.Loop
		for w := &ways.list[i]; !w.taken; {
			w.taken = true
			if p := at(w.from); len(loop) == 0 || loop[len(loop)-1] != p {
				loop = append(loop, p)
			}
			if w = ways.find(w.to); w == nil {
				return nil, fmt.Errorf("the solid is open there")
			}
		}
		if len(loop) > 1 && loop[0] == loop[len(loop)-1] {
			loop = loop[:len(loop)-1]
		}
		if len(loop) >= 3 {
			loops = append(loops, turnedToLeast(loop))
		}
	}
	sortLoops(loops)
	if r, ok := plane.FillSimple(loops, plane.NonZero); ok {
		return r, nil
	}
	return plane.Fill(loops, plane.NonZero)
}

// way is what a plane cuts of a triangle: from one of its edges to another.
type way struct {
	from, to [2]int32 // ends of the edges
	taken    bool
}

// ways finds ways by where they begin, in a table of twice as many places with open addresses.
type ways struct {
	list  []way
	table []slot
}

// slot is a place of the table: the ends of an edge, and the number in the list and one more.
type slot struct {
	ends   uint64
	number int32
}

func newWays(n int) *ways {
	size := 4
	for size < 2*n {
		size *= 2
	}
	return &ways{list: make([]way, 0, n), table: make([]slot, size)}
}

// place returns where the way from an edge is in the table, or where it would be.
func (w *ways) place(from [2]int32) (s *slot, ends uint64) {
	ends = uint64(uint32(from[0]))<<32 | uint64(uint32(from[1]))
	h := (ends ^ ends>>29) * 0xbf58476d1ce4e5b9
	mask := len(w.table) - 1
	for i := int(h>>33) & mask; ; i = (i + 1) & mask {
		if s = &w.table[i]; s.number == 0 || s.ends == ends {
			return s, ends
		}
	}
}

func (w *ways) put(from, to [2]int32) {
	s, ends := w.place(from)
	if s.number != 0 {
		w.list[s.number-1].to = to
		return
	}
	w.list = append(w.list, way{from: from, to: to})
	*s = slot{ends, int32(len(w.list))}
}

// find returns the way from an edge, nil if there is none.
func (w *ways) find(from [2]int32) *way {
	s, _ := w.place(from)
	if s.number == 0 {
		return nil
	}
	return &w.list[s.number-1]
}

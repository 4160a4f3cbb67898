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
	c := newCutter(m)
	byLayer := c.crossing(cuts)
	err = parallel.Each(n, func(i int) (err error) {
		progress.Needed(ctx)
		if layers[i].Area, err = c.section(byLayer[i], cuts[i]); err != nil {
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

// cutter cuts a mesh into sections.
type cutter struct {
	m     *mesh.Mesh
	twins []int32 // see mesh.Twins
}

func newCutter(m *mesh.Mesh) *cutter { return &cutter{m, mesh.Twins(len(m.Verts), m.Tris)} }

// crossing lists the triangles that each plane crosses; planes are in rising order.
func (c *cutter) crossing(cuts []int64) [][]int32 {
	out := make([][]int32, len(cuts))
	for k, t := range c.m.Tris {
		lo, hi := int64(math.MaxInt64), int64(math.MinInt64)
		for _, v := range t {
			z := 2 * int64(c.m.Verts[v][2])
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

// section joins what one plane cuts of triangles to outlines, the solid on their left: from each triangle to the one
// beyond the side at which the plane leaves it.
func (c *cutter) section(tris []int32, cut int64) (plane.Region, error) {
	taken := make([]uint64, len(c.m.Tris)/64+1)
	var loops []plane.Loop
	for _, k := range tris {
		var loop plane.Loop
		for taken[k/64]>>(k%64)&1 == 0 {
			taken[k/64] |= 1 << (k % 64)
			down, up := c.sides(k, cut)
			if p := c.at(k, down, cut); len(loop) == 0 || loop[len(loop)-1] != p {
				loop = append(loop, p)
			}
			next := c.twins[3*k+up]
			if next < 0 {
				return nil, fmt.Errorf("the solid is open there")
			}
			k = next / 3
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

// sides returns the side of a triangle that runs down through a plane, and the one that runs up.
func (c *cutter) sides(k int32, cut int64) (down, up int32) {
	t := c.m.Tris[k]
	var above [3]bool
	for i, v := range t {
		above[i] = 2*int64(c.m.Verts[v][2]) > cut
	}
	for i := range int32(3) {
		switch later := above[(i+1)%3]; {
		case above[i] && !later:
			down = i
		case !above[i] && later:
			up = i
		}
	}
	return down, up
}

// at returns where a side of a triangle passes a plane. Both triangles of the side work out the same.
func (c *cutter) at(k, side int32, cut int64) plane.Point {
	t := &c.m.Tris[k]
	i, j := t[side], t[(side+1)%3]
	a, b := c.m.Verts[min(i, j)], c.m.Verts[max(i, j)]
	s := float64(cut-2*int64(a[2])) / float64(2*(int64(b[2])-int64(a[2])))
	mix := func(p, q int32) int32 { return p + int32(math.Round(float64(q-p)*s)) }
	return plane.Point{X: mix(a[0], b[0]), Y: mix(a[1], b[1])}
}

package mesh

import (
	"math"
	"slices"
)

// flatQuad is the cosine of the greatest angle, 12 degrees, between the two triangles of
// a quad: beyond it a facet would look folded.
const flatQuad = 0.978

// squareness is how far the corners of a quad may be from right angles, as the sine of
// the difference: up to 55 degrees, where a triangle is as good.
const squareness = 0.82

// Quads pairs triangles along bands and walls: for each triangle the one that makes a
// quad with it, or -1. Both belong to one face group of one part, lie nearly in one plane
// and make a convex quad; the ones with the squarest corners come first. Flat sides stay
// triangles.
func (m *Mesh) Quads() []int32 {
	partner := slices.Repeat([]int32{-1}, len(m.Tris))
	twins := Twins(len(m.Verts), m.Tris)
	type pair struct {
		score float64
		side  int32
	}
	var list []pair
	for side, o := range twins {
		k, n := side/3, o/3
		if o <= int32(side) || !m.banded(k) || m.Group[k] != m.Group[n] || m.partOf(k) != m.partOf(int(n)) {
			continue
		}
		if s, ok := m.quadScore(int32(side), o); ok {
			list = append(list, pair{s, int32(side)})
		}
	}
	slices.SortStableFunc(list, func(a, b pair) int {
		switch {
		case a.score < b.score:
			return -1
		case a.score > b.score:
			return 1
		}
		return int(a.side) - int(b.side)
	})
	for _, p := range list {
		k, n := p.side/3, twins[p.side]/3
		if partner[k] < 0 && partner[n] < 0 {
			partner[k], partner[n] = n, k
		}
	}
	return partner
}

// banded reports whether triangle k belongs to a band or a wall.
func (m *Mesh) banded(k int) bool { return m.Group[k] != Front && m.Group[k] != Back }

func (m *Mesh) partOf(k int) int32 {
	if m.Part == nil {
		return 0
	}
	return m.Part[k]
}

// Quad returns the corners of the quad of triangles k and n, counter-clockwise.
func (m *Mesh) Quad(k, n int32) [4]int32 {
	s, t := m.Tris[k], m.Tris[n]
	for i := range 3 {
		for j := range 3 {
			if s[i] == t[(j+1)%3] && s[(i+1)%3] == t[j] {
				return [4]int32{s[i], t[(j+2)%3], s[(i+1)%3], s[(i+2)%3]}
			}
		}
	}
	return [4]int32{s[0], s[1], s[2], s[2]}
}

// quadScore returns how far the corners of the quad over an edge are from right angles,
// and whether it is one to have.
func (m *Mesh) quadScore(side, o int32) (float64, bool) {
	q := m.Quad(side/3, o/3)
	var v [4][3]float64
	for i, c := range q {
		for a := range 3 {
			v[i][a] = float64(m.Verts[c][a])
		}
	}
	cos, ok := cosBetween(normalOf(v[0], v[1], v[2]), normalOf(v[0], v[2], v[3]))
	if !ok || cos < flatQuad {
		return 0, false
	}
	n := normalOf(v[0], v[1], v[2])
	worst := 0.0
	for i := range 4 {
		a, b, c := v[(i+3)%4], v[i], v[(i+1)%4]
		turn := normalOf(b, c, a)
		if turn[0]*n[0]+turn[1]*n[1]+turn[2]*n[2] <= 0 {
			return 0, false // not convex
		}
		corner, ok := cosBetween(minus(c, b), minus(a, b))
		if !ok {
			return 0, false
		}
		worst = math.Max(worst, math.Abs(corner))
	}
	return worst, worst < squareness
}

func minus(a, b [3]float64) [3]float64 { return [3]float64{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }

func normalOf(a, b, c [3]float64) [3]float64 {
	u, v := minus(b, a), minus(c, a)
	return [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
}

// cosBetween returns the cosine of the angle between two vectors; ok is false when one
// has no length.
func cosBetween(a, b [3]float64) (cos float64, ok bool) {
	l := math.Sqrt((a[0]*a[0] + a[1]*a[1] + a[2]*a[2]) * (b[0]*b[0] + b[1]*b[1] + b[2]*b[2]))
	if l == 0 {
		return 0, false
	}
	return (a[0]*b[0] + a[1]*b[1] + a[2]*b[2]) / l, true
}

// Edges returns the edges of the polygons that the mesh is made of: those of quads and
// triangles, and not what runs across a quad.
func (m *Mesh) Edges() [][2]int32 {
	partner := m.Quads()
	twins := Twins(len(m.Verts), m.Tris)
	var out [][2]int32
	for side, o := range twins {
		k := side / 3
		if o >= 0 && (o < int32(side) || partner[k] == o/3) {
			continue
		}
		t := m.Tris[k]
		out = append(out, [2]int32{t[side%3], t[(side%3+1)%3]})
	}
	return out
}

// Polygon returns the corners of triangle k, or of its quad with triangle n if that is not
// -1, each as a vertex and, where the mesh has them, the entries of its normal and its
// texture coordinates.
func (m *Mesh) Polygon(k, n int32) [][3]int32 {
	corner := func(k int32, v int32) [3]int32 {
		out := [3]int32{v}
		for i, u := range m.Tris[k] {
			if u != v {
				continue
			}
			if len(m.Corner) > 0 {
				out[1] = m.Corner[k][i]
			}
			if len(m.Wrap) > 0 {
				out[2] = m.Wrap[k][i]
			}
		}
		return out
	}
	if n < 0 {
		t := m.Tris[k]
		return [][3]int32{corner(k, t[0]), corner(k, t[1]), corner(k, t[2])}
	}
	q := m.Quad(k, n)
	return [][3]int32{corner(k, q[0]), corner(n, q[1]), corner(k, q[2]), corner(k, q[3])}
}

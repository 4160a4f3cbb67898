package raise

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// membrane is Poisson's equation over a plan with linear finite elements, in units of the plan's width:
// a symmetric matrix with a row for each point. Points of the rim, where h is 0, have a diagonal of 0.
type membrane struct {
	start []int32 // of each row: where its neighbours of lower numbers begin in ties
	ties  []tie
	diag  []float64
	load  []float64
}

// tie couples a point to one of a lower number by what stands off the diagonal, negated: half the sum of
// the cotangents of the angles across their edge.
type tie struct {
	to int32
	by float64
}

// stiffest is the half cotangent from which on a triangle is softer than it should be: points of slivers
// hang together so strongly that solving takes thousands of steps. What pulls across one still passes
// as if it were a fortieth as thick as it is long, of the size of no element.
const stiffest = 20

// membrane sets the equation up.
func (p *Plan) membrane() *membrane {
	m := &membrane{diag: make([]float64, len(p.Pts)), load: make([]float64, len(p.Pts))}
	type pair struct {
		hi, lo int32
		by     float64
	}
	pairs := make([]pair, 0, 3*len(p.Tris))
	wide := float64(p.Width)
	for _, t := range p.Tris {
		var x, y [3]float64
		for j, v := range t {
			x[j], y[j] = float64(p.Pts[v].X)/wide, float64(p.Pts[v].Y)/wide
		}
		area2 := (x[1]-x[0])*(y[2]-y[0]) - (x[2]-x[0])*(y[1]-y[0])
		var half [3]float64 // of the cotangents, of the angles across the sides
		for i := range 3 {
			a, b, c := i, (i+1)%3, (i+2)%3
			half[i] = ((x[a]-x[c])*(x[b]-x[c]) + (y[a]-y[c])*(y[b]-y[c])) / area2 / 2
		}
		soft := min(1, stiffest/max(math.Abs(half[0]), math.Abs(half[1]), math.Abs(half[2])))
		for i, s := range half {
			a, b := t[i], t[(i+1)%3]
			s *= soft
			m.diag[a] += s
			m.diag[b] += s
			m.load[t[i]] += area2 / 6
			pairs = append(pairs, pair{max(a, b), min(a, b), s})
		}
	}
	for _, e := range p.Rim {
		m.diag[e[0]], m.diag[e[1]] = 0, 0
	}
	slices.SortStableFunc(pairs, func(a, b pair) int { return cmp.Or(cmp.Compare(a.hi, b.hi), cmp.Compare(a.lo, b.lo)) })
	m.start = make([]int32, len(p.Pts)+1)
	for i, q := range pairs {
		switch {
		case m.diag[q.hi] == 0 || m.diag[q.lo] == 0: // h is 0 there
		case i > 0 && pairs[i-1].hi == q.hi && pairs[i-1].lo == q.lo:
			m.ties[len(m.ties)-1].by += q.by
		default:
			m.ties = append(m.ties, tie{q.lo, q.by})
		}
		m.start[q.hi+1] = int32(len(m.ties))
	}
	for i := 1; i < len(m.start); i++ {
		m.start[i] = max(m.start[i], m.start[i-1])
	}
	return m
}

// times sets y to the matrix times x.
func (m *membrane) times(x, y []float64) {
	for i, w := range m.diag {
		sum := w * x[i]
		for _, t := range m.ties[m.start[i]:m.start[i+1]] {
			sum -= t.by * x[t.to]
			y[t.to] -= t.by * x[i]
		}
		y[i] = sum
	}
}

// pivots returns the diagonal D of (D+L) 1/D (D+L'), which stands in for the matrix: an incomplete
// factoring that keeps the diagonal right and all else as it is (Meijerink and van der Vorst, 1977).
// Points of slivers hang together so strongly that a diagonal alone takes thousands of steps. Where
// angles are blunt, ties are negative; without these the factoring can't fail, but for blunt angles
// beside the rim: there the diagonal stands as it is.
func (m *membrane) pivots() []float64 {
	d := make([]float64, len(m.diag))
	for i, w := range m.diag {
		if w == 0 {
			continue
		}
		d[i] += w
		for _, t := range m.ties[m.start[i]:m.start[i+1]] {
			if t.by < 0 {
				d[i] -= t.by
				d[t.to] -= t.by
			}
		}
	}
	for i := range d {
		for _, t := range m.ties[m.start[i]:m.start[i+1]] {
			if t.by > 0 {
				d[i] -= t.by * t.by / d[t.to]
			}
		}
		if d[i] <= 0 {
			d[i] = m.diag[i]
		}
	}
	return d
}

// settle sets z to r over the factored matrix of pivots d, and returns their product.
func (m *membrane) settle(d, r, z []float64) (rz float64) {
	for i, w := range d {
		if w == 0 {
			z[i] = 0
			continue
		}
		sum := r[i]
		for _, t := range m.ties[m.start[i]:m.start[i+1]] {
			if t.by > 0 {
				sum += t.by * z[t.to]
			}
		}
		z[i] = sum / w
	}
	for i := len(d) - 1; i >= 0; i-- {
		for _, t := range m.ties[m.start[i]:m.start[i+1]] {
			if t.by > 0 {
				z[t.to] += t.by * z[i] / d[t.to]
			}
		}
		rz += r[i] * z[i]
	}
	return rz
}

// domeErr is by how much of the load the equation may remain unsolved; heights are
// then off by less than the elements are.
const domeErr = 1e-4

// solve returns h at each point by conjugate gradients (Hestenes and Stiefel, 1952), with the factored
// matrix as preconditioner.
func (m *membrane) solve(ctx context.Context) ([]float64, error) {
	n := len(m.diag)
	h, r, z, d, q := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	for i, w := range m.diag {
		if w != 0 {
			r[i] = m.load[i]
		}
	}
	pivots := m.pivots()
	rz := m.settle(pivots, r, z)
	copy(d, z)
	for steps, enough := 0, rz*domeErr*domeErr; rz > enough && steps < n; steps++ {
		if steps%32 == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		m.times(d, q)
		dq := 0.0
		for i := range d {
			dq += d[i] * q[i]
		}
		if dq <= 0 {
			break
		}
		a := rz / dq
		for i := range h {
			h[i] += a * d[i]
			r[i] -= a * q[i]
		}
		was := rz
		rz = m.settle(pivots, r, z)
		for i := range d {
			d[i] = z[i] + rz/was*d[i]
		}
	}
	return h, nil
}

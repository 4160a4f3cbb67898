package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// findWeld finds shapes with doubled nodes, segments without length, and nodes
// in the run of a straight line.
func findWeld(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		l.needed()
		sh := l.shape(k)
		tol := l.px(l.limits.Weld)
		lost, at := 0, geom.Vec{}
		for _, c := range l.contours(k) {
			fresh, n := welded(c, tol)
			if n > 0 && lost == 0 {
				at = missing(c, fresh)
			}
			if n > 0 && len(fresh.Segs) == 0 {
				n = 0 // a scrap, and found as one
			}
			lost += n
		}
		if lost == 0 {
			continue
		}
		m := recipe.Mend{Do: "weld", Shapes: []string{sh.Key}, MM: []float64{l.limits.Weld}}
		out = append(out, Finding{
			Shapes: []string{sh.Key}, At: at, Box: l.around(at, 1),
			Measure: units.Plural(lost, "node", "nodes"),
			Fixes:   []Fix{fix(m, "Drop %s that the outline does not need", units.Plural(lost, "node", "nodes"))},
		})
	}
	return out
}

// missing returns the first node of a contour that another lacks.
func missing(c, fresh geom.Contour) geom.Vec {
	p, q := PathOf(c), PathOf(fresh)
	have := map[geom.Vec]int{}
	for _, v := range q.At {
		have[v]++
	}
	for _, v := range p.At {
		if have[v]--; have[v] < 0 {
			return v
		}
	}
	return c.Start
}

// weldNodes makes nodes nearer than MM[0] one, drops segments without length
// and nodes in the run of a straight line, and makes curves lines whose handles
// lie in their nodes.
func weldNodes(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		sh := &w.Sheet.Shapes[i]
		tol := w.px(m.MM[0]) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		var list []geom.Contour
		for _, c := range sh.Contours {
			if c, _ = welded(c, tol); len(c.Segs) > 0 {
				list = append(list, c)
			}
		}
		sh.Contours = list
	}
	return nil
}

// welded returns a contour without needless nodes, and how many it lost.
func welded(c geom.Contour, tol float64) (geom.Contour, int) {
	if c.Closed && len(c.Segs) > 1 && c.End() != c.Start && c.End().Sub(c.Start).Len() <= tol {
		// It returns but for a rounding: nobody calls that two nodes.
		c = c.Clone()
		c.Segs[len(c.Segs)-1].To = c.Start
	}
	p := PathOf(c)
	before := len(p.At)
	for k := range p.Straight {
		j := (k + 1) % len(p.At)
		if !p.Straight[k] && p.Out[k] == p.At[k] && p.In[j] == p.At[j] {
			p.Straight[k] = true
		}
	}
	p = p.merged(tol)
	doubled := before - len(p.At)
	// Straight runs.
	gone := map[int]bool{}
	for k := range p.At {
		b, f := p.before(k), p.behind(k)
		if b < 0 || f < 0 || b == f || gone[b] || !p.Straight[b] || !p.Straight[k] {
			continue
		}
		in, on := p.At[k].Sub(p.At[b]), p.At[f].Sub(p.At[k])
		if in.Dot(on) > 0 && math.Abs(in.Cross(on)) <= math.Min(tol, 1e-4*in.Add(on).Len())*in.Add(on).Len()/4 {
			gone[k] = true
		}
	}
	// A single node in a line is no fault.
	if len(gone) > 1 || doubled > 0 {
		p = p.dropped(gone)
	}
	if before == len(p.At) {
		return c, 0
	}
	return p.Contour(), before - len(p.At)
}

// dropped returns the path without nodes in the run of straight lines.
func (p *Path) dropped(gone map[int]bool) Path {
	out := Path{Closed: p.Closed}
	for k := range p.At {
		if gone[k] {
			continue
		}
		out.push(p.At[k])
		n := len(out.At) - 1
		out.In[n], out.Out[n] = p.In[k], p.Out[k]
		if k < len(p.Straight) {
			out.Straight = append(out.Straight, p.Straight[k])
		}
	}
	return out
}

// merged returns the path with nodes nearer than tol, one behind the other,
// made one. Curves that lead somewhere and back stay.
func (p *Path) merged(tol float64) Path {
	out := Path{Closed: p.Closed}
	n := len(p.At)
	short := func(k int) bool {
		j := (k + 1) % n
		return p.At[k].Sub(p.At[j]).Len() <= tol &&
			p.Out[k].Sub(p.At[k]).Len() <= tol && p.In[j].Sub(p.At[j]).Len() <= tol
	}
	for k := 0; k < n; k++ {
		out.push(p.At[k])
		at := len(out.At) - 1
		out.In[at], out.Out[at] = p.In[k], p.Out[k]
		end := k
		for end < len(p.Straight) && end+1 < n && short(end) {
			end++
		}
		if end > k { // the run k..end becomes node k
			out.Out[at] = p.Out[end].Add(p.At[k].Sub(p.At[end]))
			k = end
		}
		if k < len(p.Straight) {
			out.Straight = append(out.Straight, p.Straight[k])
		}
	}
	if m := len(out.At); out.Closed && m > 1 {
		last, first := out.At[m-1], out.At[0]
		if last.Sub(first).Len() <= tol && out.Out[m-1].Sub(last).Len() <= tol && out.In[0].Sub(first).Len() <= tol {
			out.In[0] = out.In[m-1].Add(first.Sub(last))
			out.At, out.In, out.Out, out.Straight = out.At[:m-1], out.In[:m-1], out.Out[:m-1], out.Straight[:m-1]
		}
	}
	if len(out.At) == 1 {
		out.Straight = nil
	}
	return out
}

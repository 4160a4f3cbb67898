package mend

import (
	"math"
	"slices"
	"strings"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// editNodes changes nodes of a shape. Nodes names contour and node of each, and
// At[0] is where the first of them lies: if no node is there any more, nothing
// is changed. How is one of
//
//	move                 by At[1]
//	add                  a node on the segment behind, at parameter At[1][0]
//	delete               keeping the form
//	corner, smooth, symmetric
//	line, curve          the segments between chosen nodes, or behind the one
//	cut                  open at the node
//	upright, level       onto the line through their middle
//	in, out              the handle before or behind to At[1]; with "free" behind
//	                     it (as in "in free") the other handle stays
func editNodes(w *Work, m *recipe.Mend) error {
	i, err := w.first(m)
	if err != nil {
		return err
	}
	sh := &w.Sheet.Shapes[i]
	e, err := w.nodeEdit(i, m)
	if err != nil {
		return err
	}
	if err := e.run(m); err != nil {
		return err
	}
	var list []geom.Contour
	for k, p := range e.paths {
		if !e.touched[k] {
			list = append(list, sh.Contours[k])
		}
		for _, q := range p {
			if e.touched[k] && len(q.At) > 1 {
				list = append(list, q.Contour())
			}
		}
	}
	if len(list) == 0 {
		return refuse("nothing would be left of %s; leave the shape out instead", nameOf(sh))
	}
	sh.Contours = list
	return nil
}

// nodeEdit is the nodes of a shape while they are changed.
type nodeEdit struct {
	w       *Work
	paths   [][]Path // of each contour; several once it is cut
	touched []bool
	nodes   map[int][]int // chosen nodes by contour
	to      geom.Matrix   // from the page to the shape's own space
}

func (w *Work) nodeEdit(i int, m *recipe.Mend) (*nodeEdit, error) {
	sh := &w.Sheet.Shapes[i]
	to, ok := inverse(sh.Matrix)
	if len(m.Nodes) == 0 || len(m.At) == 0 || !ok {
		return nil, lost("its node")
	}
	e := &nodeEdit{w: w, nodes: map[int][]int{}, to: to, touched: make([]bool, len(sh.Contours))}
	for _, c := range sh.Contours {
		e.paths = append(e.paths, []Path{PathOf(c)})
	}
	for k, n := range m.Nodes {
		if n[0] < 0 || n[0] >= len(e.paths) || n[1] < 0 || n[1] >= len(e.paths[n[0]][0].At) {
			return nil, lost("its node")
		}
		if k == 0 {
			at := sh.Matrix.Apply(e.paths[n[0]][0].At[n[1]])
			if at.Sub(vec(m.At[0])).Len() > w.Grid*(1<<23)*1e-5 {
				return nil, lost("its node")
			}
		}
		if !slices.Contains(e.nodes[n[0]], n[1]) {
			e.nodes[n[0]] = append(e.nodes[n[0]], n[1])
		}
		e.touched[n[0]] = true
	}
	return e, nil
}

// place returns a place of the page in the shape's own space, by a difference.
func (e *nodeEdit) place(p [2]float64) geom.Vec { return e.to.Apply(vec(p)) }
func (e *nodeEdit) delta(p [2]float64) geom.Vec {
	return e.to.Apply(vec(p)).Sub(e.to.Apply(geom.Vec{}))
}

// each calls f for each chosen node.
func (e *nodeEdit) each(f func(p *Path, k int)) {
	for c := range e.paths {
		for _, k := range e.nodes[c] {
			f(&e.paths[c][0], k)
		}
	}
}

func (e *nodeEdit) run(m *recipe.Mend) error {
	how, free := strings.CutSuffix(m.How, " free")
	if needs := how == "move" || how == "add" || how == "in" || how == "out"; needs && len(m.At) < 2 {
		return refuse("a figure is missing")
	}
	switch how {
	case "move":
		by := e.delta(m.At[1])
		e.each(func(p *Path, k int) { p.move(k, by) })
	case "add":
		c, k := m.Nodes[0][0], m.Nodes[0][1]
		p := &e.paths[c][0]
		if t := m.At[1][0]; k < len(p.Straight) && t > 0 && t < 1 {
			p.add(k, t)
			return nil
		}
		return lost("its segment")
	case "delete":
		for c, nodes := range e.nodes {
			gone := map[int]bool{}
			for _, k := range nodes {
				gone[k] = true
			}
			e.paths[c][0] = e.paths[c][0].without(gone)
		}
	case "corner":
		e.each((*Path).corner)
	case "smooth":
		e.each(func(p *Path, k int) { p.smooth(k, false) })
	case "symmetric":
		e.each(func(p *Path, k int) { p.smooth(k, true) })
	case "line":
		e.segments((*Path).straighten)
	case "curve":
		e.segments((*Path).bend)
	case "cut":
		return e.cut(m)
	case "upright", "level":
		e.align(how == "upright")
	case "in", "out":
		e.each(func(p *Path, k int) { p.setHandle(k, how == "in", e.place(m.At[1]), free) })
	default:
		return refuse("nodes can't be changed by %.40q", m.How)
	}
	return nil
}

// segments calls f for the segments whose ends are both chosen, or for the one
// behind a single node.
func (e *nodeEdit) segments(f func(p *Path, k int)) {
	for c, nodes := range e.nodes {
		p := &e.paths[c][0]
		for _, k := range nodes {
			j := p.behind(k)
			if j >= 0 && (len(nodes) == 1 || slices.Contains(nodes, j)) {
				f(p, k)
			}
		}
	}
}

func (e *nodeEdit) cut(m *recipe.Mend) error {
	c, k := m.Nodes[0][0], m.Nodes[0][1]
	parts := e.paths[c][0].opened(k)
	if parts == nil {
		return refuse("the outline ends at this node already")
	}
	e.paths[c] = parts
	return nil
}

// align brings the chosen nodes onto an upright or level line of the page.
func (e *nodeEdit) align(upright bool) {
	back := e.to.Inverse()
	sum, n := geom.Vec{}, 0.0
	e.each(func(p *Path, k int) {
		sum = sum.Add(back.Apply(p.At[k]))
		n++
	})
	mean := sum.Mul(1 / math.Max(n, 1))
	e.each(func(p *Path, k int) {
		at := back.Apply(p.At[k])
		to := geom.Vec{X: at.X, Y: mean.Y}
		if upright {
			to = geom.Vec{X: mean.X, Y: at.Y}
		}
		p.move(k, e.to.Apply(to).Sub(p.At[k]))
	})
}

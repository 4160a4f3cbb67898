package mend

import (
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// drop takes shapes out.
func drop(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	w.remove(which...)
	return nil
}

// only takes all other shapes out.
func only(w *Work, m *recipe.Mend) error {
	keep, err := w.named(m)
	if err != nil {
		return err
	}
	var gone []int
	for i := range w.Sheet.Shapes {
		if !slices.Contains(keep, i) {
			gone = append(gone, i)
		}
	}
	w.remove(gone...)
	return nil
}

// resolve makes each shape the plain outline of the area that it covers.
func resolve(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return err
		}
		if len(r) == 0 {
			return refuse("nothing would be left of %s", nameOf(&w.Sheet.Shapes[i]))
		}
		w.setRegion(i, r, src)
	}
	return nil
}

// unite makes one shape of several. It takes the place of the topmost and the
// paint of the one named first.
func unite(w *Work, m *recipe.Mend) error {
	return w.combine(m, func(list []plane.Region) (plane.Region, error) { return union(list) })
}

// subtract cuts the others out of the shape named first. They go, unless How is
// "keep".
func subtract(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return err
	}
	rest, err := union(list[1:])
	if err != nil {
		return err
	}
	r, err := plane.Combine(list[0], rest, plane.Subtract)
	if err != nil {
		return err
	}
	if len(r) == 0 {
		return refuse("nothing would be left of %s", nameOf(&w.Sheet.Shapes[which[0]]))
	}
	w.setRegion(which[0], r, src)
	if m.How != "keep" {
		w.remove(which[1:]...)
	}
	return nil
}

// intersect keeps what all shapes share.
func intersect(w *Work, m *recipe.Mend) error {
	return w.combine(m, func(list []plane.Region) (plane.Region, error) {
		r := list[0]
		for _, other := range list[1:] {
			var err error
			if r, err = plane.Combine(r, other, plane.Intersect); err != nil {
				return nil, err
			}
		}
		return r, nil
	})
}

// combine makes one shape of several.
func (w *Work) combine(m *recipe.Mend, f func([]plane.Region) (plane.Region, error)) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	if len(which) < 2 {
		return refuse("choose at least two shapes")
	}
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return err
	}
	r, err := f(list)
	if err != nil {
		return err
	}
	if len(r) == 0 {
		return refuse("the shapes share nothing; nothing would be left")
	}
	top := slices.Max(which)
	keep := w.Sheet.Shapes[which[0]]
	w.Sheet.Shapes[top] = keep
	w.Color[top], w.In[top] = w.Color[which[0]], true
	w.setRegion(top, r, src)
	w.remove(slices.DeleteFunc(slices.Clone(which), func(i int) bool { return i == top })...)
	return nil
}

// divide cuts shapes along each other: every area that is covered by the same
// of them becomes a shape, painted like the topmost.
func divide(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	slices.Sort(which)
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return err
	}
	type cell struct {
		top  int
		area plane.Region
	}
	var cells []cell
	for k, r := range list {
		var next []cell
		rest := r
		for _, c := range cells {
			both, err := plane.Combine(c.area, r, plane.Intersect)
			if err != nil {
				return err
			}
			own, err := plane.Combine(c.area, r, plane.Subtract)
			if err != nil {
				return err
			}
			if rest, err = plane.Combine(rest, c.area, plane.Subtract); err != nil {
				return err
			}
			if len(own) > 0 {
				next = append(next, cell{c.top, own})
			}
			if len(both) > 0 {
				next = append(next, cell{which[k], both})
			}
		}
		if len(rest) > 0 {
			next = append(next, cell{which[k], rest})
		}
		cells = next
	}
	if len(cells) == len(which) {
		return refuse("the shapes do not overlap; there is nothing to divide")
	}
	top := which[len(which)-1] + 1
	for n, c := range cells {
		sh := w.Sheet.Shapes[c.top]
		made := newShape(m, n, sh.Name, w.Color[c.top], w.contours(c.area, src))
		made.Group, made.Opacity = sh.Group, sh.Opacity
		w.insert(top+n, made)
	}
	w.remove(which...)
	return nil
}

// punchShapes makes shapes holes: they are cut out of everything below them
// and go.
func punchShapes(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		src := newSources()
		hole, err := w.region(i, src)
		if err != nil {
			return err
		}
		cut, err := w.cut(w.below(i, w.boxOf(hole)), hole, src)
		if err != nil {
			return err
		}
		if !cut {
			return refuse("nothing lies below %s that it could be cut out of", nameOf(&w.Sheet.Shapes[i]))
		}
	}
	w.remove(which...)
	return nil
}

// cut takes an area out of shapes and reports whether it met any. A shape that
// lies wholly within goes.
func (w *Work) cut(from []int, area plane.Region, src *sources) (met bool, err error) {
	for _, k := range from {
		own := src.clone()
		r, err := w.region(k, own)
		if err != nil {
			return met, err
		}
		left, err := plane.Combine(r, area, plane.Subtract)
		if err != nil {
			return met, err
		}
		if left.Area2() == r.Area2() {
			continue
		}
		met = true
		w.setRegion(k, left, own)
	}
	return met, nil
}

// split makes a shape of every piece that hangs together.
func split(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	slices.Sort(which)
	n := 0
	for k := len(which) - 1; k >= 0; k-- {
		i := which[k]
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return err
		}
		if len(r) < 2 {
			continue
		}
		sh := w.Sheet.Shapes[i]
		for j := range r {
			made := newShape(m, n, sh.Name, w.Color[i], w.contours(r[j:j+1], src))
			made.Group, made.Opacity = sh.Group, sh.Opacity
			w.insert(i+1+j, made)
			n++
		}
		w.remove(i)
	}
	if n == 0 {
		return refuse("the shape is one piece already")
	}
	return nil
}

// compound puts the contours of several shapes into one, filled by the even-odd
// rule: what lies inside another becomes a hole.
func compound(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	slices.Sort(which)
	var list []geom.Contour
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return err
		}
		list = append(list, w.contours(r, src)...)
	}
	top := which[len(which)-1]
	first := w.Find(m.Shapes[0])
	w.Sheet.Shapes[top], w.Color[top] = w.Sheet.Shapes[first], w.Color[first]
	w.setContours(top, list)
	w.Sheet.Shapes[top].EvenOdd = true
	w.remove(which[:len(which)-1]...)
	return nil
}

// setContourRole makes contours of a shape solid, holes, or takes them out
// (How "solid", "hole" or "out").
func setContourRole(w *Work, m *recipe.Mend) error {
	i, err := w.first(m)
	if err != nil {
		return err
	}
	sh := w.Sheet.Shapes[i]
	if sh.Stroke != nil {
		return refuse("%s is a stroke; it has no contours of its own to fill", nameOf(&sh))
	}
	var chosen, others []geom.Contour
	for k, c := range sh.Contours {
		if slices.ContainsFunc(m.Nodes, func(n [2]int) bool { return n[0] == k }) {
			chosen = append(chosen, c)
		} else {
			others = append(others, c)
		}
	}
	if len(chosen) == 0 || len(chosen) < len(contoursNamed(m)) {
		return lost("its contour")
	}
	src := newSources()
	var r plane.Region
	if m.How == "out" {
		if len(others) == 0 {
			return refuse("nothing would be left of %s; leave the shape out instead", nameOf(&sh))
		}
		w.Sheet.Shapes[i].Contours = others
		return nil
	}
	if r, err = w.region(i, src); err != nil {
		return err
	}
	own, err := fill(w.loops(chosen, sh.Matrix, src, w.tol()))
	if err != nil {
		return err
	}
	op := plane.Union
	if m.How == "hole" {
		op = plane.Subtract
	}
	if r, err = plane.Combine(r, own, op); err != nil {
		return err
	}
	if len(r) == 0 {
		return refuse("nothing would be left of %s", nameOf(&sh))
	}
	w.setRegion(i, r, src)
	return nil
}

func contoursNamed(m *recipe.Mend) map[int]bool {
	out := map[int]bool{}
	for _, n := range m.Nodes {
		out[n[0]] = true
	}
	return out
}

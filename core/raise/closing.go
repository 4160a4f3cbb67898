package raise

import (
	"context"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// The columns of an overlay become a solid: a face in front of and behind each slab, and upright walls
// over each edge along what one neighbour has and the other has not.

// closer fills a mesh from an overlay.
type closer struct {
	*builder
	o     *overlay
	one   Surface // room for the looks of a triangle
	rungs []rung  // room, see wall
}

// closed returns the solid of all columns; crease is the angle in degrees from which corners of walls
// stay hard.
func (o *overlay) closed(ctx context.Context, crease float64) (*mesh.Mesh, error) {
	c := &closer{builder: &builder{m: &mesh.Mesh{Step: float64(o.step)}, poll: progress.NewPoll(ctx)}, o: o}
	c.shaded, c.unrolled = o.shaded, o.unrolled
	c.one = Surface{
		Group: make([]mesh.Group, 1), Part: make([]int32, 1),
		Normal: make([][3][3]float32, 1), UV: make([][3][2]float32, 1),
	}
	points := int(o.ar.Points())
	c.room(3*len(o.slabs), 2*points, 0)
	c.at, c.first = make([]plane.Point, points), make([]int32, points) // a column a point
	for v := range o.ar.Points() {
		c.at[v] = o.ar.Point(v)
	}
	for k := range o.ar.Triangles() {
		for i := range o.over(k) {
			s := &o.over(k)[i]
			if s.zUnder == s.zTop {
				continue
			}
			c.faceOf(k, s.top, s.zTop)
			if _, even := o.levelAt(s); !even {
				c.faceOf(k, s.under, s.zUnder)
			}
		}
	}
	if err := c.undersides(); err != nil {
		return nil, err
	}
	for k := range o.ar.Triangles() {
		for i := range 3 {
			if n, _ := o.ar.Across(k, i); n < k {
				c.wall(k, n, i)
			}
		}
	}
	if c.shaded {
		c.shadeWalls(crease)
	}
	if c.unrolled {
		c.unrollWalls()
	}
	c.m.Compact()
	return c.m, nil
}

// faceOf adds the face of a slab over triangle k.
func (c *closer) faceOf(k int32, b bound, z [3]int32) {
	o := c.o
	v, _ := o.ar.Triangle(k)
	from := o.sides[b.side][b.layer]
	group, src := mesh.Front, int32(-1)
	if from.s != nil && from.tri != nil {
		src = from.tri[k]
	}
	switch {
	case src >= 0:
		group = from.s.Group[src]
	case b.side == 1:
		group = mesh.Back
	}
	s := &c.one
	s.Group[0], s.Part[0] = group, o.layers[b.layer].part
	if c.shaded {
		n := [3][3]float32{{0, 0, 1}, {0, 0, 1}, {0, 0, 1}}
		uv := o.flatUV(v)
		if src >= 0 {
			for j := range v {
				p := o.ar.Point(v[j])
				n[j], uv[j] = from.looks(src, float64(p.X), float64(p.Y))
			}
		}
		s.Normal[0], s.UV[0] = n, uv
	}
	c.face(s, 0, [3]int32{c.enter(v[0], z[0]), c.enter(v[1], z[1]), c.enter(v[2], z[2])}, b.side == 0)
}

// flatUV returns texture coordinates seen from above.
func (o *overlay) flatUV(v [3]int32) (uv [3][2]float32) {
	for j := range v {
		p := o.ar.Point(v[j])
		uv[j] = [2]float32{float32(o.step.MM(plane.Units(p.X))), float32(o.step.MM(plane.Units(p.Y)))}
	}
	return uv
}

// level is an even part of an underside.
type level struct{ z, part int32 }

// levelAt returns the even part of the underside that a slab belongs to, if any.
func (o *overlay) levelAt(s *slab) (level, bool) {
	z := s.zUnder
	even := z[0] == z[1] && z[1] == z[2]
	return level{z[0], o.layers[s.under.layer].part}, even && s.zUnder != s.zTop && s.under.side == 1
}

// undersides adds what of the undersides is level, triangulated anew from its border alone: what
// happens above does not concern it.
func (c *closer) undersides() error {
	o := c.o
	number := map[level]int32{}
	var levels []level
	flat := plane.NewArrangement()
	flat.Stop = o.ar.Stop
	has := func(k int32, l level) bool {
		for i := range o.over(k) {
			if m, even := o.levelAt(&o.over(k)[i]); even && m == l {
				return true
			}
		}
		return false
	}
	for k := range o.ar.Triangles() {
		v, _ := o.ar.Triangle(k)
		for j := range o.over(k) {
			l, even := o.levelAt(&o.over(k)[j])
			if !even {
				continue
			}
			if _, have := number[l]; !have {
				number[l] = int32(len(levels))
				levels = append(levels, l)
			}
			for i := range 3 {
				if n, _ := o.ar.Across(k, i); n < 0 || !has(n, l) {
					flat.AddEdge(number[l], o.ar.Point(v[i]), o.ar.Point(v[(i+1)%3]))
				}
			}
		}
	}
	if len(levels) == 0 {
		return nil
	}
	if err := flat.Build(); err != nil {
		return err
	}
	defer flat.Release()
	byPoint := make(map[plane.Point]int32, o.ar.Points())
	for v := range o.ar.Points() {
		byPoint[o.ar.Point(v)] = v
	}
	rule := &levelRule{w: make([]int32, len(levels)), sets: map[string]int32{}}
	flat.Classify(rule)
	up := [3]float32{0, 0, 1}
	for k := range flat.Triangles() {
		t, label := flat.Triangle(k)
		if label <= 0 {
			continue
		}
		v := [3]int32{byPoint[flat.Point(t[0])], byPoint[flat.Point(t[1])], byPoint[flat.Point(t[2])]}
		for _, n := range rule.lists[label-1] {
			l := levels[n]
			s := &c.one
			s.Group[0], s.Part[0] = mesh.Back, l.part
			if c.shaded {
				s.Normal[0], s.UV[0] = [3][3]float32{up, up, up}, o.flatUV(v)
			}
			c.face(s, 0, [3]int32{c.enter(v[0], l.z), c.enter(v[1], l.z), c.enter(v[2], l.z)}, false)
		}
	}
	return nil
}

// levelRule labels faces by the set of sources that wind around them.
type levelRule struct {
	w     []int32
	in    []int32
	sets  map[string]int32
	lists [][]int32
}

func (r *levelRule) Cross(s, delta int32) {
	was := r.w[s] > 0
	r.w[s] += delta
	if is := r.w[s] > 0; is && !was {
		at, _ := slices.BinarySearch(r.in, s)
		r.in = slices.Insert(r.in, at, s)
	} else if was && !is {
		at, _ := slices.BinarySearch(r.in, s)
		r.in = slices.Delete(r.in, at, at+1)
	}
}

func (r *levelRule) Label() int32 {
	if len(r.in) == 0 {
		return 0
	}
	key := keyOf(r.in)
	label, ok := r.sets[key]
	if !ok {
		r.lists = append(r.lists, slices.Clone(r.in))
		label = int32(len(r.lists))
		r.sets[key] = label
	}
	return label
}

// rung is a height along an edge, at both of its ends.
type rung struct{ p, q int32 }

// appendRungs appends the heights of slabs whose corners p and q are the ends of the edge.
func appendRungs(out []rung, list []slab, p, q int) []rung {
	for i := range list {
		s := &list[i]
		out = append(out, rung{s.zUnder[p], s.zUnder[q]}, rung{s.zTop[p], s.zTop[q]})
	}
	return out
}

// between reports whether a slab reaches from one rung to the next.
func (s *slab) between(p, q int, lo, hi rung) bool {
	return s.zUnder[p] <= lo.p && s.zUnder[q] <= lo.q && s.zTop[p] >= hi.p && s.zTop[q] >= hi.q
}

// wall adds the walls over side i of triangle k, beyond which n lies; n is less than 0 where nothing does.
func (c *closer) wall(k, n int32, i int) {
	o := c.o
	v, _ := o.ar.Triangle(k)
	p, q := v[i], v[(i+1)%3]
	mine := o.over(k)
	var other []slab
	kp, kq, np, nq := i, (i+1)%3, 0, 0
	if n >= 0 {
		other, np, nq = o.over(n), o.corner(n, p), o.corner(n, q)
	}
	if len(mine)+len(other) == 0 {
		return
	}
	c.rungs = appendRungs(appendRungs(c.rungs[:0], mine, kp, kq), other, np, nq)
	rungs := c.rungs
	slices.SortFunc(rungs, func(a, b rung) int { return int(a.p) + int(a.q) - int(b.p) - int(b.q) })
	has := func(list []slab, p, q int, lo, hi rung) int {
		return slices.IndexFunc(list, func(s slab) bool { return s.between(p, q, lo, hi) })
	}
	for r := 1; r < len(rungs); r++ {
		lo, hi := rungs[r-1], rungs[r]
		if lo.p == hi.p && lo.q == hi.q {
			continue
		}
		a, b := has(mine, kp, kq, lo, hi), has(other, np, nq, lo, hi)
		switch {
		case a >= 0 && b < 0:
			c.upright(p, q, lo, hi, &mine[a], other)
		case a < 0 && b >= 0:
			c.upright(q, p, rung{lo.q, lo.p}, rung{hi.q, hi.p}, &other[b], mine)
		}
	}
}

// upright adds a wall of slab s from p to q, which looks to the right, where the others begin.
func (c *closer) upright(p, q int32, lo, hi rung, s *slab, others []slab) {
	group := mesh.Side
	for i := range others { // a surface that goes on, higher or lower: a riser of its profile
		if others[i].top == s.top {
			group = mesh.Bevel
		} else if others[i].under == s.under && group == mesh.Side {
			group = mesh.BackBevel
		}
	}
	part := c.o.layers[s.top.layer].part
	c.strip(p, q, [2]int32{lo.p, lo.q}, [2]int32{hi.p, hi.q}, group, part, group != mesh.Side)
}

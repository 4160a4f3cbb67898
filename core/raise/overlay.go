package raise

import (
	"context"
	"encoding/binary"
	"math"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// Several heights over one plane become one: a recess takes the lower of two, a raised
// detail the higher, bodies that overlap the higher of their fronts and the lower of
// their backs. All outlines and all edges in which some height bends are put into one
// arrangement, so that every height is level or sloped evenly over each of its
// triangles; where two heights cross within a triangle or along an outline, the
// crossing is put in as well, and all is arranged once more. A corner then has the
// height that the rule gives there, which is one for all triangles of an area: whatever
// rounding does to the places, the surface does not tear and can't cross itself.

// layer is a body, or a detail of one, of an overlay.
type layer struct {
	upper, lower *Surface // lower is nil for a recess
	region       plane.Region
	within       plane.Region // the layer ends there; nil for its region
	cut          bool         // the lower of both heights, where something is
	through      bool         // nothing is left inside
	part         int32
}

// overlay is the heights of several layers, the first of which lies lowest.
type overlay struct {
	layers           []layer
	ar               *plane.Arrangement
	sides            [2][]*located // upper and lower surfaces of the layers
	covers           [][]int32     // of each label but 0, from 1: the layers, in their order
	labels           map[string]int32
	extra            [][2]plane.Point // crossings that are not in the arrangement yet
	z                [2][][3]int32    // of each triangle's corners, upper and lower
	wins             [2][]int32       // of each triangle: the layer that gives the height
	posts            []post
	standing         int // posts that are in the arrangement
	shaded, unrolled bool
	step             float64 // mm
}

// firstPost is the label of the first post; those of areas stay below.
const firstPost = 1 << 28

// rounds bounds how often all is arranged: once for the outlines, once with crossings,
// once with posts, and more where posts have met something.
const rounds = 12

// overlaid returns the upper and lower surfaces of all layers together, one pair for
// each set of layers that covers something.
func overlaid(ctx context.Context, layers []layer, step float64) (upper, lower []*Surface, err error) {
	o := &overlay{layers: layers, step: step}
	if err := cutToSize(layers); err != nil {
		return nil, nil, err
	}
	for i := range layers {
		if s := layers[i].upper; s != nil {
			o.shaded, o.unrolled = o.shaded || s.Normal != nil, o.unrolled || s.UV != nil
		}
		o.sides[0] = append(o.sides[0], locate(layers[i].upper))
		o.sides[1] = append(o.sides[1], locate(layers[i].lower))
	}
	o.begin(ctx)
	defer o.ar.Release()
	for round := range rounds {
		if err := o.arrange(); err != nil {
			return nil, nil, err
		}
		if err := o.lift(ctx); err != nil {
			return nil, nil, err
		}
		// The second round has the crossings of the first; what crosses after that
		// does so by less than rounding moves it.
		if round == 0 && o.findCrossings() {
			continue
		}
		o.settle()
		if !o.findPinches(round) {
			break
		}
	}
	upper = o.surfaces(0)
	lower, err = o.underside(ctx)
	return upper, lower, err
}

// cutToSize lets layers end where they are to.
func cutToSize(layers []layer) (err error) {
	for i := range layers {
		l := &layers[i]
		if l.within == nil {
			continue
		}
		if l.region, err = plane.Combine(l.region, l.within, plane.Intersect); err != nil {
			return err
		}
	}
	return nil
}

// coverRule labels faces by the layers that cover them. Source 2i is the outline of
// layer i; edges in which it bends have the source 2i+1, which means nothing.
type coverRule struct {
	o    *overlay
	w    []int32
	in   []int32 // layers that cover the face, in their order
	post []int32 // those around the face
	key  []byte  // room
}

func (c *coverRule) Cross(s, delta int32) {
	if s&1 != 0 {
		return
	}
	if n := s/2 - int32(len(c.w)); n >= 0 {
		if delta > 0 {
			c.post = append(c.post, n)
		} else if i := slices.Index(c.post, n); i >= 0 {
			c.post = slices.Delete(c.post, i, i+1)
		}
		return
	}
	k := s / 2
	was := c.w[k] > 0
	c.w[k] += delta
	if is := c.w[k] > 0; is != was {
		at, _ := slices.BinarySearch(c.in, k)
		if is {
			c.in = slices.Insert(c.in, at, k)
		} else {
			c.in = slices.Delete(c.in, at, at+1)
		}
	}
}

func (c *coverRule) Label() int32 {
	if len(c.post) > 0 {
		last := slices.Max(c.post)
		if c.o.posts[last].notch {
			return 0
		}
		return firstPost + last
	}
	some := false
	for _, i := range c.in {
		switch l := &c.o.layers[i]; {
		case l.through:
			some = false
		case !l.cut:
			some = true
		}
	}
	if !some {
		return 0
	}
	c.key = c.key[:0]
	for _, i := range c.in {
		c.key = binary.LittleEndian.AppendUint32(c.key, uint32(i))
	}
	label, ok := c.o.labels[string(c.key)]
	if !ok {
		c.o.covers = append(c.o.covers, slices.Clone(c.in))
		label = int32(len(c.o.covers))
		c.o.labels[string(c.key)] = label
	}
	return label
}

// begin makes an arrangement of all outlines and bends.
func (o *overlay) begin(ctx context.Context) {
	o.ar = plane.NewArrangement()
	o.ar.Stop = stopOf(ctx)
	for i := range o.layers {
		o.ar.AddRegion(int32(2*i), o.layers[i].region)
		for side := range o.sides {
			o.sides[side][i].bends(func(p, q plane.Point) { o.ar.AddEdge(int32(2*i+1), p, q) })
		}
	}
}

// arrange weaves in the crossings and posts that were found since the last time.
func (o *overlay) arrange() error {
	for _, e := range o.extra {
		o.ar.AddEdge(int32(2*len(o.layers)+1), e[0], e[1])
	}
	o.extra = o.extra[:0]
	for ; o.standing < len(o.posts); o.standing++ {
		o.ar.AddLoop(int32(2*(len(o.layers)+o.standing)), o.posts[o.standing].ring())
	}
	o.covers, o.labels = nil, map[string]int32{}
	if err := o.ar.Build(); err != nil {
		return err
	}
	o.ar.Classify(&coverRule{o: o, w: make([]int32, len(o.layers))})
	o.absorb()
	return nil
}

// sliver is the height of a triangle, in grid units, below which it goes to its neighbour:
// half a millionth of half the size.
const sliver = 8

// absorb gives slivers to the area beyond their longest side: between edges that are all
// but the same nothing of its own can stand, and needles have no end to be cut off.
func (o *overlay) absorb() {
	for k := range o.ar.Triangles() {
		v, label := o.ar.Triangle(k)
		if label >= firstPost {
			continue
		}
		long, side := 0.0, 0
		var at [3]plane.Point
		for i := range v {
			at[i] = o.ar.Point(v[i])
		}
		for i := range v {
			p, q := at[i], at[(i+1)%3]
			if d := math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y)); d > long {
				long, side = d, i
			}
		}
		if float64(plane.Orient(at[0], at[1], at[2])) >= sliver*long {
			continue
		}
		if n, _ := o.ar.Across(k, side); n >= 0 {
			if _, other := o.ar.Triangle(n); other < firstPost {
				o.ar.Relabel(k, other)
			}
		}
	}
}

// lift works out the heights of all corners.
func (o *overlay) lift(ctx context.Context) error {
	n := int(o.ar.Triangles())
	for side := range o.z {
		o.z[side], o.wins[side] = make([][3]int32, n), make([]int32, n)
	}
	for i := range o.layers {
		for side := range o.sides {
			o.sides[side][i].spread(o, int32(i))
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
	}
	for k := range o.ar.Triangles() {
		v, label := o.ar.Triangle(k)
		if label <= 0 {
			continue
		}
		if label >= firstPost {
			p := &o.posts[label-firstPost]
			o.z[0][k], o.z[1][k] = [3]int32{p.top, p.top, p.top}, [3]int32{p.under, p.under, p.under}
			o.wins[0][k], o.wins[1][k] = p.layer, p.layer
			continue
		}
		for j := range v {
			o.z[0][k][j], _ = o.fold(0, k, func(l *located) float64 { return float64(l.height(k, v[j], o.ar.Point(v[j]))) })
			o.z[1][k][j], _ = o.fold(1, k, func(l *located) float64 { return float64(l.height(k, v[j], o.ar.Point(v[j]))) })
		}
		x, y := o.middle(k)
		for side := range o.wins {
			_, o.wins[side][k] = o.fold(side, k, func(l *located) float64 { return l.level(k, x, y) })
		}
	}
	return nil
}

// fold applies the layers that cover triangle k one after the other, and returns the
// height and the layer that gives it.
func (o *overlay) fold(side int, k int32, height func(*located) float64) (z int32, winner int32) {
	_, label := o.ar.Triangle(k)
	at, some := 0.0, false
	for _, i := range o.covers[label-1] {
		l := &o.layers[i]
		if l.through {
			some = false
			continue
		}
		if l.cut && (side == 1 || !some) {
			continue
		}
		h := height(o.sides[side][i])
		lower := l.cut || side == 1
		if !some || lower && h < at || !lower && h >= at {
			at, winner, some = h, i, true
		}
	}
	return int32(math.Round(at)), winner
}

func (o *overlay) middle(k int32) (x, y float64) {
	v, _ := o.ar.Triangle(k)
	for _, u := range v {
		p := o.ar.Point(u)
		x, y = x+float64(p.X)/3, y+float64(p.Y)/3
	}
	return x, y
}

// findCrossings notes where two heights cross: within triangles that both cover, and
// along outlines between neighbours. It reports whether there are any.
func (o *overlay) findCrossings() bool {
	for k := range o.ar.Triangles() {
		v, label := o.ar.Triangle(k)
		if label <= 0 || label >= firstPost {
			continue
		}
		o.crossWithin(k, v, o.covers[label-1])
		for i := range 3 {
			n, _ := o.ar.Across(k, i)
			if n < k {
				continue
			}
			if _, other := o.ar.Triangle(n); other > 0 {
				o.crossAlong(k, n, i, v)
			}
		}
	}
	return len(o.extra) > 0
}

// crossWithin notes the line on which two layers that cover a triangle have the same
// height.
func (o *overlay) crossWithin(k int32, v [3]int32, in []int32) {
	for n, i := range in {
		for _, j := range in[:n] {
			if o.layers[i].through || o.layers[j].through {
				continue
			}
			for side := range o.sides {
				a, b := o.sides[side][i], o.sides[side][j]
				if a.s == nil || b.s == nil {
					continue
				}
				var d [3]float64
				for c, u := range v {
					d[c] = float64(a.height(k, u, o.ar.Point(u)) - b.height(k, u, o.ar.Point(u)))
				}
				if math.Abs(d[0]) > nearby || math.Abs(d[1]) > nearby || math.Abs(d[2]) > nearby {
					o.zeroLine(v, d)
				}
			}
		}
	}
}

// nearby is how far apart two heights over a triangle may be, in grid units, without their
// crossing being looked for: where surfaces run into each other it would wander about with
// every rounding.
const nearby = 2 * thinnest

// zeroLine notes the line through a triangle on which a function is zero that has the
// values d in its corners.
func (o *overlay) zeroLine(v [3]int32, d [3]float64) {
	var ends []plane.Point
	for c := range 3 {
		a, b := d[c], d[(c+1)%3]
		if a == 0 && (b > 0) != (d[(c+2)%3] > 0) && b != 0 && d[(c+2)%3] != 0 {
			ends = append(ends, o.ar.Point(v[c]))
		}
		if a < 0 && b > 0 || a > 0 && b < 0 {
			ends = append(ends, between(o.ar.Point(v[c]), o.ar.Point(v[(c+1)%3]), a/(a-b)))
		}
	}
	if len(ends) == 2 && ends[0] != ends[1] {
		o.extra = append(o.extra, [2]plane.Point{ends[0], ends[1]})
	}
}

func between(p, q plane.Point, s float64) plane.Point {
	return plane.Point{
		X: p.X + int32(math.Round(s*float64(q.X-p.X))),
		Y: p.Y + int32(math.Round(s*float64(q.Y-p.Y))),
	}
}

// crossAlong notes the point of an edge between two areas at which their heights cross.
func (o *overlay) crossAlong(k, n int32, i int, v [3]int32) {
	p, q := v[i], v[(i+1)%3]
	for mine := range 2 {
		for other := range 2 {
			a := o.cornerZ(mine, k, p) - o.cornerZ(other, n, p)
			b := o.cornerZ(mine, k, q) - o.cornerZ(other, n, q)
			if a < 0 && b > 0 || a > 0 && b < 0 {
				x, y := o.ar.Point(p), o.ar.Point(q)
				if m := between(x, y, float64(a)/float64(a-b)); m != x && m != y {
					o.extra = append(o.extra, [2]plane.Point{x, m}, [2]plane.Point{m, y})
				}
			}
		}
	}
}

// cornerZ returns the height of triangle k at point v.
func (o *overlay) cornerZ(side int, k, v int32) int32 {
	t, _ := o.ar.Triangle(k)
	for j, u := range t {
		if u == v {
			return o.z[side][k][j]
		}
	}
	return 0
}

// settlings bounds the rounds of settle; three are the most that were seen to be needed
// but for tangles.
const settlings = 16

// settle lets neighbours of whom one is higher at one end of their edge and the other
// at the other have the same height at the end where they are nearer: what is left of
// crossings after rounding.
func (o *overlay) settle() {
	o.thin()
	for range settlings {
		changed := false
		for k := range o.ar.Triangles() {
			v, label := o.ar.Triangle(k)
			if label <= 0 {
				continue
			}
			for i := range 3 {
				n, _ := o.ar.Across(k, i)
				if n < 0 {
					continue
				}
				if _, other := o.ar.Triangle(n); other > 0 {
					changed = o.settleEdge(k, n, v[i], v[(i+1)%3]) || changed
				}
			}
		}
		if !changed {
			return
		}
	}
}

func (o *overlay) settleEdge(k, n, p, q int32) bool {
	changed := false
	for mine := range 2 {
		for other := range 2 {
			a := o.cornerZ(mine, k, p) - o.cornerZ(other, n, p)
			b := o.cornerZ(mine, k, q) - o.cornerZ(other, n, q)
			// What touches along the edge only would be an edge with four faces.
			if mine != other && a == 0 && b == 0 {
				o.move(other, n, p, thinnest-2*thinnest*int32(other))
				o.move(other, n, q, thinnest-2*thinnest*int32(other))
				changed = true
				continue
			}
			if !(a < 0 && b > 0 || a > 0 && b < 0) {
				continue
			}
			at, by := p, a
			if max(b, -b) < max(a, -a) {
				at, by = q, b
			}
			o.move(other, n, at, by)
			changed = true
		}
	}
	return changed
}

// move changes the height at point v of triangle n and of all around v that have the
// same there and lie in the same area.
func (o *overlay) move(side int, n, v int32, by int32) {
	was := o.cornerZ(side, n, v)
	_, label := o.ar.Triangle(n)
	o.ar.Star(v, func(k int32) {
		t, l := o.ar.Triangle(k)
		for j, u := range t {
			if u == v && l == label && o.z[side][k][j] == was {
				o.z[side][k][j] = was + by
			}
		}
	})
}

// thin brings the lower side below the upper one of all that meets in a point of an
// area: where a recess is deeper than the back's bevel, a skin remains.
func (o *overlay) thin() {
	least := map[int32]int32{} // of each label: the lowest upper side
	for v := range o.ar.Points() {
		clear(least)
		o.ar.Star(v, func(k int32) {
			if _, label := o.ar.Triangle(k); label > 0 {
				z := o.cornerZ(0, k, v)
				if l, ok := least[label]; !ok || z < l {
					least[label] = z
				}
			}
		})
		if len(least) == 0 {
			continue
		}
		o.ar.Star(v, func(k int32) {
			t, label := o.ar.Triangle(k)
			if label <= 0 {
				return
			}
			for j, u := range t {
				if u == v {
					o.z[1][k][j] = min(o.z[1][k][j], least[label]-thinnest)
				}
			}
		})
	}
}

// surfaces returns one side, a surface for each label.
func (o *overlay) surfaces(side int) []*Surface {
	w := &writers{o: o, side: side, by: map[int32]*writer{}}
	for k := range o.ar.Triangles() {
		if _, label := o.ar.Triangle(k); label > 0 {
			w.of(label).put(k)
		}
	}
	return w.done()
}

// writers is a writer for each label.
type writers struct {
	o    *overlay
	side int
	by   map[int32]*writer
	list []*writer
}

func (w *writers) of(label int32) *writer {
	one := w.by[label]
	if one == nil {
		one = &writer{s: &Surface{}, o: w.o, side: w.side, point: map[int32]int32{}}
		w.by[label] = one
		w.list = append(w.list, one)
	}
	return one
}

func (w *writers) done() []*Surface {
	out := make([]*Surface, len(w.list))
	for i, one := range w.list {
		one.s.At = one.at
		out[i] = one.s
	}
	return out
}

// writer copies triangles of an overlay into a surface.
type writer struct {
	s           *Surface
	o           *overlay
	side        int
	point       map[int32]int32 // of the arrangement -> of the surface
	at          []int32
	first, next []int32
}

// vertex returns the vertex at a point of the arrangement and a height.
func (w *writer) vertex(v, z int32) int32 {
	p, ok := w.point[v]
	if !ok {
		p = int32(len(w.s.Pts))
		w.point[v] = p
		w.s.Pts, w.first = append(w.s.Pts, w.o.ar.Point(v)), append(w.first, 0)
	}
	e := w.first[p]
	for e != 0 && w.s.Z[e-1] != z {
		e = w.next[e-1]
	}
	if e == 0 {
		w.s.Z, w.at, w.next = append(w.s.Z, z), append(w.at, p), append(w.next, w.first[p])
		e = int32(len(w.s.Z))
		w.first[p] = e
	}
	return e - 1
}

func (w *writer) put(k int32) {
	o := w.o
	v, _ := o.ar.Triangle(k)
	layer := o.wins[w.side][k]
	from := o.sides[w.side][layer]
	var t [3]int32
	for j := range v {
		t[j] = w.vertex(v[j], o.z[w.side][k][j])
	}
	group, src := mesh.Front, int32(-1)
	if from.s != nil {
		src = from.tri[k]
	}
	switch {
	case src >= 0:
		group = from.s.Group[src]
	case w.side == 1:
		group = mesh.Back
	}
	w.s.Tris = append(w.s.Tris, t)
	w.s.Group = append(w.s.Group, group)
	w.s.Part = append(w.s.Part, o.layers[layer].part)
	if o.shaded {
		n := [3][3]float32{{0, 0, 1}, {0, 0, 1}, {0, 0, 1}}
		var uv [3][2]float32
		for j := range v {
			p := o.ar.Point(v[j])
			uv[j] = [2]float32{float32(float64(p.X) * o.step), float32(float64(p.Y) * o.step)}
			if src >= 0 {
				n[j], uv[j] = from.looks(src, float64(p.X), float64(p.Y))
			}
		}
		if o.unrolled {
			w.s.UV = append(w.s.UV, uv)
		}
		w.s.Normal = append(w.s.Normal, n)
	}
}

// level is an even part of the underside.
type level struct{ label, z, part int32 }

// levelAt returns the even part of the underside that triangle k belongs to, if any.
func (o *overlay) levelAt(k int32) (c level, ok bool) {
	_, label := o.ar.Triangle(k)
	if label <= 0 {
		return level{}, false
	}
	t := o.z[1][k]
	layer := o.wins[1][k]
	from := o.sides[1][layer]
	even := t[0] == t[1] && t[1] == t[2]
	back := label < firstPost && from.s != nil && from.tri[k] >= 0 && from.s.Group[from.tri[k]] == mesh.Back
	return level{label, t[0], o.layers[layer].part}, even && back
}

// underside returns the lower side. Where it is level, it is triangulated anew from its
// border alone: what happens above does not concern it.
func (o *overlay) underside(ctx context.Context) ([]*Surface, error) {
	w := &writers{o: o, side: 1, by: map[int32]*writer{}}
	number := map[level]int32{}
	var levels []level
	flat := plane.NewArrangement()
	flat.Stop = o.ar.Stop
	for k := range o.ar.Triangles() {
		v, label := o.ar.Triangle(k)
		c, ok := o.levelAt(k)
		if !ok {
			if label > 0 {
				w.of(label).put(k)
			}
			continue
		}
		if _, have := number[c]; !have {
			number[c] = int32(len(levels))
			levels = append(levels, c)
		}
		for i := range 3 {
			n, _ := o.ar.Across(k, i)
			if n >= 0 {
				if d, ok := o.levelAt(n); ok && c == d {
					continue
				}
			}
			flat.AddEdge(number[c], o.ar.Point(v[i]), o.ar.Point(v[(i+1)%3]))
		}
	}
	if len(levels) == 0 {
		return w.done(), ctx.Err()
	}
	if err := flat.Build(); err != nil {
		return nil, err
	}
	defer flat.Release()
	flat.Classify(&classRule{w: make([]int32, len(levels))})
	byPoint := make(map[plane.Point]int32, o.ar.Points())
	for v := range o.ar.Points() {
		byPoint[o.ar.Point(v)] = v
	}
	up := [3]float32{0, 0, 1}
	for k := range flat.Triangles() {
		v, label := flat.Triangle(k)
		if label <= 0 {
			continue
		}
		c := levels[label-1]
		one := w.of(c.label)
		var t [3]int32
		for j := range v {
			t[j] = one.vertex(byPoint[flat.Point(v[j])], c.z)
		}
		s := one.s
		s.Tris, s.Group, s.Part = append(s.Tris, t), append(s.Group, mesh.Back), append(s.Part, c.part)
		if o.shaded {
			s.Normal = append(s.Normal, [3][3]float32{up, up, up})
		}
		if o.unrolled {
			var uv [3][2]float32
			for j := range v {
				p := flat.Point(v[j])
				uv[j] = [2]float32{float32(float64(p.X) * o.step), float32(float64(p.Y) * o.step)}
			}
			s.UV = append(s.UV, uv)
		}
	}
	return w.done(), ctx.Err()
}

// classRule labels faces by the one source that winds around them.
type classRule struct{ w []int32 }

func (c *classRule) Cross(s, delta int32) { c.w[s] += delta }
func (c *classRule) Label() int32 {
	for i, n := range c.w {
		if n > 0 {
			return int32(i) + 1
		}
	}
	return 0
}

package raise

import (
	"context"
	"slices"
	"sync"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Plan is one side of a part seen from above: the region triangulated for its
// bevel, each point with its distance from the rim. It does not depend on the
// depth or the height of the bevel, so that changing those needs no new plan.
type Plan struct {
	Pts    []plane.Point
	Dist   []float32   // of each point from the rim, grid units, at most Width
	Tris   [][3]int32  // the front, counter-clockwise
	Ring   []Ring      // of each triangle: the facet it lies in, len(Facets) for the plateau
	Rim    [][2]int32  // edges of the outline, inside on the left
	Cap    [][3]int32  // the outline alone triangulated, for flat sides
	Width  plane.Units // of the bevel; 0 for none
	Facets []Facet     // from the rim inward
	Top    float64     // share of the height beyond the last facet
	Mitred bool        // inner corners are
	caps   grid        // how flat sides are filled
	fine   plane.Units // how far rings may be from their distance; 0 for what bevels need
	split  bool        // the rim has other points than the region that was planned
	ceiled bool        // a ceiling that jumps is lifted from it, too
	domed  plane.Units // distance of the points inside a dome; 0 for none
	Dome   []float32   // of each point: the share of the height that a dome has; nil for none

	// Stats of the ridges, for reports and tests.
	Ridge  int     // points set on ridges
	Ridges []int32 // points between the rings: on ridges most of them

	dirsMu sync.Mutex
	dirs   [][3]dir // inward directions at corners, made when first asked for
	dirsAt float64  // for which crease
}

// Ring is the number of a facet, from the rim inward. A profile of 24 points with 32 segments to each
// piece has 736 facets, the ceiling of a hollow part a dozen more: far below the most that it can be.
type Ring uint16

// Bytes returns about how much memory the plan holds.
func (p *Plan) Bytes() int64 {
	p.dirsMu.Lock()
	defer p.dirsMu.Unlock()
	return 4*int64(len(p.Dome)) + 12*int64(
		len(p.Pts),
	) + 14*int64(
		len(p.Tris),
	) + 8*int64(
		len(p.Rim),
	) + 12*int64(
		len(p.Cap),
	) + 24*int64(
		len(p.Tris),
	) + 512
}

// minStep is the least distance between two rings; bevels finer
// than that get fewer facets.
const minStep plane.Units = 50

// gap is how far corners that touch are cut apart: about 1e-5
// of half the size.
const gap plane.Units = 160

// NewPlan triangulates region for bevel b on a grid of step mm. The region
// may touch itself; it is parted there (see plane.Region.Separate). It
// returns plane.ErrTooTangled for outlines beyond all measure, or the
// context's error when it was cancelled.
func NewPlan(ctx context.Context, region plane.Region, b Bevel, step plane.Step) (*Plan, error) {
	region, err := region.Separate(gap, stopOf(ctx))
	if err != nil {
		return nil, err
	}
	return newPlan(ctx, region, outward{}, &Form{Front: b}, b, step)
}

// stopOf returns what arrangements ask whether they are still needed.
func stopOf(ctx context.Context) func() bool { return func() bool { return ctx.Err() != nil } }

// outward says how a bevel runs outward: from where distances are measured, how far
// from there the outline is, and how far from that it may be.
type outward struct {
	source         plane.Region
	spread, detail plane.Units
}

// newPlan plans a region that touches itself nowhere for one of the bevels of a form; out.source is empty
// for a bevel that runs inward.
func newPlan(ctx context.Context, region plane.Region, out outward, f *Form, b Bevel, step plane.Step) (*Plan, error) {
	p := &Plan{Top: 1, Mitred: b.Mitred, caps: f.grid(step), fine: step.Units(f.Fine)}
	if b.On() {
		p.Width = step.Units(b.Width)
		p.Facets, p.Top = b.facetsFor(float64(minStep / p.Width))
		p.domed = domeSpacing(&b, region, step, b.Segments)
	}
	return p.over(ctx, region, out)
}

// over plans a region for the facets that are set.
func (p *Plan) over(ctx context.Context, region plane.Region, out outward) (*Plan, error) {
	if p.Width < 4 {
		p.Width, p.Facets, p.Top, p.domed = 0, nil, 1, 0
	}
	pieces := make([]*Plan, len(region))
	err := parallel.Each(len(region), func(i int) (err error) {
		w := p.workOn(region[i])
		w.out, w.mitred = out, p.Mitred
		w.out.source = within(out.source, &region[i])
		pieces[i], err = w.plans(ctx)
		return err
	})
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, err
	}
	p.join(pieces)
	p.crown()
	return p, nil
}

// workOn begins the planning of one polygon by itself.
func (p *Plan) workOn(poly plane.Polygon) *work {
	q := &Plan{Facets: p.Facets, Top: p.Top, Width: p.Width, ceiled: p.ceiled, caps: p.caps, fine: p.fine, domed: p.domed}
	return &work{plan: q, poly: poly, n: int32(len(p.Facets))}
}

// within returns the polygons of a region that lie in a polygon.
func within(r plane.Region, poly *plane.Polygon) plane.Region {
	var out plane.Region
	for _, q := range r {
		in := poly.Outer.Contains(q.Outer[0])
		for _, h := range poly.Holes {
			in = in && !h.Contains(q.Outer[0])
		}
		if in {
			out = append(out, q)
		}
	}
	return out
}

// plans plans the polygon.
func (w *work) plans(ctx context.Context) (*Plan, error) {
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if w.outward() || w.plan.domed > 0 {
		_, err := w.run(ctx, false)
		if err == nil && w.plan.domed > 0 {
			err = w.plan.inflate(ctx)
		}
		return w.plan, err
	}
	whole, err := w.run(ctx, true)
	if err == nil && !whole { // rare: an edge of the innermost zipped ring was split
		mitred := w.mitred
		*w = *w.plan.workOn(w.poly)
		w.mitred = mitred
		_, err = w.run(ctx, false)
	}
	return w.plan, err
}

func (w *work) outward() bool { return len(w.out.source) > 0 }

// run plans the polygon of w. It reports false when the zipped bands and the
// rest do not fit together.
func (w *work) run(ctx context.Context, zip bool) (whole bool, err error) {
	if err := w.rings(ctx, zip); err != nil {
		return false, err
	}
	defer w.ar.Release()
	if w.n > 0 {
		if err := w.ridges(ctx); err != nil {
			return false, err
		}
	}
	return w.finish()
}

// join appends the plans of all polygons.
func (p *Plan) join(pieces []*Plan) {
	if len(pieces) == 1 {
		q := pieces[0]
		p.Pts, p.Dist, p.Tris, p.Ring, p.Rim, p.Cap, p.Ridge = q.Pts, q.Dist, q.Tris, q.Ring, q.Rim, q.Cap, q.Ridge
		p.Ridges, p.Dome, p.split = q.Ridges, q.Dome, q.split
		return
	}
	points, tris := 0, 0
	for _, q := range pieces {
		points, tris = points+len(q.Pts), tris+len(q.Tris)
	}
	p.room(points, tris)
	for _, q := range pieces {
		n := int32(len(p.Pts))
		p.split = p.split || q.split
		p.Pts, p.Dist, p.Ring = append(p.Pts, q.Pts...), append(p.Dist, q.Dist...), append(p.Ring, q.Ring...)
		p.Dome = append(p.Dome, q.Dome...)
		for _, t := range q.Tris {
			p.Tris = append(p.Tris, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
		for _, t := range q.Cap {
			p.Cap = append(p.Cap, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
		for _, e := range q.Rim {
			p.Rim = append(p.Rim, [2]int32{e[0] + n, e[1] + n})
		}
		for _, v := range q.Ridges {
			p.Ridges = append(p.Ridges, v+n)
		}
		p.Ridge += q.Ridge
	}
}

// room makes room for points and triangles.
func (p *Plan) room(points, tris int) {
	p.Pts, p.Dist = slices.Grow(p.Pts, points), slices.Grow(p.Dist, points)
	p.Tris, p.Ring = slices.Grow(p.Tris, tris), slices.Grow(p.Ring, tris)
}

// work is the planning of one polygon.
type work struct {
	plan    *Plan
	poly    plane.Polygon
	n       int32 // rings beyond the outline
	out     outward
	mitred  bool
	corners *mitres // of inner corners, when they are mitred
	zip     zipped
	from    int32 // the innermost zipped ring, 0 for none: what is triangulated begins there
	ar      *plane.Arrangement
	poll    *progress.Poll
	levels  []float64 // distance of each ring, as its points are: on the grid
	ring    []int32   // of each point: its ring, or -1 when set on a ridge
	dist    []float32 // of each point
	foot    []int32   // of each point: an edge of the outline near it, -1 while none is known

	slack []float64 // how far each ring may be from its distance, likewise
	seen  []int32   // of each triangle: the look in which it was last seen
	look  int32

	weighed []chord // room for weigh

	flatTris [][3]plane.Point // the outline triangulated alone
}

// finish copies the triangles inside into the plan and makes the flat cap. It
// reports false when the innermost zipped ring did not come through as it was.
func (w *work) finish() (whole bool, err error) {
	p, ar := w.plan, w.ar
	if inside, least := p.caps, w.n+1; inside.spacing > 0 || p.domed > 0 {
		if p.domed > 0 { // in all bands
			inside, least = grid{spacing: p.domed}, 1
		}
		inside.fill(ar, plane.Region{w.poly}, w.poll, func(k int32) bool {
			_, label := ar.Triangle(k)
			return label >= least
		})
		for len(w.dist) < int(ar.Points()) { // on the plateau; nobody asks for it in a dome
			w.dist = append(w.dist, float32(p.Width))
		}
	}
	tris := 0
	for k := range ar.Triangles() {
		w.poll.Tick()
		if _, label := ar.Triangle(k); label > 0 {
			tris++
		}
	}
	var known map[plane.Point]int32 // points of the innermost zipped ring
	if w.from > 0 {
		known = w.zip.put(p, w.levels, int(ar.Points()), tris)
	} else {
		p.room(int(ar.Points()), tris)
	}
	num := make([]int32, ar.Points())
	for i := range num {
		num[i] = -1
	}
	id := func(v int32) int32 {
		w.poll.Tick()
		if num[v] >= 0 {
			return num[v]
		}
		if n, ok := known[ar.Point(v)]; ok {
			num[v] = n
			return n
		}
		num[v] = int32(len(p.Pts))
		p.Pts = append(p.Pts, ar.Point(v))
		p.Dist = append(p.Dist, w.dist[v])
		if int(v) < len(w.ring) && w.ring[v] < 0 {
			p.Ridges = append(p.Ridges, num[v])
		}
		return num[v]
	}
	border := 0
	for k := range ar.Triangles() {
		v, label := ar.Triangle(k)
		if label <= 0 {
			continue
		}
		t := [3]int32{id(v[0]), id(v[1]), id(v[2])}
		p.Tris = append(p.Tris, t)
		p.Ring = append(p.Ring, Ring(label-1))
		for i := range 3 {
			if o, _ := ar.Across(k, i); o >= 0 {
				if _, l := ar.Triangle(o); l > 0 {
					continue
				}
			}
			border++
			if w.from == 0 {
				p.Rim = append(p.Rim, [2]int32{t[i], t[(i+1)%3]})
			}
		}
	}
	if w.from > 0 && border != len(known) {
		return false, nil
	}
	if w.n == 0 {
		p.Cap = append(p.Cap, p.Tris...)
		return true, nil
	}
	return true, w.setCap()
}

// setCap numbers the flat cap.
func (w *work) setCap() error {
	p := w.plan
	byPoint := make(map[plane.Point]int32, len(p.Rim))
	for _, e := range p.Rim {
		p.Dist[e[0]] = 0
		byPoint[p.Pts[e[0]]] = e[0]
	}
	p.split = len(p.Rim) != (plane.Region{w.poly}).Edges()
	if w.from == 0 && !p.split {
		plane.Region{w.poly}.Loops(func(l plane.Loop) {
			for _, q := range l {
				_, has := byPoint[q]
				p.split = p.split || !has
			}
		})
	}
	if p.split { // rare: a ring has split an edge of the outline, or cut a needle of it short
		err := w.flat(func(ar *plane.Arrangement) {
			for _, e := range p.Rim {
				ar.AddEdge(0, p.Pts[e[0]], p.Pts[e[1]])
			}
		})
		if err != nil {
			return err
		}
	}
	p.Cap = make([][3]int32, len(w.flatTris))
	for i, t := range w.flatTris {
		for j, q := range t {
			v, ok := byPoint[q]
			if !ok { // inside of the cap
				v = int32(len(p.Pts))
				byPoint[q] = v
				p.Pts, p.Dist = append(p.Pts, q), append(p.Dist, 0)
			}
			p.Cap[i][j] = v
		}
	}
	return nil
}

// flat triangulates the outline alone, which add adds, for flat sides.
func (w *work) flat(add func(*plane.Arrangement)) error {
	ar := plane.NewArrangement()
	ar.Stop = w.ar.Stop
	add(ar)
	if err := ar.Build(); err != nil {
		return err
	}
	defer ar.Release()
	ar.Classify(&bandRule{w: make([]int32, 1)})
	if w.plan.caps.spacing > 0 {
		w.plan.caps.fill(ar, plane.Region{w.poly}, progress.PollOf(w.ar.Stop), func(k int32) bool {
			_, label := ar.Triangle(k)
			return label > 0
		})
	}
	w.flatTris = make([][3]plane.Point, 0, ar.Triangles()/2)
	for k := range ar.Triangles() {
		if v, label := ar.Triangle(k); label > 0 {
			w.flatTris = append(w.flatTris, [3]plane.Point{ar.Point(v[0]), ar.Point(v[1]), ar.Point(v[2])})
		}
	}
	return nil
}

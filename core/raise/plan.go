package raise

import (
	"context"
	"math"
	"sync"

	"bildhauer/core/plane"
)

// Plan is a part seen from above: the region triangulated for its bevel, each
// point with its distance from the outline. It does not depend on the depth
// or the height of the bevel, so that changing those needs no new plan.
type Plan struct {
	Pts   []plane.Point
	Dist  []float32  // of each point from the outline, grid units, at most Width
	Tris  [][3]int32 // the front, counter-clockwise
	Ring  []uint8    // of each triangle: number of the ring it lies in, len(Ts)-1 for the plateau
	Rim   [][2]int32 // edges of the outline, inside on the left
	Cap   [][3]int32 // the outline alone triangulated, for flat sides
	Width float64    // of the bevel, grid units; 0 for none
	Ts    []float64  // rings, as shares of Width
	Fs    []float64  // share of the height reached at each ring

	// Stats of the ridges, for reports and tests.
	Ridge int // points set on ridges

	dirsMu sync.Mutex
	dirs   [][3]dir // inward directions at corners, made when first asked for
	dirsAt float64  // for which crease
}

// Bytes returns about how much memory the plan holds.
func (p *Plan) Bytes() int64 {
	p.dirsMu.Lock()
	defer p.dirsMu.Unlock()
	return 12*int64(len(p.Pts)) + 13*int64(len(p.Tris)) + 8*int64(len(p.Rim)) + 12*int64(len(p.Cap)) + 24*int64(len(p.Tris)) + 512
}

// minStep is the least distance between two rings in grid units; bevels finer
// than that get fewer facets.
const minStep = 50

// gap is how far corners that touch are cut apart, in grid units: about 1e-5
// of half the size.
const gap = 160

// NewPlan triangulates region for bevel b on a grid of step mm. The region
// may touch itself; it is parted there (see plane.Region.Separate). It
// returns plane.ErrTooTangled for outlines beyond all measure, or the
// context's error when it was cancelled.
func NewPlan(ctx context.Context, region plane.Region, b Bevel, step float64) (*Plan, error) {
	region, err := region.Separate(gap)
	if err != nil {
		return nil, err
	}
	p := &Plan{Ts: []float64{0}, Fs: []float64{0}}
	if b.On() {
		p.Width = b.Width / step
		p.Ts, p.Fs = b.levels(minStep / p.Width)
	}
	if p.Width < 4 {
		p.Width, p.Ts, p.Fs = 0, []float64{0}, []float64{0}
	}
	for _, poly := range region {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := p.add(ctx, poly); err != nil {
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			return nil, err
		}
	}
	return p, nil
}

// add plans one polygon and appends it.
func (p *Plan) add(ctx context.Context, poly plane.Polygon) error {
	w := &work{plan: p, poly: poly, n: int32(len(p.Ts) - 1)}
	if err := w.rings(ctx); err != nil {
		return err
	}
	if w.n > 0 {
		if err := w.ridges(ctx); err != nil {
			return err
		}
	}
	defer w.ar.Release()
	return w.finish()
}

// work is the planning of one polygon.
type work struct {
	plan   *Plan
	poly   plane.Polygon
	n      int32 // rings beyond the outline
	ar     *plane.Arrangement
	levels []float64 // distance of each ring, grid units
	ring   []int32   // of each point: its ring, or -1 when set on a ridge
	dist   []float32 // of each point
}

// bandRule labels faces: 0 outside, else 1 + the innermost ring around them.
type bandRule struct{ w []int32 }

func (b *bandRule) Cross(s, delta int32) { b.w[s] += delta }
func (b *bandRule) Label() int32 {
	if b.w[0] <= 0 {
		return 0
	}
	for i := len(b.w) - 1; i > 0; i-- {
		if b.w[i] > 0 {
			return int32(i) + 1
		}
	}
	return 1
}

func (w *work) classify() { w.ar.Classify(&bandRule{make([]int32, w.n+1)}) }

// rings insets the outline for each facet and triangulates all together.
func (w *work) rings(ctx context.Context) error {
	p := w.plan
	for _, t := range p.Ts {
		w.levels = append(w.levels, t*p.Width)
	}
	stop := func() bool { return ctx.Err() != nil }
	ar := plane.NewArrangement()
	ar.Stop = stop
	ar.AddRegion(0, plane.Region{w.poly})
	if w.n > 0 {
		least := w.levels[1]
		for i := range w.n {
			least = math.Min(least, w.levels[i+1]-w.levels[i])
		}
		st := plane.OffsetStyle{ArcTol: math.Max(1, least/24), ArcRadius: p.Width, Stop: stop, Simplify: math.Max(1, least/32)}
		// Detail far finer than the first step costs much and changes nothing.
		in := plane.Region{w.poly}.Simplify(st.Simplify / 2)
		for i := int32(1); i <= w.n && len(in) > 0; i++ {
			if err := ctx.Err(); err != nil {
				return err
			}
			// Ring and its neighbours must stay apart, so a wider step allows for
			// a coarser ring.
			step := w.levels[i] - w.levels[i-1]
			if i < w.n {
				step = math.Min(step, w.levels[i+1]-w.levels[i])
			}
			st.Simplify = math.Max(1, step/24)
			var err error
			// Each ring from the one before: erosions add up exactly, and the
			// rounding of at most a grid unit a ring is far below a step.
			if in, err = in.Offset(w.levels[i-1]-w.levels[i], st); err != nil {
				return err
			}
			ar.AddRegion(i, in)
		}
	}
	if err := ar.Build(); err != nil {
		return err
	}
	w.ar = ar
	w.classify()
	w.ring = ar.LowestSource()
	w.dist = make([]float32, len(w.ring))
	for v, r := range w.ring {
		if r > 0 {
			w.dist[v] = float32(w.levels[r])
		}
	}
	return nil
}

// finish copies the triangles inside into the plan and makes the flat cap.
func (w *work) finish() error {
	p, ar := w.plan, w.ar
	num := make([]int32, ar.Points())
	for i := range num {
		num[i] = -1
	}
	id := func(v int32) int32 {
		if num[v] < 0 {
			num[v] = int32(len(p.Pts))
			p.Pts = append(p.Pts, ar.Point(v))
			p.Dist = append(p.Dist, w.dist[v])
		}
		return num[v]
	}
	firstRim := len(p.Rim)
	firstTri := len(p.Tris)
	for k := range ar.Triangles() {
		v, label := ar.Triangle(k)
		if label <= 0 {
			continue
		}
		t := [3]int32{id(v[0]), id(v[1]), id(v[2])}
		p.Tris = append(p.Tris, t)
		p.Ring = append(p.Ring, uint8(min(label-1, 255)))
		for i := range 3 {
			o, _ := ar.Across(k, i)
			out := o < 0
			if !out {
				_, l := ar.Triangle(o)
				out = l <= 0
			}
			if out {
				p.Rim = append(p.Rim, [2]int32{t[i], t[(i+1)%3]})
			}
		}
	}
	rim := p.Rim[firstRim:]
	if w.n == 0 {
		p.Cap = append(p.Cap, p.Tris[firstTri:]...)
		return nil
	}
	for _, e := range rim {
		p.Dist[e[0]] = 0
	}
	// Flat sides use the outline's points only.
	flat := plane.NewArrangement()
	byPoint := make(map[plane.Point]int32, len(rim))
	for _, e := range rim {
		a, b := p.Pts[e[0]], p.Pts[e[1]]
		byPoint[a] = e[0]
		flat.AddEdge(0, a, b)
	}
	if err := flat.Build(); err != nil {
		return err
	}
	defer flat.Release()
	flat.Classify(&bandRule{make([]int32, 1)})
	for k := range flat.Triangles() {
		v, label := flat.Triangle(k)
		if label <= 0 {
			continue
		}
		p.Cap = append(p.Cap, [3]int32{byPoint[flat.Point(v[0])], byPoint[flat.Point(v[1])], byPoint[flat.Point(v[2])]})
	}
	return nil
}

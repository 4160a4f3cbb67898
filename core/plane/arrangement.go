package plane

import (
	"errors"
	"fmt"
	"math/bits"
	"slices"

	"bildhauer/core/progress"
)

// ErrTooTangled is returned when an arrangement needs far more crossings than
// it has segments, beyond the budget that bounds time and memory.
var ErrTooTangled = errors.New("the outlines cross each other too often")

// ErrStopped is returned when Stop said so.
var ErrStopped = errors.New("stopped")

// ErrTooLarge is returned for coordinates beyond MaxCoord.
var ErrTooLarge = errors.New("a coordinate lies outside the grid")

// Arrangement is the subdivision of the plane by closed loops, each of a
// source (a number from 0 that the caller chooses). After Build
//
//  1. the edges are exactly the loops' edges, split where they met, and each
//     crossing lies within snapUnits of where two edges met;
//  2. no two edges cross and no vertex lies inside an edge;
//  3. each edge knows how often each source runs along it, so that Classify
//     can tell the winding number of every source in every face;
//  4. the faces are triangulated, constrained Delaunay;
//  5. the result depends only on the set of loops, not on the order in which
//     they came, where they start or (but for the sign of winding) which way
//     they run.
type Arrangement struct {
	// Stop, when set, is asked now and then; Build returns ErrStopped once it
	// says yes.
	Stop func() bool

	t     *triangulation
	pts   []Point // the ends of segs
	segs  []segment
	lists []coverList
	items []cover
	plain map[cover]int32 // lists with a single item
	todo  []pending
	given int32 // points with lower numbers were put in, others are crossings
}

// segment runs from one of the points added to another.
type segment struct{ from, to, source int32 }

// run is a segment between points of the triangulation; lo comes before hi in the
// order of points, and delta is 1 if it runs from lo to hi, else -1.
type run struct {
	key                   uint64 // lo as a whole number, which compares in one step
	lo, hi, source, delta int32
	turn                  int8
}

type cover struct{ source, delta int32 }
type coverList struct{ off, n int32 }

// coverRef names a list of covers together with a direction of travel: neg
// says that the list holds for the opposite direction.
type coverRef struct {
	list int32
	neg  bool
}

// con packs the reference as an edge from a to b stores it, relative to the
// direction from the lower to the higher numbered end.
func (c coverRef) con(a, b int32) int32 {
	if c.neg != (a > b) {
		return c.list<<1 | 1
	}
	return c.list << 1
}

// coverRefOf is the inverse of coverRef.con.
func coverRefOf(con, a, b int32) coverRef { return coverRef{con >> 1, (con&1 != 0) != (a > b)} }

// NewArrangement returns an empty arrangement.
func NewArrangement() *Arrangement {
	return &Arrangement{lists: make([]coverList, 1), plain: map[cover]int32{}}
}

// Release gives the memory of the arrangement back for the next one. The
// arrangement must not be used afterwards.
func (ar *Arrangement) Release() {
	if ar.t != nil && cap(ar.t.tris) <= keepTriangles {
		spareTriangulations.Put(ar.t)
	}
	ar.t, ar.given = nil, 0
}

// AddLoop adds the closed loop through pts. Doubled points are ignored.
func (ar *Arrangement) AddLoop(source int32, pts []Point) {
	first := int32(len(ar.pts))
	ar.pts = slices.Grow(ar.pts, len(pts))
	for i, p := range pts {
		if i == 0 || p != pts[i-1] {
			ar.pts = append(ar.pts, p)
		}
	}
	n := int32(len(ar.pts)) - first
	for n > 1 && ar.pts[first+n-1] == ar.pts[first] {
		n--
	}
	if n < 2 {
		n = 0
	}
	ar.pts = ar.pts[:first+n]
	ar.segs = slices.Grow(ar.segs, int(n))
	for i := range n {
		ar.segs = append(ar.segs, segment{first + i, first + (i+1)%n, source})
	}
}

// AddEdge adds one edge from p to q. The edges of a source must form closed
// loops in the end.
func (ar *Arrangement) AddEdge(source int32, p, q Point) {
	if p == q {
		return
	}
	n := int32(len(ar.pts))
	ar.pts = append(ar.pts, p, q)
	ar.segs = append(ar.segs, segment{n, n + 1, source})
}

// AddRegion adds all loops of a region.
func (ar *Arrangement) AddRegion(source int32, r Region) {
	for _, p := range r {
		ar.AddLoop(source, p.Outer)
		for _, h := range p.Holes {
			ar.AddLoop(source, h)
		}
	}
}

// Build computes the arrangement. More loops can be added afterwards and built in
// turn; they are woven into what stands (then the result depends on what came in
// which turn, too). It returns ErrTooTangled, ErrTooLarge or ErrStopped.
func (ar *Arrangement) Build() error {
	for _, p := range ar.pts {
		if p.X > MaxCoord || p.X < -MaxCoord || p.Y > MaxCoord || p.Y < -MaxCoord {
			return ErrTooLarge
		}
	}
	if ar.t == nil {
		ar.t = newTriangulation(len(ar.pts))
	}
	ids, whole := ar.t.insertAll(ar.pts, ar.Stop)
	if !whole {
		return ErrStopped
	}
	runs := ar.runs(ids)
	if ar.given == 0 {
		ar.given = int32(len(ar.t.pts))
	}
	ahead := newForesight(len(ar.t.pts), len(runs))
	for i, n := 0, 0; i < len(runs); n++ {
		if n&255 == 0 && ar.Stop != nil && ar.Stop() {
			return ErrStopped
		}
		r := runs[i]
		if i > 0 && r.turn != runs[i-1].turn {
			if err := ahead.look(i, len(ar.t.pts)); err != nil {
				return err
			}
		}
		j := i + 1
		for j < len(runs) && runs[j].lo == r.lo && runs[j].hi == r.hi {
			j++
		}
		list := ar.listOf(runs[i:j])
		i = j
		if !ar.constrain(r.lo, r.hi, list, ahead) || len(ar.t.pts) > ahead.given+mostCrossings {
			return ErrTooTangled
		}
	}
	ar.pts, ar.segs = ar.pts[:0], ar.segs[:0]
	return nil
}

// turns is how many rounds segments come in. With 15 the first of a million are a handful.
const turns = 15

// runs returns the segments between points of the triangulation in the order in which they
// are put in: in rounds of doubling size, drawn by a hash of their ends, as points are. One
// by one along the plane, each crossing of a long edge would lie among the many free points
// ahead and fan out to all of them, which takes the square of their number. In a round they
// are sorted by their lower end, then the higher one, then the source. What lies far away
// has no part in the order of neighbours, and so in how their crossings are rounded.
func (ar *Arrangement) runs(ids []int32) []run {
	out := make([]run, len(ar.segs))
	for i, s := range ar.segs {
		p, q := ar.pts[s.from], ar.pts[s.to]
		out[i] = run{pointKey(p), ids[s.from], ids[s.to], s.source, 1, 0}
		if q.Less(p) {
			p, q = q, p
			out[i] = run{pointKey(p), ids[s.to], ids[s.from], s.source, -1, 0}
		}
		out[i].turn = turns - int8(min(bits.LeadingZeros64(mix(pointKey(p)^mix(pointKey(q)))|1), turns))
	}
	pts := ar.t.pts
	poll := progress.PollOf(ar.Stop)
	slices.SortFunc(out, func(a, b run) int {
		poll.Tick()
		switch {
		case a.turn != b.turn:
			return int(a.turn) - int(b.turn)
		case a.key < b.key:
			return -1
		case a.key > b.key:
			return 1
		case a.hi != b.hi:
			return comparePoints(pts[a.hi], pts[b.hi])
		}
		return int(a.source) - int(b.source)
	})
	return out
}

// mix scrambles the bits of a number.
func mix(h uint64) uint64 {
	h *= 0x9E3779B97F4A7C15
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	return h ^ h>>32
}

func pointKey(p Point) uint64 {
	return uint64(uint32(p.X)^1<<31)<<32 | uint64(uint32(p.Y)^1<<31)
}

// listOf sums the runs of one segment by source.
func (ar *Arrangement) listOf(segs []run) coverRef {
	if len(segs) == 1 {
		s := segs[0]
		l := ar.newList(cover{s.source, 1})
		return coverRef{l, s.delta < 0}
	}
	var sum []cover
	for _, s := range segs { // by source
		if n := len(sum); n > 0 && sum[n-1].source == s.source {
			sum[n-1].delta += s.delta
		} else {
			sum = append(sum, cover{s.source, s.delta})
		}
	}
	return coverRef{ar.newList(sum...), false}
}

func addCover(sum []cover, c cover) []cover {
	for i := range sum {
		if sum[i].source == c.source {
			sum[i].delta += c.delta
			return sum
		}
	}
	return append(sum, c)
}

func (ar *Arrangement) newList(c ...cover) int32 {
	if len(c) == 1 {
		if l, ok := ar.plain[c[0]]; ok {
			return l
		}
	}
	ar.lists = append(ar.lists, coverList{int32(len(ar.items)), int32(len(c))})
	ar.items = append(ar.items, c...)
	l := int32(len(ar.lists) - 1)
	if len(c) == 1 {
		ar.plain[c[0]] = l
	}
	return l
}

func (ar *Arrangement) covers(c coverRef) []cover {
	l := ar.lists[c.list]
	return ar.items[l.off : l.off+l.n]
}

// coverEdge lets half-edge e, which leaves point a, carry c as well.
func (ar *Arrangement) coverEdge(e, a int32, c coverRef) {
	t := ar.t
	b := t.dst(e)
	if old := t.con(e); old != 0 {
		o := coverRefOf(old, a, b)
		var sum []cover
		for _, r := range [2]coverRef{o, c} {
			for _, it := range ar.covers(r) {
				if r.neg {
					it.delta = -it.delta
				}
				sum = addCover(sum, it)
			}
		}
		c = coverRef{ar.newList(sum...), false}
	}
	t.setCon(e, c.con(a, b))
}

// A Rule tells faces apart. Classify walks over all faces and calls Cross for
// every change of a source's winding number on the way; Label is then asked
// what the face at hand is. Label 0 is outside.
type Rule interface {
	Cross(source, delta int32)
	Label() int32
}

const tagUnknown = -1 << 30

// resolved builds the arrangement and gives its faces the labels of a rule. Of nothing there are no faces.
func (ar *Arrangement) resolved(r Rule) (some bool, err error) {
	if len(ar.segs) == 0 {
		return false, nil
	}
	if err := ar.Build(); err != nil {
		return false, err
	}
	ar.Classify(r)
	return true, nil
}

// Classify gives every face the label that the rule says.
func (ar *Arrangement) Classify(r Rule) {
	t, poll := ar.t, progress.PollOf(ar.Stop)
	for i := range t.tris {
		t.tris[i].tag = tagUnknown
	}
	type frame struct {
		from, cur, to int
		entry         int32
	}
	var rim, flood []int32
	var stack []frame
	enter := func(k, entry int32) {
		label := r.Label()
		from := len(rim)
		t.tris[k].tag = label
		flood = append(flood[:0], k)
		for len(flood) > 0 {
			poll.Tick()
			k := flood[len(flood)-1]
			flood = flood[:len(flood)-1]
			tr := &t.tris[k]
			for i := range tr.twin {
				o := tr.twin[i]
				if o < 0 || t.tris[o>>2].tag != tagUnknown {
					continue
				}
				if tr.con[i] != 0 {
					rim = append(rim, k<<2|int32(i))
				} else {
					t.tris[o>>2].tag = label
					flood = append(flood, o>>2)
				}
			}
		}
		stack = append(stack, frame{from, from, len(rim), entry})
	}
	cross := func(e int32, sign int32) {
		ref := coverRefOf(t.con(e), t.org(e), t.dst(e))
		if ref.neg {
			sign = -sign
		}
		for _, c := range ar.covers(ref) {
			if c.delta != 0 {
				r.Cross(c.source, sign*c.delta)
			}
		}
	}
	enter(t.out[0]>>2, -1)
	for len(stack) > 0 {
		poll.Tick()
		f := &stack[len(stack)-1]
		if f.cur == f.to {
			rim = rim[:f.from]
			if f.entry >= 0 {
				cross(f.entry, 1)
			}
			stack = stack[:len(stack)-1]
			continue
		}
		e := rim[f.cur]
		f.cur++
		if k := t.twin(e) >> 2; t.tris[k].tag == tagUnknown {
			cross(e, -1) // the face on the right winds less by what runs along e
			enter(k, e)
		}
	}
}

// Validate checks the arrangement's own invariants and is meant for tests.
func (ar *Arrangement) Validate() error {
	t := ar.t
	var area int64
	for k := range t.tris {
		tr := &t.tris[k]
		a := Orient(t.pts[tr.v[0]], t.pts[tr.v[1]], t.pts[tr.v[2]])
		if a <= 0 {
			return fmt.Errorf("triangle %d is not counter-clockwise", k)
		}
		area += a
		for i := int32(0); i < 3; i++ {
			e := int32(k)<<2 | i
			o := tr.twin[i]
			if o < 0 {
				continue
			}
			if t.twin(o) != e || t.org(o) != t.dst(e) || t.dst(o) != t.org(e) || t.con(o) != t.con(e) {
				return fmt.Errorf("half-edges %d and %d do not match", e, o)
			}
			if tr.con[i] == 0 &&
				inCircle(t.pts[tr.v[0]], t.pts[tr.v[1]], t.pts[tr.v[2]], t.pts[t.org(prev(o))]) {
				return fmt.Errorf("edge %d is not Delaunay", e)
			}
		}
	}
	if area != 2*4*frameCoord*frameCoord {
		return fmt.Errorf("triangles do not cover the frame")
	}
	for v, e := range t.out {
		if t.org(e) != int32(v) {
			return fmt.Errorf("point %d is lost", v)
		}
	}
	return nil
}

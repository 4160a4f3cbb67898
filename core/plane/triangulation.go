package plane

import (
	"math/bits"
	"slices"
	"sync"
)

// A half-edge is numbered 4*triangle + side; side i runs from v[i] to
// v[(i+1)%3] with the triangle on its left.

type triangle struct {
	v    [3]int32 // corners, counter-clockwise
	twin [3]int32 // the half-edge on the other side, -1 at the frame
	con  [3]int32 // 0, or the constraint that the edge carries (see cover)
	tag  int32    // the label of the face, set by Classify
}

var nextSide = [4]int32{1, 2, 0, 0}
var prevSide = [4]int32{2, 0, 1, 0}

func next(e int32) int32 { return e&^3 | nextSide[e&3] }
func prev(e int32) int32 { return e&^3 | prevSide[e&3] }

// triangulation is a constrained Delaunay triangulation of a square frame and
// the points inserted so far.
type triangulation struct {
	pts  []Point
	out  []int32 // a half-edge leaving each point
	tris []triangle
	hint int32 // triangle where the next search begins
	seed uint32
	work []int32 // edges to look at again

	// Scratch space of constrain.
	channel, free, spare []int32
	left, right          []rimStep
	moved                [][2]int32
}

const frameVerts = 4

// spareTriangulations keeps the memory of small triangulations for the next.
var spareTriangulations sync.Pool

// keepTriangles bounds what is kept.
const keepTriangles = 200_000

func newTriangulation(n int) *triangulation {
	t, _ := spareTriangulations.Get().(*triangulation)
	if t == nil {
		t = &triangulation{}
	}
	t.pts = slices.Grow(t.pts[:0], n+frameVerts)
	t.out = slices.Grow(t.out[:0], n+frameVerts)
	t.tris = slices.Grow(t.tris[:0], 2*n+2)
	t.seed, t.hint = 1, 0
	const f = frameCoord
	t.pts = append(t.pts, Point{-f, -f}, Point{f, -f}, Point{f, f}, Point{-f, f})
	t.out = append(t.out, 0, 1, 2, 6)
	t.tris = append(t.tris,
		triangle{v: [3]int32{0, 1, 2}, twin: [3]int32{-1, -1, 4}},
		triangle{v: [3]int32{0, 2, 3}, twin: [3]int32{2, -1, -1}})
	return t
}

func (t *triangulation) org(e int32) int32 { return t.tris[e>>2].v[e&3] }
func (t *triangulation) dst(e int32) int32 { return t.tris[e>>2].v[nextSide[e&3]] }
func (t *triangulation) twin(e int32) int32 {
	return t.tris[e>>2].twin[e&3]
}
func (t *triangulation) con(e int32) int32 { return t.tris[e>>2].con[e&3] }

// link makes half-edge e of a freshly written triangle and o each other's
// twin and copies the constraint.
func (t *triangulation) link(e, o, con int32) {
	tr := &t.tris[e>>2]
	tr.twin[e&3], tr.con[e&3] = o, con
	if o >= 0 {
		tw := &t.tris[o>>2]
		tw.twin[o&3], tw.con[o&3] = e, con
	}
}

// setCon marks both sides of an edge.
func (t *triangulation) setCon(e, con int32) { t.link(e, t.twin(e), con) }

func (t *triangulation) setCorners(k, a, b, c int32) {
	t.tris[k].v = [3]int32{a, b, c}
	t.out[a], t.out[b], t.out[c] = k<<2, k<<2|1, k<<2|2
}

// locate returns a half-edge whose triangle contains p; on >= 0 says that p
// lies on that half-edge, and when p is a corner, vertex is its number.
func (t *triangulation) locate(p Point) (e int32, on bool, vertex int32) {
	k := t.hint
	for {
		tr := &t.tris[k]
		// A rotating start keeps the walk from circling where the
		// triangulation is not Delaunay (Devillers, Pion, Teillaud 2001).
		t.seed = t.seed*1664525 + 1013904223
		s := int32(t.seed >> 16 % 3)
		moved := false
		var zero [3]bool
		for j := int32(0); j < 3; j++ {
			o := Orient(t.pts[tr.v[s]], t.pts[tr.v[nextSide[s]]], p)
			if o < 0 {
				tw := tr.twin[s]
				if tw < 0 {
					panic("plane: point outside the frame")
				}
				k = tw >> 2
				moved = true
				break
			}
			zero[s] = o == 0
			s = nextSide[s]
		}
		if moved {
			continue
		}
		t.hint = k
		for i := int32(0); i < 3; i++ {
			if zero[i] && zero[prevSide[i]] {
				return k<<2 | i, false, tr.v[i]
			}
		}
		for i := int32(0); i < 3; i++ {
			if zero[i] {
				return k<<2 | i, true, -1
			}
		}
		return k << 2, false, -1
	}
}

// insert adds p and returns its number, or that of the point already there.
// A point on a constrained edge splits it; both halves keep the constraint.
func (t *triangulation) insert(p Point) int32 {
	e, on, v := t.locate(p)
	if v >= 0 {
		return v
	}
	n := int32(len(t.pts))
	t.pts = append(t.pts, p)
	t.out = append(t.out, 0)
	if on {
		t.splitEdge(e, n)
	} else {
		t.splitFace(e>>2, n)
	}
	t.legalise(true)
	return n
}

func (t *triangulation) newTri() int32 {
	t.tris = append(t.tris, triangle{})
	return int32(len(t.tris) - 1)
}

func (t *triangulation) splitFace(k, n int32) {
	old := t.tris[k]
	k1, k2 := t.newTri(), t.newTri()
	t.tris[k1].tag, t.tris[k2].tag = old.tag, old.tag
	t.setCorners(k, old.v[0], old.v[1], n)
	t.setCorners(k1, old.v[1], old.v[2], n)
	t.setCorners(k2, old.v[2], old.v[0], n)
	t.link(k<<2, old.twin[0], old.con[0])
	t.link(k1<<2, old.twin[1], old.con[1])
	t.link(k2<<2, old.twin[2], old.con[2])
	t.link(k<<2|1, k1<<2|2, 0)
	t.link(k1<<2|1, k2<<2|2, 0)
	t.link(k2<<2|1, k<<2|2, 0)
	t.work = append(t.work, k<<2, k1<<2, k2<<2)
}

func (t *triangulation) splitEdge(e, n int32) {
	f := t.twin(e)
	con := t.con(e)
	k, i := e>>2, e&3
	a, b, c := t.tris[k].v[i], t.tris[k].v[nextSide[i]], t.tris[k].v[prevSide[i]]
	k1 := t.newTri()
	bc, bcCon := t.twin(next(e)), t.con(next(e))
	ca, caCon := t.twin(prev(e)), t.con(prev(e))
	t.tris[k1].tag = t.tris[k].tag
	t.setCorners(k, c, a, n)
	t.setCorners(k1, b, c, n)
	t.link(k<<2, ca, caCon)
	t.link(k1<<2, bc, bcCon)
	t.link(k<<2|2, k1<<2|1, 0)
	t.work = append(t.work, k<<2, k1<<2)
	an, nb := k<<2|1, k1<<2|2 // a->n and n->b
	conA, conB := int32(0), int32(0)
	if con != 0 {
		ref := coverRefOf(con, a, b)
		conA, conB = ref.con(a, n), ref.con(n, b)
	}
	if f < 0 {
		t.link(an, -1, conA)
		t.link(nb, -1, conB)
		return
	}
	j := f >> 2
	d := t.org(prev(f))
	j1 := t.newTri()
	ad, adCon := t.twin(next(f)), t.con(next(f))
	db, dbCon := t.twin(prev(f)), t.con(prev(f))
	t.tris[j1].tag = t.tris[j].tag
	t.setCorners(j, d, b, n)
	t.setCorners(j1, a, d, n)
	t.link(j<<2, db, dbCon)
	t.link(j1<<2, ad, adCon)
	t.link(j<<2|2, j1<<2|1, 0)
	t.link(j1<<2|2, an, conA)
	t.link(j<<2|1, nb, conB)
	t.work = append(t.work, j<<2, j1<<2)
}

// legalise flips edges of the work list until all are locally Delaunay. When
// the list holds the edges opposite one new point (around), only edges that
// come to lie opposite it need a second look.
func (t *triangulation) legalise(around bool) {
	for len(t.work) > 0 {
		e := t.work[len(t.work)-1]
		t.work = t.work[:len(t.work)-1]
		k, i := e>>2, e&3
		tr := &t.tris[k]
		f := tr.twin[i]
		if f < 0 || tr.con[i] != 0 {
			continue
		}
		j := f >> 2
		d := t.tris[j].v[prevSide[f&3]]
		a, b, c := tr.v[i], tr.v[nextSide[i]], tr.v[prevSide[i]]
		if !inCircle(t.pts[a], t.pts[b], t.pts[c], t.pts[d]) {
			continue
		}
		// Flip a-b to c-d; a, d, b, c is a convex quadrilateral.
		bc, bcCon := tr.twin[nextSide[i]], tr.con[nextSide[i]]
		ca, caCon := tr.twin[prevSide[i]], tr.con[prevSide[i]]
		tj := &t.tris[j]
		fn, fp := nextSide[f&3], prevSide[f&3]
		ad, adCon := tj.twin[fn], tj.con[fn]
		db, dbCon := tj.twin[fp], tj.con[fp]
		t.setCorners(k, c, a, d)
		t.setCorners(j, d, b, c)
		t.link(k<<2, ca, caCon)
		t.link(k<<2|1, ad, adCon)
		t.link(j<<2, db, dbCon)
		t.link(j<<2|1, bc, bcCon)
		t.link(k<<2|2, j<<2|2, 0)
		t.work = append(t.work, k<<2|1, j<<2)
		if !around {
			t.work = append(t.work, k<<2, j<<2|1)
		}
	}
}

// insertAll adds points and returns their numbers; a point may come several times.
// The order of insertion is a biased randomised one (Amenta, Choi, Rote 2003):
// rounds of doubling size, each along a Hilbert curve, which keeps both the number
// of flips and the length of the walks small. The randomness is a hash of the
// coordinates, so that the order depends on the set of points alone.
func (t *triangulation) insertAll(pts []Point, stop func() bool) (ids []int32, whole bool) {
	ids = make([]int32, len(pts))
	turn := 0
	order := hilbertOrder(pts, max(1, min(15, bits.Len(uint(len(pts)))-5)))
	for i := 0; i < len(order); {
		if turn++; turn&4095 == 0 && stop != nil && stop() {
			return nil, false
		}
		j := i + 1
		for j < len(order) && order[j]>>32 == order[i]>>32 {
			j++
		}
		same := order[i:j] // one place of the curve
		if len(same) > 1 {
			slices.SortFunc(same, func(a, b uint64) int { return comparePoints(pts[uint32(a)], pts[uint32(b)]) })
		}
		for n, k := range same {
			if n > 0 && pts[uint32(k)] == pts[uint32(same[n-1])] {
				ids[uint32(k)] = ids[uint32(same[n-1])]
			} else {
				ids[uint32(k)] = t.insert(pts[uint32(k)])
			}
		}
		i = j
	}
	return ids, true
}

// hilbertOrder returns keys whose lower 32 bits are the indices of pts, sorted
// along a Hilbert curve, or along one for each of several rounds of doubling
// size.
func hilbertOrder(pts []Point, rounds int) []uint64 {
	keys := make([]uint64, len(pts))
	lo, hi := Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}
	for _, p := range pts {
		lo.X, lo.Y = min(lo.X, p.X), min(lo.Y, p.Y)
		hi.X, hi.Y = max(hi.X, p.X), max(hi.Y, p.Y)
	}
	size := max(int64(hi.X)-int64(lo.X), int64(hi.Y)-int64(lo.Y))
	shift := max(0, bits.Len64(uint64(size))-14)
	for i, p := range pts {
		h := uint64(uint32(p.X))*0x9E3779B97F4A7C15 ^ uint64(uint32(p.Y))*0xC2B2AE3D27D4EB4F
		h ^= h >> 29
		h *= 0xBF58476D1CE4E5B9
		r := min(bits.LeadingZeros64(h|1), rounds)
		key := hilbert(uint32(p.X-lo.X)>>shift, uint32(p.Y-lo.Y)>>shift)
		keys[i] = uint64(15-r)<<60 | uint64(key)<<32 | uint64(i)
	}
	slices.Sort(keys)
	return keys
}

// hilbert returns the place of (x, y), 16 bits each, along a Hilbert curve.
func hilbert(x, y uint32) (d uint32) {
	state := uint16(0)
	for shift := 12; shift >= 0; shift -= 4 {
		step := hilbertSteps[state][x>>shift&15<<4|y>>shift&15]
		d, state = d<<8|uint32(step&255), step>>8
	}
	return d
}

// hilbertSteps is, for each state of the curve and four bits of x and y each, the eight bits of the place
// and, above them, the state that follows: 1 where both are turned round, 2 where they change places.
var hilbertSteps = func() (steps [4][256]uint16) {
	for state := range steps {
		for xy := range 256 {
			now, d := state, 0
			for bit := 3; bit >= 0; bit-- {
				rx, ry := xy>>(4+bit)&1, xy>>bit&1
				if now&2 != 0 {
					rx, ry = ry, rx
				}
				if now&1 != 0 {
					rx, ry = 1-rx, 1-ry
				}
				d = d<<2 | (3 * rx) ^ ry
				if ry == 0 {
					now ^= 2 | rx
				}
			}
			steps[state][xy] = uint16(now<<8 | d)
		}
	}
	return steps
}()

package mend

import (
	"fmt"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// tipReach is how far from a tip in mm its angle is measured: what the eye and
// the finger take for the tip.
const tipReach = 0.3

// findTips finds corners of what is seen that are sharper than the limit.
func findTips(l *look) []Finding {
	var out []Finding
	owners := l.owners()
	radius := math.Max(l.limits.Thin/4, 0.05)
	for i := range l.parts {
		l.parts[i].region.Loops(func(lp plane.Loop) {
			for k, p := range lp {
				n := len(lp)
				a, b := vecOf(lp[(k+n-1)%n]).Sub(vecOf(p)), vecOf(lp[(k+1)%n]).Sub(vecOf(p))
				// Solid lies on the left: a tip turns left by nearly half a turn.
				if b.Cross(a) <= 0 || angleOf(a, b) > 60*math.Pi/180 {
					continue
				}
				far := l.units(tipReach)
				a, b = walk(lp, k, p, far, false).Sub(vecOf(p)), walk(lp, (k+n-1)%n, p, far, true).Sub(vecOf(p))
				angle := degrees(angleOf(a, b))
				if angle >= l.limits.Tip || a.Len() < far/2 || b.Len() < far/2 {
					continue
				}
				own := owners.of(vecOf(p))
				if own < 0 || l.Color[l.taken[own]] != l.parts[i].color || !hasPoint(l.region[own], p) {
					continue // made by what lies on top
				}
				out = append(out, l.tip(own, l.place(p), angle, radius))
			}
		})
	}
	return out
}

func angleOf(a, b geom.Vec) float64 { return math.Abs(math.Atan2(a.Cross(b), a.Dot(b))) }

func (l *look) tip(k int, at geom.Vec, angle, radius float64) Finding {
	m := recipe.Mend{Do: "blunt", Shapes: []string{l.key(k)}, MM: []float64{radius}, At: [][2]float64{pair(at)}}
	flat := m
	flat.How = "flat"
	return Finding{
		Shapes: m.Shapes, At: at, Box: l.around(at, 1.5), Measure: fmt.Sprintf("tip %s°", units.Figure(units.Round(angle, 1))),
		Fixes: []Fix{
			fix(m, "Round the tip with a radius of %s", mmOf(radius)),
			fix(flat, "Cut the tip off where it is %s wide", mmOf(2*radius)),
		},
	}
}

// dust reports whether a narrow spot is too small to matter.
func (l *look) dust(spot []ball) bool {
	box := l.spotBox(spot)
	return math.Max(box.W(), box.H()) < l.px(2*dustMM) || l.mm(2*narrowest(spot).r) < dustMM/5
}

// scrappy reports whether a piece is found as a scrap.
func (l *look) scrappy(p plane.Polygon) bool {
	b := l.boxOf(plane.Region{p})
	return math.Max(b.W(), b.H()) < l.px(l.limits.Scrap)
}

// findThin finds places where what is seen of a colour is thinner than the
// smallest width, between outlines of its own.
func findThin(l *look) []Finding {
	width := l.units(l.limits.Thin)
	if width < 8 {
		return nil
	}
	owners := l.owners()
	var out []Finding
	for i := range l.parts {
		part := &l.parts[i]
		piece := pieceOfLoop(part.region)
		mine := func(p geom.Vec) bool {
			k := owners.of(p)
			return k >= 0 && l.Color[l.taken[k]] == part.color
		}
		for _, spot := range spots(newGauge(loopsOf(part.region)).narrow(width*0.99, false, slantOfSpots), width*0.6) {
			b := narrowest(spot)
			if !even(spot) || l.dust(spot) || l.scrappy(part.region[piece[b.loop]]) || !mine(b.at) || !mine(b.q) {
				continue
			}
			at := l.fromGrid(b.c)
			of := l.near(part.of, at, l.px(l.limits.Thin))
			if len(of) == 0 {
				continue
			}
			keys := l.keys(of)
			m := recipe.Mend{Do: "thicken", Shapes: keys, MM: []float64{l.limits.Thin}, At: [][2]float64{pair(at)}}
			f := Finding{
				Shapes: keys, At: at, Box: l.spotBox(spot), Measure: mmOf(l.mm(2*b.r)) + " wide",
				Fixes: []Fix{fix(m, "Thicken it to %s here", mmOf(l.limits.Thin))},
			}
			own := owners.of(b.at)
			more := units.Round((l.limits.Thin-l.mm(2*b.r))/2+0.005, 2)
			whole := recipe.Mend{Do: "grow", Shapes: []string{l.key(own)}, MM: []float64{more}}
			f.Fixes = append(f.Fixes, fix(whole, "Grow the whole shape by %s all round", mmOf(more)))
			out = append(out, f)
		}
	}
	return out
}

// findSlots finds holes and slots within one shape, or between shapes of one
// colour that hang together, that are narrower than the limit.
func findSlots(l *look) []Finding {
	width := l.units(l.limits.Slot)
	if width < 8 {
		return nil
	}
	owners := l.owners()
	var out []Finding
	loops := loopsOf(l.all)
	whole := pieceOfLoop(l.all)
	done := map[int]bool{}
	for n, lp := range loops {
		if lp.Area2() >= 0 || !smallHole(lp, width) {
			continue
		}
		done[n] = true
		if b := l.boxOf(plane.Region{{Outer: lp}}); math.Max(b.W(), b.H()) < l.px(dustMM) {
			continue
		}
		if of := owners.all(lp); len(of) > 0 {
			box := l.boxOf(plane.Region{{Outer: lp}})
			out = append(out, l.slot(of, box.Center(), box, math.Min(box.W(), box.H())/l.PxPerMM, true))
		}
	}
	g := newGauge(loops)
	for _, spot := range spots(g.narrow(width*0.99, true, slantOfSpots), width*0.6) {
		b := narrowest(spot)
		if done[b.loop] || !even(spot) || l.dust(spot) {
			continue
		}
		j, k := owners.of(b.at), owners.of(b.q)
		if j < 0 || k < 0 || j != k && whole[b.loop] != whole[g.loopOfEdge(b.edge)] {
			continue
		}
		of := []int{min(j, k), max(j, k)}
		out = append(out, l.slot(slices.Compact(of), l.fromGrid(b.c), l.spotBox(spot), l.mm(2*b.r), false))
	}
	return out
}

func (l *look) slot(of []int, at geom.Vec, box geom.Box, wide float64, hole bool) Finding {
	keys := l.keys(of)
	limit := l.limits.Slot
	m := recipe.Mend{Shapes: keys, At: [][2]float64{pair(at)}}
	more := m
	more.Do, more.MM = "widen", []float64{limit}
	f := Finding{
		Shapes: keys, At: at, Box: box, Measure: mmOf(wide) + " wide",
	}
	widen := fix(more, "Widen it to %s", mmOf(limit))
	m.Do = "plug"
	if hole {
		f.Fixes = []Fix{fix(m, "Fill the hole"), widen}
		return f
	}
	m.MM = []float64{limit}
	f.Fixes = []Fix{fix(m, "Fill the slot where it is narrower than %s", mmOf(limit)), widen}
	return f
}

// pieceOfLoop returns to which polygon each loop of a region belongs.
func pieceOfLoop(r plane.Region) []int {
	var out []int
	for i, p := range r {
		for range 1 + len(p.Holes) {
			out = append(out, i)
		}
	}
	return out
}

// A piece is loose when it is much smaller than the largest one and than the
// piece next to it, lies no farther from that than it is large itself, and there
// are few of its kind: many pieces are meant to be apart.
const (
	looseShare = 0.4
	mostPieces = 8
	mostLoose  = 3
)

// findLoose finds pieces that would fall off: they hang together with nothing.
func findLoose(l *look) []Finding {
	var real []int
	largest := 0.0
	for i, p := range l.all {
		b := l.boxOf(plane.Region{p})
		if math.Max(b.W(), b.H()) >= l.px(l.limits.Scrap) {
			real = append(real, i)
			largest = math.Max(largest, float64(p.Area2()))
		}
	}
	if len(real) < 2 || len(real) > mostPieces {
		return nil
	}
	owners := l.owners()
	var out []Finding
	for _, i := range real {
		if float64(l.all[i].Area2()) > looseShare*largest {
			continue
		}
		if f, ok := l.loose(i, owners); ok {
			out = append(out, f)
		}
	}
	if len(out) > mostLoose {
		return nil
	}
	return out
}

// loose words a piece of the whole.
func (l *look) loose(i int, owners *owners) (Finding, bool) {
	piece := loopsOf(l.all[i : i+1])
	var rest []plane.Loop
	for j := range l.all {
		if j != i {
			rest = append(rest, loopsOf(l.all[j:j+1])...)
		}
	}
	p, q := shortest(piece, rest)
	j, k := owners.of(p), owners.of(q)
	if j < 0 || k < 0 || l.shape(j).Stroke != nil && l.shape(k).Stroke != nil {
		return Finding{}, false // lines are drawn apart on purpose
	}
	b := l.boxOf(l.all[i : i+1])
	next := nearestPiece(l.all, i, q)
	if l.mm(q.Sub(p).Len())*l.PxPerMM > 1.2*math.Max(b.W(), b.H()) ||
		float64(l.all[i].Area2()) > looseShare*float64(l.all[next].Area2()) {
		return Finding{}, false
	}
	width := math.Max(l.limits.Thin*1.25, 0.1)
	d := q.Sub(p)
	at := [][2]float64{pair(l.fromGrid(p)), pair(l.fromGrid(q))}
	keys := l.keys([]int{j})
	if k != j {
		keys = append(keys, l.key(k))
	}
	box := l.boxOf(l.all[i : i+1])
	gap := mmOf(l.mm(d.Len()))
	inside := l.fromGrid(p)
	return Finding{
		Shapes: keys, At: box.Center(), Box: box,
		Measure: mmOf(l.mmLen(box.W())) + " × " + mmOf(l.mmLen(box.H())) + ", " + gap + " away",
		Fixes: []Fix{
			fix(recipe.Mend{Do: "bridge", Shapes: keys, MM: []float64{width}, At: at},
				"Bridge the %s to the nearest piece by a bar %s wide", gap, mmOf(width)),
			fix(recipe.Mend{Do: "shed", Shapes: l.keys([]int{j}), At: [][2]float64{pair(inside)}}, "Drop this piece"),
		},
	}, true
}

// nearestPiece returns the piece other than i on whose outline a point lies.
func nearestPiece(all plane.Region, i int, q geom.Vec) int {
	best, least := i, math.Inf(1)
	for j := range all {
		if j == i {
			continue
		}
		if d := plane.NewSegmentIndex(all[j]).Nearest(q.X, q.Y, least); d.Edge >= 0 {
			best, least = j, d.Dist
		}
	}
	return best
}

// shortest returns the nearest points of two sets of loops.
func shortest(a, b []plane.Loop) (p, q geom.Vec) {
	least := math.Inf(1)
	try := func(from, to []plane.Loop, swap bool) {
		index := plane.NewLoopIndex(to)
		for _, l := range from {
			for _, v := range l {
				f := index.Nearest(float64(v.X), float64(v.Y), least)
				if f.Edge < 0 {
					continue
				}
				least = f.Dist
				p, q = vecOf(v), geom.Vec{X: f.X, Y: f.Y}
				if swap {
					p, q = q, p
				}
			}
		}
	}
	try(a, b, false)
	try(b, a, true)
	return p, q
}

// shed takes the pieces of shapes that At lie on, or nearest to, away.
func shed(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	done := false
	for _, at := range m.At {
		one, err := w.shedOne(which, at)
		if err != nil {
			return err
		}
		done = done || one
	}
	if !done {
		return lost("the piece")
	}
	return nil
}

func (w *Work) shedOne(which []int, at [2]float64) (bool, error) {
	x, y := w.toGrid(vec(at))
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return false, err
		}
		best, far := -1, 512.0 // grid units: the place lies on an outline flattened otherwise
		for k := range r {
			f := plane.NewSegmentIndex(r[k]).Nearest(x, y, far)
			if f.Edge >= 0 {
				best, far = k, f.Dist
			}
		}
		if best < 0 {
			continue
		}
		w.setRegion(i, slices.Delete(slices.Clone(r), best, best+1), src)
		return true, nil
	}
	return false, nil
}

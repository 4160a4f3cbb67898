package mend

import (
	"math"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// A piece is loose when it is much smaller than the largest one and than the
// piece next to it, lies no farther from that than it is large itself, and there
// are few of its kind: many pieces are meant to be apart.
const (
	looseShare = 0.4
	mostPieces = 8
	mostLoose  = 3
)

// meantApartMM is from how far, in mm, a piece lies apart on purpose, as a dot does.
const meantApartMM = 1

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
	piece := gauge.LoopsOf(l.all[i : i+1])
	var rest []plane.Loop
	for j := range l.all {
		if j != i {
			rest = append(rest, gauge.LoopsOf(l.all[j:j+1])...)
		}
	}
	p, q := shortest(piece, rest)
	j, k := owners.of(p), owners.of(q)
	if j < 0 || k < 0 || l.shape(j).Stroke != nil && l.shape(k).Stroke != nil {
		return Finding{}, false // lines are drawn apart on purpose
	}
	b := l.boxOf(l.all[i : i+1])
	next := nearestPiece(l.all, i, q)
	if q.Sub(p).Len()*l.Grid > 1.2*math.Max(b.W(), b.H()) ||
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
		Shapes: keys, At: box.Center(), Box: box, Quiet: l.mm(d.Len()) > meantApartMM,
		Measure: mmOf(l.mmLen(box.W())) + " × " + mmOf(l.mmLen(box.H())) + ", " + gap + " away",
		Fixes: []Fix{
			fix(recipe.Mend{Do: "bridge", Shapes: keys, MM: []float64{width}, At: at},
				"Bridge the %s to the nearest piece by a bar %s wide", gap, mmOf(width)),
			fix(recipe.Mend{Do: "shed", Shapes: l.keys([]int{j}), At: [][2]float64{pair(inside)}}, "Delete this island"),
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

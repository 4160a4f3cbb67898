package print

import (
	"cmp"
	"math"
	"slices"
)

// How many lines lie side by side in a stroke. One of width W has n = W/w of them, rounded, w being the usual width: the
// whole stroke is divided by them, so that none of it is bare and nothing is laid twice (Kuipers, Doubrovski, Wu, Wang, A
// framework for adaptive width control of dense contour-parallel toolpaths in fused deposition modeling, 2020). Where there
// are three and more those along the outlines take a quarter of what others take of what is left over or missing, so that
// walls look alike. wide stands for where more lines than asked for would fit: the lines along the outlines have their
// usual width there, and the rest is left for infill.
const (
	wide     = math.MaxInt32
	outerPay = 0.25
)

// thinnest is the narrowest line that is laid, as a share of the usual one: below a third the melt comes in drops.
const thinnest = 1.0 / 3

// shortest is how long a stretch with a number of lines of its own is at least, by their usual width, and strains how far
// lines may be from it before a shorter one is made nevertheless.
const (
	shortest = 3.0
	strains  = 0.7
)

// widest is up to how wide the innermost lines are where a stroke tapers, by the usual width. The others keep theirs there,
// so that only two change where their number does.
const widest = 1.3

// beads says how many lines lie at each node of a ladder, and how deep.
type beads struct {
	*ladder
	usual float64 // width of a line, grid units
	most  int     // lines along an outline
	count []int   // lines at each node, or wide
	// source is for each node the one whose lines go on there: itself on a stroke or where the area is widest, else
	// the one that is met by going where the area is wider.
	source []int32
	stroke []bool // nodes on strokes, that lines end in and lie in the middle of
	taper  []bool // nodes where the number of lines changes at short intervals
}

func newBeads(l *ladder, usual float64, most int) *beads {
	n := len(l.nodes)
	b := &beads{ladder: l, usual: usual, most: most, count: make([]int, n), source: make([]int32, n)}
	b.stroke, b.taper = make([]bool, n), make([]bool, n)
	for i := range l.nodes {
		b.stroke[i] = b.onStroke(int32(i))
		b.count[i] = b.fitting(2 * l.nodes[i].radius)
	}
	b.settle()
	b.spread()
	return b
}

// fitting returns how many lines a stroke of a width has.
func (b *beads) fitting(width float64) int {
	switch n := width / b.usual; {
	case n < thinnest:
		return 0
	case n < 1.5:
		return 1
	case n >= 2*float64(b.most)+1.5:
		return wide
	default:
		return int(n + 0.5)
	}
}

func (b *beads) index(corner int32) int32 { return corner - int32(len(b.rim)) }

// steepest is by how much a stroke may grow wider along its middle, as a share of the way, and still be laid as one, and
// facing how far across the nearest points of both sides are from each other there, as a share of how wide it is: what a
// point of 53 degrees has. What is blunter is a corner, which lines go around; where a stroke opens faster, it joins
// another one.
const (
	steepest = 0.45  // sin(26.7 degrees)
	facing   = 0.893 // cos(26.7 degrees)
)

// onStroke reports whether an area goes on from a node, on some side, about as wide as it is there.
func (b *beads) onStroke(i int32) bool {
	n := &b.nodes[i]
	for _, s := range n.next {
		far, gone := b.along(i, s)
		if s.across > 2*facing*n.radius && math.Abs(b.nodes[far].radius-n.radius) <= steepest*gone {
			return true
		}
	}
	return false
}

// along follows the axis from a node, at forks to where it is the widest, for an eighth of a line's width: nodes may lie in
// one place.
func (b *beads) along(i int32, s spine) (far int32, gone float64) {
	from := i
	for range 64 {
		at := b.index(s.to)
		gone += s.long
		if gone >= b.usual/8 || len(b.nodes[at].next) < 2 {
			return at, gone
		}
		best := -1
		for k, n := range b.nodes[at].next {
			if to := b.index(n.to); to != from && (best < 0 || b.node(n.to).radius > b.node(b.nodes[at].next[best].to).radius) {
				best = k
			}
		}
		if best < 0 {
			return at, gone
		}
		from, s = at, b.nodes[at].next[best]
	}
	return from, gone
}

// settle joins stretches with a number of lines of their own that are too short to be worth it to what they lie beside. An
// odd number that is passed on the way from one even number to the next is left out, so that no piece of a line lies in
// between.
func (b *beads) settle() {
	for range 4 {
		stretches := b.stretches()
		slices.SortStableFunc(stretches, func(p, q stretch) int { return cmp.Compare(p.long, q.long) })
		changed := false
		for _, s := range stretches {
			if s.long >= shortest*b.usual {
				break
			}
			n := b.count[s.nodes[0]]
			if steep := s.long < shortest/2*b.usual; n != wide && n > 2 && steep {
				for _, i := range s.nodes {
					b.taper[i] = true
				}
			}
			to := slices.IndexFunc(s.beside, func(n int) bool { return b.suits(s.nodes, n) })
			switch {
			case n != wide && n%2 == 1 && n > 1:
				for _, i := range s.nodes {
					b.count[i] = b.even(2 * b.nodes[i].radius)
					b.taper[i] = true
				}
				changed = true
			case to >= 0:
				for _, i := range s.nodes {
					b.count[i] = s.beside[to]
				}
				changed = true
			}
		}
		if !changed {
			return
		}
	}
}

// even returns the even number of lines that fits a stroke of a width best, or wide.
func (b *beads) even(width float64) int {
	n := 2 * max(1, int(width/b.usual/2+0.5))
	if n > 2*b.most {
		return wide
	}
	return n
}

// stretch is nodes beside each other that have as many lines of their own.
type stretch struct {
	nodes  []int32
	long   float64 // grid units
	beside []int   // numbers of lines around it, those next to its own first
}

func (b *beads) stretches() (out []stretch) {
	seen := make([]bool, len(b.nodes))
	for i := range b.nodes {
		if seen[i] || !b.laid(int32(i)) {
			continue
		}
		s, own := stretch{}, b.count[i]
		todo := []int32{int32(i)}
		seen[i] = true
		for len(todo) > 0 {
			k := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			s.nodes = append(s.nodes, k)
			for _, e := range b.nodes[k].next {
				to := b.index(e.to)
				switch {
				case !b.laid(to):
					if own%2 == 1 && b.nodes[to].radius > b.nodes[k].radius { // it opens: two lines go around there
						s.beside = append(s.beside, own+1)
					}
				case b.count[to] == own:
					s.long += e.long / 2
					if !seen[to] {
						seen[to] = true
						todo = append(todo, to)
					}
				default:
					s.long += e.long / 2
					s.beside = append(s.beside, b.count[to])
				}
			}
		}
		slices.SortFunc(s.beside, func(p, q int) int { return cmp.Compare(max(p, own)-min(p, own), max(q, own)-min(q, own)) })
		out = append(out, s)
	}
	return out
}

// laid reports whether a node has lines of its own: on a stroke, or where there is room for all.
func (b *beads) laid(i int32) bool { return b.stroke[i] || b.count[i] == wide }

// suits reports whether so many lines would do at nodes.
func (b *beads) suits(nodes []int32, n int) bool {
	if n == 0 {
		return false
	}
	for _, i := range nodes {
		w := 2 * b.nodes[i].radius / b.usual
		if n == 2 && b.count[i] == 1 && w >= 2*thinnest { // a stub: a line goes into it and out of it
			continue
		}
		if n == wide {
			if w < 2*float64(b.most)+1.5-strains {
				return false
			}
		} else if math.Abs(w-float64(n)) > strains*math.Min(1, float64(n)/2) {
			return false
		}
	}
	return true
}

// spread finds whose lines each node has.
func (b *beads) spread() {
	order := make([]int32, len(b.nodes))
	for i := range order {
		order[i], b.source[i] = int32(i), -1
		if b.laid(int32(i)) {
			b.source[i] = int32(i)
		}
	}
	slices.SortStableFunc(order, func(p, q int32) int { return cmp.Compare(b.nodes[q].radius, b.nodes[p].radius) })
	for _, i := range order {
		if b.source[i] >= 0 {
			continue
		}
		flat, best := b.plateau(i)
		if best < 0 { // no stroke, and nowhere wider: all lines go around
			best = i
			if n := b.count[i]; n != wide && n%2 == 1 {
				b.count[i] = b.even(2 * b.nodes[i].radius)
			}
		} else {
			best = b.source[best]
		}
		for _, k := range flat {
			b.source[k] = best
		}
	}
}

// plateau returns a node with all others around it where the area is as wide and that have no source yet, and the one
// beside them that has one where it is the widest, and as wide at least; -1 if there is none.
func (b *beads) plateau(i int32) (flat []int32, best int32) {
	even := b.usual / 1000
	low := b.nodes[i].radius - even
	best = -1
	flat = []int32{i}
	seen := map[int32]bool{i: true}
	for k := 0; k < len(flat); k++ {
		for _, s := range b.nodes[flat[k]].next {
			to := b.index(s.to)
			switch {
			case b.nodes[to].radius < low || seen[to]:
			case b.source[to] >= 0:
				if best < 0 || b.nodes[to].radius > b.nodes[best].radius {
					best = to
				}
			default:
				seen[to] = true
				flat = append(flat, to)
			}
		}
	}
	return flat, best
}

// width returns how wide the k-th line from the outline is where source says how many there are, grid units.
func (b *beads) width(source int32, k int) float64 {
	n := b.count[source]
	if n == wide {
		return b.usual
	}
	across := 2 * b.nodes[source].radius
	if b.taper[source] && n%2 == 0 {
		if k == n/2-1 || k == n/2 {
			return math.Min(widest*b.usual, (across-float64(n-2)*b.usual)/2)
		}
		return b.usual
	}
	if n <= 2 {
		return across / float64(max(1, n))
	}
	share := 1.0
	if k == 0 || k == n-1 {
		share = outerPay
	}
	return b.usual + (across-float64(n)*b.usual)*share/(2*outerPay+float64(n-2))
}

// depth returns how deep below the outline the middle of the k-th line lies, grid units.
func (b *beads) depth(source int32, k int) float64 {
	d := b.width(source, k) / 2
	for i := range k {
		d += b.width(source, i)
	}
	return d
}

// level is how deep the k-th line lies at a node; it goes around the node if that is deeper. The one after the last that
// is asked for is the inner side of the lines, where the area is wide.
func (b *beads) level(i int32, k int) (depth float64, around bool) {
	src := b.source[i]
	n := b.count[src]
	switch {
	case n == wide && k == b.most:
		depth = float64(b.most) * b.usual
	case n == wide && k < b.most, n != wide && k < n/2:
		depth = b.depth(src, k)
	default:
		return 0, false
	}
	return depth, b.nodes[i].radius > depth
}

// middle returns how wide the line is that lies on a stroke's middle at a node, 0 for none.
func (b *beads) middle(i int32) float64 {
	n := b.count[i]
	if !b.stroke[i] || n == wide || n%2 == 0 {
		return 0
	}
	return b.width(i, n/2)
}

package print

import (
	"fmt"
	"math"
	"math/bits"

	"bildhauer/core/plane"
	"bildhauer/core/units"
)

// Place is where a copy lies: its middle, mm from that of the bed, and by how many quarters of a turn it is turned.
type Place struct {
	At   [2]float64
	Turn int
}

// Put brings a place of the piece, mm from its middle, to the bed.
func (p Place) Put(q [2]float64) [2]float64 {
	for range p.Turn {
		q = [2]float64{-q[1], q[0]}
	}
	return [2]float64{q[0] + p.At[0], q[1] + p.At[1]}
}

// packed is the side of the squares that copies are packed by, mm: what any of it touches is taken.
const packed = 1.0

// mask is which squares something takes, a row after the other, 64 in a word.
type mask struct {
	w, h, words int
	bits        []uint64
}

func newMask(w, h int) *mask {
	m := &mask{w: w, h: h, words: (w + 63) / 64}
	m.bits = make([]uint64, m.words*h)
	return m
}

func (m *mask) set(x, y int) {
	if x >= 0 && y >= 0 && x < m.w && y < m.h {
		m.bits[y*m.words+x/64] |= 1 << (x % 64)
	}
}

func (m *mask) get(x, y int) bool { return m.bits[y*m.words+x/64]>>(x%64)&1 == 1 }

// turned returns the mask after a quarter of a turn, counter-clockwise.
func (m *mask) turned() *mask {
	out := newMask(m.h, m.w)
	for y := range m.h {
		for x := range m.w {
			if m.get(x, y) {
				out.set(m.h-1-y, x)
			}
		}
	}
	return out
}

// grown returns the mask with all squares that anything in it may be nearer to than a distance (squares), and as much more room
// around it.
func (m *mask) grown(by int) *mask {
	out := newMask(m.w+2*by, m.h+2*by)
	for y := range m.h {
		for x := range m.w {
			if !m.get(x, y) {
				continue
			}
			for dy := -by; dy <= by; dy++ {
				for dx := -by; dx <= by; dx++ {
					// Between the nearest corners of both squares.
					if u, v := max(0, max(dx, -dx)-1), max(0, max(dy, -dy)-1); u*u+v*v < by*by {
						out.set(x+by+dx, y+by+dy)
					}
				}
			}
		}
	}
	return out
}

// meets reports whether another mask, laid at a place, takes squares of this one.
func (m *mask) meets(o *mask, x, y int) bool {
	word, shift := x/64, uint(x%64)
	for r := range o.h {
		row := m.bits[(y+r)*m.words : (y+r+1)*m.words]
		for k, b := range o.bits[r*o.words : (r+1)*o.words] {
			if b == 0 {
				continue
			}
			if word+k < m.words && row[word+k]&(b<<shift) != 0 {
				return true
			}
			if shift > 0 && word+k+1 < m.words && row[word+k+1]&(b>>(64-shift)) != 0 {
				return true
			}
		}
	}
	return false
}

// take adds another mask at a place, of which only what lies within counts.
func (m *mask) take(o *mask, x, y int) {
	for r := range o.h {
		for c := range o.w {
			if o.get(c, r) {
				m.set(x+c, y+r)
			}
		}
	}
}

func (m *mask) count() (n int) {
	for _, b := range m.bits {
		n += bits.OnesCount64(b)
	}
	return n
}

// silhouette is what all layers of a piece take, seen from above. lo is the corner of its box, mm.
func silhouette(layers []Layer, step float64, lo, hi [3]float64) *mask {
	m := newMask(int(math.Ceil((hi[0]-lo[0])/packed-1e-6)), int(math.Ceil((hi[1]-lo[1])/packed-1e-6)))
	_, first := numbered(layers)
	for _, i := range first {
		m.fill(layers[i].Area, step, lo)
	}
	return m
}

// fill takes all squares that an area touches.
func (m *mask) fill(area plane.Region, step float64, lo [3]float64) {
	rows := make([][]float64, m.h)
	at := func(p plane.Point) (x, y float64) {
		return (float64(p.X)*step - lo[0]) / packed, (float64(p.Y)*step - lo[1]) / packed
	}
	area.Loops(func(l plane.Loop) {
		for i, p := range l {
			px, py := at(p)
			qx, qy := at(l[(i+1)%len(l)])
			// Along the edge itself, square by square,
			n := int(2*math.Hypot(qx-px, qy-py)) + 1
			for k := range n + 1 {
				f := float64(k) / float64(n)
				m.set(int(px+(qx-px)*f), int(py+(qy-py)*f))
			}
			// and where it crosses the middles of rows.
			for r := max(0, int(math.Min(py, qy)-0.5)); r < min(m.h, int(math.Max(py, qy)+1)); r++ {
				if y := float64(r) + 0.5; (py <= y) != (qy <= y) {
					rows[r] = append(rows[r], px+(qx-px)*(y-py)/(qy-py))
				}
			}
		}
	})
	for r, list := range rows {
		for x := range m.w {
			n := 0
			for _, c := range list {
				if c < float64(x)+0.5 {
					n++
				}
			}
			if n%2 == 1 {
				m.set(x, r)
			}
		}
	}
}

// Pack returns the places of copies on the bed: in rows by the boxes around them if they fit so, else by their outlines, each
// turned by quarters so that it lies as near to the front, and then to the left, as it can. The error says how many fit.
func Pack(layers []Layer, step float64, lo, hi [3]float64, s *Setup) ([]Place, error) {
	grid, err := Layout(hi[0]-lo[0], hi[1]-lo[1], s)
	if err == nil {
		out := make([]Place, len(grid))
		for i, at := range grid {
			out[i] = Place{At: at}
		}
		return out, nil
	}
	one := *s
	one.Copies = 1
	if _, alone := Layout(hi[0]-lo[0], hi[1]-lo[1], &one); alone != nil || s.Copies == 1 || len(layers) == 0 {
		return nil, err
	}
	room := [2]float64{s.Bed[0], s.Bed[1]}
	if s.Skirt != NoSkirt {
		room[0], room[1] = room[0]-2*Margin, room[1]-2*Margin
	}
	out := packedBy(silhouette(layers, step, lo, hi), int(room[0]/packed), int(room[1]/packed), int(math.Ceil(s.Gap/packed)), s.Copies,
		[2]float64{(hi[0] - lo[0]) / packed, (hi[1] - lo[1]) / packed})
	if len(out) < s.Copies {
		return nil, fmt.Errorf("%s on the bed%s, not %d, however they are turned: leave less of a gap, or print the others after them",
			units.Plural(len(out), "copy fits", "copies fit"), besides(s), s.Copies)
	}
	centred(out, hi[0]-lo[0], hi[1]-lo[1])
	return out, nil
}

// packedBy lays up to so many copies of a mask out in a room of squares, with a gap between them. size is that of the piece in
// squares, whose corner is that of the mask.
func packedBy(m *mask, w, h, gap, copies int, size [2]float64) (out []Place) {
	taken := newMask(w, h)
	var turns, wide [4]*mask
	for k := range turns {
		if turns[k] = m; k > 0 {
			turns[k] = turns[k-1].turned()
		}
		wide[k] = turns[k].grown(gap)
	}
	var from [4]int // row from which on there may be room
	for len(out) < copies {
		best, bx, by := -1, 0, math.MaxInt
		for k, t := range turns {
			x, y, ok := taken.room(t, from[k], by)
			from[k] = y
			if ok && (y < by || y == by && x < bx) {
				best, bx, by = k, x, y
			}
		}
		if best < 0 {
			return out
		}
		taken.take(wide[best], bx-gap, by-gap)
		x, y := size[0]/2, size[1]/2 // the middle of the piece in the mask, turned with it
		for k := range best {
			x, y = float64(turns[k].h)-y, x
		}
		out = append(out, Place{At: [2]float64{
			(float64(bx) + x - float64(w)/2) * packed, (float64(by) + y - float64(h)/2) * packed,
		}, Turn: best})
	}
	return out
}

// room returns the first place, row by row from one on and not beyond another one, where a mask takes nothing that is taken; y is
// a row before which there is none.
func (m *mask) room(o *mask, from, most int) (x, y int, ok bool) {
	for y = from; y+o.h <= m.h && y <= most; y++ {
		for x = 0; x+o.w <= m.w; x++ {
			if !m.meets(o, x, y) {
				return x, y, true
			}
		}
	}
	return 0, y, false
}

// centred moves places so that all of them lie in the middle of the bed.
func centred(list []Place, wide, deep float64) {
	var lo, hi [2]float64
	for i, p := range list {
		half := [2]float64{wide / 2, deep / 2}
		if p.Turn%2 == 1 {
			half[0], half[1] = half[1], half[0]
		}
		for k := range 2 {
			if a := p.At[k] - half[k]; i == 0 || a < lo[k] {
				lo[k] = a
			}
			if b := p.At[k] + half[k]; i == 0 || b > hi[k] {
				hi[k] = b
			}
		}
	}
	for i := range list {
		for k := range 2 {
			list[i].At[k] -= (lo[k] + hi[k]) / 2
		}
	}
}

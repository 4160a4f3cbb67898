package ink

import "bildhauer/core/geom"

// MaxTrace bounds the samples of a bitmap that Trace takes.
const MaxTrace = 1 << 20

// Trace returns the outlines of the set samples of a bitmap of one bit, in
// units of samples, along their very edges: what a device paints of a letter
// in a bitmap font. Fill them even-odd.
func Trace(w, h int, set func(x, y int) bool) []geom.Contour {
	if w <= 0 || h <= 0 || w > MaxTrace/h {
		return nil
	}
	in := func(x, y int) bool { return x >= 0 && y >= 0 && x < w && y < h && set(x, y) }
	// Corners where an edge leaves, by direction: set samples lie to its right.
	const (
		right = iota
		down
		left
		up
	)
	out := make([]uint8, (w+1)*(h+1)) // bit per direction
	at := func(x, y int) int { return y*(w+1) + x }
	for y := 0; y <= h; y++ {
		for x := 0; x <= w; x++ {
			if here := in(x, y); here != in(x, y-1) { // the edge between the rows
				if here {
					out[at(x, y)] |= 1 << right
				} else {
					out[at(x+1, y)] |= 1 << left
				}
			}
			if here := in(x, y); here != in(x-1, y) {
				if here {
					out[at(x, y+1)] |= 1 << up
				} else {
					out[at(x, y)] |= 1 << down
				}
			}
		}
	}
	step := [4][2]int{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}
	var loops []geom.Contour
	for y := 0; y <= h; y++ {
		for x := 0; x <= w; x++ {
			for out[at(x, y)] != 0 {
				c := geom.Contour{Closed: true}
				px, py, last := x, y, -1
				for out[at(px, py)] != 0 {
					// At a corner of four, turn so that samples that touch by a
					// corner stay apart.
					dir := -1
					for _, turn := range [4]int{1, 0, 3, 2} {
						d := (max(last, 0) + turn) & 3
						if out[at(px, py)]&(1<<d) != 0 {
							dir = d
							break
						}
					}
					out[at(px, py)] &^= 1 << dir
					v := geom.Vec{X: float64(px), Y: float64(py)}
					switch {
					case last < 0:
						c.Start = v
					case dir != last:
						c.Segs = append(c.Segs, geom.Segment{To: v})
					}
					px, py, last = px+step[dir][0], py+step[dir][1], dir
					if px == x && py == y {
						break
					}
				}
				c.Segs = append(c.Segs, geom.Segment{To: geom.Vec{X: float64(px), Y: float64(py)}})
				loops = append(loops, c)
			}
		}
	}
	return loops
}

// Bit returns a lookup for rows of samples of one bit, padded to bytes; one
// says which value counts as set.
func Bit(data []byte, w int, one bool) func(x, y int) bool {
	row := (w + 7) / 8
	return func(x, y int) bool {
		i := y*row + x/8
		return i < len(data) && data[i]>>(7-x&7)&1 == 1 == one
	}
}

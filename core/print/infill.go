package print

import (
	"math"
	"slices"

	"bildhauer/core/plane"
)

// hatch fills an area with parallel lines, so far apart (grid units) and in a direction. Lines
// of all layers lie on one pattern of the plane. They are laid to and fro as far as they lie
// beside each other.
func (b *bench) hatch(area plane.Region, kind Kind, apart, direction float64) (out []Path) {
	if len(area) == 0 {
		return nil
	}
	sin, cos := math.Sincos(direction)
	rows, first := crossings(area, apart, sin, cos)
	at := func(row int, x float64) [2]float32 {
		y := (float64(row+first) + 0.5) * apart
		return b.at(x*cos-y*sin, x*sin+y*cos)
	}
	// used counts how many pieces of a row are laid, from the left.
	used := make([][]bool, len(rows))
	for i := range rows {
		used[i] = make([]bool, len(rows[i])/2)
	}
	width := float32(b.step.MM(b.bead))
	lay := func(row, k int, back bool) (end float64) {
		x, y := rows[row][2*k], rows[row][2*k+1]
		used[row][k] = true
		if back {
			x, y = y, x
		}
		if math.Abs(y-x) >= float64(b.bead)/4 {
			out = append(out, Path{Kind: kind, Width: width, Points: [][2]float32{at(row, x), at(row, y)}})
		}
		return y
	}
	for row := range rows {
		for k := range used[row] {
			if used[row][k] {
				continue
			}
			end, back := lay(row, k, false), true
			for next := row + 1; next < len(rows); next++ {
				j := beside(rows[next], used[next], end, 2*apart)
				if j < 0 {
					break
				}
				end = lay(next, j, back)
				back = !back
			}
		}
	}
	return out
}

// beside returns the piece of a row that is not laid and has an end near x, or -1.
func beside(row []float64, used []bool, x, near float64) int {
	best, far := -1, near
	for k := range used {
		d := math.Min(math.Abs(row[2*k]-x), math.Abs(row[2*k+1]-x))
		if !used[k] && d < far {
			best, far = k, d
		}
	}
	return best
}

// crossings returns, for each line of a pattern that meets the area, where it enters and
// leaves, in rising order, and the number of the first line.
func crossings(area plane.Region, apart, sin, cos float64) (rows [][]float64, first int) {
	low, high := math.Inf(1), math.Inf(-1)
	area.Loops(func(l plane.Loop) {
		for _, p := range l {
			y := float64(p.Y)*cos - float64(p.X)*sin
			low, high = math.Min(low, y), math.Max(high, y)
		}
	})
	first = int(math.Ceil(low/apart - 0.5))
	n := int(math.Floor(high/apart-0.5)) - first + 1
	if n <= 0 {
		return nil, first
	}
	rows = make([][]float64, n)
	area.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			px, py := float64(p.X)*cos+float64(p.Y)*sin, float64(p.Y)*cos-float64(p.X)*sin
			qx, qy := float64(q.X)*cos+float64(q.Y)*sin, float64(q.Y)*cos-float64(q.X)*sin
			// A line meets an edge from its lower end on and before its upper one.
			from := max(0, int(math.Ceil(math.Min(py, qy)/apart-0.5))-first)
			for k := from; k < n; k++ {
				y := (float64(k+first) + 0.5) * apart
				if y >= math.Max(py, qy) {
					break
				}
				rows[k] = append(rows[k], px+(qx-px)*(y-py)/(qy-py))
			}
		}
	})
	for k := range rows {
		slices.Sort(rows[k])
	}
	return rows, first
}

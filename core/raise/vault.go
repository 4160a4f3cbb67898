package raise

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Below a dome the ceiling of a hollow part is a vault: what a ball of the wall's radius leaves free that
// rolls along the dome from below. A dome is no function of the distance, so that no section tells it:
// at each point of the plan the ball is laid against all triangles that it reaches.
//
// For a ball of radius a in the middle of which lies (x, y), the vault is the least of z(q) - sqrt(a^2 - |q|^2)
// over all q on the dome, counted from (x, y). Over one triangle that is convex, and its least value known:
// within the triangle, else along one of its edges. The plan has the rings at which the ceiling of a pillow
// bends (hollowed): near the rim a vault bends where that does.

// vault is a dome as the ball meets it, in grid units.
type vault struct {
	plan  *Plan
	wall  float64
	z     []float64 // of the dome at each point
	cells [][]int32 // triangles that reach into a cell, row by row
	wide  int       // cells a row
	lo    plane.Point
	side  float64 // of a cell
	poll  *progress.Poll
}

// vault makes ready what asks how high the vault is.
func (p *Plan) vault(u upright, wall plane.Units, poll *progress.Poll) *vault {
	v := &vault{plan: p, wall: float64(wall), z: make([]float64, len(p.Pts)), poll: poll}
	for i, s := range p.Dome {
		v.z[i] = float64(u.depth-u.front) + float64(u.front)*float64(s)
	}
	hi := p.Pts[0]
	v.lo = hi
	for _, q := range p.Pts {
		v.lo = plane.Point{X: min(v.lo.X, q.X), Y: min(v.lo.Y, q.Y)}
		hi = plane.Point{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	// Cells about as wide as the ball, and no more of them than triangles.
	w, h := float64(hi.X-v.lo.X), float64(hi.Y-v.lo.Y)
	v.side = math.Max(v.wall, math.Sqrt(w*h/float64(len(p.Tris)+1)))
	v.wide = int(w/v.side) + 1
	v.cells = make([][]int32, v.wide*(int(h/v.side)+1))
	for k, t := range p.Tris {
		poll.Tick()
		a, b, c := p.Pts[t[0]], p.Pts[t[1]], p.Pts[t[2]]
		v.each(float64(min(a.X, b.X, c.X)), float64(min(a.Y, b.Y, c.Y)), float64(max(a.X, b.X, c.X)),
			float64(max(a.Y, b.Y, c.Y)), func(cell int) { v.cells[cell] = append(v.cells[cell], int32(k)) })
	}
	return v
}

// each calls f for all cells that a box reaches into.
func (v *vault) each(x0, y0, x1, y1 float64, f func(cell int)) {
	at := func(d float64, n int) int { return max(0, min(n-1, int(math.Floor(d/v.side)))) }
	tall := len(v.cells) / v.wide
	for j := at(y0-float64(v.lo.Y), tall); j <= at(y1-float64(v.lo.Y), tall); j++ {
		for i := at(x0-float64(v.lo.X), v.wide); i <= at(x1-float64(v.lo.X), v.wide); i++ {
			f(j*v.wide + i)
		}
	}
}

// at returns how high the vault is at a point of the plan.
func (v *vault) at(n int32) float64 {
	p := v.plan.Pts[n]
	x, y := float64(p.X), float64(p.Y)
	low := v.z[n] - v.wall
	v.each(x-v.wall, y-v.wall, x+v.wall, y+v.wall, func(cell int) {
		for _, k := range v.cells[cell] {
			low = v.lay(k, x, y, low)
		}
	})
	return low
}

// lay returns low, or how high the ball lies below (x, y) for triangle k, if that is lower.
func (v *vault) lay(k int32, x, y, low float64) float64 {
	var px, py, pz [3]float64
	for i, c := range v.plan.Tris[k] {
		q := v.plan.Pts[c]
		px[i], py[i], pz[i] = float64(q.X)-x, float64(q.Y)-y, v.z[c]
	}
	if min(pz[0], pz[1], pz[2])-v.wall >= low {
		return low
	}
	// Its box is too far, or so far that the ball is too low there.
	dx := max(0, min(px[0], px[1], px[2]), -max(px[0], px[1], px[2]))
	dy := max(0, min(py[0], py[1], py[2]), -max(py[0], py[1], py[2]))
	left := v.wall*v.wall - dx*dx - dy*dy
	if left <= 0 || min(pz[0], pz[1], pz[2])-math.Sqrt(left) >= low {
		return low
	}
	ux, uy, uz := px[1]-px[0], py[1]-py[0], pz[1]-pz[0]
	vx, vy, vz := px[2]-px[0], py[2]-py[0], pz[2]-pz[0]
	det := ux*vy - uy*vx
	gx, gy := (uz*vy-vz*uy)/det, (vz*ux-uz*vx)/det
	long := math.Sqrt(1 + gx*gx + gy*gy)
	ox, oy := -v.wall*gx/long-px[0], -v.wall*gy/long-py[0] // where the ball touches the plane, from corner 0
	if s, t := (ox*vy-oy*vx)/det, (ux*oy-uy*ox)/det; s >= 0 && t >= 0 && s+t <= 1 {
		return math.Min(low, pz[0]-gx*px[0]-gy*py[0]-v.wall*long)
	}
	for i := range 3 {
		j := (i + 1) % 3
		low = math.Min(low, v.layAlong(px[i], py[i], pz[i], px[j], py[j], pz[j]))
	}
	return low
}

// layAlong returns how high the ball lies below the origin for an edge, infinity where it does not reach it.
func (v *vault) layAlong(ax, ay, az, bx, by, bz float64) float64 {
	dx, dy := bx-ax, by-ay
	long := math.Hypot(dx, dy)
	along := -(ax*dx + ay*dy) / long // from a, of the foot of the perpendicular
	left := v.wall*v.wall - math.Pow((ax*dy-ay*dx)/long, 2)
	if left <= 0 {
		return math.Inf(1)
	}
	reach, slope := math.Sqrt(left), (bz-az)/long
	s := math.Max(-along, math.Min(long-along, -slope*reach/math.Sqrt(1+slope*slope)))
	if math.Abs(s) > reach {
		return math.Inf(1)
	}
	return az + slope*(along+s) - math.Sqrt(left-s*s)
}

// points returns the corners of triangles from a ring on.
func (v *vault) points(from Ring) []int32 {
	in := make([]bool, len(v.plan.Pts))
	var out []int32
	for k, t := range v.plan.Tris {
		for _, n := range t {
			if v.plan.Ring[k] >= from && !in[n] {
				in[n], out = true, append(out, n)
			}
		}
	}
	return out
}

// heights returns how high the vault is, but no higher than most, at all points from a ring on, and 0 elsewhere.
func (v *vault) heights(from Ring, most int32) []int32 {
	out := make([]int32, len(v.plan.Pts))
	list := v.points(from)
	parallel.Light(len(list), func(i int) {
		if i%64 == 0 { // some points ask thousands of triangles
			v.poll.Look()
		}
		out[list[i]] = int32(math.Max(0, math.Min(math.Floor(v.at(list[i])), float64(most))))
	})
	return out
}

// room reports whether anything is left below the vault from a ring on. It is most likely where the dome is
// highest.
func (v *vault) room(from Ring) bool {
	list := v.points(from)
	slices.SortFunc(list, func(a, b int32) int { return cmp.Compare(v.z[b], v.z[a]) })
	return slices.ContainsFunc(list, func(n int32) bool {
		v.poll.Look()
		return v.z[n]-v.wall >= 1 && v.at(n) >= 1
	})
}

// shadeVault returns normals of a vault as of a front that lies as low: over each corner the mean of the
// triangles around it that are part of the vault, the others level.
func (p *Plan) shadeVault(l *lifting) [][3][3]float32 {
	_, mean := p.slopes(l.vaultFrom, func(v int32) float64 { return float64(l.vault[v]) })
	out := make([][3][3]float32, len(p.Tris))
	for k, t := range p.Tris {
		l.poll.Tick()
		for j, v := range t {
			out[k][j] = [3]float32{0, 0, 1}
			if p.Ring[k] >= l.vaultFrom {
				x, y := -mean[v][0], -mean[v][1]
				n := math.Sqrt(1 + x*x + y*y)
				out[k][j] = [3]float32{float32(x / n), float32(y / n), float32(1 / n)}
			}
		}
	}
	return out
}

package show

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// paper is the colour of a sweep that nobody has chosen.
const paper = "#d8cdbf"

// backdrop puts something behind the piece.
func backdrop(s *recipe.Scene, b *box, out *picture.Scene) {
	switch s.Backdrop.Kind {
	case "clear":
		out.Catch, out.Floor = s.Backdrop.Shadow, b.lo.Y
	case "colour":
		out.Solid, out.Backdrop = true, light(s.Backdrop.Color, light(paper, picture.RGB{}))
	case "gradient":
		top := light(s.Backdrop.Color, light(paper, picture.RGB{}))
		out.Solid, out.Backdrop, out.Foot = true, top, light(s.Backdrop.Below, top.Times(0.25))
	case "surroundings":
		out.SkySeen = out.Sky != nil
	default:
		out.Surfaces = append(out.Surfaces, sweep(b, light(s.Backdrop.Color, light(paper, picture.RGB{}))))
	}
}

// sweep is a floor that runs up behind the piece, in multiples of its reach.
func sweep(b *box, color picture.RGB) picture.Surface {
	const (
		wide   = 30
		before = 14
		behind = 2.6 // from where on it bends
		bend   = 2.5
		high   = 16
		steps  = 24
	)
	r, mid, y := b.reach(), b.middle(), b.lo.Y
	type row struct{ at, normal geom.Vec3 }
	rows := []row{{geom.Vec3{Y: y, Z: mid.Z + before*r}, geom.Vec3{Y: 1}}}
	for i := range steps + 1 {
		sin, cos := math.Sincos(math.Pi / 2 * float64(i) / steps)
		rows = append(rows, row{
			geom.Vec3{Y: y + bend*r*(1-cos), Z: mid.Z - behind*r - bend*r*sin}, geom.Vec3{Y: cos, Z: sin},
		})
	}
	rows = append(rows, row{geom.Vec3{Y: y + high*r, Z: mid.Z - (behind+bend)*r}, geom.Vec3{Z: 1}})
	out := picture.Surface{Material: picture.Material{Base: color, Rough: 0.9}}
	for i := range rows[1:] {
		p, q := rows[i], rows[i+1]
		left, right := mid.X-wide*r, mid.X+wide*r
		at := func(x float64, w row) geom.Vec3 { return geom.Vec3{X: x, Y: w.at.Y, Z: w.at.Z} }
		out.Corners = append(out.Corners,
			[3]geom.Vec3{at(left, p), at(right, p), at(right, q)}, [3]geom.Vec3{at(left, p), at(right, q), at(left, q)})
		out.Normals = append(out.Normals,
			[3]geom.Vec3{p.normal, p.normal, q.normal}, [3]geom.Vec3{p.normal, q.normal, q.normal})
	}
	return out
}

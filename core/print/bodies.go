package print

import (
	"context"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/units"
)

// standing is what hangs together from the bed up.
type standing struct {
	first  []int      // its areas of the first layer
	volume float64    // mm3
	middle [2]float64 // of it, mm
	tall   float64    // mm
}

// bodiesOf finds which areas of layers hang together, and for each layer the areas that have
// nothing below them.
func bodiesOf(ctx context.Context, step float64, layers []Layer) (list []standing, starts [][]int, err error) {
	begin := make([]int, len(layers)+1)
	for i, l := range layers {
		begin[i+1] = begin[i] + len(l.Area)
	}
	sets := geom.NewSets(begin[len(layers)])
	starts = make([][]int, len(layers))
	for i := 1; i < len(layers); i++ {
		if ctx.Err() != nil {
			return nil, nil, ctx.Err()
		}
		held, err := holds(layers[i].Area, layers[i-1].Area)
		if err != nil {
			return nil, nil, err
		}
		for k, on := range held {
			if len(on) == 0 {
				starts[i] = append(starts[i], k)
			}
			for _, n := range on {
				sets.Join(int32(begin[i]+k), int32(begin[i-1]+n))
			}
		}
	}
	number := map[int32]int{}
	for i, l := range layers {
		for k, p := range l.Area {
			root := sets.Find(int32(begin[i] + k))
			n, ok := number[root]
			if !ok {
				n = len(list)
				number[root] = n
				list = append(list, standing{})
			}
			list[n].add(i, k, p, step, &l)
		}
	}
	for i := range list {
		for k := range list[i].middle {
			list[i].middle[k] /= math.Max(list[i].volume, 1e-12)
		}
	}
	return list, starts, nil
}

// add puts an area of a layer to what stands.
func (b *standing) add(layer, number int, p plane.Polygon, step float64, l *Layer) {
	if layer == 0 {
		b.first = append(b.first, number)
	}
	b.tall = l.Z
	plane.Region{p}.Loops(func(loop plane.Loop) {
		for i, q := range loop {
			r := loop[(i+1)%len(loop)]
			cross := (float64(q.X)*float64(r.Y) - float64(r.X)*float64(q.Y)) / 2 * step * step * l.Height
			b.volume += cross
			b.middle[0] += cross * float64(q.X+r.X) / 3 * step
			b.middle[1] += cross * float64(q.Y+r.Y) / 3 * step
		}
	})
}

// holds returns for each area of a layer on which areas of the layer below it lies.
func holds(areas, below plane.Region) ([][]int, error) {
	out := make([][]int, len(areas))
	if sameRegion(areas, below) {
		for i := range out {
			out[i] = []int{i}
		}
		return out, nil
	}
	type box struct{ lo, hi plane.Point }
	boxOf := func(p plane.Polygon) box {
		lo, hi, _ := plane.Region{p}.Bounds()
		return box{lo, hi}
	}
	boxes := make([]box, len(below))
	for i, p := range below {
		boxes[i] = boxOf(p)
	}
	for i, p := range areas {
		b := boxOf(p)
		for k, q := range below {
			c := boxes[k]
			if b.lo.X >= c.hi.X || c.lo.X >= b.hi.X || b.lo.Y >= c.hi.Y || c.lo.Y >= b.hi.Y {
				continue
			}
			on, err := overlap(p, q)
			if err != nil {
				return nil, err
			}
			if on {
				out[i] = append(out[i], k)
			}
		}
	}
	return out, nil
}

// overlap reports whether two areas have something in common.
func overlap(p, q plane.Polygon) (bool, error) {
	for _, a := range p.Outer {
		if (plane.Region{q}).Contains(a) {
			return true, nil
		}
	}
	if (plane.Region{p}).Contains(q.Outer[0]) {
		return true, nil
	}
	common, err := plane.Combine(plane.Region{p}, plane.Region{q}, plane.Intersect)
	return len(common) > 0, err
}

// feetOf tells the triangles on the bed apart by the body that stands on them. Those that hang
// together are looked up once.
func feetOf(m *mesh.Mesh, layers []Layer, bodies []standing, feet []foot) [][]foot {
	sets := geom.NewSets(len(m.Verts))
	for _, f := range feet {
		sets.Join(f.corners[0], f.corners[1])
		sets.Join(f.corners[0], f.corners[2])
	}
	body := map[int32]int{}
	out := make([][]foot, len(bodies))
	for _, f := range feet {
		root := sets.Find(f.corners[0])
		i, ok := body[root]
		if !ok {
			mid := plane.Point{
				X: int32(math.Round((f.at[0][0] + f.at[1][0] + f.at[2][0]) / 3 / m.Step)),
				Y: int32(math.Round((f.at[0][1] + f.at[1][1] + f.at[2][1]) / 3 / m.Step)),
			}
			i = slices.IndexFunc(bodies, func(b standing) bool {
				return slices.ContainsFunc(b.first, func(k int) bool { return (plane.Region{layers[0].Area[k]}).Contains(mid) })
			})
			body[root] = i
		}
		if i >= 0 {
			out[i] = append(out[i], f)
		}
	}
	return out
}

// footing says which bodies may let go of the bed or fall over.
func (r *Report) footing(m *mesh.Mesh, layers []Layer, bodies []standing, feet []foot) {
	own := feetOf(m, layers, bodies, feet)
	for i, b := range bodies {
		if len(b.first) == 0 {
			continue // it begins in the air
		}
		area := 0.0
		var corners []geom.Vec
		for _, f := range own[i] {
			area += f.area
			for _, c := range f.at {
				corners = append(corners, geom.Vec{X: c[0], Y: c[1]})
			}
		}
		at := [3]float64{b.middle[0], b.middle[1], 0}
		name := "It"
		if len(bodies) > 1 {
			name = "The piece marked here"
		}
		if area < footing*b.tall {
			r.Findings = append(r.Findings, Finding{
				Kind: Loose, Measure: area, At: at, Layer: 1,
				Text: fmt.Sprintf("%s lies on the bed with only %s mm² under a height of %s mm: it may let go.",
					name, units.Figure(area), units.Figure(b.tall)),
				Way: "Print it with a brim, lay it on a flat side, or give it a backing plate in Raise.",
			})
		} else if out := outsideHull(corners, geom.Vec{X: b.middle[0], Y: b.middle[1]}); out > 0 {
			r.Findings = append(r.Findings, Finding{
				Kind: Tips, Measure: out, At: at, Layer: 1,
				Text: fmt.Sprintf("The middle of its mass lies %s mm outside what it stands on: %s would fall over.", units.Figure(out), units.Lower(name)),
				Way:  "Lay it another way, or give it a backing plate in Raise.",
			})
		}
	}
}

// outsideHull returns how far a place lies outside the hull of points; 0 inside.
func outsideHull(points []geom.Vec, at geom.Vec) float64 {
	hull := geom.Hull(points)
	out := 0.0
	for i, a := range hull {
		d := hull[(i+1)%len(hull)].Sub(a)
		if long := d.Len(); long > 0 {
			out = math.Max(out, -d.Cross(at.Sub(a))/long)
		}
	}
	return out
}

// islands says which areas of layers have nothing below them, those of one layer together.
func (r *Report) islands(step float64, layers []Layer, starts [][]int) {
	for i, list := range starts {
		if len(list) == 0 {
			continue
		}
		var found plane.Region
		for _, k := range list {
			found = append(found, layers[i].Area[k])
		}
		what := "An area of %s mm² begins"
		if len(found) > 1 {
			what = fmt.Sprintf("%d areas of %%s mm² together begin", len(found))
		}
		q, z, area := found[0].Within(), layers[i].Z-layers[i].Height, plane.Step(step).Area(found)
		r.Findings = append(r.Findings, Finding{
			Kind: Island, Measure: area, Layer: i + 1, At: [3]float64{float64(q.X) * step, float64(q.Y) * step, z},
			Text: fmt.Sprintf(what+" in the air at a height of %s mm.", units.Figure(area), units.Figure(z)),
			Way:  "Rest the part on another one in Raise, or lay the piece another way.",
		})
	}
}

package print

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
	"bildhauer/core/units"
)

// Stand is a way in which a solid can stand on the bed, and what that means for its print.
type Stand struct {
	Name     string  `json:"name"`
	Roll     float64 `json:"roll"`     // by which it is turned in its plane, degrees
	Tilt     float64 `json:"tilt"`     // by which it then leans back, degrees
	Contact  float64 `json:"contact"`  // with the bed, mm2
	Overhang float64 `json:"overhang"` // mm2
	Tall     float64 `json:"tall"`     // mm
	InAir    int     `json:"inAir"`    // areas that begin in the air
	Steady   bool    `json:"steady"`   // it neither lets go nor falls over
	Fits     bool    `json:"fits"`     // on the bed
	Best     bool    `json:"best"`
	Why      string  `json:"why"`
}

// How many edges it is stood on are looked at, how long they are at least, by the longest, and into how many layers each is
// cut to see what begins in the air.
const (
	mostEdges  = 10
	leastEdge  = 0.15
	lookLayers = 60
)

// Stands compares how a solid can stand: as it lies, turned over, and on the longest edges of the hull around it seen from
// above. The best comes first: it fits, nothing begins in the air, it is steady, little hangs over, it is low.
func Stands(ctx context.Context, m *mesh.Mesh, s *Setup) ([]Stand, error) {
	list := append([]Stand{{Name: "as Size lays it"}, {Name: "turned over", Tilt: 180}}, edgesOf(m)...)
	for i := range list {
		progress.Set(ctx, "Comparing how it can stand", float64(i)/float64(len(list)))
		if err := list[i].look(ctx, m, s); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(list, func(a, b Stand) int { return a.compare(&b) })
	list[0].Best = list[0].Fits
	for i := range list {
		list[i].Why = list[i].why()
	}
	return list, nil
}

// edgesOf lists the edges of the hull around a solid seen from above that it can be stood on.
func edgesOf(m *mesh.Mesh) (out []Stand) {
	pts := make([]geom.Vec, len(m.Verts))
	for i, v := range m.Verts {
		pts[i] = geom.Vec{X: float64(v[0]) * m.Step, Y: float64(v[1]) * m.Step}
	}
	hull := geom.Hull(pts)
	type edge struct{ long, normal float64 }
	var edges []edge
	for i, a := range hull {
		d := hull[(i+1)%len(hull)].Sub(a)
		n := math.Atan2(-d.X, d.Y) * 180 / math.Pi // of what lies outside
		if k := len(edges) - 1; k >= 0 && math.Abs(edges[k].normal-n) < 1 {
			edges[k].long += d.Len()
			continue
		}
		edges = append(edges, edge{d.Len(), n})
	}
	slices.SortStableFunc(edges, func(a, b edge) int { return cmp.Compare(b.long, a.long) })
	for i, e := range edges {
		if i == mostEdges || e.long < leastEdge*edges[0].long {
			break
		}
		roll := math.Round((-90-e.normal)*100) / 100
		for roll <= -180 {
			roll += 360
		}
		out = append(out, Stand{Name: sideName(e.normal), Roll: roll, Tilt: 90})
	}
	return out
}

// sideName says which side of a drawing looks in a direction, degrees from the right.
func sideName(angle float64) string {
	for name, at := range map[string]float64{"right": 0, "upper": 90, "left": 180, "lower": -90} {
		if d := math.Abs(math.Remainder(angle-at, 360)); d < 1 {
			return "on its " + name + " side"
		}
	}
	return fmt.Sprintf("on the side that looks to %.0f°", math.Mod(angle+360, 360))
}

// look finds what a stand means.
func (d *Stand) look(ctx context.Context, m *mesh.Mesh, s *Setup) error {
	if d.Roll != 0 {
		m = mesh.Rotated(m, 0, d.Roll)
	}
	if d.Tilt != 0 {
		m = mesh.Rotated(m, d.Tilt, 0)
	}
	lo, hi := m.Box()
	d.Tall = hi[2] - lo[2]
	d.Fits = Fits([3]float64{hi[0] - lo[0], hi[1] - lo[1], d.Tall}, s) == nil
	under := undersides(m, lo[2], s.Steep)
	if err := under.ledges(m); err != nil {
		return err
	}
	d.Overhang = under.over
	for _, f := range under.feet {
		d.Contact += f.area
	}
	layers, err := Slice(ctx, m, s.First, math.Max(s.Layer, d.Tall/lookLayers))
	if err != nil {
		return err
	}
	bodies, starts, err := bodiesOf(ctx, m.Step, layers)
	if err != nil {
		return err
	}
	least := s.Nozzle * s.Nozzle
	for i, list := range starts {
		for _, k := range list {
			if plane.Step(m.Step).Area(plane.Region{layers[i].Area[k]}) > least {
				d.InAir++
			}
		}
	}
	d.Steady = true
	for _, b := range bodies {
		area := 0.0
		var corners []geom.Vec
		for _, k := range b.first {
			p := layers[0].Area[k]
			area += math.Min(d.Contact, plane.Step(m.Step).Area(plane.Region{p}))
			for _, q := range p.Outer {
				corners = append(corners, geom.Vec{X: float64(q.X) * m.Step, Y: float64(q.Y) * m.Step})
			}
		}
		if len(b.first) > 0 && (area < footing*b.tall || outsideHull(corners, geom.Vec{X: b.middle[0], Y: b.middle[1]}) > 0) {
			d.Steady = false
		}
	}
	return nil
}

// compare tells which of two stands is the better one.
func (d *Stand) compare(e *Stand) int {
	yes := func(b bool) int {
		if b {
			return 0
		}
		return 1
	}
	// What hangs over counts in square centimetres, heights in centimetres.
	coarse := func(v float64) float64 { return math.Round(v / 100) }
	return cmp.Or(
		cmp.Compare(yes(d.Fits), yes(e.Fits)), cmp.Compare(d.InAir, e.InAir), cmp.Compare(yes(d.Steady), yes(e.Steady)),
		cmp.Compare(coarse(d.Overhang), coarse(e.Overhang)), cmp.Compare(d.Tall, e.Tall), cmp.Compare(e.Contact, d.Contact),
	)
}

// why says what speaks for a stand and what against it.
func (d *Stand) why() string {
	var list []string
	if !d.Fits {
		list = append(list, "it does not fit the bed")
	}
	if d.InAir > 0 {
		list = append(list, units.Plural(d.InAir, "area begins", "areas begin")+" in the air")
	}
	if !d.Steady {
		list = append(list, "it may let go or fall over")
	}
	if d.Overhang >= smallest {
		list = append(list, units.Figure(d.Overhang/100)+" cm² hang over")
	} else {
		list = append(list, "nothing hangs over")
	}
	list = append(list, fmt.Sprintf("it stands on %s cm² and is %s mm high", units.Figure(d.Contact/100), units.Figure(d.Tall)))
	return units.Upper(strings.Join(list, ", ")) + "."
}

// Fits returns nil if a piece of a size (width, depth and height, mm) fits the bed, else a sentence that
// says why it does not.
func Fits(size [3]float64, s *Setup) error {
	if size[0] > s.Bed[0] || size[1] > s.Bed[1] || size[2] > s.Bed[2] {
		return fmt.Errorf("it is %s by %s and %s mm high; the bed has %g by %g mm and room for %g",
			units.Figure(size[0]), units.Figure(size[1]), units.Figure(size[2]), s.Bed[0], s.Bed[1], s.Bed[2])
	}
	one := *s
	one.Copies = 1 // several are packed by their outlines, which layers tell
	_, err := Layout(size[0], size[1], &one)
	return err
}

// MayFit is Fits for a solid, with what can be said of its copies before it is cut: each takes as much of the bed as its volume
// by its height, at least.
func MayFit(m *mesh.Mesh, s *Setup) error {
	lo, hi := m.Box()
	size := [3]float64{hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]}
	if err := Fits(size, s); err != nil {
		return err
	}
	volume := 0.0
	for _, t := range m.Tris {
		a, b, c := m.Pos(t[0]), m.Pos(t[1]), m.Pos(t[2])
		// A prism from each triangle down to the bed.
		area := float64(b[0]-a[0])*float64(c[1]-a[1]) - float64(c[0]-a[0])*float64(b[1]-a[1])
		volume += area / 2 * (float64(a[2]) + float64(b[2]) + float64(c[2]) - 3*lo[2]) / 3
	}
	if most := int(s.Bed[0] * s.Bed[1] / math.Max(volume/size[2], 1e-9)); s.Copies > most {
		return fmt.Errorf("%s on the bed at the most, not %d: print the others after them", units.Plural(most, "copy fits", "copies fit"), s.Copies)
	}
	return nil
}

// TooBig is a report of a piece that does not fit the bed, which nothing else has to be known of.
func TooBig(size [3]float64, why error) Report {
	return Report{Size: size, Changes: []Change{}, Findings: []Finding{{
		Kind: TooLarge, Measure: max(size[0], size[1], size[2]), Text: units.Upper(why.Error()) + ".",
		Way: "Make it smaller in Size, lay or turn it another way, or print it in parts, or copies in turns.",
	}}}
}

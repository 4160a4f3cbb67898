package print

import (
	"math"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// boxes is layers in which each box lies: x, y, width, depth, from and to which layer.
func boxes(t testing.TB, n int, list ...[6]float64) (out []Layer) {
	for i := range n {
		var loops [][][2]float64
		for _, b := range list {
			if float64(i) >= b[4] && float64(i) < b[5] {
				loops = append(loops, rect(b[0], b[1], b[2], b[3]))
			}
		}
		out = append(out, Layer{Z: 0.2 * float64(i+1), Height: 0.2, Area: regionFilled(t, plane.NonZero, loops...)})
	}
	return out
}

// TestBridgesGoAcross lays tables on legs that stand apart along x, along y, and slanted boards: what lies over the gap runs
// across it, is held on both sides, is laid slowly and with the fan on, and leaves nothing of it bare.
func TestBridgesGoAcross(t *testing.T) {
	for name, c := range map[string]struct {
		layers []Layer
		across float64 // direction, degrees
	}{
		"legs left and right": {boxes(t, 20, [6]float64{-15, -20, 8, 40, 0, 10}, [6]float64{7, -20, 8, 40, 0, 10},
			[6]float64{-15, -20, 30, 40, 10, 20}), 0},
		"legs before and behind": {boxes(t, 20, [6]float64{-20, -15, 40, 8, 0, 10}, [6]float64{-20, 9, 40, 6, 0, 10},
			[6]float64{-20, -15, 40, 30, 10, 20}), 90},
		"a pit": {boxes(t, 20, [6]float64{-20, -20, 40, 12, 0, 10}, [6]float64{-20, 8, 40, 12, 0, 10}, [6]float64{-20, -20, 5, 40, 0, 10},
			[6]float64{15, -20, 5, 40, 0, 10}, [6]float64{-20, -20, 40, 40, 10, 20}), 90},
	} {
		s := Usual()
		s.Density = 1
		laid, err := Lay(t.Context(), c.layers, step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		for i, l := range laid {
			rows := 0
			for _, p := range l.Paths {
				if p.Kind != Bridge {
					continue
				}
				if rows++; i != 10 {
					t.Fatalf("%s: layer %d lies over air", name, i)
				}
				along, longest := 0.0, 0.0
				for k := range p.stretches() {
					to, long, _ := p.stretch(k)
					d := math.Mod(180/math.Pi*math.Atan2(float64(to[1]-p.Points[k][1]), float64(to[0]-p.Points[k][0]))-c.across+360.5, 180)
					if d < 1 {
						along += long
						longest = math.Max(longest, long)
						// Both ends lie on what is held.
						for _, q := range [][2]float32{p.Points[k], to} {
							if !c.layers[9].Area.Contains(plane.Point{X: grid(float64(q[0])), Y: grid(float64(q[1]))}) {
								t.Fatalf("%s: a row ends over air at %v", name, q)
							}
						}
					}
				}
				if along < 0.8*p.Length() {
					t.Errorf("%s: %.0f of %.0f mm run across", name, along, p.Length())
				}
			}
			if (rows > 0) != (i == 10) {
				t.Errorf("%s: %d paths over air in layer %d", name, rows, i)
			}
		}
		j, err := NewJob(name, c.layers, laid, step, [3]float64{-20, -20, 0}, [3]float64{20, 20, 4}, nil, s)
		if err != nil {
			t.Fatal(err)
		}
		var code strings.Builder
		j.GCode(&code)
		_, after, _ := strings.Cut(code.String(), "; kind: bridge\n")
		line, _, _ := strings.Cut(after, "\n")
		if !strings.HasSuffix(line, " F1500") {
			t.Errorf("%s: over air it is laid so: %s", name, line)
		}
		painted := paint(t, []byte(code.String()), c.layers, step, [2]float64{}, [2]float64{180, 180})
		if err := painted[10].fulfils(2, false); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// TestWallsStandOnWhatIsLaid raises lettering on a plate: nearly all of the first line along its outlines lies on something
// laid in the layer below.
func TestWallsStandOnWhatIsLaid(t *testing.T) {
	letters := lettering(t, "DejaVu Sans", "Kai 3", 14)
	plate := regionOf(t, rect(-4, -5, 68, 26))
	layers := append(block(plate, 12, 0.2), block(letters, 6, 0.2)...)
	for i := range layers {
		layers[i].Z = 0.2 * float64(i+1)
	}
	s := Usual()
	laid, err := Lay(t.Context(), layers, step, [2]float64{}, &s)
	if err != nil {
		t.Fatal(err)
	}
	under := []geom.Vec{}
	for _, p := range laid[11].Paths {
		for k := range p.stretches() {
			to, long, _ := p.stretch(k)
			for d := 0.0; d < long; d += 0.05 {
				f := d / long
				at, end := geom.Vec{X: float64(p.Points[k][0]), Y: float64(p.Points[k][1])}, geom.Vec{X: float64(to[0]), Y: float64(to[1])}
				under = append(under, at.Lerp(end, f))
			}
		}
	}
	cells := map[[2]int]bool{}
	for _, q := range under {
		for dx := -3; dx <= 3; dx++ {
			for dy := -3; dy <= 3; dy++ {
				cells[[2]int{int(math.Floor(q.X*10)) + dx, int(math.Floor(q.Y*10)) + dy}] = true
			}
		}
	}
	all, bare := 0, 0
	for _, p := range laid[12].Paths {
		if p.Kind != Outer {
			continue
		}
		for k := range p.stretches() {
			to, long, _ := p.stretch(k)
			for d := 0.0; d < long; d += 0.1 {
				f := d / long
				x, y := float64(p.Points[k][0])*(1-f)+float64(to[0])*f, float64(p.Points[k][1])*(1-f)+float64(to[1])*f
				all++
				if !cells[[2]int{int(math.Floor(x * 10)), int(math.Floor(y * 10))}] {
					bare++
				}
			}
		}
	}
	if all < 1000 || bare > all/50 {
		t.Errorf("%d of %d places of the lettering's first line lie over nothing laid", bare, all)
	}
}

// TestOverhangsBeginOnWhatIsHeld widens a block to one side: no line of the first wider layer begins over air.
func TestOverhangsBeginOnWhatIsHeld(t *testing.T) {
	layers := boxes(t, 12, [6]float64{-10, -10, 20, 20, 0, 6}, [6]float64{-10, -10, 23, 20, 6, 12})
	for _, seam := range []string{AtCorner, AtBack} {
		s := Usual()
		s.Seam = seam
		laid, err := Lay(t.Context(), layers, step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range laid[6].Paths {
			some := slices.ContainsFunc(p.Points, func(q [2]float32) bool { return q[0] < 10 })
			if q := p.Points[0]; q[0] > 10 && some && p.Closed {
				t.Errorf("%s: %s begins over air at %v", seam, KindNames[p.Kind], q)
			}
		}
	}
}

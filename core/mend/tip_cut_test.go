package mend

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// TestTipsAreCutWhereABallEnds compares what is taken off tips of bent and wavy sides with what opening by the
// radius takes away, place by place, and counts how many are plain.
func TestTipsAreCutWhereABallEnds(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 9))
	plain := 0
	const many = 300
	for n := range many {
		w := &Work{Grid: 1, PxPerMM: 1}
		radius := 2000 + 4000*rnd.Float64()
		half := (1 + 14*rnd.Float64()) * math.Pi / 180
		bend, wave := (rnd.Float64()-0.5)*half, 0.0
		if n%3 == 0 {
			wave = radius * 0.8 * rnd.Float64()
		}
		long := radius / math.Sin(half) * 3
		var there, back []geom.Vec
		for i := 1; i <= 40; i++ {
			at := float64(i) / 40
			for side, list := range map[float64]*[]geom.Vec{1: &there, -1: &back} {
				s, c := math.Sincos(side*half + bend*at)
				out := wave * math.Sin(9*at+side)
				*list = append(*list, geom.Vec{X: long*at*c - side*out*s, Y: long*at*s + side*out*c})
			}
		}
		l := plane.Loop{{}}
		for _, v := range back {
			l = append(l, rounded(v))
		}
		for i := range there {
			l = append(l, rounded(there[len(there)-1-i]))
		}
		r, err := fill([]plane.Loop{l})
		if err != nil || len(r) != 1 {
			continue // the sides cross
		}
		got := newTipCutter(r, radius).cut(plane.Point{})
		if got == nil {
			continue
		}
		plain++
		want, err := w.tipBeyond(r, plane.Point{}, radius)
		if err != nil {
			t.Fatal(err)
		}
		less := func(a, b plane.Region) float64 {
			d, err := plane.Combine(a, b, plane.Subtract)
			if err != nil {
				t.Fatal(err)
			}
			return float64(d.Area2()) / float64(want.Area2())
		}
		more, missing := less(got, want), less(want, got)
		// Behind the first place where the ball fits waves may be narrow again: that is no tip any more.
		if more > 0.01 || wave == 0 && missing > 0.02 {
			t.Errorf("%d: half the angle %.1f°, waves of %.2f radii: of what opening takes off %.1f %% is missing, %.1f %% is taken beside it",
				n, degrees(half), wave/radius, 100*missing, 100*more)
		}
	}
	if plain < many/2 {
		t.Errorf("%d of %d tips were plain", plain, many)
	}
}

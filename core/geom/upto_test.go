package geom

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestUptoIsAsLongAsAsked cuts polylines at random and measures what is left: so much of the length, from the start,
// on the line.
func TestUptoIsAsLongAsAsked(t *testing.T) {
	long := func(l []Vec) (sum float64) {
		for i := range len(l) - 1 {
			sum += l[i+1].Sub(l[i]).Len()
		}
		return sum
	}
	r := rand.New(rand.NewPCG(3, 9))
	for round := range 400 {
		var line []Vec
		for range 1 + r.IntN(9) {
			line = append(line, Vec{X: float64(r.IntN(5)), Y: float64(r.IntN(5))}) // some fall together
		}
		closed := round%2 == 0
		whole := append([]Vec{}, line...)
		if closed {
			whole = append(whole, line[0])
		}
		for _, share := range []float64{0, 0.01, 0.3, 0.77, 1, 2} {
			got := Upto(line, closed, share)
			want := long(whole) * math.Min(share, 1)
			if math.Abs(long(got)-want) > 1e-9 || share > 0 && got[0] != line[0] || share == 0 && got != nil {
				t.Fatalf("%v to %g: %v, %g long, want %g", line, share, got, long(got), want)
			}
			for i, v := range got {
				if i < len(got)-1 && v != whole[i] {
					t.Fatalf("%v to %g leaves the line: %v", line, share, got)
				}
			}
		}
	}
}

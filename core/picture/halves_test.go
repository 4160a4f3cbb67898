package picture

import "testing"

// TestHalvesAreCounted counts the samples of both halves one by one.
func TestHalvesAreCounted(t *testing.T) {
	var a, b float64
	for n := range uint32(200) {
		if x, y := halves(n); x != a || y != b {
			t.Fatalf("of %d samples %g and %g, want %g and %g", n, x, y, a, b)
		}
		if n&half == 0 {
			a++
		} else {
			b++
		}
	}
}

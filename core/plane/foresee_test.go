package plane

import (
	"errors"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"time"
)

// chords returns a closed line through n random points; two of its edges cross with a
// probability of 0.23 (measured; 25/108 is Sylvester's for a square).
func chords(n int) Loop {
	r := rand.New(rand.NewPCG(1, 2))
	l := make(Loop, n)
	for i := range l {
		l[i] = Point{r.Int32N(MaxCoord), r.Int32N(MaxCoord)}
	}
	return l
}

// TestForeseen refuses what would cross hundreds of millions of times before it has begun to do
// so, tells their number, and builds what crosses hundreds of thousands of times.
func TestForeseen(t *testing.T) {
	const n = 40_000
	ar := NewArrangement()
	ar.AddLoop(1, chords(n))
	err := ar.Build()
	if !errors.Is(err, ErrTooTangled) {
		t.Fatalf("built, or %v", err)
	}
	words := strings.Fields(strings.ReplaceAll(err.Error(), ",", ""))
	told, _ := strconv.ParseFloat(words[len(words)-2], 64)
	want := 0.23 * n * n / 2
	if told < want/2 || told > want*2 {
		t.Errorf("told %.0f crossings of some %.0f: %v", told, want, err)
	}
	if made := len(ar.t.pts) - n; made > mostCrossings/50 {
		t.Errorf("%d crossings were made first", made)
	}
	ar = NewArrangement()
	ar.AddLoop(1, chords(1500))
	if err := ar.Build(); err != nil {
		t.Error(err)
	}
	if made := float64(len(ar.t.pts) - 1500); made < 0.2*1500*1500/2 || made > 0.26*1500*1500/2 {
		t.Errorf("%.0f crossings", made)
	}
}

// TestNeedlesAndALongEdge builds a zigzag of long needles that one edge crosses from end to end.
// Crossed edges that stayed open until the long one was through, or corners of a fan that were
// looked for one by one, made this take the third power of their number: 29 s for a quarter of
// this one, which takes half a second.
func TestNeedlesAndALongEdge(t *testing.T) {
	const n = 40_000
	l := make(Loop, n)
	for i := range l {
		l[i] = Point{int32(i * (MaxCoord / n)), int32(i % 2 * (MaxCoord - 5))}
	}
	begun := time.Now()
	stop := func() bool { return time.Since(begun) > time.Minute }
	layer := []Layer{{Label: 1, Rule: NonZero, Loops: []Loop{l}}}
	out, err := Stack(layer, stop)
	if err != nil {
		t.Fatalf("%v after %v", err, time.Since(begun))
	}
	if again, err := Stack([]Layer{{Label: 1, Rule: NonZero, Loops: allLoops(out[1])}}, stop); err != nil {
		t.Error(err)
	} else if a, b := out[1].Edges(), again[1].Edges(); a < n || a != b {
		t.Errorf("%d edges, %d when it is resolved again", a, b)
	}
}

func allLoops(r Region) (all []Loop) {
	r.Loops(func(l Loop) { all = append(all, l) })
	return all
}

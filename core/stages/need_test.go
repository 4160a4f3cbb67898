package stages

import (
	"context"
	"fmt"
	"runtime"
	"runtime/debug"
	"runtime/metrics"
	"sync"
	"testing"
	"time"

	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
)

// weighed is a keeper that notes by how much each stage's work exceeds what was estimated for it.
type weighed struct {
	t    *testing.T
	over map[string]string
}

func heap() int64 {
	s := []metrics.Sample{{Name: "/memory/classes/heap/objects:bytes"}}
	metrics.Read(s)
	return int64(s[0].Value.Uint64())
}

// Keep runs a task while the heap is watched, with a collector that lets little lie about.
func (w *weighed) Keep(ctx context.Context, task Task) (any, error) {
	runtime.GC()
	before, peak := heap(), int64(0)
	done := make(chan struct{})
	var wg sync.WaitGroup
	wg.Go(func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(2 * time.Millisecond):
				peak = max(peak, heap()-before)
			}
		}
	})
	value, bytes, err := task.Run(ctx)
	close(done)
	wg.Wait()
	w.t.Logf("%-8s took %6.1f MB, estimated %6.1f, holds %6.1f", task.Stage, mb(peak), mb(task.Need), mb(bytes))
	if peak > 2*(task.Need+bytes)+8<<20 {
		w.over[task.Stage] = fmt.Sprintf("took %.1f MB; %.1f were estimated, %.1f are kept", mb(peak), mb(task.Need), mb(bytes))
	}
	return value, err
}

func mb(n int64) float64 { return float64(n) / (1 << 20) }

// TestWorkNeedsWhatIsEstimated raises artwork while the heap is watched: no stage may take twice what
// was estimated for it before it began, by which work is let in, or refused.
func TestWorkNeedsWhatIsEstimated(t *testing.T) {
	if racing {
		t.Skip("the race detector takes memory of its own")
	}
	defer debug.SetGCPercent(debug.SetGCPercent(8))
	for name, data := range map[string][]byte{"large pieces": crowd(24, 1000, 1), "many colours": crowd(150, 12, 150)} {
		s, err := read.Sheet("crowd.svg", data)
		if err != nil {
			t.Fatal(err)
		}
		r := recipe.New()
		w := &weighed{t, map[string]string{}}
		line := &Line{Keep: w, Recipe: &r}
		regions, err := line.RegionsOf(t.Context(), joinedOf(s))
		if err != nil {
			t.Fatal(err)
		}
		solid, err := line.Fused(t.Context(), regions.Value, Arrangement(regions.Value, &r.Parts), raise.Shaded)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := line.Check(t.Context(), solid, true); err != nil {
			t.Fatal(err)
		}
		for stage, text := range w.over {
			t.Errorf("%s, %s: %s", name, stage, text)
		}
	}
}

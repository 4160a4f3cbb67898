package studio

import (
	"context"
	"errors"
	"fmt"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/synctest"
	"time"

	"bildhauer/core/parallel"
	"bildhauer/core/progress"
	"bildhauer/core/stages"
)

// maker makes results on command: each call waits for a value or for its end.
type maker struct {
	began  chan context.Context
	give   chan any
	starts atomic.Int64
}

func newMaker() *maker { return &maker{began: make(chan context.Context, 10), give: make(chan any)} }

func (m *maker) task(key string) stages.Task {
	return stages.Task{
		Stage: "test",
		Key:   stages.Key(key),
		Run: func(ctx context.Context) (any, int64, error) {
			m.starts.Add(1)
			m.began <- ctx
			select {
			case v := <-m.give:
				if err, ok := v.(error); ok {
					return nil, 0, err
				}
				return v, 10, nil
			case <-ctx.Done():
				return nil, 0, ctx.Err()
			}
		},
	}
}

// asked is someone who waits for a result.
type asked struct {
	value any
	err   error
	done  chan struct{}
	leave context.CancelFunc
}

func ask(f *flights, t stages.Task) *asked {
	ctx, cancel := context.WithCancel(context.Background())
	a := &asked{done: make(chan struct{}), leave: cancel}
	go func() {
		defer close(a.done)
		a.value, a.err = f.Keep(ctx, t)
	}()
	return a
}

func (a *asked) want(t *testing.T, value any, err error) {
	t.Helper()
	<-a.done
	if a.value != value || !errors.Is(a.err, err) {
		t.Errorf("got %v and %v, want %v and %v", a.value, a.err, value, err)
	}
}

func newTestFlights(ctx context.Context) *flights {
	return newFlights(ctx, stages.NewGate(1000, 0), newCache(100, nil))
}

// TestOneFlightAKey lets many wait for one result; it is made once and kept.
func TestOneFlightAKey(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		f, m := newTestFlights(t.Context()), newMaker()
		var all []*asked
		for range 50 {
			all = append(all, ask(f, m.task("k")))
		}
		<-m.began
		synctest.Wait()
		m.give <- 7
		for _, a := range all {
			a.want(t, 7, nil)
		}
		ask(f, m.task("k")).want(t, 7, nil)
		if n := m.starts.Load(); n != 1 {
			t.Errorf("%d flights", n)
		}
	})
}

// TestLeavingAlone: who leaves gets its context's error at once and disturbs
// nobody; the last one to leave ends the work.
func TestLeavingAlone(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		f, m := newTestFlights(t.Context()), newMaker()
		first := ask(f, m.task("k"))
		work := <-m.began
		second, third := ask(f, m.task("k")), ask(f, m.task("k"))
		synctest.Wait()
		first.leave()
		first.want(t, nil, context.Canceled)
		synctest.Wait()
		if work.Err() != nil {
			t.Fatal("the work stopped although others wait")
		}
		second.leave()
		second.want(t, nil, context.Canceled)
		third.leave()
		third.want(t, nil, context.Canceled)
		synctest.Wait()
		if work.Err() == nil {
			t.Error("the work goes on although nobody waits")
		}
	})
}

// TestComingBack: a flight that was left does not touch the one that begins
// after it.
func TestComingBack(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		f, m := newTestFlights(t.Context()), newMaker()
		stubborn := make(chan struct{})
		slow := stages.Task{Stage: "test", Key: "k", Run: func(context.Context) (any, int64, error) {
			<-stubborn // does not look at its context
			return "same", 10, nil
		}}
		first := ask(f, slow)
		synctest.Wait()
		first.leave()
		first.want(t, nil, context.Canceled)
		second := ask(f, m.task("k"))
		work := <-m.began
		close(stubborn)
		synctest.Wait()
		if work.Err() != nil {
			t.Fatal("the end of the old flight ended the new one")
		}
		third := ask(f, m.task("k"))
		synctest.Wait()
		m.give <- "same"
		second.want(t, "same", nil)
		third.want(t, "same", nil)
		if n := m.starts.Load(); n != 1 {
			t.Errorf("the second flight began %d times", n)
		}
	})
}

// TestFailuresAreNotKept fails all who wait, and is tried again by the next.
func TestFailuresAreNotKept(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		f, m := newTestFlights(t.Context()), newMaker()
		bad := errors.New("no")
		a, b := ask(f, m.task("k")), ask(f, m.task("k"))
		<-m.began
		synctest.Wait()
		m.give <- bad
		a.want(t, nil, bad)
		b.want(t, nil, bad)
		c := ask(f, m.task("k"))
		<-m.began
		m.give <- 3
		c.want(t, 3, nil)
		panics := stages.Task{
			Stage: "test",
			Key:   "p",
			Run:   func(context.Context) (any, int64, error) { panic("oh") },
		}
		ask(f, panics).want(t, nil, errBroken)
		panics.Run = func(context.Context) (any, int64, error) { // in a goroutine of the engine
			return nil, 0, parallel.Each(8, func(int) error { panic("oh") })
		}
		ask(f, panics).want(t, nil, errBroken)
		ask(f, m.task("k")).want(t, 3, nil)
	})
}

// TestClosingEndsAllWork waits for what runs.
func TestClosingEndsAllWork(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		ctx, stop := context.WithCancel(t.Context())
		f, m := newTestFlights(ctx), newMaker()
		a := ask(f, m.task("k"))
		<-m.began
		stop()
		f.wait()
		a.want(t, nil, context.Canceled)
	})
}

// TestProgressReachesAllWhoWait, those who come late as well.
func TestProgressReachesAllWhoWait(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		f, m := newTestFlights(t.Context()), newMaker()
		heard := make([]chan progress.Report, 2)
		listen := func(i int) {
			heard[i] = make(chan progress.Report, 10)
			ctx := progress.With(t.Context(), func(r progress.Report) { heard[i] <- r })
			go f.Keep(ctx, m.task("k"))
		}
		listen(0)
		work := <-m.began
		progress.Set(work, "Raising", 0.25)
		listen(1)
		synctest.Wait()
		progress.Set(work, "Raising", 0.5)
		synctest.Wait()
		for i, want := range []string{"[{Raising 0.25} {Raising 0.5}]", "[{Raising 0.25} {Raising 0.5}]"} {
			var got []progress.Report
			for len(heard[i]) > 0 {
				got = append(got, <-heard[i])
			}
			if fmt.Sprint(got) != want {
				t.Errorf("listener %d heard %v", i, got)
			}
		}
		m.give <- 1
	})
}

// TestQueueByMemory lets two large tasks run one after the other, small ones
// beside them, and one that needs more than there is alone.
func TestQueueByMemory(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		q := stages.NewGate(100, 0)
		var held, most atomic.Int64
		var wg sync.WaitGroup
		for i, need := range []int64{60, 60, 30, 5, 500, 60, 0, 100} {
			wg.Go(func() {
				free, err := q.Enter(t.Context(), need)
				if err != nil {
					t.Error(err)
					return
				}
				defer free()
				h := held.Add(min(need, 100))
				for {
					m := most.Load()
					if h <= m || most.CompareAndSwap(m, h) {
						break
					}
				}
				time.Sleep(time.Duration(i+1) * time.Millisecond)
				held.Add(-min(need, 100))
			})
		}
		wg.Wait()
		if most.Load() > 100 {
			t.Errorf("%d bytes were used at once", most.Load())
		}
		// Who waits can leave.
		free, _ := q.Enter(t.Context(), 100)
		ctx, cancel := context.WithTimeout(t.Context(), time.Second)
		defer cancel()
		if _, err := q.Enter(ctx, 1); !errors.Is(err, context.DeadlineExceeded) {
			t.Errorf("left the queue with %v", err)
		}
		free()
		if free, err := q.Enter(t.Context(), 100); err != nil {
			t.Error(err)
		} else {
			free()
		}
		// What needs more than one may take is refused before it begins, with the figures.
		small := stages.NewGate(1<<20, 3<<30)
		var problem *stages.Problem
		if _, err := small.Enter(t.Context(), 3<<30+1); !errors.As(err, &problem) || !strings.Contains(err.Error(), "3.0 GB") {
			t.Errorf("more than there is: %v", err)
		}
		if free, err := small.Enter(t.Context(), 3<<30); err != nil {
			t.Error(err)
		} else {
			free()
		}
		// And no more work at a time than there are cores.
		var now, peak atomic.Int64
		for range 20 {
			wg.Go(func() {
				free, err := q.Enter(t.Context(), 0)
				if err != nil {
					t.Error(err)
					return
				}
				n := now.Add(1)
				for p := peak.Load(); n > p && !peak.CompareAndSwap(p, n); p = peak.Load() {
				}
				time.Sleep(time.Millisecond)
				now.Add(-1)
				free()
			})
		}
		wg.Wait()
		if got := peak.Load(); got > int64(max(2, runtime.GOMAXPROCS(0))) {
			t.Errorf("%d tasks at a time", got)
		}
	})
}

// TestCacheWeighs keeps what was used last within its weight.
func TestCacheWeighs(t *testing.T) {
	var dropped []string
	c := newCache(100, func(v any) { dropped = append(dropped, v.(string)) })
	put := func(key string, bytes int64) bool { return c.put(stages.Key(key), key, bytes, 0) }
	for _, k := range []string{"a", "b", "c"} {
		put(k, 30)
	}
	if _, ok := c.get("a"); !ok {
		t.Error("a is gone")
	}
	put("d", 30) // b was used longest ago
	if got := strings.Join(dropped, ""); got != "b" {
		t.Errorf("dropped %q", got)
	}
	if put("huge", 51) || put("d", 5) {
		t.Error("kept what is too heavy, or there already")
	}
	put("e", 50)
	if got := strings.Join(dropped, ""); got != "bca" || c.held != 80 || len(c.items) != 2 ||
		c.order.Len() != 2 {
		t.Errorf("dropped %q, holds %d bytes in %d", got, c.held, len(c.items))
	}
	for i := range 1000 {
		put(fmt.Sprint(i), int64(i%40))
		sum := int64(0)
		for e := c.order.Front(); e != nil; e = e.Next() {
			sum += e.Value.(*kept).bytes
		}
		if sum != c.held || sum > c.most {
			t.Fatalf("after %d: holds %d, counts %d", i, sum, c.held)
		}
	}
}

// TestRest forgets results when nobody asks any more, those that were asked for first, and none
// while work goes on.
func TestRest(t *testing.T) {
	f := newFlights(t.Context(), stages.NewGate(1<<30, 0), newCache(1<<20, nil))
	ask := func(key string) int {
		v, err := f.Keep(t.Context(), stages.Task{Stage: "test", Key: stages.Key(key), Run: func(context.Context) (any, int64, error) {
			return len(key), 100, nil
		}})
		if err != nil {
			t.Fatal(err)
		}
		return v.(int)
	}
	for i := range 10 {
		ask(strings.Repeat("k", i+1))
	}
	before := f.lastAsked()
	ask("k") // asked for again: it stays longest
	if !f.lastAsked().After(before) {
		t.Error("nobody has asked")
	}
	f.rest(250)
	if f.kept.held != 200 || f.kept.items["k"] == nil {
		t.Errorf("%d bytes stay, the last one %v", f.kept.held, f.kept.items["k"] != nil)
	}
	gate := atWork(t, f)
	f.rest(0)
	if f.kept.held != 200 {
		t.Error("it rests while it works")
	}
	close(gate)
	f.wait()
	f.rest(0)
	if f.kept.held != 0 {
		t.Errorf("%d bytes stay", f.kept.held)
	}
}

// atWork begins work that goes on until its gate is closed.
func atWork(t *testing.T, f *flights) (gate chan struct{}) {
	gate, begun := make(chan struct{}), make(chan struct{})
	go f.Keep(t.Context(), stages.Task{Stage: "test", Key: "slow", Run: func(context.Context) (any, int64, error) {
		close(begun)
		<-gate
		return 1, 1, nil
	}})
	<-begun
	return gate
}

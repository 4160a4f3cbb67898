package parallel

import (
	"errors"
	"runtime"
	"strings"
	"sync/atomic"
	"testing"
)

// cores sets the number of processors for a test.
func cores(t *testing.T, n int) {
	before := runtime.GOMAXPROCS(n)
	t.Cleanup(func() { runtime.GOMAXPROCS(before) })
}

func TestAllIsDoneOnce(t *testing.T) {
	for _, n := range []int{1, 2, 5} {
		cores(t, n)
		for _, k := range []int{0, 1, 2, 63, 64, 65, 1000, 4099} {
			seen := make([]atomic.Int32, k)
			if err := Each(k, func(i int) error { seen[i].Add(1); return nil }); err != nil {
				t.Fatal(err)
			}
			Light(k, func(i int) { seen[i].Add(1) })
			for i := range seen {
				if c := seen[i].Load(); c != 2 {
					t.Fatalf("%d cores: %d of %d was run %d times in two turns", n, i, k, c)
				}
			}
		}
	}
}

// working is how many workers of Each there are: one that has ended has told of its failure.
func working() int {
	stacks := make([]byte, 1<<16)
	return strings.Count(string(stacks[:runtime.Stack(stacks, true)]), "parallel.Each.func")
}

func TestLowestFailureIsTold(t *testing.T) {
	cores(t, 4)
	low, high := errors.New("low"), errors.New("high")
	second := make(chan bool)
	var begun atomic.Int32
	err := Each(1000, func(i int) error {
		begun.Add(1)
		switch i {
		case 0: // fails after number 1 did
			<-second
			return low
		case 1:
			close(second)
			return high
		}
		for begun.Load() <= 4 && working() > 2 {
			runtime.Gosched()
		}
		return nil
	})
	if err != low {
		t.Errorf("got %v", err)
	}
	if n := begun.Load(); n > 4 {
		t.Errorf("%d of 1000 were begun although the first two failed", n)
	}
	err = Do(func() error { return nil }, func() error { return low }, func() error { return high })
	if err != low {
		t.Errorf("got %v", err)
	}
}

// A panic in a goroutine would end the program; here the caller can catch it, with
// the place where it was thrown, through several rooms one in the other.
func TestPanicsComeToTheCaller(t *testing.T) {
	for _, n := range []int{1, 3} {
		cores(t, n)
		for name, f := range map[string]func(){
			"do":    func() { _ = Do(func() error { return nil }, func() error { thrower(); return nil }) },
			"each":  func() { _ = Each(10, func(int) error { thrower(); return nil }) },
			"light": func() { Light(1000, func(i int) { thrower() }) },
			"inner": func() {
				_ = Do(func() error { return Each(9, func(int) error { thrower(); return nil }) })
			},
		} {
			told := func() (told string) {
				defer func() {
					switch p := recover().(type) {
					case *Panic:
						told = p.String()
					case string: // on the spot
						told = p + " thrower"
					}
				}()
				f()
				return ""
			}()
			if !strings.Contains(told, "a mistake") || !strings.Contains(told, "thrower") {
				t.Errorf("%s on %d cores: got %q", name, n, told)
			}
		}
	}
}

func thrower() { panic("a mistake") }

// TestAhead hands results out in order, holds few at a time, passes errors and
// panics on, and stops early.
func TestAhead(t *testing.T) {
	var begun atomic.Int64
	failed := errors.New("failed")
	take, stop := Ahead(2000, func(k int) (int, error) {
		begun.Add(1)
		switch k {
		case 700:
			return 0, failed
		case 900:
			thrower()
		}
		return k * k, nil
	})
	for k := range 1000 {
		var thrown *Panic
		v, err := func() (int, error) {
			defer func() { thrown, _ = recover().(*Panic) }()
			return take(k)
		}()
		switch {
		case k == 700 && err != failed:
			t.Errorf("item %d: %v", k, err)
		case k == 900 && (thrown == nil || !strings.Contains(thrown.String(), "thrower")):
			t.Errorf("item %d threw %v", k, thrown)
		case k != 700 && k != 900 && (err != nil || v != k*k || thrown != nil):
			t.Errorf("item %d: %d, %v, %v", k, v, err, thrown)
		}
		if ahead := begun.Load() - int64(k); ahead > 300 {
			t.Fatalf("%d items ahead", ahead)
		}
	}
	stop()
}

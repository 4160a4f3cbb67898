// Package parallel runs work side by side so that a mistake in it stays where it
// can be caught: a panic in a goroutine ends the whole program whatever its caller
// has deferred, so that it is caught there and passed on to the caller.
package parallel

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"
)

// Do runs the functions side by side and waits for all.
//
//  1. The error is that of the first function, in the order given, that failed.
//  2. A panic of any of them is passed on once all have ended, as a *Panic.
func Do(f ...func() error) error {
	errs := make([]error, len(f))
	var caught atomic.Pointer[Panic]
	var wg sync.WaitGroup
	for i := range f {
		wg.Go(func() {
			defer catch(&caught)
			errs[i] = f[i]()
		})
	}
	wg.Wait()
	return ended(errs, &caught)
}

// Each runs f for 0 to n-1, as many at a time as there are processors.
//
//  1. Calls begin in order. None begins after one has failed, and what runs then
//     is waited for.
//  2. The error is that of the lowest number that failed.
//  3. A panic is passed on once all have ended, as a *Panic; on one processor, where
//     all is run on the spot, as it is.
func Each(n int, f func(i int) error) error {
	workers := min(runtime.GOMAXPROCS(0), n)
	if workers < 2 {
		for i := range n {
			if err := f(i); err != nil {
				return err
			}
		}
		return nil
	}
	errs := make([]error, n)
	var caught atomic.Pointer[Panic]
	var next atomic.Int64
	var failed atomic.Bool
	var wg sync.WaitGroup
	for range workers {
		wg.Go(func() {
			defer catch(&caught)
			for !failed.Load() && caught.Load() == nil {
				i := int(next.Add(1)) - 1
				if i >= n {
					return
				}
				if errs[i] = f(i); errs[i] != nil {
					failed.Store(true)
				}
			}
		})
	}
	wg.Wait()
	return ended(errs, &caught)
}

// few is how many light calls are not worth a goroutine.
const few = 64

// Light runs f for 0 to n-1 in one run of neighbouring numbers a processor, for
// calls of a microsecond or so; a few are run on the spot. A panic is passed on as
// by Each.
func Light(n int, f func(i int)) {
	workers := min(runtime.GOMAXPROCS(0), n/few)
	if workers < 2 {
		for i := range n {
			f(i)
		}
		return
	}
	_ = Each(workers, func(k int) error {
		for i := n * k / workers; i < n*(k+1)/workers; i++ {
			f(i)
		}
		return nil
	})
}

// Panic is what is passed on: what was thrown, and where.
type Panic struct {
	Value any
	Stack []byte
}

func (p *Panic) String() string { return fmt.Sprintf("%v\n%s", p.Value, p.Stack) }

// catch keeps the first panic.
func catch(caught *atomic.Pointer[Panic]) {
	if v := recover(); v != nil {
		p, again := v.(*Panic)
		if !again {
			p = &Panic{v, debug.Stack()}
		}
		caught.CompareAndSwap(nil, p)
	}
}

func ended(errs []error, caught *atomic.Pointer[Panic]) error {
	if p := caught.Load(); p != nil {
		panic(p)
	}
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

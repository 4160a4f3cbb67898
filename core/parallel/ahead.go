package parallel

import (
	"runtime"
	"sync/atomic"
)

// depth is how many results Ahead holds at the most.
const depth = 256

// Ahead works on the items 0 to n-1 with all processors and hands the results out in
// order, to one caller.
//
//  1. take is called with 0, 1, 2... and waits for that item.
//  2. No more than depth items are begun that have not been taken.
//  3. An item's panic is passed on when it is taken, as a *Panic.
//  4. stop ends the work on what is not yet begun; it is called once.
func Ahead[T any](n int, work func(k int) (T, error)) (take func(k int) (T, error), stop func()) {
	type result struct {
		value T
		err   error
		panic atomic.Pointer[Panic]
	}
	ready := make([]chan *result, min(n, depth))
	for i := range ready {
		ready[i] = make(chan *result, 1)
	}
	var next atomic.Int64
	done := make(chan struct{})
	room := make(chan struct{}, depth)
	for range min(n, runtime.GOMAXPROCS(0)) {
		go func() {
			for {
				select {
				case room <- struct{}{}:
				case <-done:
					return
				}
				k := int(next.Add(1)) - 1
				if k >= n {
					return
				}
				r := &result{}
				func() {
					defer catch(&r.panic)
					r.value, r.err = work(k)
				}()
				ready[k%depth] <- r
			}
		}()
	}
	take = func(k int) (T, error) {
		r := <-ready[k%depth]
		<-room
		if p := r.panic.Load(); p != nil {
			panic(p)
		}
		return r.value, r.err
	}
	return take, func() { close(done) }
}

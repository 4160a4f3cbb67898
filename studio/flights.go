package studio

import (
	"context"
	"errors"
	"fmt"
	"log"
	"runtime/debug"
	"sync"
	"time"

	"bildhauer/core/progress"
	"bildhauer/core/stages"
)

// flights makes the results of stages. It is a stages.Keeper with these laws:
//
//  1. at any time one flight makes the result of a key, whoever waits for it;
//  2. a waiter that leaves leaves alone; the work stops when the last one does;
//  3. who comes after that begins a new flight and is not touched by the end of
//     the old one;
//  4. a failed flight fails those who wait, and is not kept;
//  5. flights wait in a queue for memory and for a core. They never wait for
//     each other, so nobody waits in a ring.
type flights struct {
	ctx   context.Context
	queue *stages.Gate

	mu      sync.Mutex
	kept    *cache
	asked   time.Time // for the last time
	running map[stages.Key]*flight
	group   sync.WaitGroup
}

type flight struct {
	cancel  context.CancelFunc
	waiters map[*waiter]bool
	last    progress.Report
	done    chan struct{}
	value   any
	err     error
}

// waiter is someone who waits for a flight and may want to hear how far it is.
type waiter struct{ ctx context.Context }

// errBroken is the end of a flight that panicked.
var errBroken = errors.New("the work broke off")

func newFlights(ctx context.Context, q *stages.Gate, c *cache) *flights {
	return &flights{ctx: ctx, queue: q, kept: c, running: map[stages.Key]*flight{}}
}

// Keep is part of stages.Keeper.
func (f *flights) Keep(ctx context.Context, t stages.Task) (any, error) {
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	w := &waiter{ctx}
	f.mu.Lock()
	f.asked = time.Now()
	if k, ok := f.kept.get(t.Key); ok {
		f.mu.Unlock()
		return k.value, nil
	}
	fl := f.running[t.Key]
	if fl == nil {
		fl = f.start(t, progress.Who(ctx))
	}
	fl.waiters[w] = true
	last := fl.last
	f.mu.Unlock()
	if last.What != "" {
		progress.Set(ctx, last.What, last.Share)
	}
	select {
	case <-fl.done:
		return fl.value, fl.err
	case <-ctx.Done():
		f.leave(t.Key, fl, w)
		return nil, ctx.Err()
	}
}

// leave takes a waiter from a flight and ends it if nobody is left.
func (f *flights) leave(key stages.Key, fl *flight, w *waiter) {
	f.mu.Lock()
	defer f.mu.Unlock()
	delete(fl.waiters, w)
	if len(fl.waiters) > 0 {
		return
	}
	fl.cancel()
	if f.running[key] == fl {
		delete(f.running, key)
	}
}

// start begins a flight for the first who asks; f.mu is held.
func (f *flights) start(t stages.Task, who string) *flight {
	ctx, cancel := context.WithCancel(progress.For(f.ctx, who))
	fl := &flight{cancel: cancel, waiters: map[*waiter]bool{}, done: make(chan struct{})}
	ctx = progress.With(ctx, func(r progress.Report) { f.tell(fl, r) })
	f.running[t.Key] = fl
	f.group.Go(func() {
		defer cancel()
		begin := time.Now()
		value, bytes, err := f.run(ctx, t)
		f.mu.Lock()
		defer f.mu.Unlock()
		fl.value, fl.err = value, err
		if f.running[t.Key] == fl {
			delete(f.running, t.Key)
		}
		if err == nil {
			f.kept.put(t.Key, value, bytes, time.Since(begin))
		}
		close(fl.done)
	})
	return fl
}

func (f *flights) run(ctx context.Context, t stages.Task) (value any, bytes int64, err error) {
	defer func() {
		if p := recover(); p != nil {
			log.Printf("%s broke off: %v\n%s", t.Stage, p, debug.Stack())
			value, err = nil, fmt.Errorf("%s: %w", t.Stage, errBroken)
		}
	}()
	free, err := f.queue.Enter(ctx, t.Need)
	if err != nil {
		return nil, 0, err
	}
	defer free()
	return t.Run(ctx)
}

// tell passes on how far a flight is.
func (f *flights) tell(fl *flight, r progress.Report) {
	f.mu.Lock()
	fl.last = r
	list := make([]*waiter, 0, len(fl.waiters))
	for w := range fl.waiters {
		list = append(list, w)
	}
	f.mu.Unlock()
	for _, w := range list {
		progress.Set(w.ctx, r.What, r.Share)
	}
}

// took returns how long a result that is kept took to make.
func (f *flights) took(key stages.Key) time.Duration {
	f.mu.Lock()
	defer f.mu.Unlock()
	if k, ok := f.kept.get(key); ok {
		return k.took
	}
	return 0
}

// wait waits until all flights have ended.
func (f *flights) wait() { f.group.Wait() }
